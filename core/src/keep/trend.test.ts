import { describe, expect, test } from '@jest/globals';
import { ofOneElement, seeded, trendOf, type TrendPoint } from '../index.ts';

const YEAR_MS = 365.25 * 86_400_000;
const START = Date.parse('2022-03-01T09:00:00.000Z');
const at = (years: number): number => START + years * YEAR_MS;

/** Readings of an element that loses so much a year, each off by its own scatter. */
function lived(perYear: number, times: readonly number[], scatter: number, next: () => number): TrendPoint[] {
  const normal = (): number => Math.sqrt(-2 * Math.log(Math.max(1e-12, next()))) * Math.cos(2 * Math.PI * next());
  return times.map((t) => ({ atMs: at(t), value: (1 + perYear) ** t * Math.exp(scatter * normal()) }));
}
const TIMES = [0.02, 0.5, 1, 1.5, 2.1, 2.6];

describe('the trend of an element over the years', () => {
  test('of exact readings is their own line, and meets its limit when they would', () => {
    const t = trendOf(lived(-0.08, TIMES, 0, seeded(1)), 0.7);
    expect(t?.aYear).toBeCloseTo(-0.08, 9);
    const years = Math.log(0.7) / Math.log(0.92);
    expect(((t?.meets.atMs ?? 0) - START) / YEAR_MS).toBeCloseTo(years, 6);
    expect(t?.at(at(2)).value).toBeCloseTo(0.92 ** 2, 9);
    expect(t?.at(at(2)).low).toBeLessThan(0.92 ** 2);
  });
  test('is read of one element alone: not of the one before it, nor of a fault that was mended', () => {
    const proof = (id: string, day: string, proofBefore?: string) => ({
      id,
      at: `2025-${day}T10:00:00.000Z`,
      ...(proofBefore === undefined ? {} : { mended: { proof: proofBefore } }),
    });
    const proofs = [proof('a', '01-10'), proof('b', '06-10'), proof('c', '06-11', 'b'), proof('d', '12-10')];
    const visit = { at: '2025-03-01T12:00:00.000Z', changed: ['membrane'] };
    const of = (...visits: (typeof visit)[]): string[] => ofOneElement(proofs, visits, ['membrane']).map((p) => p.id);
    expect(of()).toEqual(['a', 'c', 'd']);
    expect(of(visit)).toEqual(['c', 'd']);
    expect(of({ ...visit, changed: ['sediment'] })).toEqual(['a', 'c', 'd']);
  });
  test('says nothing of too few readings, or of a week', () => {
    expect(trendOf(lived(-0.1, [0, 1], 0, seeded(1)), 0.7)).toBeNull();
    expect(trendOf(lived(-0.1, [0, 0.01, 0.02], 0, seeded(1)), 0.7)).toBeNull();
  });
  test('is hardly turned by one bad reading', () => {
    const good = lived(-0.06, TIMES, 0.02, seeded(5));
    const bad = good.map((p, i) => (i === 3 ? { ...p, value: 0.4 * p.value } : p));
    const [a, b] = [trendOf(good, 0.7), trendOf(bad, 0.7)];
    expect(Math.abs((a?.aYear ?? 0) - (b?.aYear ?? 0))).toBeLessThan(0.03);
  });
  test('one that does not age meets no limit', () => {
    const t = trendOf(TIMES.map((x, i) => ({ atMs: at(x), value: i % 2 === 0 ? 1.01 : 1 })), 2.5); // oxfmt-ignore
    expect(t?.meets.lateMs).toBeNull();
  });
  test('the band of the date holds the true one in 80 to 97 of a hundred simulated systems', () => {
    const next = seeded(77);
    let held = 0;
    const trials = 400;
    for (let i = 0; i < trials; i++) {
      // salt passage that grows by 10 to 35 % a year, read twice a year for two to four years
      const perYear = 0.1 + 0.25 * next();
      const times = TIMES.map((x) => x * (0.8 + 0.7 * next()));
      const truth = at(Math.log(2.5) / Math.log(1 + perYear));
      const t = trendOf(lived(perYear, times, 0.04 + 0.05 * next(), next), 2.5);
      if (!t) throw new Error('no trend');
      const { earlyMs, lateMs } = t.meets;
      if ((earlyMs ?? Infinity) <= truth && truth <= (lateMs ?? Infinity)) held++;
    }
    expect(held / trials).toBeGreaterThanOrEqual(0.8);
    expect(held / trials).toBeLessThanOrEqual(0.97);
  });
});
