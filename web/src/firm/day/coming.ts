import type { RoundsEntry } from '@katharos/contract';
import { gatherTrips, type AwaySpan, type DatedVisit, type OnTrip, type Trip } from '@katharos/core';
import dayjs from 'dayjs';

/** A trip to a house, with the visit that is planned for it already. */
export interface ComingTrip {
  readonly jobId: string;
  readonly name: string;
  readonly place: string;
  readonly trip: Trip;
  readonly planned: DatedVisit | null;
  readonly away: AwaySpan | undefined;
  /** its baseline is read on it */
  readonly baseline: boolean;
}

/** Trips of one week, by its Monday. */
export interface ComingWeek {
  /** YYYY-MM-DD */
  readonly monday: string;
  readonly trips: readonly ComingTrip[];
}

/** A baseline waits so long for a trip that is made anyway, ms. */
const WITH_BASELINE_MS = 14 * 86_400_000;

/** The Monday of a moment's week. */
export const mondayOf = (ms: number): string =>
  dayjs(ms)
    .subtract((dayjs(ms).day() + 6) % 7, 'day')
    .format('YYYY-MM-DD');

/** What is coming, one line a household and trip, by week. @param nowMs the caller's clock @param aheadDays how far ahead is looked */
export function weeksOf(entries: readonly RoundsEntry[], nowMs: number, aheadDays: number): ComingWeek[] {
  const weeks = new Map<string, ComingTrip[]>();
  for (const e of entries) {
    const trips = gatherTrips(e.summary.lives, nowMs, aheadDays);
    const soon = trips[0] !== undefined && trips[0].atMs < nowMs + WITH_BASELINE_MS;
    // what is read goes with what is changed soon; else somebody goes there for it
    if (e.summary.baselineDue && !soon) trips.unshift({ atMs: nowMs, change: [], read: [] });
    for (const [i, trip] of trips.entries()) {
      const planned = e.summary.visits.find((v) => v.fact.toChange?.some((c) => trip.change.some((x) => x.life.componentId === c)) === true) ?? null;
      const monday = mondayOf(planned ? Math.max(nowMs, Date.parse(planned.on)) : trip.atMs);
      const one = { jobId: e.jobId, name: e.household.name, place: e.household.place, trip, planned, away: e.summary.away, baseline: e.summary.baselineDue && i === 0 };
      weeks.set(monday, [...(weeks.get(monday) ?? []), one]);
    }
  }
  return [...weeks].sort(([a], [b]) => a.localeCompare(b)).map(([monday, trips]) => ({ monday, trips }));
} // prettier-ignore

/** One thing of a trip, with what going early gives up or being late means. */
export function onTripWords({ life, earlyDays, givenUp }: OnTrip): string {
  const days = (n: number): string => `${String(Math.round(n))} ${Math.round(n) === 1 ? 'day' : 'days'}`;
  if (earlyDays < -0.5) return `${life.label}, ${days(-earlyDays)} overdue: ${life.why}`;
  if (earlyDays < 1) return life.label;
  const early = `${life.label}, ${days(earlyDays)} early`;
  return givenUp < 0.01 ? early : `${early}: ${String(Math.round(100 * givenUp))} % of its life given up`;
}

/** A letter or message to the household that proposes a day. @param firm who writes @param day YYYY-MM-DD */
export function letterFor({ name, trip }: ComingTrip, firm: string, day: string): string {
  const what = trip.change.map((c) => c.life.label).join(', ');
  const late = trip.change.some((c) => c.earlyDays < -0.5);
  return [
    `${name}: your drinking water system`,
    '',
    `${late ? 'Overdue' : 'Due'} by then: ${what === '' ? 'a reading' : what}.${trip.read.length > 0 && what !== '' ? ' The membrane is read as well.' : ''}`,
    `We propose ${dayjs(day).format('dddd, D MMMM YYYY')}. It takes about an hour; somebody should be at home, and the cupboard under the sink clear.`,
    'Please answer whether that suits, or name another day.',
    '',
    firm,
  ].join('\n');
}

/** What is coming as rows of a table, a thing a row. */
export const rowsOf = ({ monday, trips }: ComingWeek): Record<string, string>[] =>
  trips.flatMap((t) => {
    const row = { week: monday, household: t.name, place: t.place, job: t.jobId, planned: t.planned?.on.slice(0, 10) ?? '' };
    const due = (ms: number): string => dayjs(ms).format('YYYY-MM-DD');
    return [
      ...(t.baseline ? [{ ...row, do: 'read the baseline', part: '', due: '' }] : []),
      ...t.trip.change.map((c) => ({ ...row, do: `change ${c.life.label}`, part: c.life.partName, due: due(c.life.dueMs) })),
      ...t.trip.read.map((r) => ({ ...row, do: `read ${r.life.label}`, part: r.life.partName, due: due(r.life.dueMs) })),
    ];
  }); // prettier-ignore
