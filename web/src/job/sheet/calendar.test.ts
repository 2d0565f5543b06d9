import { describe, expect, test } from '@jest/globals';
import ICAL from 'ical.js';
import { calendarOf, proposalFile } from './calendar.ts';

const NOW = Date.UTC(2026, 10, 27, 5);
/** Events as another program reads them. */
const read = (file: string): ICAL.Event[] =>
  new ICAL.Component(ICAL.parse(file) as never[]).getAllSubcomponents('vevent').map((e) => new ICAL.Event(e));

describe('an entry for a calendar', () => {
  const made = calendarOf(
    [
      { uid: 'job.fill-1', title: 'Chalkpit Row 3: First fill; 6 L, poured away', place: 'Under the ridge', atMs: Date.UTC(2026, 10, 27, 6, 15), minutes: 5, text: 'Under the ridge\nTick it.' },
      { uid: 'job.look-next-day', title: 'Look again', place: 'Under the ridge', atMs: Date.UTC(2026, 10, 28, 7), minutes: 15, text: 'Joints.' },
    ],
    NOW,
  ); // oxfmt-ignore
  const [fill, look] = read(made);
  test('is read by another program at its moment, its place and its words, with an alarm at that moment', () => {
    expect(fill?.startDate.toJSDate().toISOString()).toBe('2026-11-27T06:15:00.000Z');
    expect(fill?.endDate.toJSDate().toISOString()).toBe('2026-11-27T06:20:00.000Z');
    expect(fill).toMatchObject({ summary: 'Chalkpit Row 3: First fill; 6 L, poured away', location: 'Under the ridge', description: 'Under the ridge\nTick it.' });
    const [alarm] = fill?.component.getAllSubcomponents('valarm') ?? [];
    expect((alarm?.getFirstPropertyValue('trigger') as ICAL.Duration | undefined)?.toSeconds()).toBe(0);
    expect(look?.startDate.toJSDate().toISOString()).toBe('2026-11-28T07:00:00.000Z');
  }); // oxfmt-ignore
  test('keeps its own name in a later file, with a higher sequence; the zone of the device is named', () => {
    expect([fill?.uid, look?.uid]).toEqual(['job.fill-1@katharos', 'job.look-next-day@katharos']);
    const entry = { uid: 'job.fill-1', title: 'x', place: '', text: '', atMs: NOW, minutes: 5 };
    const [later] = read(calendarOf([entry], NOW + 3_600_000));
    expect(later?.uid).toBe(fill?.uid);
    expect(later?.sequence).toBeGreaterThan(fill?.sequence ?? Infinity);
    expect(made).toMatch(/X-WR-TIMEZONE:\S+/);
  });
});

test('a proposed day is a whole day, tentative, with the letter in it, also on the day the clocks change', () => {
  const entry = { uid: 'job.sediment', title: 'Alder: your drinking water system', place: 'Mell', text: 'Due: sediment.\nPlease answer.' }; // oxfmt-ignore
  const [event] = read(proposalFile(entry, '2027-03-28', NOW));
  expect([event?.startDate.isDate, event?.startDate.toString(), event?.endDate.toString()]).toEqual([true, '2027-03-28', '2027-03-29']);
  expect(event?.component.getFirstPropertyValue('status')).toBe('TENTATIVE');
  expect(event).toMatchObject({ location: 'Mell', description: 'Due: sediment.\nPlease answer.', uid: 'job.sediment@katharos' });
}); // oxfmt-ignore
