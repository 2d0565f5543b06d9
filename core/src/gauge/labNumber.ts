/** The sign before the decimals. */
export type DecimalSign = ',' | '.';

/** A laboratory's figure: below its detection or not, with the unit where one stands behind it. */
export interface LabNumber {
  readonly value: number;
  readonly below: boolean;
  readonly unit: string;
  /** the other figure it may be, where nothing tells which sign stands before the decimals: "1.380" is 1.38 or 1380 */
  readonly orElse?: number;
}

const NOT_FOUND = /^(nd|n\.d\.|not ?detected|nicht ?nachweisbar|n\.n\.|nn|absent|none|nachgewiesen: nein|0)$/i;
const FIGURE = /^[<≤>≥]?\s*(\d[\d.,' ]*?(?:e[+-]?\d+)?)\s*([^\d.,'\s].*)?$/i;

/** The digits of a figure with their signs, without blanks and apostrophes; null for what is no figure. */
const digitsOf = (text: string): string | null => FIGURE.exec(text.trim())?.[1]?.replace(/[\s']/g, '') ?? null;

/** Which sign a figure by itself shows to stand before its decimals; null where it may be either, or has none. */
function signShownBy(digits: string): DecimalSign | null {
  const plain = digits.replace(/e[+-]?\d+$/i, '');
  const comma = plain.lastIndexOf(',');
  const point = plain.lastIndexOf('.');
  if (comma >= 0 && point >= 0) return comma > point ? ',' : '.';
  if (comma < 0 && point < 0) return null;
  const sign: DecimalSign = comma >= 0 ? ',' : '.';
  const [whole = '', ...groups] = plain.split(sign);
  // twice the same sign parts thousands: decimals have the other
  if (groups.length > 1) return sign === ',' ? '.' : ',';
  // three digits behind one sign may be thousands, unless nothing or a zero stands before it, or too much
  const thousands = groups[0]?.length === 3 && /^[1-9]\d{0,2}$/.test(whole);
  return thousands ? null : sign;
}

/**
 * Which sign stands before the decimals in a whole sheet, by the figures that show it; null where none does, or where they
 * contradict each other.
 */
export function decimalSignOf(texts: readonly string[]): DecimalSign | null {
  const shown = new Set(texts.flatMap((t) => signShownBy(digitsOf(t) ?? '') ?? []));
  const [only] = shown;
  return shown.size === 1 ? (only ?? null) : null;
}

const asNumber = (digits: string, sign: DecimalSign): number =>
  Number(digits.replaceAll(sign === ',' ? '.' : ',', '').replace(',', '.'));

/**
 * "1.250,5", "1,250.5", "0,05", "<0.05", "23 mg/l" and "0/100 ml" as numbers.
 * @param sign before the decimals of the whole sheet; null where the sheet does not tell: a figure that may be two is then read
 *   as a decimal, with the other beside it
 * @returns null for what is none
 */
export function labNumber(text: string, sign: DecimalSign | null = null): LabNumber | null {
  const t = text.trim();
  if (NOT_FOUND.test(t)) return { value: 0, below: false, unit: '' };
  const m = FIGURE.exec(t);
  const digits = digitsOf(t);
  if (!m || digits === null) return null;
  const own = signShownBy(digits);
  const has = /[.,]/.exec(digits)?.[0] as DecimalSign | undefined;
  const value = asNumber(digits, own ?? sign ?? has ?? '.');
  if (!Number.isFinite(value)) return null;
  const unit = (m[2] ?? '').trim();
  // "1-2" and "3 to 5" are ranges, no figures
  if (/^(-|–|to\b|bis\b)/i.test(unit)) return null;
  const open = own === null && sign === null && has !== undefined;
  return {
    value,
    below: /^[<≤]/.test(t),
    unit,
    ...(open ? { orElse: asNumber(digits, has === ',' ? '.' : ',') } : {}),
  };
}
