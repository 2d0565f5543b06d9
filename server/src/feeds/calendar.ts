import type { DatedVisit } from '@katharos/core';
import { createEvents, type EventAttributes } from 'ics';

/** One visit, as a calendar that anybody may hold the address of shows it. */
export interface FeedVisit {
  readonly jobId: string;
  readonly place: string;
  readonly visit: DatedVisit;
}

/** A visit without a sheet of its own takes so long, min. */
const PLAIN_MIN = 30;

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
  const events = visits.map((v): EventAttributes => {
    const at = new Date(v.visit.on);
    const minutes = v.visit.work.reduce((s, t) => s + t.handsMin + t.waitMin, 0) || PLAIN_MIN;
    const day = [at.getUTCFullYear(), at.getUTCMonth() + 1, at.getUTCDate()] as [number, number, number];
    // what nobody has laid into a day yet has a day, and no hour
    const isLaid = v.visit.fact.fitter !== undefined || v.visit.fact.agreed === true;
    return {
      uid: uidOf(v),
      productId: 'katharos',
      title: titleOf(v.visit),
      location: v.place,
      url: `${address}/jobs/${v.jobId}/keep`,
      start: isLaid ? [...day, at.getUTCHours(), at.getUTCMinutes()] : day,
      startInputType: 'utc',
      startOutputType: 'utc',
      duration: isLaid ? { minutes: Math.round(minutes) } : { days: 1 },
      busyStatus: 'BUSY',
    };
  });
  const { error, value } = createEvents(events, { calName: 'Visits' });
  if (error) throw error;
  return value ?? '';
} // oxfmt-ignore
