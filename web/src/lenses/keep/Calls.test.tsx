import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { workInPage } from '../../testing/inPageWorker.ts';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import Keep from './Keep.tsx';

workInPage();
const base = readings();
const sheet = jobOf(base, true).view?.sheet ?? [];
const old = [
  ...base,
  ...sheet.map((s, i) => happened({ kind: 'tick', step: s.key, done: true }, 900 * 1440 + sheet.length - i)),
];
beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

test('a call is taken down in their words, with what it may be before anybody drives', async () => {
  const job = jobOf(old, true);
  show(<Keep />, job);
  await userEvent.click(screen.getByText('They called: something is wrong'));
  await userEvent.click(screen.getByLabelText('the tap runs slow'));
  const may = within(await screen.findByRole('list', { name: 'What it may be' }));
  expect(may.getAllByRole('listitem')[0]?.textContent).toMatch(/% pre-filter clogged/);
  expect(screen.getByText(/Sediment cartridge, 5 micron \(sediment\)/, { selector: 'p' })).toBeTruthy();
  await userEvent.type(screen.getByLabelText('In their own words'), 'a thread of water');
  await userEvent.click(screen.getByRole('button', { name: 'Take the call down' }));
  expect(job.added).toEqual([{ kind: 'call', complaint: 'slow', words: 'a thread of water' }]);
});

test('it stands in front until a proof closes it; a leak says first what to shut', async () => {
  const call = happened({ kind: 'call', complaint: 'leak', words: 'a puddle' }, 60);
  show(<Keep />, jobOf([...old, call], true));
  const open = screen.getByRole('region', { name: 'They called: water where none should be' });
  expect(open.textContent).toMatch(/“a puddle”/);
  expect(await within(open).findByText(/^Shut the small valve/)).toBeTruthy();
  cleanup();
  show(<Keep />, jobOf([...old, call, happened({ kind: 'proof', readings: {} }, 10)], true));
  expect(screen.queryByRole('region', { name: /They called/ })).toBeNull();
});
