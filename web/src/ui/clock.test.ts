import { afterEach, expect, test } from '@jest/globals';
import { clockOffMs, hearTime, nowMs } from './clock.ts';

const HOUR = 3_600_000;
const at = (ms: number): string => new Date(ms).toUTCString();
afterEach(() => {
  hearTime(at(Date.now()), Date.now());
});

test('a clock that agrees with the server’s to a minute is left alone', () => {
  hearTime(at(Date.now() + 60_000), Date.now());
  expect(clockOffMs()).toBe(0);
});
test('one that is a day off is put right, and remembered, until it agrees again', () => {
  for (const off of [24 * HOUR, -24 * HOUR]) {
    hearTime(at(Date.now() + off), Date.now());
    expect(Math.abs(nowMs() - Date.now() - off)).toBeLessThan(2000);
    expect(Number(localStorage.getItem('katharos.clock'))).toBe(clockOffMs());
    const was = clockOffMs();
    hearTime(at(Date.now() + off + 2000), Date.now());
    expect(clockOffMs()).toBe(was);
  }
  hearTime(at(Date.now()), Date.now());
  expect([clockOffMs(), localStorage.getItem('katharos.clock')]).toEqual([0, null]);
});
test('an answer that says no time changes nothing', () => {
  hearTime(null, Date.now());
  hearTime('soon', Date.now());
  expect(clockOffMs()).toBe(0);
});
