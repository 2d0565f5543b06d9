const { imul } = Math;

/** A source of numbers from 0 up to but not including 1. */
export type Random = () => number;

/**
 * A seeded generator (mulberry32): integer arithmetic only, so that a seed gives the same numbers on every machine.
 * @param seed any whole number
 */
export function seeded(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = imul(state ^ (state >>> 15), state | 1);
    t ^= t + imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Nearly normal about 0 with a standard deviation of 1, never beyond 6: twelve uniforms less six. Exact everywhere. */
export function bell(random: Random): number {
  let sum = -6;
  for (let i = 0; i < 12; i++) sum += random();
  return sum;
}
