import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { CALCULATORS, jobFileJsonSchema, siteFrom, type Known } from '@katharos/core';
import { loadShelf } from '@katharos/shelf';
import { describe, expect, test } from '@jest/globals';
import { architecturePicture, importsOf } from './architecture.ts';

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
  test.each(names)('%s is decided as written', (name) => {
    const file = read(`examples/${name}`) as { known: Known };
    const r = CALCULATORS.size?.answer(file, { catalogue: shelf.parts, rules: shelf.rules });
    if (!r?.ok) throw new Error(r?.error.message ?? 'no answer');
    const o = r.output as unknown as Sized;
    const e = expected[name.replace('.json', '')];
    if (!e) throw new Error('no figures');
    expect([o.kind, o.chosen.inWords, o.worstMonth]).toEqual(['recommendation', e.inWords, e.worstMonth]);
    for (const k of ['litresADay', 'fillMinutes', 'tankTdsMgL', 'wasteRatio', 'usableL'] as const)
      expect(Math.abs(o.chosen[k] - e[k])).toBeLessThanOrEqual(0.002 * Math.abs(e[k]));
    expect(Math.abs(o.chosen.year.wasteL / e.yearWasteL - 1)).toBeLessThan(0.002);
    const site = siteFrom(file.known, shelf.rules);
    expect(site.ok && site.site.safe.limitedBy).toBe(e.limitedBy);
    expect([o.bands.draws, o.months.length]).toEqual([500, 12]);
  });
});
