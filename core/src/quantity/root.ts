const { abs, max, min } = Math;

/** Steps after which a bracket that will not close is left; forty halve any bracket of ours below its tolerance. */
const MOST = 120;

/**
 * The root of a function that never rises, inside a bracket: a parabola through the last three values taken sideways where that
 * can be trusted, else halving (Chandrupatla 1997, Adv. Eng. Softw. 28, 145). About a dozen values for a smooth function.
 * Always ends.
 * @param tolerance within which the root is told, in the unit of x
 * @returns `low` where it is nowhere above zero, `high` where it is nowhere below
 */
export function rootOfFalling(f: (x: number) => number, low: number, high: number, tolerance: number): number {
  // the last value, the one across the root from it, and the one before
  let [a, b] = [high, low];
  let fb = f(b);
  if (fb <= 0) return b;
  let fa = f(a);
  if (fa >= 0) return a;
  let step = fa / (fa - fb);
  for (let n = 0; n < MOST; n++) {
    const x = a + step * (b - a);
    const fx = f(x);
    if (fx === 0) return x;
    let [c, fc] = [a, fa];
    if (fx > 0 !== fa > 0) [c, fc, b, fb] = [b, fb, a, fa];
    [a, fa] = [x, fx];
    const least = tolerance / (2 * abs(b - a));
    if (least > 0.5) break;
    step = min(1 - least, max(least, sideways(a, fa, b, fb, c, fc)));
  }
  return abs(fa) < abs(fb) ? a : b;
}

/** Share of the way from a to b at which the parabola x(f) through three values is zero; half where it cannot be trusted. */
function sideways(a: number, fa: number, b: number, fb: number, c: number, fc: number): number {
  const x = (a - b) / (c - b);
  const y = (fa - fb) / (fc - fb);
  if (!(y * y < x && (1 - y) * (1 - y) < 1 - x)) return 0.5;
  return (fa / (fb - fa)) * (fc / (fb - fc)) + ((c - a) / (b - a)) * (fa / (fc - fa)) * (fb / (fc - fb));
}
