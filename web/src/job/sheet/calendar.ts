import { createEvents, type DateTime, type EventAttributes } from 'ics';

/** An entry for a calendar: what, when, and what is to be done then. */
export interface Entry {
  readonly uid: string;
  readonly title: string;
  readonly atMs: number;
  readonly minutes: number;
  readonly text: string;
}

const utc = (ms: number): DateTime => {
  const d = new Date(ms);
  return [d.getUTCFullYear(), d.getUTCMonth() + 1, d.getUTCDate(), d.getUTCHours(), d.getUTCMinutes()];
};

/**
 * Entries as an iCalendar file (RFC 5545), each with an alarm at its moment: a locked phone's own calendar rings where no page
 * can. @throws Error for what the format does not take
 */
export function calendarOf(entries: readonly Entry[]): string {
  const events = entries.map((e): EventAttributes => ({
    uid: `${e.uid}@katharos`,
    productId: 'katharos',
    title: e.title,
    description: e.text,
    start: utc(e.atMs),
    startInputType: 'utc',
    startOutputType: 'utc',
    duration: { minutes: Math.max(1, Math.round(e.minutes)) },
    alarms: [{ action: 'display', description: e.title, trigger: e.atMs }],
  }));
  const { error, value } = createEvents(events);
  if (error) throw error;
  return value ?? '';
}
