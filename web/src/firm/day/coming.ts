import type { RoundsEntry } from '@katharos/contract';
import {
  kindRow,
  drinkHeadline,
  gatherTrips,
  MEANWHILE_WORDS,
  type Ask,
  type AskKind,
  type AwaySpan,
  type DatedVisit,
  type MayDrink,
  type OnTrip,
  type Trip,
} from '@katharos/core';
import dayjs from 'dayjs';

/** A trip to a house, with the visit that is planned for it already. */
export interface ComingTrip {
  readonly jobId: string;
  readonly name: string;
  readonly place: string;
  readonly trip: Trip;
  readonly planned: DatedVisit | null;
  readonly away: AwaySpan | undefined;
  /** what else is done on it */
  readonly asks: readonly Ask[];
  /** whether they may drink as it stands; null where nothing is known of the job yet */
  readonly drinking: MayDrink | null;
}

/** Trips of one week, by its Monday. */
export interface ComingWeek {
  /** YYYY-MM-DD */
  readonly monday: string;
  readonly trips: readonly ComingTrip[];
}

const DAY_MS = 86_400_000;
/** What is read, looked at or sampled waits so long for a trip that is made anyway, and is done so much early on one, ms. */
const WAITS_MS = 14 * 86_400_000;
const EARLY_MS = 28 * 86_400_000;

/** The Monday of a moment's week. */
export const mondayOf = (ms: number): string =>
  dayjs(ms)
    .subtract((dayjs(ms).day() + 6) % 7, 'day')
    .format('YYYY-MM-DD');

/** Trips of a house, each with what else is done on it; what nobody goes there for makes a trip of its own. */
function tripsTo({ summary }: RoundsEntry, nowMs: number, aheadDays: number): { trip: Trip; asks: Ask[] }[] {
  const trips = gatherTrips(summary.lives, nowMs, aheadDays).map((trip) => ({ trip, asks: [] as Ask[] }));
  for (const ask of summary.asks) {
    const atMs = Math.max(nowMs, Date.parse(ask.from));
    // an answer is asked for on the telephone
    if (ask.of === 'laboratory' || atMs > nowMs + aheadDays * DAY_MS) continue;
    const joined = trips.find(({ trip }) => trip.atMs > atMs - EARLY_MS && trip.atMs < atMs + WAITS_MS);
    if (!joined) trips.push({ trip: { atMs, change: [], read: [] }, asks: [ask] });
    else {
      joined.asks.push(ask);
      // it says what a membrane past its date says, and why
      if (ask.of === 'drift') joined.trip = { ...joined.trip, read: [] };
    }
  }
  return trips.sort((a, b) => a.trip.atMs - b.trip.atMs);
}

/** What is coming, one line a household and trip, by week. @param nowMs the caller's clock @param aheadDays how far ahead is looked */
export function weeksOf(entries: readonly RoundsEntry[], nowMs: number, aheadDays: number): ComingWeek[] {
  const weeks = new Map<string, ComingTrip[]>();
  for (const e of entries)
    for (const { trip, asks } of tripsTo(e, nowMs, aheadDays)) {
      const planned = e.summary.visits.find((v) => isFor(v, trip, nowMs)) ?? null;
      const monday = mondayOf(planned ? Math.max(nowMs, Date.parse(planned.on)) : trip.atMs);
      const one = { jobId: e.jobId, name: e.household.name, place: e.household.place, trip, planned, away: e.summary.away, asks, drinking: e.summary.drinking };
      weeks.set(monday, [...(weeks.get(monday) ?? []), one]);
    }
  return [...weeks].sort(([a], [b]) => a.localeCompare(b)).map(([monday, trips]) => ({ monday, trips }));
} // oxfmt-ignore

/** Whether a visit is the one for a trip: it changes something of it; where nothing is changed, one to come about that time. */
function isFor(v: DatedVisit, { change, atMs }: Trip, nowMs: number): boolean {
  if (change.length > 0) return v.fact.toChange?.some((c) => change.some((x) => x.life.componentId === c)) === true;
  const onMs = Date.parse(v.on);
  return onMs > nowMs - DAY_MS && Math.abs(onMs - atMs) < EARLY_MS;
}

/** A house that waits for its laboratory. */
export interface Awaited {
  readonly jobId: string;
  readonly name: string;
  readonly ask: Ask;
}

/** Answers of laboratories that have not come, the first to be asked after first. */
export const awaitedOf = (entries: readonly RoundsEntry[]): Awaited[] =>
  entries
    .flatMap((e) =>
      e.summary.asks
        .filter((a) => a.of === 'laboratory')
        .map((ask) => ({ jobId: e.jobId, name: e.household.name, ask })),
    )
    .sort((a, b) => a.ask.from.localeCompare(b.ask.from));

/** One thing of a trip, with what going early gives up or being late means. */
export function onTripWords({ life, earlyDays, givenUp }: OnTrip): string {
  const days = (n: number): string => `${String(Math.round(n))} ${Math.round(n) === 1 ? 'day' : 'days'}`;
  if (earlyDays < -0.5) return `${life.label}, ${days(-earlyDays)} overdue: ${kindRow(life.kind).wear ?? ''}`;
  if (earlyDays < 1) return life.label;
  const early = `${life.label}, ${days(earlyDays)} early`;
  return givenUp < 0.01 ? early : `${early}: ${String(Math.round(100 * givenUp))} % of its life given up`;
}

/** What is asked of a house, as its household reads it. */
const LETTER_WORDS: Readonly<Record<AskKind, string>> = {
  'first-looks': 'a look at every joint after the first week',
  baseline: 'the reading that later years are held against',
  drift: 'a reading of the membrane',
  'lamp-sample': 'a sample for the laboratory',
  laboratory: 'the laboratory’s answer',
};

/** What a letter says where the water is not for drinking meanwhile; nothing where it is. */
function notForDrinking(told: MayDrink | null): string[] {
  const [cause] = told?.causes ?? [];
  if (!told || !cause || told.meanwhile === null) return [];
  const headline = drinkHeadline(told, 'household', (ms) => dayjs(ms).format('dddd, D MMMM YYYY'));
  return ['', `${headline}. ${cause.is} ${MEANWHILE_WORDS[told.meanwhile]}`];
}

/** A letter or message to the household that proposes a day. @param firm who writes @param day YYYY-MM-DD */
export function letterFor({ name, trip, asks, drinking }: ComingTrip, firm: string, day: string): string {
  const what = [...trip.change.map((c) => c.life.label), ...asks.map((a) => LETTER_WORDS[a.of])].join(', ');
  const late = trip.change.some((c) => c.earlyDays < -0.5);
  return [
    `${name}: your drinking water system`,
    '',
    `${late ? 'Overdue' : 'Due'} by then: ${what === '' ? 'a reading' : what}.${trip.read.length > 0 && what !== '' ? ' The membrane is read as well.' : ''}`,
    `We propose ${dayjs(day).format('dddd, D MMMM YYYY')}. It takes about an hour; somebody should be at home, and the cupboard under the sink clear.`,
    'Please answer whether that suits, or name another day.',
    ...notForDrinking(drinking),
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
      ...t.trip.change.map((c) => ({ ...row, do: `change ${c.life.label}`, part: c.life.partName, due: due(c.life.dueMs) })),
      ...t.trip.read.map((r) => ({ ...row, do: `read ${r.life.label}`, part: r.life.partName, due: due(r.life.dueMs) })),
      ...t.asks.map((a) => ({ ...row, do: a.words, part: '', due: a.from.slice(0, 10) })),
    ];
  }); // oxfmt-ignore
