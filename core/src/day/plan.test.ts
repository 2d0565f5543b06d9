import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules, shelf } from '../testing/fixtures.ts';
import {
  betweenKey,
  CLOCK_GRACE_MIN,
  districtOf,
  layByHand,
  NO_DAY_TABLE,
  planDay,
  readJob,
  tasksIn,
  travelBy,
  unknownWays,
  viewSystem,
  type DayFitter,
  type DayPlan,
  type DayVisit,
  type Travel,
} from '../index.ts';
import { decided } from '../testing/decided.ts';

const DISTRICTS = ['Corvane', 'Mell', 'Tarn', 'Asmere', 'Orrel'];
/** Minutes by how far apart they stand in a row. */
const travel: Travel = (a, b) => (a === b ? 4 : 9 + 8 * Math.abs(DISTRICTS.indexOf(a) - DISTRICTS.indexOf(b)));
const imra: DayFitter = { id: 'imra', district: 'Corvane', fromMin: 8 * 60, untilMin: 17 * 60 };
const bast: DayFitter = { id: 'bast', district: 'Tarn', fromMin: 8 * 60, untilMin: 17 * 60 };
const visit = (id: string, more: Partial<DayVisit> = {}): DayVisit => ({
  id,
  district: 'Corvane',
  tasks: [{ handsMin: 40, waitMin: 0 }],
  fromMin: 8 * 60,
  untilMin: 17 * 60,
  ...more,
});
const stopsOf = (p: DayPlan): [string, DayPlan['stops'][string][number]][] =>
  Object.entries(p.stops).flatMap(([f, s]) => s.map((x) => [f, x] as [string, typeof x]));

/** What any plan holds, and what one that names no problem holds besides. */
function holds(plan: DayPlan, visits: readonly DayVisit[], fitters: readonly DayFitter[]): void {
  for (const f of fitters) {
    let [at, here] = [f.fromMin, f.district];
    for (const s of plan.stops[f.id] ?? []) {
      const v = visits.find((x) => x.id === s.visit);
      if (!v) throw new Error('a stop at no visit');
      // nobody is at two houses, and nobody flies
      expect(s.arriveMin).toBeGreaterThanOrEqual(at);
      expect(s.arriveMin - at).toBe(here === v.district && s.travelMin === 0 ? 0 : travel(here, v.district));
      expect(s.startMin).toBeGreaterThanOrEqual(Math.max(s.arriveMin, v.fromMin, s.dueMin ?? 0));
      expect(s.endMin - s.startMin).toBe(v.tasks[s.task]?.handsMin);
      if (v.fitter !== undefined) expect(v.fitter).toBe(f.id);
      [at, here] = [s.endMin, v.district];
    }
  }
  for (const v of visits) {
    const mine = stopsOf(plan).filter(([, s]) => s.visit === v.id);
    const broken = plan.problems.filter((p) => p.visit === v.id);
    if (broken.some((p) => p.kind === 'left-out')) continue;
    expect(mine.map(([, s]) => s.task)).toEqual(v.tasks.map((_, i) => i));
    expect(new Set(mine.map(([f]) => f)).size).toBe(1);
    mine.forEach(([, s], i) => {
      if (i > 0) expect(s.dueMin).toBe((mine[i - 1]?.[1].endMin ?? 0) + (v.tasks[i - 1]?.waitMin ?? 0));
      if (!broken.some((p) => p.kind === 'nobody-home')) expect(s.endMin).toBeLessThanOrEqual(v.untilMin);
      if (!broken.some((p) => p.kind === 'clock-missed') && s.dueMin !== null)
        expect(s.startMin - s.dueMin).toBeLessThanOrEqual(CLOCK_GRACE_MIN);
      if (!broken.some((p) => p.kind === 'not-as-agreed') && i === 0 && v.fixedMin !== undefined)
        expect(s.startMin - v.fixedMin).toBeLessThanOrEqual(10);
    });
  }
}

const anyVisit = fc.record({
  district: fc.constantFrom(...DISTRICTS),
  tasks: fc.array(fc.record({ handsMin: fc.integer({ min: 5, max: 90 }), waitMin: fc.integer({ min: 0, max: 150 }) }), { minLength: 1, maxLength: 3 }),
  fromMin: fc.integer({ min: 420, max: 840 }),
  openMin: fc.integer({ min: 60, max: 600 }),
  fitter: fc.option(fc.constantFrom('imra', 'bast', 'nobody'), { nil: undefined, freq: 4 }),
  fixed: fc.option(fc.integer({ min: 0, max: 240 }), { nil: undefined, freq: 4 }),
  readyMin: fc.option(fc.integer({ min: 480, max: 900 }), { nil: undefined, freq: 5 }),
}); // oxfmt-ignore
const anyDay = fc.array(anyVisit, { maxLength: 7 }).map((all) =>
  all.map(({ openMin, fixed, ...v }, i): DayVisit => ({ ...v, id: `v${String(i)}`, untilMin: v.fromMin + openMin, ...(fixed === undefined ? {} : { fixedMin: v.fromMin + fixed }) })),
); // oxfmt-ignore

describe('a day planned', () => {
  test('never puts anybody in two places, and misses nothing it does not name', () => {
    fc.assert(fc.property(anyDay, (visits) => { holds(planDay(visits, [imra, bast], travel), visits, [imra, bast]); }), { numRuns: 60 }); // oxfmt-ignore
  });
  test('is the same for the same visits, in whatever order they come', () => {
    fc.assert(
      fc.property(anyDay, (visits) => {
        const [a, b] = [planDay(visits, [imra, bast], travel), planDay(visits, [imra, bast], travel)];
        expect(a).toEqual(b);
      }),
      { numRuns: 15 },
    );
  });
  test('lays another visit into the hours a tank fills, and is back when its clock is over', () => {
    const fill = visit('fill', { tasks: [{ handsMin: 90, waitMin: 120 }, { handsMin: 30, waitMin: 0 }] }); // oxfmt-ignore
    const plan = planDay([fill, visit('look', { district: 'Mell' })], [imra], travel);
    expect(plan.problems).toEqual([]);
    expect(plan.stops.imra?.map((s) => [s.visit, s.task])).toEqual([['fill', 0], ['look', 0], ['fill', 1]]); // oxfmt-ignore
  });
  test('goes where somebody is at home, at the time that was agreed', () => {
    const morning = visit('morning', { untilMin: 10 * 60 });
    const agreed = visit('agreed', { fixedMin: 14 * 60, district: 'Orrel' });
    const plan = planDay([agreed, visit('any'), morning], [imra], travel);
    expect(plan.problems).toEqual([]);
    const start = Object.fromEntries(stopsOf(plan).map(([, s]) => [s.visit, s.startMin]));
    expect(start.agreed).toBe(14 * 60);
    expect(start.morning).toBeLessThanOrEqual(10 * 60 - 40);
  });
  test('shares the work between two, each near where they begin', () => {
    const visits = DISTRICTS.flatMap((district, i) => [1, 2].map((n) => visit(`${String(i)}-${String(n)}`, { district, tasks: [{ handsMin: 60, waitMin: 0 }] })));
    const plan = planDay(visits, [imra, bast], travel);
    expect(plan.problems).toEqual([]);
    expect(plan.stops.imra?.length).toBeGreaterThan(2);
    expect(plan.stops.bast?.length).toBeGreaterThan(2);
    // one alone cannot hold it, and it is said
    expect(planDay(visits, [imra], travel).problems.map((p) => p.kind)).toContain('overtime');
  }); // oxfmt-ignore
  test('leaves out whom nobody may go to, and says so', () => {
    const plan = planDay([visit('a', { fitter: 'gone' }), visit('b')], [imra], travel);
    expect(plan.problems).toEqual([{ visit: 'a', kind: 'left-out', byMin: 0 }]);
    expect(plan.stops.imra?.map((s) => s.visit)).toEqual(['b']);
  });
  test('planned anew when a fill runs late changes as little as can be, and is back when it is over', () => {
    const fill = visit('fill', { tasks: [{ handsMin: 60, waitMin: 90 }, { handsMin: 30, waitMin: 0 }] }); // oxfmt-ignore
    const others = ['Mell', 'Tarn', 'Asmere', 'Orrel'].map((district) => visit(district, { district }));
    const before = planDay([fill, ...others], [imra, bast], travel);
    expect(before.problems).toEqual([]);
    // it was begun, and takes an hour longer
    const due = (stopsOf(before).find(([, s]) => s.visit === 'fill' && s.task === 1)?.[1].dueMin ?? 0) + 60;
    const late = visit('fill', { tasks: [{ handsMin: 30, waitMin: 0 }], readyMin: due });
    const after = planDay([late, ...others], [imra, bast], travel, before);
    expect(after.problems).toEqual([]);
    const who = (p: DayPlan) => Object.fromEntries(stopsOf(p).filter(([, s]) => s.visit !== 'fill').map(([f, s]) => [s.visit, f])); // oxfmt-ignore
    expect(who(after)).toEqual(who(before));
    expect(stopsOf(after).find(([, s]) => s.visit === 'fill')?.[1].startMin).toBeGreaterThanOrEqual(due);
  });
  test('ordered by hand keeps the order, and says what it breaks', () => {
    const visits = [visit('a', { untilMin: 9 * 60 }), visit('b', { district: 'Orrel' })];
    const plan = layByHand(visits, [imra], travel, { imra: ['b', 'a'] });
    expect(plan.stops.imra?.map((s) => s.visit)).toEqual(['b', 'a']);
    expect(plan.problems).toMatchObject([{ visit: 'a', kind: 'nobody-home' }]);
    holds(plan, visits, [imra]);
    expect(layByHand(visits, [imra], travel, { imra: ['b'] }).problems).toEqual([{ visit: 'a', kind: 'left-out', byMin: 0 }]);
  }); // oxfmt-ignore
  test('refuses a visit that is none', () => {
    expect(() => planDay([visit('a', { tasks: [] })], [imra], travel)).toThrow(RangeError);
    expect(() => planDay([visit('a', { fromMin: 700, untilMin: 600 })], [imra], travel)).toThrow(RangeError);
  });
});

describe('the work of a run sheet', () => {
  const d = decided({ known: house, catalogue: shelf, rules });
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  const v = viewSystem({ known: house, catalogue: shelf, rules }, { design: d.chosen.design });
  if (!v.ok) throw new Error(v.reason);
  const { sheet, today } = v.view;
  test('is stays at the house with the fills between them', () => {
    const tasks = tasksIn(sheet, readJob([]));
    expect(tasks).toHaveLength(rules.discards + 1);
    expect(tasks[0]?.waitMin).toBe(Math.ceil(today.fill.minutes));
    expect(tasks.at(-1)?.waitMin).toBe(0);
    // looks and readings at the end are part of the last stay
    expect(tasks.every((t) => t.handsMin > 0)).toBe(true);
  });
  test('of which nothing is open is none', () => {
    const done = { ticks: Object.fromEntries(sheet.map((s) => [s.key, { done: true }])), timers: {}, clocks: {} };
    expect(tasksIn(sheet, done as never)).toEqual([]);
  });
});

describe('the table a day is planned by', () => {
  const table = { ...NO_DAY_TABLE, districts: ['Town', 'Old Town', 'Quay'], minutes: { [betweenKey('Quay', 'Old Town')]: 12 } };
  test('finds the longest district that stands in a place, and the place where none does', () => {
    expect(districtOf('Mill Lane 2, old town', table)).toBe('Old Town');
    expect(districtOf(' Far farm ', table)).toBe('Far farm');
  });
  test('drives both ways alike, and guesses what it has not, saying which', () => {
    const by = travelBy(table);
    expect([by('Quay', 'Old Town'), by('Old Town', 'Quay'), by('Quay', 'Quay'), by('Quay', 'Far farm')]).toEqual([12, 12, 8, 25]);
    expect(unknownWays(['Quay', 'Old Town', 'Far farm', 'Quay'], table)).toEqual(['Far farm | Old Town', 'Far farm | Quay']);
  });
}); // oxfmt-ignore
