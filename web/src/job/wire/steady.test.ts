import { expect, test } from '@jest/globals';
import { steadySeconds } from './steady.ts';

const samples = (...values: number[]) => values.map((value, i) => ({ seconds: 2 * i, value }));

test('a figure stands since the last sample beyond its error', () => {
  expect(steadySeconds([], 1)).toBe(0);
  expect(steadySeconds(samples(5), 1)).toBe(0);
  expect(steadySeconds(samples(40, 20, 12, 11, 10.5, 10), 1)).toBe(6);
  expect(steadySeconds(samples(10, 10.1, 9.9), 0.2)).toBe(4);
});

test('one that drifts slowly does not, however little it does from sample to sample', () => {
  const drift = Array.from({ length: 100 }, (_, i) => ({ seconds: i, value: 10 + 0.1 * i }));
  expect(steadySeconds(drift, 1)).toBeLessThanOrEqual(20);
});
