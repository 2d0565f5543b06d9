import { expect, test } from '@jest/globals';
import { gathered, together } from './together.ts';

const pause = (): Promise<void> => new Promise((r) => setTimeout(r, 5));

test('those who ask while it is being asked share the next asking, which begins after they came', async () => {
  let stands = 0;
  const begun: number[] = [];
  const ask = together(async () => {
    begun.push(stands);
    const said = stands;
    await pause();
    return said;
  });
  const first = ask();
  stands = 1;
  const [second, third] = [ask(), ask()];
  expect(await Promise.all([first, second, third])).toEqual([0, 1, 1]);
  expect(begun).toEqual([0, 1]);
  stands = 2;
  expect(await ask()).toBe(2);
});

test('a fault is told to those it was asked for, and to nobody after', async () => {
  let fails = true;
  const ask = together(async (who: string) => {
    await pause();
    if (fails) throw new Error(who);
    return who;
  });
  const first = ask('a');
  const second = ask('b');
  await expect(first).rejects.toThrow('a');
  fails = false;
  expect(await second).toBe('b');
});

test('each who asks is answered by their own, and those who wait are asked in one go', async () => {
  const asked: (readonly number[])[] = [];
  const twice = gathered(async (all: readonly number[]) => {
    asked.push(all);
    await pause();
    return all.map((n) => 2 * n);
  });
  const answers = [twice(1), twice(2), twice(3)];
  await answers[0];
  // as the first is answered and before the next are asked
  answers.push(twice(4));
  expect(await Promise.all(answers)).toEqual([2, 4, 6, 8]);
  expect(asked.flat().sort()).toEqual([1, 2, 3, 4]);
  expect(asked.length).toBeLessThan(4);
  expect(await twice(5)).toBe(10);
});
