import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf, systemOf } from '../testing/fixtures.ts';
import {
  addKind,
  alongTheWater,
  buildSystem,
  CatalogueSchema,
  choiceOfDesign,
  isKind,
  jointsOf,
  livesOf,
  missingParts,
  pickList,
  readJob,
  systemFaults,
  tubesOf,
  viewSystem,
  wettedLitres,
  type Design,
  type Known,
  type Part,
  type System,
  type SystemView,
} from '../index.ts';
import { viewOf } from '../record/view.ts';
import { decided } from '../testing/decided.ts';

function designFor(change: Known = {}, own: Partial<Design> = {}): { design: Design; view: SystemView } {
  const input = { known: { ...house, ...change }, catalogue: shelf, rules };
  const d = decided(input);
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  const design = { ...d.chosen.design, ...own };
  const v = viewSystem(input, { design });
  if (!v.ok) throw new Error(v.reason);
  return { design, view: v.view };
}
const full = designFor(
  { metalAfter: 'copper', fridge: 'yes', highestPressureBar: 8, airGap: 'yes' },
  { permeatePumpId: null },
);
const plain = designFor({}, { permeatePumpId: null });
const kinds = (s: System): string[] => alongTheWater(s).map((c) => c.kind);

describe('the system', () => {
  test('is legal for every kind of house', () => {
    for (const { view } of [
      full,
      plain,
      designFor({ staticPressureBar: 1.9, runningPressureBar: 1.3, highestPressureBar: 2.2 }),
    ])
      expect(view.faults).toEqual([]);
  });
  test('stands in the order the water takes', () => {
    expect(kinds(full.view.system)).toEqual([
      'stop-valve', 'feed', 'limiter', 'sediment', 'carbon', 'carbon', 'shut-off', 'gauge', 'membrane',
      'non-return', 'sample', 'tank-tee', 'tank', 'polish', 'mineral', 'branch', 'fridge', 'tap', 'restrictor', 'drain',
    ]); // oxfmt-ignore
  });
  test('numbers joints without gaps, each at a port of its own, and every tube has one at each end', () => {
    for (const { view } of [full, plain]) {
      const joints = jointsOf(view.system);
      expect(joints.map((j) => j.number)).toEqual(joints.map((_, i) => i + 1));
      expect(new Set(joints.map((j) => j.id)).size).toBe(joints.length);
      for (const t of tubesOf(view.system)) {
        const ends = joints.filter((j) => j.tube === t.number).map((j) => j.component.id);
        expect([t.number, ...ends]).toEqual([t.number, t.from.id, t.to.id]);
      }
    }
  });
  test('a joint keeps its name whatever is put in beside it', () => {
    const without = systemOf({ ...plain.design, limiterId: null });
    const beside = systemOf({ ...plain.design, limiterId: 'limiter-4', leakValve: true });
    const named = (s: System): string[] => jointsOf(s).map((j) => j.id);
    expect(named(beside)).toEqual(expect.arrayContaining(named(without)));
    expect(named(beside).length).toBe(named(without).length + 4);
  });
  test('an air-gap tap takes the concentrate through the tap and away by the wider tube', () => {
    const drain = tubesOf(full.view.system).filter((t) => t.branch === 'concentrate');
    expect(drain.map((t) => [t.from.kind, t.to.kind])).toEqual([
      ['membrane', 'restrictor'],
      ['restrictor', 'tap'],
      ['tap', 'drain'],
    ]);
    expect(drain[2]?.boreMm).toBeGreaterThan(drain[1]?.boreMm ?? 0);
  });
  test('a wrong order, a missing valve and loose ends are told in words', () => {
    const { system } = plain.view;
    const swapped = {
      ...system,
      components: [...system.components].sort((a, b) => Number(b.kind === 'membrane') - Number(a.kind === 'membrane')),
    };
    expect(systemFaults(swapped)).toContain('Carbon protects the membrane: it comes first.');
    const bare = {
      ...system,
      components: system.components.filter((c) => !['sample', 'restrictor', 'shut-off'].includes(c.kind)),
    };
    expect(systemFaults(bare)).toEqual(
      expect.arrayContaining([
        'Without a restrictor all water leaves by the drain.',
        'Nothing stops the water when no more is wanted.',
        'A tube leads to sample, in, which is not there.',
      ]),
    );
    expect(systemFaults({ ...system, links: [] }).length).toBeGreaterThan(5);
    const [first, second] = system.links;
    if (!first || !second) throw new Error('no links');
    expect(systemFaults({ ...system, links: [...system.links, { ...second, id: 'twice' }] })).toContain(
      'Two tubes share a port of the feed tee.',
    );
  });
  test('a design that names a retired part, or one of another kind, says which', () => {
    expect(missingParts({ ...plain.design, tankId: 'tank-gone' }, shelf)).toEqual(['tank-gone']);
    expect(missingParts({ ...plain.design, tankId: 'pump-small' }, shelf)).toEqual(['pump-small']);
    const v = viewSystem(
      { known: house, catalogue: shelf, rules },
      { design: { ...plain.design, tankId: 'tank-gone' } },
    );
    expect(v).toEqual({ ok: false, reason: 'This design names parts the shelf no longer has: tank-gone.' });
    expect(() => systemOf({ ...plain.design, tankId: 'tank-gone' })).toThrow(RangeError);
  });
  test('two parts of one id are refused with the place', () => {
    const r = CatalogueSchema.safeParse([shelf[0], shelf[0]]);
    expect(r.error?.issues[0]).toMatchObject({ path: [1, 'id'] });
  });
});

describe('a kind added to the table', () => {
  const resin = {
    id: 'resin-1', kind: 'resin', name: 'Softening resin', ports: [], maxPressureBar: 8, maxTemperatureC: 38, barPerLMin: 0.4,
    life: { months: 3 }, price: 20,
  } as unknown as Part; // oxfmt-ignore
  const choice = choiceOfDesign(plain.design, shelf);
  const measures = { tapLengthM: 1.5, tapRiseM: 0.6 };
  const before = viewOf(buildSystem(choice, shelf, measures), plain.view.site, [], rules);

  test('stands in drawing, lists, joints, hydraulics, bleach and lives without another line', () => {
    const remove = addKind('resin', {
      label: 'resin',
      partKind: 'resin' as unknown as Part['kind'],
      chain: 'feed',
      rank: 5.5,
      inHousing: true,
      waterL: 0.9,
      ports: () => [],
      effect: () => ({ does: 'loses', barPerLMin: 0.4, clogs: true }),
      wear: 'spent, the membrane scales',
      flushed: 'Until it runs clear.',
    });
    try {
      const system = buildSystem(
        { ...choice, picks: [...choice.picks, { kind: 'resin', part: resin }] },
        shelf,
        measures,
      );
      const view = viewOf(system, plain.view.site, [], rules);
      expect(kinds(system).indexOf('resin')).toBe(kinds(system).indexOf('carbon') - 1);
      expect(view.faults).toEqual([]);
      const point = (v: SystemView, id: string) => v.profileToday.points.find((p) => p.id === id);
      expect(point(view, 'resin')?.pressureBar).toBeLessThan(point(view, 'sediment')?.pressureBar ?? 0);
      expect(view.today.litresADay).toBeLessThan(before.today.litresADay);
      expect(jointsOf(system).filter((j) => j.component.kind === 'resin')).toHaveLength(2);
      expect(view.joints.some((j) => j.where === 'resin, inlet')).toBe(true);
      const amount = (v: SystemView, key: string) => v.picks.find((p) => p.key === key)?.amount;
      expect([amount(view, 'resin-1'), amount(view, 'housing-10')]).toEqual(['1', '4']);
      expect(amount(before, 'housing-10')).toBe('3');
      expect(view.sheet.some((s) => s.key === 'flush-resin')).toBe(true);
      expect(wettedLitres(system, 0) - wettedLitres(before.system, 0)).toBeGreaterThan(0.9);
      expect(
        livesOf(system, readJob([]), 0, 1, {
          productLDay: 10,
          said: true,
          wasteRatio: 3,
          carries: null,
          dissolvedMgL: null,
        }).find((l) => l.label === 'resin')?.limits[0],
      ).toMatchObject({ by: 'calendar', at: 3 });
    } finally {
      remove();
    }
    expect(isKind('resin')).toBe(false);
  });
  test('is lost from all of them together', () => {
    expect(pickList(before.system, rules, []).some((p) => p.key === 'resin-1')).toBe(false);
    expect(() => buildSystem({ ...choice, picks: [{ kind: 'resin', part: resin }] }, shelf, measures)).toThrow(
      'no kind',
    );
    expect(() => addKind('carbon', { label: 'x', partKind: null, chain: 'feed', rank: 1, ports: () => [] })).toThrow(
      'already',
    );
  });
});

describe('plumbing it in', () => {
  test('tape goes on tapered threads only, and the tank’s valve is hand-tight', () => {
    for (const s of full.view.joints) expect(s.how.includes('PTFE tape')).toBe(s.joint.kind === 'taper-thread');
    expect(full.view.joints.find((s) => s.joint.component.kind === 'tank')?.how).toContain('by hand only');
    expect(full.view.joints.find((s) => s.joint.component.kind === 'drain')?.how).toContain('no insert');
  });
  test('the drain hole is on the basin’s side of the trap, and no room there is told', () => {
    expect(plain.view.holes.find((h) => h.key === 'drain')?.where).toContain('basin’s side of the trap');
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
  test('the pick list counts every part, its housings and its tube with a tenth to spare', () => {
    const { picks, system } = full.view;
    const amount = (key: string): string | undefined => picks.find((p) => p.key === key)?.amount;
    expect(amount('carbon-block')).toBe('2');
    expect(amount('housing-10')).toBe('3');
    const metres = tubesOf(system)
      .filter((t) => t.part.id === 'tube-6')
      .reduce((s, t) => s + t.lengthM, 0);
    expect(parseFloat(amount('tube-6') ?? '0')).toBeGreaterThanOrEqual(1.1 * metres);
    expect(amount('clips')).toBe(String(jointsOf(system).filter((j) => j.kind === 'push-fit').length));
    for (const c of system.components) if (c.part !== null) expect(picks.some((p) => p.key === c.part?.id)).toBe(true);
  });
});
