import { describe, expect, test } from '@jest/globals';
import { namesApart, type Name } from './namesApart.ts';

const name = (x: number, y: number, half = 25): Name => ({ x, y, half });

describe('names on a drawing', () => {
  test('stay where they would stand as long as they do not lie on each other', () => {
    expect(namesApart([name(40, 50), name(100, 50), name(40, 70)], 200)).toEqual([50, 50, 70]);
  });
  test('in one place stand one under and one above the other', () => {
    expect(namesApart([name(40, 50), name(45, 52), name(38, 48)], 200)).toEqual([50, 65, 35]);
  });
  test('do not leave the drawing', () => {
    const at = namesApart([name(40, 196), name(40, 196), name(40, 196)], 200);
    expect(at).toEqual([196, 183, 170]);
  });
  test('of a heap that leaves no free place stand where they would', () => {
    const at = namesApart(Array.from({ length: 6 }, () => name(40, 20)), 30); // oxfmt-ignore
    expect(at.filter((y) => y === 20).length).toBeGreaterThan(3);
    expect(at.every((y) => y > 0 && y <= 30)).toBe(true);
  });
});
