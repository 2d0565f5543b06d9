import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { HOUSE, jobOf, readings, show } from '../../testing/jobContext.tsx';
import Gauge from './Gauge.tsx';
import { assumedWords, fieldVisible, shortDate } from './fieldWords.ts';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

describe('gauging on the page', () => {
  test('a first visit says what to do first', () => {
    show(<Gauge />, jobOf([], false));
    expect(screen.getByText(/First visit\. Begin with the source/)).toBeTruthy();
    expect(screen.getByText(/To size this house, read first/)).toBeTruthy();
  });
  test('a reading carries the instrument in hand, and a correction names the reading it corrects', async () => {
    const facts = readings();
    const job = jobOf(facts, false);
    show(<Gauge />, job);
    await userEvent.type(screen.getAllByPlaceholderText('instrument in hand')[0] ?? document.body, 'pen B');
    const tds = screen.getByLabelText('Feed TDS');
    await userEvent.clear(tds);
    await userEvent.type(tds, '335 ppm{Enter}');
    const old = facts.find((f) => f.kind === 'reading' && f.field === 'feedTdsMgL');
    expect(job.added).toEqual([
      { kind: 'reading', field: 'feedTdsMgL', value: 335, typed: '335 ppm', corrects: old?.id, instrument: 'pen B' },
    ]);
  });
  test('a choice is recorded as it is made', async () => {
    const job = jobOf(readings(), false);
    show(<Gauge />, job);
    await userEvent.selectOptions(screen.getByLabelText('Socket in the cupboard'), 'none');
    expect(job.added[0]).toMatchObject({ kind: 'reading', field: 'socket', value: 'no', typed: 'none' });
  });
  test('a doubt stands at its field and in the list, and what is assumed says why', () => {
    const { coldestC: _cold, ...rest } = { ...HOUSE, hardnessMgL: 400 };
    expect(_cold).toBe(8);
    show(<Gauge />, jobOf(readings(rest), false));
    const field = screen.getByLabelText('Hardness at this tap').closest('.reading');
    expect(within(field as HTMLElement).getByText(/cannot exceed a TDS of 320/)).toBeTruthy();
    expect(screen.getByText('Coldest of the year:', { exact: false })).toBeTruthy();
    expect(screen.getByText(/nobody knew: a cold mains winter/)).toBeTruthy();
  });
  test('a well asks for its switch and its laboratory, mains do not', () => {
    expect(
      ['laboratory', 'switchLowBar', 'highestPressureBar'].map((k) =>
        fieldVisible(k as 'laboratory', { source: 'well' }),
      ),
    ).toEqual([true, true, false]);
    expect(
      ['laboratory', 'switchLowBar', 'highestPressureBar'].map((k) =>
        fieldVisible(k as 'laboratory', { source: 'mains' }),
      ),
    ).toEqual([false, false, true]);
    expect(fieldVisible('ironMgL', { source: 'mains', ironMgL: 0.1 })).toBe(true);
  });
  test('an assumed value is shown with its unit or its option', () => {
    expect(assumedWords({ field: 'coldestC', value: 7, why: '' })).toBe('7 °C');
    expect(assumedWords({ field: 'socket', value: 'no', why: '' })).toBe('none');
  });
  test('a reading of another year names the year', () => {
    expect(shortDate('2001-05-06T10:00:00.000Z')).toMatch(/2001$/);
    expect(shortDate(new Date().toISOString())).toMatch(/^\d\d:\d\d$/);
  });
});
