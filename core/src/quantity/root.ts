/**
 * The root of a function that never rises, inside a bracket: false position with the end that stays weighted down
 * (Illinois), halving where that leaves the bracket. Always ends.
 * @returns `low` where it is nowhere above zero, `high` where it is nowhere below
 */
export function rootOfFalling(f: (x: number) => number, low: number, high: number, tolerance: number): number {
  let a = low;
  let b = high;
  let fa = f(a);
  if (fa <= 0) return a;
  let fb = f(b);
  if (fb >= 0) return b;
  let x = b;
  for (let n = 0; n < 80 && b - a > tolerance; n++) {
    x = n % 8 === 7 ? 0.5 * (a + b) : (a * fb - b * fa) / (fb - fa);
    if (!(x > a && x < b)) x = 0.5 * (a + b);
    const fx = f(x);
    if (fx === 0) return x;
    if (fx > 0) {
      a = x;
      fa = fx;
      fb /= 2;
    } else {
      b = x;
      fb = fx;
      fa /= 2;
    }
  }
  return x;
}
