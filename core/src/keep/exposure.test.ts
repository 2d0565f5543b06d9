import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { chlorineMet } from '../index.ts';

const DAY = 86400000;
const T0 = Date.parse('2025-03-02T08:00:00.000Z');
const at = (days: number, mgL: number) => ({ atMs: T0 + days * DAY, mgL });

describe('chlorine a membrane has met', () => {
  test('a strip that read none for a year is anything from nothing to some dozens', () => {
    const met = chlorineMet([at(0, 0.02), at(182, 0), at(365, 0.05)], T0, T0 + 365 * DAY, 2);
    expect(met?.low).toBe(0);
    expect(met?.high).toBeCloseTo(0.1 * 365 * 2, 6);
    expect(met?.readings).toBe(3);
  });
  test('what was read is met for the hours water ran, between the lower and the higher of two readings', () => {
    const met = chlorineMet([at(0, 0.2), at(100, 0.6)], T0, T0 + 100 * DAY, 3);
    expect(met?.low).toBeCloseTo(0.2 * 300, 6);
    expect(met?.high).toBeCloseTo(0.6 * 300, 6);
  });
  test('counts from when the membrane went in; nothing read is nothing known', () => {
    expect(chlorineMet([at(-30, 2)], T0, T0 + 10 * DAY, 3)).toBeNull();
    const late = chlorineMet([at(-30, 2), at(20, 0.4)], T0, T0 + 40 * DAY, 3);
    expect(late?.low).toBeCloseTo(0.4 * 20 * 3, 6);
    expect(late?.high).toBeCloseTo(0.4 * 40 * 3, 6);
  });
  test('never falls as time goes, and its band never turns', () => {
    const reads = fc.array(fc.record({ days: fc.integer({ min: 0, max: 700 }), mgL: fc.double({ min: 0, max: 2, noNaN: true }) }), { minLength: 1, maxLength: 8 }); // oxfmt-ignore
    fc.assert(
      fc.property(reads, fc.integer({ min: 700, max: 1400 }), (all, days) => {
        const list = all.map((r) => at(r.days, r.mgL));
        const [now, later] = [days, days + 100].map((d) => chlorineMet(list, T0, T0 + d * DAY, 2));
        if (!now || !later) throw new Error('it was read');
        expect(now.low).toBeLessThanOrEqual(now.high);
        expect(later.low).toBeGreaterThanOrEqual(now.low);
        expect(later.high).toBeGreaterThanOrEqual(now.high);
      }),
    );
  });
});
