import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../../testing/fixtures.ts';
import {
  asBuilt,
  buildSystem,
  carbonWork,
  bedIn,
  decide,
  DesignVersionSchema,
  fastestLMin,
  judgeProof,
  keptVerdict,
  KeptVerdictSchema,
  livesAsBuilt,
  makeVersion,
  partIn,
  proofFieldsFor,
  proposalOf,
  siteFrom,
  systemInWords,
  throttleLMin,
  viewSystem,
  type DesignVersion,
  type Known,
  type OtherWay,
  type Part,
  type ProofReadings,
  type Site,
  type SystemView,
} from '../../index.ts';
import { FACT_VERSION, type Fact } from '../../facts/facts.ts';
import type { Assembly } from './candidates.ts';

const taste: Known = { ...house, aim: 'taste' };
const well: Known = {
  ...house, source: 'well', aim: 'microbes', laboratory: 'unsafe', disinfectant: 'none', chlorineMgL: 0, hardnessMgL: 80,
  switchLowBar: 2, switchHighBar: 3.5,
}; // oxfmt-ignore
const input = (known: Known, catalogue: readonly Part[] = shelf) => ({ known, catalogue, rules });
function otherwise(known: Known, catalogue: readonly Part[] = shelf): OtherWay {
  const d = decide(input(known, catalogue));
  if (d.kind !== 'other-way') throw new Error(d.sentence);
  return d;
}
function filtersOf(known: Known, catalogue: readonly Part[] = shelf): Assembly {
  const { system, sentence } = otherwise(known, catalogue);
  if (!system) throw new Error(sentence);
  return system;
}
function siteOf(known: Known): Site {
  const r = siteFrom(known, rules);
  if (!r.ok) throw new Error(r.missing.join());
  return r.site;
}
function seen(known: Known): SystemView {
  const v = viewSystem(input(known), { assembly: filtersOf(known) });
  if (!v.ok) throw new Error(v.reason);
  return v.view;
}
const kinds = (f: Assembly): string[] => f.choice.picks.map((p) => p.kind);
let serial = 0;
const uuid = (): string => `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`;
const T0 = Date.parse('2026-03-02T08:00:00.000Z');
const approved = (known: Known): DesignVersion => {
  const proposal = proposalOf(decide(input(known)));
  if (!proposal) throw new Error('nothing is proposed');
  return makeVersion(input(known), proposal, { id: uuid(), at: new Date(T0).toISOString(), by: uuid(), reason: '', against: '', before: null, newId: uuid }); // oxfmt-ignore
};

describe('carbon at its own tap', () => {
  test('has its time at the fastest the tap ever gives', () => {
    for (const change of [
      {},
      { staticPressureBar: 6, highestPressureBar: 7.5 },
      { disinfectant: 'chloramine', chlorineMgL: 1 },
    ]) {
      const known = { ...taste, ...change } as Known;
      const f = filtersOf(known);
      const system = buildSystem(f.choice, shelf, siteOf(known));
      const fastest = fastestLMin(system, siteOf(known));
      const agent = known.disinfectant === 'chloramine' ? 'chloramine' : 'chlorine';
      const work = carbonWork(bedIn(system), fastest, agent, 0.5, 10);
      // either it has its time, or the sheet says what to throttle to
      expect([work.enough, /throttled to [\d.]+ L\/min/.test(f.reasons.join())].filter(Boolean)).toHaveLength(1);
    }
  });
  test('stands behind a limiting valve where the house pushes more than its weakest part bears', () => {
    expect(kinds(filtersOf(taste))).not.toContain('limiter');
    expect(kinds(filtersOf({ ...taste, staticPressureBar: 7, highestPressureBar: 8.2 }))).toContain('limiter');
    // a lamp and a tap bear less than the housings do
    const weak = shelf.map((p): Part => (p.kind === 'tap' ? { ...p, maxPressureBar: 4.5 } : p));
    expect(kinds(filtersOf(taste, weak))).toContain('limiter');
  });
  test('takes a plain tap though the code asks an air gap of what has a drain', () => {
    const tap = filtersOf({ ...taste, airGap: 'yes' }).choice.picks.find((p) => p.kind === 'tap')?.part;
    expect(tap).toMatchObject({ airGap: false });
  });
  test('has iron taken out before it, a dispenser on its branch, and says where its frame does not stand', () => {
    const clean: Known = {
      ...taste,
      source: 'well',
      laboratory: 'clean',
      switchLowBar: 2,
      switchHighBar: 3.5,
      ironMgL: 1,
    };
    expect(kinds(filtersOf(clean))).toContain('iron');
    expect(seen(clean).faults).toEqual([]);
    expect(kinds(filtersOf({ ...taste, dispenser: 'yes' }))).toContain('dispenser');
    const dark = filtersOf({ ...taste, dispenser: 'yes', socket: 'no' });
    expect(kinds(dark)).not.toContain('dispenser');
    expect(dark.reasons.join()).toMatch(/wants a socket of its own/);
    expect(filtersOf({ ...taste, cupboardWidthMm: 300 }).reasons.join()).toMatch(/385 mm wide, 300 mm there/);
  });
  test('nothing is proposed where the shelf has no carbon, and it is said', () => {
    const bare = otherwise(
      taste,
      shelf.map((p): Part => (p.kind === 'carbon' ? { ...p, retired: true } : p)),
    );
    expect(bare.system).toBeNull();
    expect(bare.instead.join()).toContain('The shelf has no carbon');
  });
});

describe('a lamp with its filters', () => {
  test('is for water a laboratory found microbes in, and gives its dose at the fastest flow', () => {
    expect(kinds(filtersOf(well))).toEqual(expect.arrayContaining(['sediment', 'carbon', 'lamp', 'tap']));
    expect(filtersOf(well).reasons.join()).toMatch(/the lamp gives (4\d|[5-9]\d|1\d\d) mJ/);
    expect(otherwise({ ...well, laboratory: 'clean' }).system).toBeNull();
  });
  test.each([
    ['hard water scales its sleeve', { hardnessMgL: 200 }, /hardness 200 mg\/L is above 120/],
    ['there is no socket', { socket: 'no' }, /no socket/],
    ['iron stains it', { ironMgL: 0.5 }, /iron 0.5 mg\/L is above 0.3/],
  ] as const)('is not proposed where %s', (_, change, why) => {
    const d = otherwise({ ...well, ...change });
    expect(d.system).toBeNull();
    expect(d.instead.join()).toMatch(why);
  });
});

describe('a system without a membrane runs from Plumb to Keep', () => {
  test.each([
    ['carbon', taste],
    ['lamp', well],
  ] as const)('%s: legal, drawn, listed, flushed, with nothing of a membrane', (_, known) => {
    const v = seen(known);
    expect(v.faults).toEqual([]);
    expect(v.joints.length).toBeGreaterThan(6);
    expect(v.holes.map((h) => h.key)).toEqual(['tap', 'frame']);
    expect(v.drainProblem).toBeNull();
    expect(systemInWords(v.system)).toMatch(/Sediment cartridge.*arbon/);
    const words = v.sheet.map((s) => s.title + s.detail).join(' ');
    expect(words).not.toMatch(/[Mm]embrane in|tank|drain stop/);
    expect(v.sheet.at(-1)?.key).toBe('leave');
    for (const p of v.profileToday.points) expect(p.tdsMgL).toBe(v.site.tdsMgL);
    const bars = v.profileToday.points.map((p) => p.pressureBar);
    expect(bars).toEqual([...bars].sort((a, b) => b - a));
  });
  test('it is approved as a document like any other, and its cartridges get their lives', () => {
    const v = approved(taste);
    expect(DesignVersionSchema.safeParse(JSON.parse(JSON.stringify(v))).error).toBeUndefined();
    expect(v.judged.sentence).toMatch(/^Carbon at its own tap/);
    expect(v.judged.figures.costYear).toBeGreaterThan(5);
    const ticks = v.sheet.map((s, i) => ({ kind: 'tick', v: FACT_VERSION, design: v.id, step: s.key, done: true, id: uuid(), jobId: uuid(), by: uuid(), at: new Date(T0 + i * 60000).toISOString() })) as Fact[]; // oxfmt-ignore
    const built = asBuilt([v], ticks);
    if (!built) throw new Error('nothing is built');
    expect(built.inService).toBe(true);
    expect(livesAsBuilt(built, T0 + 86400000).map((l) => l.kind)).toEqual(['sediment', 'carbon']);
  });
});

describe('proving it', () => {
  const view = seen(taste);
  const flow = view.today.tapFlowLMin;
  const judge = (r: ProofReadings, v = view) => {
    const j = judgeProof(r, v.system, v.site, 0.02);
    if (!j.ok) throw new Error(j.missing.join());
    return j.verdict;
  };
  const good = { productFlowLMin: flow, temperatureC: 14, chlorineMgL: 0.02 };
  test('asks for what comes out of the tap and nothing else; a tankless membrane is not asked of a tank', () => {
    expect(proofFieldsFor(view.system).map((f) => f.key)).toEqual(['productFlowLMin', 'temperatureC', 'chlorineMgL']);
    expect(judgeProof({ temperatureC: 14 }, view.system, view.site, 0.02)).toEqual({ ok: false, missing: ['productFlowLMin', 'chlorineMgL'] }); // oxfmt-ignore
  });
  test('is good at the flow the house’s pressure gives, and is kept without figures of salt', () => {
    const v = judge(good);
    expect([v.grade, v.rejection, v.passageAgainstNew, v.wasteRatio]).toEqual(['good', null, null, null]);
    expect(v.flowAgainstNew).toBeCloseTo(1, 2);
    expect(KeptVerdictSchema.safeParse(v).error).toBeUndefined();
  });
  test('a clogged filter is slow, and says what to look at first', () => {
    const v = judge({ ...good, productFlowLMin: 0.4 * flow });
    expect(v.grade).toBe('act');
    expect(v.reasons.join()).toMatch(/clogs, a valve half shut/);
  });
  test('chlorine at the tap, too little time in the carbon and too little light are each acted on', () => {
    expect(judge({ ...good, chlorineMgL: 0.15 }).grade).toBe('act');
    const rushed = judge({ ...good, productFlowLMin: 9.5 });
    expect(rushed.compared.find((c) => c.key === 'contact')?.grade).toBe('act');
    const lit = seen(well);
    const lamp = partIn(lit.system, 'lamp')?.lamp;
    const most = (lamp?.ratedFlowLMin ?? 0) * 0.9;
    expect(judge({ productFlowLMin: most, temperatureC: 14, chlorineMgL: 0 }, lit).compared.find((c) => c.key === 'dose')?.grade).toBe('act');
    expect(judge({ productFlowLMin: most / 3, temperatureC: 14, chlorineMgL: 0 }, lit).compared.find((c) => c.key === 'dose')?.grade).toBe('good');
  }); // oxfmt-ignore
  test('a tap throttled for the carbon’s time is as it should be, and one that is not is told to be', () => {
    const slow = seen({ ...taste, disinfectant: 'chloramine', chlorineMgL: 1 });
    const most = throttleLMin(slow.system, slow.site);
    expect(most).toBeLessThan(slow.today.tapFlowLMin);
    expect(judge({ ...good, productFlowLMin: 0.95 * most }, slow).grade).toBe('good');
    const open = judge({ ...good, productFlowLMin: slow.today.tapFlowLMin }, slow);
    expect([open.grade, open.reasons]).toEqual(['act', ['At this flow the water is in the carbon too briefly.']]);
  });
  test('the verdict of a membrane is kept with its figures as before', () => {
    const kept = keptVerdict({ grade: 'good', sentence: 's', compared: [], flowAgainstNew: 1, reasons: [], next: [], doubts: [], rejection: 0.9, momentaryRecovery: 0.3, wasteRatio: Infinity, passageAgainstNew: 1, normalisedFlowLDay: 1, normalisedPassage: 1 }, 'x'); // oxfmt-ignore
    expect([kept.rejection, kept.wasteRatio]).toEqual([0.9, null]);
  });
});
