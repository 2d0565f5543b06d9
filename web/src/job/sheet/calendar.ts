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
 * A day that is proposed to a household, as a file their own calendar takes: the whole day, until an hour is agreed.
 * @param day YYYY-MM-DD @throws Error for what the format does not take
 */
export function proposalFile(uid: string, title: string, day: string, text: string): string {
  const { error, value } = createEvents([
    {
      uid: `${uid}@katharos`,
      productId: 'katharos',
      title,
      description: text,
      start: day.split('-').map(Number) as [number, number, number],
      duration: { days: 1 },
      status: 'TENTATIVE',
    },
  ]);
  if (error) throw error;
  return value ?? '';
}

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
