import ical, { ICalAlarmType, ICalEventStatus, type ICalCalendar } from 'ical-generator';

/** An entry for a calendar: what, when, where, and what is to be done then. */
export interface Entry {
  /** the same for the same thing in every file: a calendar then moves its entry rather than adding another */
  readonly uid: string;
  readonly title: string;
  readonly place: string;
  readonly text: string;
}
/** One with a moment of its own. */
export interface TimedEntry extends Entry {
  readonly atMs: number;
  readonly minutes: number;
}

const MINUTE_MS = 60_000;
const SEQUENCE_BEGINS_MS = Date.UTC(2020, 0);

/** Rises with every file that is made: a calendar takes the later one of two with the same name. */
const sequenceAt = (nowMs: number): number => Math.max(0, Math.floor((nowMs - SEQUENCE_BEGINS_MS) / MINUTE_MS));

/** An empty calendar of this device's time zone; moments stand in it in universal time, which no zone can shift. */
function emptyCalendar(): ICalCalendar {
  const calendar = ical({ prodId: { company: 'katharos', product: 'katharos', language: 'EN' } });
  calendar.x([{ key: 'X-WR-TIMEZONE', value: Intl.DateTimeFormat().resolvedOptions().timeZone }]);
  return calendar;
}

/**
 * A day that is proposed to a household, as a file their own calendar takes: the whole day, until an hour is agreed.
 * @param day YYYY-MM-DD @param nowMs the caller's clock @throws Error for what the format does not take
 */
export function proposalFile(entry: Entry, day: string, nowMs: number): string {
  const calendar = emptyCalendar();
  calendar.createEvent({
    id: `${entry.uid}@katharos`,
    sequence: sequenceAt(nowMs),
    stamp: new Date(nowMs),
    summary: entry.title,
    description: entry.text,
    location: entry.place,
    // a whole day, without an hour that a zone could shift
    start: new Date(`${day}T00:00:00Z`),
    end: new Date(Date.parse(`${day}T00:00:00Z`) + 24 * 60 * MINUTE_MS),
    timezone: 'UTC',
    allDay: true,
    status: ICalEventStatus.TENTATIVE,
  });
  return calendar.toString();
}

/**
 * Entries as an iCalendar file (RFC 5545), each with an alarm at its moment: a locked phone's own calendar rings where no page
 * can. @param nowMs the caller's clock @throws Error for what the format does not take
 */
export function calendarOf(entries: readonly TimedEntry[], nowMs: number): string {
  const calendar = emptyCalendar();
  for (const e of entries) {
    const event = calendar.createEvent({
      id: `${e.uid}@katharos`,
      sequence: sequenceAt(nowMs),
      stamp: new Date(nowMs),
      summary: e.title,
      description: e.text,
      location: e.place,
      start: new Date(e.atMs),
      end: new Date(e.atMs + Math.max(1, Math.round(e.minutes)) * MINUTE_MS),
    });
    event.createAlarm({ type: ICalAlarmType.display, trigger: 0, description: e.title });
  }
  return calendar.toString();
}
