import type { Due } from '../keep/life.ts';

const DAY_MS = 86_400_000;
/** What is due within so long of a trip is done on it, days: one trip is dearer than the end of a cartridge. */
export const GATHER_DAYS = 56;

/** Something done on a trip. */
export interface OnTrip {
  readonly life: Due;
  /** before its date, days; below 0 where it is overdue by then */
  readonly earlyDays: number;
  /** of its life that is given up by going early, 0 to 1 */
  readonly givenUp: number;
}

/** One trip to a house for all that falls together. */
export interface Trip {
  /** the day of it, ms: when the first is due, today where it is overdue */
  readonly atMs: number;
  /** what is changed */
  readonly change: readonly OnTrip[];
  /** what is only read and judged: a membrane lives by its readings, not by its date */
  readonly read: readonly OnTrip[];
}

/**
 * Gathers what is due at a house into trips: the first that is due makes one, and what falls within some weeks after it goes with
 * it. Each thing goes on one trip, none before anything is due.
 * @param lives as they stand now @param nowMs the caller's clock @param aheadDays how far ahead is looked, above 0
 */
export function gatherTrips(lives: readonly Due[], nowMs: number, aheadDays: number): Trip[] {
  const until = nowMs + aheadDays * DAY_MS;
  let left = [...lives].filter((l) => l.dueMs <= until + GATHER_DAYS * DAY_MS).sort((a, b) => a.dueMs - b.dueMs);
  const trips: Trip[] = [];
  for (;;) {
    const [first] = left;
    if (!first || first.dueMs > until) return trips;
    const atMs = Math.max(nowMs, first.dueMs);
    const on = left
      .filter((l) => l.dueMs <= atMs + GATHER_DAYS * DAY_MS)
      .map((life): OnTrip => {
        const earlyDays = (life.dueMs - atMs) / DAY_MS;
        return { life, earlyDays, givenUp: Math.max(0, (life.dueMs - atMs) / Math.max(DAY_MS, life.dueMs - life.sinceMs)) };
      });
    trips.push({
      atMs,
      change: on.filter((o) => o.life.kind !== 'membrane'),
      read: on.filter((o) => o.life.kind === 'membrane'),
    });
    left = left.filter((l) => l.dueMs > atMs + GATHER_DAYS * DAY_MS);
  }
} // oxfmt-ignore
