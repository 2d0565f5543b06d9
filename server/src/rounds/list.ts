import type { RoundsEntry } from '@katharos/contract';
import Papa from 'papaparse';

/** A line of the list of every household, as an office reads it in a table. */
const listed = ({ jobId, household: h, summary: s }: RoundsEntry): Record<string, string> => {
  const next = [...s.lives].sort((a, b) => a.dueMs - b.dueMs)[0];
  const day = (ms: number): string => new Date(ms).toISOString().slice(0, 10);
  return {
    household: h.name,
    place: h.place,
    address: h.address,
    phone: h.phone,
    contact: h.contact,
    key: h.keyHolder,
    job: jobId,
    part: s.lens,
    inService: s.inService ? 'yes' : 'no',
    next: s.next,
    nextDue: next ? day(next.dueMs) : '',
    nextDuePart: next?.label ?? '',
    nextVisit: s.visits.find((v) => v.work.length > 0)?.on.slice(0, 10) ?? '',
  };
};

/** Lines as CSV, with their headings before the first of all; what a spreadsheet would run as a formula is marked as text. */
export const csvOf = (entries: readonly RoundsEntry[], headed: boolean): string => {
  const table = Papa.unparse(entries.map(listed), { header: headed, escapeFormulae: true });
  return table === '' ? '' : `${table}\r\n`;
};
