import { beforeEach, expect, jest, test } from '@jest/globals';
import { dropCode, hasCode, isCode, isShut, MOST_WRONG, setCode, shut, tryCode } from './lock.ts';

const [IMRA, BAST] = ['5f0c4b1e-8888-4888-a888-000000000001', '5f0c4b1e-8888-4888-a888-000000000002'];
/** Rounds that were asked for; a thousandth of them is done here: a dozen codes are tried. */
const rounds: number[] = [];
const { subtle } = crypto;
const whole = subtle.deriveBits.bind(subtle);
jest.spyOn(subtle, 'deriveBits').mockImplementation((how, key, length) => {
  const { iterations } = how as Pbkdf2Params;
  rounds.push(iterations);
  return whole({ ...(how as Pbkdf2Params), iterations: iterations / 1000 }, key, length);
});
beforeEach(() => {
  rounds.length = 0;
  localStorage.clear();
  sessionStorage.clear();
});

test('a code is four to eight digits', () => {
  expect(['1234', '12345678'].every(isCode)).toBe(true);
  expect(['123', '123456789', '12a4', '', '12 34'].some(isCode)).toBe(false);
});

test('a device with a code is shut until it is given, in each tab and for each of them', async () => {
  expect(isShut(IMRA)).toBe(false);
  await setCode(IMRA, '4711');
  expect([hasCode(IMRA), isShut(IMRA), isShut(BAST), isShut(null)]).toEqual([true, false, false, false]);
  // another tab, or the browser opened again
  shut();
  expect(isShut(IMRA)).toBe(true);
  expect(await tryCode(IMRA, '4712')).toEqual({ kind: 'wrong', left: MOST_WRONG - 1 });
  expect(isShut(IMRA)).toBe(true);
  expect(await tryCode(IMRA, '4711')).toEqual({ kind: 'open' });
  expect(isShut(IMRA)).toBe(false);
  await setCode(BAST, '0815');
  expect(isShut(IMRA)).toBe(true);
});

test('wrong too often, the right one no longer opens it; a right one in between forgives', async () => {
  await setCode(IMRA, '4711');
  shut();
  for (let i = 1; i < MOST_WRONG; i++)
    expect(await tryCode(IMRA, '0000')).toEqual({ kind: 'wrong', left: MOST_WRONG - i });
  expect(await tryCode(IMRA, '4711')).toEqual({ kind: 'open' });
  shut();
  for (let i = 1; i < MOST_WRONG; i++) await tryCode(IMRA, '0000');
  expect(await tryCode(IMRA, '0000')).toEqual({ kind: 'spent' });
  expect(await tryCode(IMRA, '4711')).toEqual({ kind: 'spent' });
  expect(isShut(IMRA)).toBe(true);
  dropCode(IMRA);
  expect(isShut(IMRA)).toBe(false);
});

test('the code itself is nowhere on the device, and takes a moment to try', async () => {
  await setCode(IMRA, '47114711');
  await tryCode(IMRA, '47114712');
  expect(rounds).toEqual([600_000, 600_000]);
  expect(JSON.stringify([Object.entries(localStorage), Object.entries(sessionStorage)])).not.toContain('47114711');
});
