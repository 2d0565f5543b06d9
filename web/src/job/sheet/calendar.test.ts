import { describe, expect, test } from '@jest/globals';
import { calendarOf, proposalFile } from './calendar.ts';

describe('an entry for a calendar', () => {
  const made = calendarOf([
    { uid: 'fill-1', title: 'Chalkpit Row 3: First fill; 6 L, poured away', atMs: Date.UTC(2026, 10, 27, 6, 15), minutes: 5, text: 'Under the ridge\nTick it.' },
    { uid: 'look-next-day', title: 'Look again', atMs: Date.UTC(2026, 10, 28, 7), minutes: 15, text: 'Joints.' },
  ]); // oxfmt-ignore
  const lines = made.split('\r\n');
  test('is at its moment in UTC, wherever the device is, with an alarm at that moment', () => {
    expect(lines[0]).toBe('BEGIN:VCALENDAR');
    expect(lines).toContain('DTSTART:20261127T061500Z');
    expect(lines).toContain('DTSTART:20261128T070000Z');
    expect(lines.filter((l) => l === 'BEGIN:VALARM')).toHaveLength(2);
    expect(lines.filter((l) => l.startsWith('TRIGGER'))).toEqual([
      'TRIGGER;VALUE=DATE-TIME:20261127T061500Z',
      'TRIGGER;VALUE=DATE-TIME:20261128T070000Z',
    ]);
  });
  test('keeps its own name over two files, and escapes what the format takes as its own', () => {
    expect(lines.filter((l) => l.startsWith('UID:'))).toEqual(['UID:fill-1@katharos', 'UID:look-next-day@katharos']);
    expect(made).toContain('First fill\\; 6 L\\, poured away');
    expect(made).toContain('Under the ridge\\nTick it.');
  });
});

test('a proposed day is a whole day, tentative, with the letter in it', () => {
  const file = proposalFile(
    'job.2027-03-28',
    'Alder: your drinking water system',
    '2027-03-28',
    'Due: sediment.\nPlease answer.',
  );
  const lines = file.split('\r\n');
  // the day the clocks change is a day as any other
  expect(lines).toContain('DTSTART;VALUE=DATE:20270328');
  expect(lines).toContain('STATUS:TENTATIVE');
  expect(file).toContain('Due: sediment.\\nPlease answer.');
});
