import { describe, expect, test } from '@jest/globals';
import {
  beforeDrinking,
  drinkableAt,
  FactSchema,
  fillPace,
  readJob,
  type Fact,
  type NewFact,
  type RunStep,
} from '../index.ts';

const T0 = Date.parse('2026-03-02T08:00:00.000Z');
let serial = 0;
const fact = (minute: number, f: NewFact): Fact =>
  FactSchema.parse({
    v: 2, ...f, id: `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`, jobId: '5f0c4b1e-1111-4111-a111-000000000001',
    by: '5f0c4b1e-2222-4222-a222-000000000002', at: new Date(T0 + minute * 60000).toISOString(),
  }); // oxfmt-ignore
const step = (key: string, minutes: number, fillsToL?: number): RunStep => ({
  key, phase: 'Fill and discard', kind: fillsToL === undefined ? 'do' : 'wait', title: key, detail: '', minutes, wets: [], of: [], ...(fillsToL === undefined ? {} : { fillsToL }),
}); // oxfmt-ignore
const sheet = [
  step('fill-1', 100, 8),
  step('drain-1', 5),
  step('fill-2', 100, 8),
  step('drain-2', 5),
  step('first-drink', 30, 2),
];
const start = (minute: number, key = 'fill-1', minutes = 100): Fact =>
  fact(minute, { kind: 'timer', step: key, action: 'start', minutes });
const tick = (minute: number, key = 'fill-1', done = true): Fact[] => [
  fact(minute, { kind: 'tick', step: key, done }),
  ...(done ? [fact(minute + 0.001, { kind: 'timer', step: key, action: 'stop', minutes: 0 })] : []),
];
/** Found not full: the same clock with more minutes. */
const notFull = (minute: number, minutes: number): Fact =>
  fact(minute, { kind: 'timer', step: 'fill-1', action: 'start', minutes, startedAt: new Date(T0).toISOString() });
const drinkIn = (minute: number, facts: readonly Fact[]): number =>
  ((drinkableAt(beforeDrinking(sheet, readJob(facts)), T0 + minute * 60000) ?? Number.NaN) - T0) / 60000;

describe('a fill that went otherwise than planned', () => {
  test('moves every later fill and the time they may drink; what needs no fill stays', () => {
    const slow = [start(0), notFull(105, 160), ...tick(150)];
    const pace = fillPace(sheet, readJob(slow));
    expect(pace).toMatchObject({ tookMin: 150, plannedMin: 100, factor: 1.5, finding: 'slow' });
    expect(drinkIn(150, slow)).toBe(150 + 5 + 150 + 5 + 45);
    // the round of the day says the same
    expect(drinkableAt(beforeDrinking(sheet, readJob(slow)), T0 + 150 * 60000)).toBe(T0 + 355 * 60000);
    const fast = [start(0), ...tick(60)];
    expect(fillPace(sheet, readJob(fast))).toMatchObject({ factor: 0.6, finding: 'fast' });
    expect(drinkIn(60, fast)).toBe(60 + 5 + 60 + 5 + 18);
  });
  test('is no slower for somebody who came back late', () => {
    const late = [start(0), ...tick(240)];
    expect(fillPace(sheet, readJob(late))).toBeNull();
    expect(drinkIn(240, late)).toBe(240 + 5 + 100 + 5 + 30);
  });
  test('within what elements and gauges vary by it moves the clocks and is no finding', () => {
    expect(fillPace(sheet, readJob([start(0), ...tick(85)]))).toMatchObject({ factor: 0.85, finding: null });
    expect(fillPace(sheet, readJob([start(0), notFull(101, 130), ...tick(125)]))).toMatchObject({
      factor: 1.25,
      finding: null,
    });
  });
  test('the last one counts, and none counts while it runs', () => {
    const both = [start(0), notFull(105, 160), ...tick(150), start(160, 'fill-2', 150), ...tick(250, 'fill-2')];
    expect(fillPace(sheet, readJob(both))?.factor).toBe(0.9);
    expect(fillPace(sheet, readJob([start(0)]))).toBeNull();
  });
});

describe('clocks', () => {
  test('that were started and forgotten are said afterwards', () => {
    const said = fact(40, { kind: 'timer', step: 'fill-1', action: 'start', minutes: 100, startedAt: new Date(T0).toISOString() });
    const { timers, clocks } = readJob([said]);
    expect(timers['fill-1']?.dueAt).toBe(new Date(T0 + 100 * 60000).toISOString());
    expect(clocks['fill-1']?.extended).toBe(false);
  });
  test('run on when what stopped them is undone, from where they began', () => {
    const facts = [start(0), ...tick(20)];
    expect(readJob(facts).timers).toEqual({});
    const undone = readJob([...facts, ...tick(22, 'fill-1', false)]);
    expect(undone.timers['fill-1']).toMatchObject({ startedAt: new Date(T0).toISOString(), dueAt: new Date(T0 + 100 * 60000).toISOString() });
    expect(undone.clocks['fill-1']?.endedAt).toBeNull();
  });
}); // oxfmt-ignore
