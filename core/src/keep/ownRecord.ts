import type { FactOf } from '../facts/facts.ts';
import { FILTERS_APART_BAR } from '../system/load.ts';
import type { LifeLimit } from './limit.ts';

const DAY_MS = 86_400_000;

/** How what came out looked, in words. */
export const CAME_OUT_WORDS: Readonly<Record<FactOf<'came-out'>['state'], string>> = {
  fresh: 'much left in it',
  'as-due': 'about spent, as it should be',
  spent: 'spent before its time',
};

/**
 * What the cartridges before it say of the next one: spent before its time, it goes out earlier from now on. How the last one
 * looked counts; one with much left in it takes back what an earlier one said, and nothing lives past its sheet.
 */
const OF_FOUND = {
  spent: { middle: 0.8, low: 0.5, high: 1 },
  'as-due': { middle: 1, low: 0.8, high: 1.25 },
} as const;

/**
 * A life as the last one of its kind in this house had it; null where none was looked at, or much was left.
 * @param found what came out there, oldest first @param beganMs the first began @param changesMs moments of its changes
 */
export function foundLimit(
  found: readonly FactOf<'came-out'>[],
  beganMs: number,
  changesMs: readonly number[],
): LifeLimit | null {
  const last = found.at(-1);
  if (!last || last.state === 'fresh') return null;
  const atMs = Date.parse(last.at);
  // it is told while its change is in hand: the visit that closes that is not the one that put it in
  const sinceMs = Math.max(beganMs, ...changesMs.filter((ms) => ms < atMs - DAY_MS));
  const stood = (atMs - sinceMs) / DAY_MS;
  if (stood < 1) return null;
  const share = OF_FOUND[last.state];
  return { by: 'found', days: stood * share.middle, lowDays: stood * share.low, highDays: stood * share.high, at: stood };
} // oxfmt-ignore

/** Two gauges differ by so much with nothing between them, bar. */
const GAUGES_APART_BAR = 0.14;
/** What clean filters take where nobody read it, bar. */
const CLEAN_BAR = 0.1;
/** A reading so soon after a change is of clean filters, days. */
const CLEAN_WITHIN_DAYS = 30;

/**
 * When the filters will take more pressure than they may, from the two gauges read since the change: what they take rises with
 * what they hold. Null where that cannot be told from the gauges' own error.
 * @param proofs oldest first @param sinceMs the filter went in
 */
export function pressureLimit(proofs: readonly FactOf<'proof'>[], sinceMs: number): LifeLimit | null {
  const reads = proofs.flatMap((p) => {
    const [before, behind] = [p.readings.feedPressureBar?.value, p.readings.membranePressureBar?.value];
    const days = (Date.parse(p.at) - sinceMs) / DAY_MS;
    return before === undefined || behind === undefined || days < 0 ? [] : [{ days, bar: before - behind }];
  });
  const last = reads.at(-1);
  const clean = reads.find((r) => r.days <= CLEAN_WITHIN_DAYS);
  if (!last || last === clean || last.days < CLEAN_WITHIN_DAYS) return null;
  const from = clean ?? { days: 0, bar: CLEAN_BAR };
  const rise = last.bar - from.bar;
  if (rise <= GAUGES_APART_BAR) return null;
  const meets = (risen: number): number => from.days + ((last.days - from.days) * (FILTERS_APART_BAR - from.bar)) / risen;
  return { by: 'pressure', days: meets(rise), lowDays: meets(rise + GAUGES_APART_BAR), highDays: meets(Math.max(0.02, rise - GAUGES_APART_BAR)), at: last.bar };
} // oxfmt-ignore
