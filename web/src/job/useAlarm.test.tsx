import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, renderHook } from '@testing-library/react';
import { setQuiet, useAlarm, type Ringing } from './useAlarm.ts';

const DUE = Date.UTC(2026, 10, 27, 6);
const clock: readonly Ringing[] = [{ key: 'fill-1', dueMs: DUE }];
const vibrate = jest.fn(() => true);

beforeEach(() => {
  localStorage.clear();
  vibrate.mockClear();
  Object.defineProperty(navigator, 'vibrate', { value: vibrate, configurable: true });
});
afterEach(cleanup);

/** The page's clock at each of these seconds after it is due. */
function at(...seconds: number[]): number[] {
  const { rerender } = renderHook(({ now }) => { useAlarm(clock, now); }, { initialProps: { now: DUE + 1000 * (seconds[0] ?? 0) } }); // oxfmt-ignore
  const heard = [vibrate.mock.calls.length];
  for (const s of seconds.slice(1)) {
    rerender({ now: DUE + 1000 * s });
    heard.push(vibrate.mock.calls.length);
  }
  return heard;
}

describe('a clock that is due', () => {
  test('is heard when it is, again while it is not heeded, and then no more', () => {
    expect(at(-5, -1, 0, 1, 19, 20, 41, 60, 500)).toEqual([0, 0, 1, 1, 1, 2, 3, 3, 3]);
  });
  test('is heard once by a page that slept, not for each time it missed', () => {
    expect(at(-60, 3600, 3601, 3660)).toEqual([0, 1, 1, 1]);
  });
  test('is not heard where somebody wants quiet', () => {
    setQuiet(true);
    expect(at(-1, 0, 30)).toEqual([0, 0, 0]);
  });
});
