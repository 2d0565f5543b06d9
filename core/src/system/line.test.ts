import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../testing/fixtures.ts';
import {
  buildLine,
  CatalogueSchema,
  decide,
  lineFaults,
  missingParts,
  viewSystem,
  type Design,
  type Known,
  type SystemView,
} from '../index.ts';

function designFor(change: Known = {}): { design: Design; view: SystemView } {
  const input = { known: { ...house, ...change }, catalogue: shelf, rules };
  const d = decide(input);
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  const v = viewSystem(input, d.chosen.design);
  if (!v.ok) throw new Error(v.reason);
  return { design: d.chosen.design, view: v.view };
}
const full = designFor({ metalAfter: 'copper', fridge: 'yes', highestPressureBar: 8, airGap: 'yes' });
const plain = designFor();

describe('the Line', () => {
  test('is legal for every kind of house', () => {
    for (const { view } of [
      full,
      plain,
      designFor({ staticPressureBar: 1.9, runningPressureBar: 1.3, highestPressureBar: 2.2 }),
    ])
      expect(view.faults).toEqual([]);
  });
  test('stands in the order the water takes', () => {
    expect(full.view.line.elements.map((e) => e.role)).toEqual([
      'stop-valve', 'feed', 'limiter', 'sediment', 'carbon', 'carbon', 'shut-off', 'gauge', 'membrane',
      'non-return', 'sample', 'tank-tee', 'tank', 'polish', 'mineral', 'branch', 'fridge', 'tap', 'restrictor', 'drain',
    ]); // prettier-ignore
  });
  test('numbers joints without gaps, and every tube has one at each end', () => {
    const { line } = full.view;
    expect(line.joints.map((j) => j.number)).toEqual(line.joints.map((_, i) => i + 1));
    for (const t of line.tubes) {
      const ends = line.joints.filter((j) => j.tube === t.number).map((j) => j.at);
      expect([t.number, ...ends]).toEqual([t.number, t.from, t.to]);
    }
  });
  test('an air-gap tap takes the concentrate through the tap and away by the wider tube', () => {
    const drain = full.view.line.tubes.filter((t) => t.branch === 'concentrate');
    expect(drain.map((t) => [t.from, t.to])).toEqual([
      ['membrane', 'restrictor'],
      ['restrictor', 'tap'],
      ['tap', 'drain'],
    ]);
    expect(drain[2]?.boreMm).toBeGreaterThan(drain[1]?.boreMm ?? 0);
  });
  test('a wrong order is told in words', () => {
    const { line } = plain.view;
    const swapped = {
      ...line,
      elements: [...line.elements].sort((a, b) => Number(b.role === 'membrane') - Number(a.role === 'membrane')),
    };
    expect(lineFaults(swapped)).toContain('Carbon protects the membrane: it comes first.');
    const bare = {
      ...line,
      elements: line.elements.filter((e) => e.role !== 'sample' && e.role !== 'restrictor' && e.role !== 'shut-off'),
    };
    expect(lineFaults(bare)).toEqual(
      expect.arrayContaining([
        'Without a restrictor all water leaves by the drain.',
        'Nothing stops the water when no more is wanted.',
      ]),
    );
    expect(lineFaults({ ...line, tubes: [] }).length).toBeGreaterThan(5);
  });
  test('a design that names a retired part says which', () => {
    expect(missingParts({ ...plain.design, tankId: 'tank-gone' }, shelf)).toEqual(['tank-gone']);
    const v = viewSystem({ known: house, catalogue: shelf, rules }, { ...plain.design, tankId: 'tank-gone' });
    expect(v).toEqual({ ok: false, reason: 'This design names parts the shelf no longer has: tank-gone.' });
    expect(() => buildLine({ ...plain.design, tankId: 'tank-gone' }, shelf, { tapLengthM: 1 })).toThrow(RangeError);
  });
  test('two parts of one id are refused with the place', () => {
    const r = CatalogueSchema.safeParse([shelf[0], shelf[0]]);
    expect(r.error?.issues[0]).toMatchObject({ path: [1, 'id'] });
  });
});

describe('the figures along the Line', () => {
  const { profileWorst: p, worst, line } = full.view;
  const at = (id: string) => p.points.find((x) => x.id === id);
  test('every element has its figures', () => {
    expect(p.points.map((x) => x.id)).toEqual(line.elements.map((e) => e.id));
    for (const x of p.points)
      expect([x.pressureBar, x.flowLMin, x.tdsMgL].every((v) => Number.isFinite(v) && v >= 0)).toBe(true);
  });
  test('what enters the membrane leaves as product and concentrate', () => {
    const feed = at('membrane')?.flowLMin ?? 0;
    expect((at('sample')?.flowLMin ?? 0) + (at('restrictor')?.flowLMin ?? 0)).toBeCloseTo(feed, 9);
  });
  test('pressure falls along the pre-filters and the limiting valve holds', () => {
    expect(at('limiter')?.pressureBar).toBeLessThanOrEqual(4);
    expect(at('carbon-2')?.pressureBar).toBeLessThan(at('sediment')?.pressureBar ?? 0);
    expect(at('membrane')?.pressureBar).toBeCloseTo(worst.middle.inletBar, 9);
    expect(at('gauge')?.pressureBar).toBeCloseTo(worst.middle.inletBar, 2);
  });
});

describe('plumbing it in', () => {
  test('tape goes on tapered threads only, and the tank’s valve is hand-tight', () => {
    for (const s of full.view.joints) expect(s.how.includes('PTFE tape')).toBe(s.joint.kind === 'taper-thread');
    expect(full.view.joints.find((s) => s.joint.at === 'tank')?.how).toContain('by hand only');
    expect(full.view.joints.find((s) => s.joint.at === 'drain')?.how).toContain('no insert');
  });
  test('the drain hole is on the basin’s side of the trap, and no room there is told', () => {
    expect(plain.view.holes.at(-1)?.where).toContain('basin’s side of the trap');
    expect(plain.view.drainProblem).toBeNull();
    expect(designFor({ drainRun: 'none' }).view.drainProblem).toContain('would let sewer gas in');
  });
  test.each([
    ['stone', 'wet diamond'],
    ['steel', 'step drill'],
    ['laminate', 'hole saw'],
    ['spare-hole', 'none'],
  ] as const)('%s is drilled with %s', (worktop, bit) => {
    expect(designFor({ worktop }).view.holes[0]?.bit).toContain(bit);
  });
  test('the pick list counts every part of the Line, its housings and its tube with a tenth to spare', () => {
    const { picks, line } = full.view;
    const amount = (key: string): string | undefined => picks.find((p) => p.key === key)?.amount;
    expect(amount('carbon-block')).toBe('2');
    expect(amount('housing-10')).toBe('3');
    const metres = line.tubes.filter((t) => t.partId === 'tube-6').reduce((s, t) => s + t.lengthM, 0);
    expect(parseFloat(amount('tube-6') ?? '0')).toBeGreaterThanOrEqual(1.1 * metres);
    expect(amount('clips')).toBe(String(line.joints.filter((j) => j.kind === 'push-fit').length));
    for (const e of line.elements) if (e.partId !== null) expect(picks.some((p) => p.key === e.partId)).toBe(true);
  });
});
