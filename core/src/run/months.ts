/** One month of a house's year. */
export interface Month {
  /** 1 is January */
  readonly number: number;
  readonly days: number;
  readonly temperatureC: number;
}

const DAYS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31] as const;
/** cos(30 deg k), written out so that every machine has the same year. */
const COS = [
  1, 0.8660254037844387, 0.5, 0, -0.5, -0.8660254037844387, -1, -0.8660254037844387, -0.5, 0, 0.5, 0.8660254037844387,
] as const;

export const MONTH_NAMES = [
  'January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December',
] as const; // oxfmt-ignore

/**
 * Twelve months of water temperature: a cosine between the coldest and the warmest, coldest in February as soil is a month
 * behind the air (on the southern half of the globe the months are six on; the year's figures are the same).
 */
export function monthsOf(coldestC: number, warmestC: number): Month[] {
  const mean = (coldestC + warmestC) / 2;
  const swing = (warmestC - coldestC) / 2;
  return DAYS.map((days, i) => ({
    number: i + 1,
    days,
    temperatureC: mean - swing * (COS[(i + 11) % 12] ?? 0),
  }));
}
