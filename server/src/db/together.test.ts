import { expect, test } from '@jest/globals';
import { together } from './together.ts';

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
