import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { apart } from './apart.ts';

const PX = 18;

describe('marks on a drawing', () => {
  test('stay where what they mark is, unless another is there', () => {
    const [a, b, c] = apart([[50, 50], [52, 50], [120, 50]], PX, 300, 200); // oxfmt-ignore
    expect(a?.drawn).toEqual([50, 50]);
    expect(c?.drawn).toEqual([120, 50]);
    expect(b?.at).toEqual([52, 50]);
    expect(Math.hypot((b?.drawn[0] ?? 0) - 50, (b?.drawn[1] ?? 0) - 50)).toBeGreaterThanOrEqual(PX - 1e-6);
  });
  test('are told apart in the narrowest heap there is, each as near as there is room', () => {
    const all = apart(Array.from({ length: 60 }, () => [9, 9] as const), PX, 300, 200).map((s) => s.drawn); // oxfmt-ignore
    for (const [i, [x, y]] of all.entries()) {
      for (const [a, b] of all.slice(i + 1)) expect(Math.hypot(a - x, b - y)).toBeGreaterThanOrEqual(PX - 1e-6);
      expect(Math.hypot(x - 9, y - 9)).toBeLessThan(200);
    }
  });
  test('up to 24 of them in a heap are told apart, and none leaves the drawing', () => {
    const near = fc.tuple(fc.double({ min: 90, max: 150, noNaN: true }), fc.double({ min: 0, max: 60, noNaN: true }));
    fc.assert(
      fc.property(fc.array(near, { minLength: 2, maxLength: 24 }), (points) => {
        const all = apart(points, PX, 300, 200).map((s) => s.drawn);
        all.forEach(([x, y], i) => {
          expect(x >= PX / 2 && x <= 300 - PX / 2 && y >= PX / 2 && y <= 200 - PX / 2).toBe(true);
          for (const [a, b] of all.slice(i + 1)) expect(Math.hypot(a - x, b - y)).toBeGreaterThanOrEqual(PX - 1e-6);
        });
      }),
    );
  });
});
