/** Chlorine read behind the carbon: when, and how much, mg/L. */
export interface ChlorineRead {
  readonly atMs: number;
  readonly mgL: number;
}

/** Chlorine a membrane has met, mg/L-hours of water that ran past it, as a band. */
export interface Exposure {
  readonly low: number;
  readonly high: number;
  /** readings it rests on */
  readonly readings: number;
}

/** Free chlorine an element bears before its salt passage doubles, mg/L-hours: makers' sheets state 200 to 1000. */
export const CHLORINE_BORNE = { low: 200, high: 1000 } as const;

/** A pocket strip tells no less than this from none, mg/L. */
const STRIP_TELLS_MGL = 0.1;
const HOUR_MS = 3_600_000;

/**
 * What the readings behind the carbon say of the chlorine a membrane has met since it went in. Between two readings it was anything
 * from the lower to the higher of them; what a strip reads as none is anything up to what it can tell; before the first reading it
 * was as at the first, or none. Only hours in which water ran count.
 * @param hoursADay the system makes water, 0 to 24 @param sinceMs the membrane went in @param nowMs the caller's clock, not before it
 * @returns null where nothing was read
 */
export function chlorineMet(
  reads: readonly ChlorineRead[],
  sinceMs: number,
  nowMs: number,
  hoursADay: number,
): Exposure | null {
  const mine = reads
    .filter((r) => r.atMs >= sinceMs && r.atMs <= nowMs)
    .sort((a, b) => a.atMs - b.atMs)
    .map((r) => (r.mgL < STRIP_TELLS_MGL ? { atMs: r.atMs, low: 0, high: STRIP_TELLS_MGL } : { atMs: r.atMs, low: r.mgL, high: r.mgL }));
  const [first] = mine;
  const last = mine.at(-1);
  if (!first || !last) return null;
  const points = [{ ...first, atMs: sinceMs, low: 0 }, ...mine, { ...last, atMs: nowMs }];
  let [low, high] = [0, 0];
  points.slice(1).forEach((p, i) => {
    const before = points[i] ?? p;
    const hours = ((p.atMs - before.atMs) / HOUR_MS) * (hoursADay / 24);
    low += hours * Math.min(before.low, p.low);
    high += hours * Math.max(before.high, p.high);
  });
  return { low, high, readings: mine.length };
} // oxfmt-ignore
