import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  CALCULATORS,
  decide,
  designInWords,
  jobFileJsonSchema,
  simulateYear,
  siteFrom,
  type Known,
} from '@katharos/core';
import { loadShelf } from '@katharos/shelf';
import { describe, expect, test } from '@jest/globals';
import { architecturePicture, importsOf } from './architecture.ts';
import { drinkingTable } from './drinkingTable.ts';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const read = (name: string): unknown => JSON.parse(readFileSync(join(ROOT, 'docs', name), 'utf8'));
const shelf = loadShelf(join(ROOT, 'shelf'));

interface Expected {
  readonly inWords: string;
  readonly litresADay: number;
  readonly fillMinutes: number;
  readonly tankTdsMgL: number;
  readonly wasteRatio: number;
  readonly usableL: number;
  readonly yearWasteL: number;
  readonly worstMonth: string;
  readonly safeRecovery: number;
  readonly limitedBy: string;
}
interface Sized {
  readonly kind: string;
  readonly worstMonth: string;
  readonly chosen: Expected & { readonly year: { readonly wasteL: number } };
  readonly bands: { readonly draws: number };
  readonly months: readonly unknown[];
}

describe('the documentation', () => {
  test('the published job file schema is the one in use (npm run schema makes it anew)', () => {
    expect(read('job-file.schema.json')).toEqual(JSON.parse(JSON.stringify(jobFileJsonSchema())));
  });
  test('the picture of the architecture is as the code stands (npm run architecture draws it anew)', () => {
    expect(readFileSync(join(ROOT, 'docs/architecture.svg'), 'utf8')).toBe(architecturePicture(ROOT));
  });
  test('imports run one way, and what is drawn of them is what the sources say', () => {
    const imports = importsOf(ROOT);
    const rooms = [...imports.keys()];
    for (const [from, tos] of imports)
      for (const to of tos) expect([from, to, rooms.indexOf(to) < rooms.indexOf(from)]).toEqual([from, to, true]);
    expect(imports.get('core/system')).toContain('core/parts');
    expect(imports.get('web/line')).not.toContain('web/lenses');
  });
  test('the physics returns codes and figures, and says nothing: sentences are in words/', () => {
    const rooms = ['quantity', 'water', 'membrane', 'hydraulics', 'treatment', 'demand'];
    const sources = rooms.flatMap((room) =>
      readdirSync(join(ROOT, 'core/src', room))
        .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts'))
        .map((f) => join(ROOT, 'core/src', room, f)),
    );
    expect(sources.length).toBeGreaterThan(15);
    // four words in a row in quotes; what an impossible argument throws is for who calls, not for who reads
    const prose = /(['`])[^'`\n]*\b[A-Za-z]{2,} [a-z]{2,} [a-z]{2,} [a-z]{2,}[^'`\n]*\1/;
    const said = sources.flatMap((file) =>
      readFileSync(file, 'utf8')
        .replace(/\/\*[\s\S]*?\*\//g, '')
        .split('\n')
        .map((line) => line.replace(/\/\/.*/, ''))
        .filter((line) => prose.test(line) && !/RangeError|throw new/.test(line))
        .map((line) => `${file.slice(ROOT.length)}: ${line.trim()}`),
    );
    expect(said).toEqual([]);
  });
  test('every case of drinking stands in its table (npm run examples writes it anew)', () => {
    const cells = (text: string): string =>
      text
        .replace(/\s+/g, ' ')
        .replace(/ ?\| ?/g, '|')
        .replace(/-+/g, '-');
    const page = cells(readFileSync(join(ROOT, 'docs/drinking.md'), 'utf8'));
    for (const row of drinkingTable().split('\n')) expect(page).toContain(cells(row));
  });
  test('every calculator is described', () => {
    const text = readFileSync(join(ROOT, 'docs/calculators.md'), 'utf8');
    for (const name of Object.keys(CALCULATORS)) expect(text).toContain(`| \`${name}\``);
  });
});

describe('the households', () => {
  const expected = read('examples/expected.json') as Record<string, Expected>;
  const names = readdirSync(join(ROOT, 'docs/examples')).filter((f) => /^\d\d-.*\.json$/.test(f));
  test('are more than ten, each with its figures', () => {
    expect(names.map((n) => n.replace('.json', ''))).toEqual(Object.keys(expected));
    expect(names.length).toBeGreaterThan(10);
  });
  const decidedAs = (name: string) => {
    const { known } = read(`examples/${name}.json`) as { known: Known };
    const site = siteFrom(known, shelf.rules);
    const d = decide({ known, catalogue: shelf.parts, rules: shelf.rules });
    const e = expected[name];
    if (!site.ok || d.kind !== 'recommendation' || !e) throw new Error(`${name}: ${d.sentence}`);
    return { site: site.site, chosen: d.chosen, e };
  };
  const near = (is: number, written: number): void => {
    expect(Math.abs(is - written)).toBeLessThanOrEqual(0.002 * Math.abs(written));
  };
  test.each(Object.keys(expected))('%s is decided as written', (name) => {
    const { site, chosen, e } = decidedAs(name);
    const { worst, year, design } = chosen;
    expect([designInWords(design, shelf.parts), site.safe.limitedBy]).toEqual([e.inWords, e.limitedBy]);
    expect(simulateYear(design, shelf.parts, site).worstMonth).toBe(e.worstMonth);
    near(worst.litresADay, e.litresADay);
    near(worst.fill.minutes, e.fillMinutes);
    near(worst.fill.tankTdsMgL, e.tankTdsMgL);
    near(worst.wasteRatio, e.wasteRatio);
    near(worst.usableL, e.usableL);
    near(year?.wasteL ?? NaN, e.yearWasteL);
  });
  // the rest of what it says is long to work out
  test.each(['02-ordinary', '12-well-iron-lamp'])('the calculator tells %s whole, with the figures written', (name) => {
    const r = CALCULATORS.size?.answer(read(`examples/${name}.json`), { catalogue: shelf.parts, rules: shelf.rules });
    if (!r?.ok) throw new Error(r?.error.message ?? 'no answer');
    const o = r.output as unknown as Sized;
    const e = expected[name];
    if (!e) throw new Error('no figures');
    expect([o.kind, o.chosen.inWords, o.worstMonth]).toEqual(['recommendation', e.inWords, e.worstMonth]);
    for (const k of ['litresADay', 'fillMinutes', 'tankTdsMgL', 'wasteRatio', 'usableL'] as const)
      near(o.chosen[k], e[k]);
    near(o.chosen.year.wasteL, e.yearWasteL);
    expect([o.bands.draws, o.months.length]).toEqual([500, 12]);
  });
});
