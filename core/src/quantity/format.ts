import { fromBase, type QuantityKind } from './units.ts';

/**
 * A figure as people write it: about three significant digits, never an exponent, no trailing zeros past the point
 * unless the digit is meant.
 */
export function formatNumber(v: number, significant = 3): string {
  if (!Number.isFinite(v)) return 'none';
  if (v === 0) return '0';
  // of what it is rounded to: 9.996 has as many digits before its point as 10
  const magnitude = Math.floor(Math.log10(Math.abs(Number(v.toPrecision(significant)))));
  const decimals = Math.max(0, Math.min(3, significant - 1 - magnitude));
  const s = v.toFixed(decimals);
  return s === '-0' ? '0' : s;
}

/** A reading as it was meant: up to `significant` digits, no zeros added behind it. "4", "1.93". */
export function formatReading(v: number, significant = 3): string {
  return Number.isFinite(v) ? String(Number(v.toPrecision(significant))) : 'none';
}

/**
 * Two figures that are compared, with as many digits as it takes to see that they differ, two at the least: "2.93" and "3".
 * @returns the same words only where they are the same to six digits
 */
export function formatApart(a: number, b: number): [string, string] {
  for (let digits = 2; digits < 6; digits++) {
    const [x, y] = [formatNumber(a, digits), formatNumber(b, digits)];
    if (Number(x) !== Number(y) && Math.sign(Number(x) - Number(y)) === Math.sign(a - b)) return [x, y];
  }
  return [formatReading(a, 6), formatReading(b, 6)];
}

/** A value in its kind's base unit, written in the unit asked for: "2.8 bar". */
export function formatQuantity(value: number, kind: QuantityKind, symbol: string, significant = 3): string {
  const shown = fromBase(value, kind, symbol);
  return `${formatNumber(shown, significant)} ${symbol}`.trim();
}

/** Minutes as people say them: "40 min", "2 h 05 min", "3 days". */
export function formatMinutes(minutes: number): string {
  if (!Number.isFinite(minutes)) return 'never';
  if (minutes < 1) return `${String(Math.max(1, Math.round(minutes * 60)))} s`;
  const m = Math.round(minutes);
  if (m < 60) return `${String(m)} min`;
  if (m < 48 * 60) {
    const rest = m % 60;
    const h = String(Math.floor(m / 60));
    return rest === 0 ? `${h} h` : `${h} h ${String(rest).padStart(2, '0')} min`;
  }
  return `${String(Math.round(m / 1440))} days`;
}

/** A label inside a sentence: "feed TDS", "pH", "water today". */
export function inSentence(label: string): string {
  return /^[A-Z][a-z ]/.test(label) ? label.charAt(0).toLowerCase() + label.slice(1) : label;
}
