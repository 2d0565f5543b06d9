import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { GATHER_DAYS, gatherTrips, type Life } from '../index.ts';

const DAY = 86400000;
const NOW = Date.parse('2026-03-02T08:00:00.000Z');
const life = (id: string, dueInDays: number, kind = 'carbon'): Life => ({
  componentId: id, kind, label: id, partName: id, partId: '', sinceMs: NOW + (dueInDays - 365) * DAY, dueMs: NOW + dueInDays * DAY, by: 'calendar', used: 0.5,
  litresSoFar: 0, limits: [], earlyMs: 0, lateMs: 0, state: 'good', why: '',
}); // oxfmt-ignore

describe('what falls together', () => {
  test('is one trip: the first that is due, and what follows within some weeks', () => {
    const trips = gatherTrips([life('a', 20), life('b', 60), life('c', 20 + GATHER_DAYS + 5)], NOW, 182);
    expect(trips.map((t) => t.change.map((c) => c.life.label))).toEqual([['a', 'b'], ['c']]);
    expect(trips[0]?.atMs).toBe(NOW + 20 * DAY);
    expect(trips[0]?.change[1]).toMatchObject({ earlyDays: 40 });
    expect(trips[0]?.change[1]?.givenUp).toBeCloseTo(40 / 365, 9);
  });
  test('that is overdue is for today, and says by how much', () => {
    const [trip] = gatherTrips([life('a', -14), life('b', 30)], NOW, 182);
    expect(trip?.atMs).toBe(NOW);
    expect(trip?.change.map((c) => [c.life.label, c.earlyDays, c.givenUp > 0])).toEqual([['a', -14, false], ['b', 30, true]]); // oxfmt-ignore
  });
  test('reads a membrane, and changes none by its date', () => {
    const [trip] = gatherTrips([life('m', 10, 'membrane'), life('a', 12)], NOW, 182);
    expect([trip?.read.map((r) => r.life.label), trip?.change.map((c) => c.life.label)]).toEqual([['m'], ['a']]);
  });
  test('each thing goes once, on no trip before anything is due, none beyond what is looked at', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -400, max: 900 }), { maxLength: 12 }), (days) => {
        const lives = days.map((d, i) => life(String(i), d));
        const trips = gatherTrips(lives, NOW, 182);
        const on = trips.flatMap((t) => [...t.change, ...t.read].map((o) => o.life.label));
        expect(new Set(on).size).toBe(on.length);
        for (const l of lives) if (l.dueMs <= NOW + 182 * DAY) expect(on).toContain(l.label);
        for (const t of trips) expect(Math.min(...t.change.map((c) => c.earlyDays))).toBeLessThanOrEqual(0);
        trips.slice(1).forEach((t, i) => { expect(t.atMs - (trips[i]?.atMs ?? 0)).toBeGreaterThan(GATHER_DAYS * DAY); });
      }),
    ); // oxfmt-ignore
  });
});
