import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import Keep from './Keep.tsx';

const base = readings();
const sheet = jobOf(base, true).view?.sheet ?? [];
const old = [
  ...base,
  ...sheet.map((s, i) => happened({ kind: 'tick', step: s.key, done: true }, 400 * 1440 + sheet.length - i)),
];

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

const open = (): Promise<void> => userEvent.click(screen.getByText(/^Something else happened/));

describe('what happens beside the firm’s own work', () => {
  test('is written down with what the household is told, and stands in front until it is closed', async () => {
    const job = jobOf(old, true);
    show(<Keep />, job);
    await open();
    await userEvent.click(screen.getByRole('radio', { name: 'It froze' }));
    expect(screen.getByText(/not for drinking before it is proved/)).toBeTruthy();
    await userEvent.type(screen.getByLabelText('What was found'), 'Ice in the first bowl.');
    await userEvent.click(screen.getByRole('button', { name: 'Write it down' }));
    expect(job.added).toEqual([{ kind: 'happened', event: 'frost', words: 'Ice in the first bowl.' }]);
    cleanup();
    show(<Keep />, jobOf([...old, happened({ kind: 'happened', event: 'frost', words: 'Ice.' }, 10)], true));
    const front = within(screen.getByRole('region', { name: 'It froze' }));
    expect(front.getByText(/every joint looked at under pressure/)).toBeTruthy();
    expect(front.getByText(/The next proof closes it/)).toBeTruthy();
  });
  test('under a boil-water notice nothing is begun by a touch, until it is lifted', () => {
    const notice = happened({ kind: 'happened', event: 'boil-notice', words: '' }, 60);
    show(<Keep />, jobOf([...old, notice], true));
    expect(screen.queryByRole('button', { name: /^Here now/ })).toBeNull();
    cleanup();
    show(
      <Keep />,
      jobOf([...old, notice, happened({ kind: 'happened', event: 'notice-lifted', words: '' }, 30)], true),
    );
    expect(screen.getByRole('button', { name: /^Here now/ })).toBeTruthy();
  });
  test('a holiday has two days, and nothing is written before they are in order', async () => {
    const job = jobOf(old, true);
    show(<Keep />, job);
    await open();
    await userEvent.click(screen.getByRole('radio', { name: 'They are away' }));
    const button = screen.getByRole('button', { name: 'Write it down' });
    expect(button).toHaveProperty('disabled', true);
    expect(screen.getByText('They come back after they go.')).toBeTruthy();
    await userEvent.type(screen.getByLabelText('Back on'), '2031-01-05');
    await userEvent.click(button);
    expect(job.added).toMatchObject([{ kind: 'happened', event: 'away' }]);
  });
  test('what is in service is not adopted; what is not may be', async () => {
    show(<Keep />, jobOf(old, true));
    await open();
    expect(screen.queryByRole('radio', { name: /^Somebody else put it in/ })).toBeNull();
    cleanup();
    const fresh = jobOf(base, true);
    show(<Keep />, fresh);
    await open();
    await userEvent.click(screen.getByRole('radio', { name: /^Somebody else put it in/ }));
    await userEvent.click(screen.getByRole('button', { name: 'Write it down' }));
    expect(fresh.added).toMatchObject([{ kind: 'happened', event: 'adopted' }]);
  });
  test('a system is taken out by its own run sheet, and counts as out once all of it is done', async () => {
    const job = jobOf(old, true);
    show(<Keep />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Take this system out for good' }));
    await userEvent.click(screen.getByRole('button', { name: 'Begin taking it out' }));
    const [begun] = job.added;
    if (begun?.kind !== 'change') throw new Error('it begins');
    expect(begun.takesOut).toBe(true);
    expect(begun.sheet.some((s) => s.title === 'The hole in the drain closed')).toBe(true);
    cleanup();
    const change = happened(begun, 60);
    const half = jobOf([...old, change], true);
    show(<Keep />, half);
    expect(screen.getByText('It counts as out once all of it is done.')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: /^Close it with \d+ steps open$/ }));
    expect(half.added.some((f) => f.kind === 'happened')).toBe(false);
    cleanup();
    const done = begun.sheet.map((s, i) => happened({ kind: 'tick', step: s.key, done: true }, 59 - i * 0.5));
    const whole = jobOf([...old, change, ...done], true);
    show(<Keep />, whole);
    await userEvent.click(screen.getByRole('button', { name: 'Close this visit' }));
    expect(whole.added.map((f) => f.kind)).toEqual(['visit', 'happened']);
    cleanup();
    show(<Keep />, jobOf([...old, happened({ kind: 'happened', event: 'taken-out', words: '' }, -1)], true));
    expect(screen.getByText(/^Taken out on .* Nothing is due\.$/)).toBeTruthy();
    expect(screen.queryByText('What to bring')).toBeNull();
  });
});
