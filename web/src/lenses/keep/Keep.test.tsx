import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { house, rules } from '@katharos/core/testing';
import { lensMarks, lensStates } from '../../job/lensStates.ts';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import Keep from './Keep.tsx';

const base = readings();
const sheet = jobOf(base, true).view?.sheet ?? [];
const flushed = (daysAgo: number) =>
  sheet.map((s, i) => happened({ kind: 'tick', step: s.key, done: true }, daysAgo * 1440 + sheet.length - i));

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

describe('keeping on the page', () => {
  test('lives begin when the system is flushed', () => {
    show(<Keep />, jobOf(base, true));
    expect(screen.getByText('Lives begin once the system is flushed.')).toBeTruthy();
  });
  test('says what is overdue, what to bring and why late carbon matters', () => {
    show(<Keep />, jobOf([...base, ...flushed(400)], true));
    expect(screen.getByText(/^Sediment, carbon 1, carbon 2 and polish are overdue/)).toBeTruthy();
    expect(screen.getByText(/chlorine on the membrane/)).toBeTruthy();
    expect(screen.getByText(/Sediment cartridge, 5 micron \(sediment\)/)).toBeTruthy();
  });
  test('filters alone are kept like any other, with no word of a membrane', () => {
    const filters = readings({ ...house, aim: 'taste' });
    const sheetOf = jobOf(filters, true).view?.sheet ?? [];
    const done = sheetOf.map((x, i) => happened({ kind: 'tick', step: x.key, done: true }, 500 * 1440 - i));
    show(<Keep />, jobOf([...filters, ...done], true));
    expect(screen.getByText(/^Sediment and carbon are overdue/)).toBeTruthy();
    expect(screen.queryByText(/chlorine on the membrane/)).toBeNull();
  });
  test('what is to be read and looked at by now stands beside what is changed, until it was', () => {
    const proof = (daysAgo: number) => happened({ kind: 'proof', design: jobOf(base, true).approved?.id, readings: {} }, daysAgo * 1440);
    const asks = (): string[] =>
      [...(screen.queryByRole('list', { name: 'To be read, looked at or sampled' })?.children ?? [])].map((l) => l.textContent.split(':')[0] ?? '');
    for (const [proofs, said] of [[[3], []], [[20], ['Baseline', 'Joints looked at again']], [[20, 12], []]] as const) {
      show(<Keep />, jobOf([...base, ...flushed(21), ...proofs.map(proof)], true));
      expect(asks()).toEqual(said);
      expect(screen.getByText(said.length > 0 ? /^No part is due\. Next:/ : /^Nothing is due\. Next:/)).toBeTruthy();
      cleanup();
    }
  }); // oxfmt-ignore
  test('a visit goes into the log with what was changed', async () => {
    const job = jobOf([...base, ...flushed(400)], true);
    show(<Keep />, job);
    await userEvent.type(screen.getByLabelText('Why'), 'Yearly change');
    await userEvent.click(screen.getByRole('checkbox', { name: 'sediment' }));
    expect(screen.getByText(/Tank still shut, flush until it runs clear/)).toBeTruthy();
    await userEvent.click(screen.getByRole('checkbox', { name: 'carbon 1' }));
    expect(screen.getByText(new RegExp(`flush the carbon for ${String(rules.changeFlushMinutes)}`))).toBeTruthy();
    await userEvent.type(screen.getByLabelText('What was found and done'), 'O-rings greased');
    await userEvent.click(screen.getByRole('button', { name: 'Log this visit' }));
    expect(job.added).toEqual([
      { kind: 'visit', reason: 'Yearly change', changed: ['sediment', 'carbon'], note: 'O-rings greased' },
    ]);
  });
});

describe('what was logged', () => {
  test('has a day that may be past or to come, and is told so', async () => {
    const job = jobOf([...base, ...flushed(400)], true);
    show(<Keep />, job);
    await userEvent.type(screen.getByLabelText('Why'), 'Baseline again');
    fireEvent.change(screen.getByLabelText('Day of it'), { target: { value: '2030-05-01' } });
    await userEvent.click(screen.getByRole('button', { name: 'Plan this visit' }));
    expect(job.added).toMatchObject([{ kind: 'visit', on: expect.stringMatching(/^2030-0(4-30|5-01)T/) }]);
    cleanup();
    const planned = happened({ kind: 'visit', reason: 'Baseline again', changed: [], on: '2030-05-01T12:00:00.000Z' });
    show(<Keep />, jobOf([...base, ...flushed(400), planned], true));
    expect(screen.getByText('planned')).toBeTruthy();
  });
  test('is taken back with a reason, and counts no more', async () => {
    const visit = happened({ kind: 'visit', reason: 'Wrong house', changed: ['sediment'] }, 60);
    const job = jobOf([...base, ...flushed(400), visit], true);
    show(<Keep />, job);
    await userEvent.click(screen.getByRole('button', { name: /^Take the visit of .* back$/ }));
    const button = await screen.findByText('Take it back');
    await userEvent.type(
      await screen.findAllByLabelText('Why').then((all) => all.at(-1) ?? document.body),
      'was next door',
    );
    await userEvent.click(button);
    expect(job.added).toEqual([{ kind: 'taken-back', corrects: visit.id, reason: 'was next door' }]);
    const after = jobOf(
      [...base, ...flushed(400), visit, happened({ kind: 'taken-back', corrects: visit.id, reason: 'was next door' })],
      true,
    );
    expect(after.record.visits).toEqual([]);
  });
});

describe('where the parts of a job stand', () => {
  test('before, during and after the flush', () => {
    expect(lensStates(jobOf([], false))).toMatchObject({ gauge: 'nothing read', size: 'needs readings', flush: '' });
    expect(lensStates(jobOf(base, false))).toMatchObject({ size: 'decide', plumb: '' });
    expect(lensStates(jobOf(base, true))).toMatchObject({ size: 'approved, version 1', flush: 'not begun' });
    expect(lensStates(jobOf([...base, ...flushed(1).slice(0, 3)], true)).flush).toBe(`3 of ${String(sheet.length)}`);
    expect(lensStates(jobOf([...base, ...flushed(400)], true))).toMatchObject({ flush: 'done', keep: '4 overdue' });
  });
  test('each lens marks the Line in its own words', () => {
    const job = jobOf([...base, ...flushed(400)], true);
    expect(lensMarks('keep', job).marks.sediment).toBe('overdue');
    expect(lensMarks('keep', job).marks.membrane).toMatch(/% left$/);
    expect(lensMarks('flush', job).marks.tank).toBe('wet');
    expect(lensMarks('flush', jobOf(base, true)).marks.tank).toBe('dry');
    expect(lensMarks('plumb', job).marks.feed).toBe('1–2');
    expect(lensMarks('size', job).marks).toEqual({});
  });
});
