import type { DatedVisit } from '@katharos/core';
import ical, { ICalEventBusyStatus } from 'ical-generator';

/** One visit, as a calendar that anybody may hold the address of shows it. */
export interface FeedVisit {
  readonly jobId: string;
  readonly place: string;
  readonly visit: DatedVisit;
}

/** A visit without a sheet of its own takes so long, min. */
const PLAIN_MIN = 30;
const MINUTE_MS = 60_000;
const DAY_MS = 86_400_000;

/** A visit that is moved is another fact, and another entry: a feed holds what stands, and a calendar drops the rest. */
const uidOf = ({ jobId, visit }: FeedVisit): string => `${jobId}.${visit.fact.id}@katharos`;

/** What is done there, without a word that somebody typed: that could be a name. */
function titleOf({ fact }: DatedVisit): string {
  const parts = (fact.toChange ?? []).length;
  return parts === 0 ? 'Visit' : parts === 1 ? 'Change of one part' : `Change of ${String(parts)} parts`;
}

/**
 * Visits as an iCalendar file (RFC 5545): when, how long, in which district, and where to read the rest once signed in. No name, no
 * telephone number, nothing of a key, and nothing that somebody typed.
 * @param address where people find the application @throws Error for what the format does not take
 */
export function feedOf(visits: readonly FeedVisit[], address: string): string {
  const calendar = ical({ name: 'Visits', prodId: { company: 'katharos', product: 'katharos', language: 'EN' } });
  for (const v of visits) {
    const minutes = v.visit.work.reduce((s, t) => s + t.handsMin + t.waitMin, 0) || PLAIN_MIN;
    // what nobody has laid into a day yet has a day, and no hour
    const isLaid = v.visit.fact.fitter !== undefined || v.visit.fact.agreed === true;
    const atMs = Date.parse(v.visit.on);
    const dayMs = Date.parse(`${v.visit.on.slice(0, 10)}T00:00:00Z`);
    calendar.createEvent({
      id: uidOf(v),
      sequence: 0,
      stamp: new Date(v.visit.fact.at),
      summary: titleOf(v.visit),
      location: v.place,
      url: `${address}/jobs/${v.jobId}/keep`,
      start: new Date(isLaid ? atMs : dayMs),
      end: new Date(isLaid ? atMs + Math.round(minutes) * MINUTE_MS : dayMs + DAY_MS),
      timezone: isLaid ? null : 'UTC',
      allDay: !isLaid,
      busystatus: ICalEventBusyStatus.BUSY,
    });
  }
  return calendar.toString();
}
