import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import Keep from './Keep.tsx';

const base = readings();
const sheet = jobOf(base, true).view?.sheet ?? [];
const old = [...base, ...sheet.map((s, i) => happened({ kind: 'tick', step: s.key, done: true }, 400 * 1440 + sheet.length - i))]; // oxfmt-ignore
const visit = happened({ kind: 'visit', reason: 'Half-year change', changed: ['sediment'] }, 3 * 1440);

beforeEach(() => {
  localStorage.clear();
  URL.createObjectURL = () => 'blob:bill';
  URL.revokeObjectURL = () => undefined;
  HTMLAnchorElement.prototype.click = () => undefined;
});
afterEach(cleanup);

test('a visit is billed with what went in and its minutes; the time is written down once it goes out', async () => {
  const job = jobOf([...old, visit], true);
  show(<Keep />, job);
  await userEvent.click(screen.getByRole('button', { name: 'Bill' }));
  const bill = within(screen.getByRole('region', { name: /^Bill of the visit of/ }));
  expect(bill.getByRole('row', { name: 'Sediment cartridge, 5 micron 1 6.00' })).toBeTruthy();
  const work = bill.getByLabelText('Work, min');
  await userEvent.clear(work);
  await userEvent.type(work, '40');
  await userEvent.type(bill.getByLabelText('Travel, min'), '15');
  expect(bill.getByRole('row', { name: 'All together 55.50' })).toBeTruthy();
  expect(job.added).toEqual([]);
  await userEvent.click(bill.getByRole('button', { name: 'CSV' }));
  expect(job.added).toEqual([{ kind: 'billed', visit: visit.id, minutes: 40, travelMin: 15 }]);
  cleanup();
  // it is there again, and goes out unchanged without being written down twice
  const later = jobOf(
    [...old, visit, happened({ kind: 'billed', visit: visit.id, minutes: 40, travelMin: 15 }, 60)],
    true,
  );
  show(<Keep />, later);
  await userEvent.click(screen.getByRole('button', { name: 'Bill' }));
  expect(screen.getByRole('row', { name: 'All together 55.50' })).toBeTruthy();
  await userEvent.click(screen.getByRole('button', { name: 'CSV' }));
  expect(later.added).toEqual([]);
});
