import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { whenHandRests } from './whenHandRests.ts';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});
const key = (): boolean => document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '3', bubbles: true }));

test('what waits for rest waits as long as something is typed, and is done once', () => {
  let done = 0;
  whenHandRests(2000, () => done++);
  for (let i = 0; i < 6; i++) {
    jest.advanceTimersByTime(1500);
    key();
  }
  jest.advanceTimersByTime(1999);
  expect(done).toBe(0);
  jest.advanceTimersByTime(1);
  expect(done).toBe(1);
  key();
  jest.advanceTimersByTime(10_000);
  expect(done).toBe(1);
});

test('a hand that never rests puts it off for a minute at most', () => {
  let done = 0;
  whenHandRests(2000, () => done++);
  for (let i = 0; i < 60; i++) {
    expect(done).toBe(0);
    jest.advanceTimersByTime(1000);
    key();
  }
  expect(done).toBe(1);
  jest.advanceTimersByTime(120_000);
  expect(done).toBe(1);
});

test('a field that stops its own events is heard too; a passing pointer is not', () => {
  let done = 0;
  whenHandRests(1000, () => done++);
  const field = document.createElement('input');
  field.addEventListener('input', (e) => {
    e.stopPropagation();
  });
  document.body.append(field);
  jest.advanceTimersByTime(900);
  field.dispatchEvent(new Event('input', { bubbles: true }));
  jest.advanceTimersByTime(900);
  document.body.dispatchEvent(new MouseEvent('pointermove', { bubbles: true }));
  expect(done).toBe(0);
  jest.advanceTimersByTime(100);
  expect(done).toBe(1);
});

test('taken back, it is never done', () => {
  let done = 0;
  const stop = whenHandRests(1000, () => done++);
  key();
  stop();
  key();
  jest.advanceTimersByTime(10_000);
  expect(done).toBe(0);
});
