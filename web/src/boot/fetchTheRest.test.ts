import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { fetchTheRest } from './fetchTheRest.ts';
import { lazyPart, type LazyPart } from './lazyPart.ts';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

interface Shown {
  readonly default: () => null;
}

/** Parts that note when they are run, each by its name; the ones that fail never come. */
function partsOf(names: string[], fails: string[] = []): { parts: LazyPart<object>[]; ran: string[] } {
  const ran: string[] = [];
  const parts = names.map((name) =>
    lazyPart<object>(() => {
      ran.push(name);
      return fails.includes(name)
        ? Promise.reject<Shown>(new Error('no signal'))
        : Promise.resolve<Shown>({ default: () => null });
    }),
  );
  return { parts, ran };
}
const rest = (ms: number): Promise<void> => jest.advanceTimersByTimeAsync(ms);
const key = (): boolean => document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '3', bubbles: true }));

test('parts come one at a time while a hand rests, and none between two keys', async () => {
  const { parts, ran } = partsOf(['gauge', 'size', 'plumb']);
  fetchTheRest(parts, []);
  await rest(2000);
  expect(ran).toEqual(['gauge']);
  for (let i = 0; i < 20; i++) {
    key();
    await rest(400);
  }
  key();
  expect(ran).toEqual(['gauge']);
  await rest(1999);
  expect(ran).toEqual(['gauge']);
  await rest(1);
  expect(ran).toEqual(['gauge', 'size']);
  await rest(100);
  expect(ran).toEqual(['gauge', 'size', 'plumb']);
});

test('charts come last, once the page was left alone for longer', async () => {
  const [sheets, charts] = [partsOf(['gauge']), partsOf(['charts'])];
  fetchTheRest(sheets.parts, charts.parts);
  await rest(2000);
  await rest(7900);
  expect([...sheets.ran, ...charts.ran]).toEqual(['gauge']);
  await rest(100);
  expect(charts.ran).toEqual(['charts']);
});

test('what was opened meanwhile is not asked for again; what does not come holds up nothing else', async () => {
  const { parts, ran } = partsOf(['gauge', 'size', 'plumb', 'keep'], ['size']);
  fetchTheRest(parts, []);
  await parts[0]?.fetch();
  await parts[2]?.fetch();
  await rest(60_000);
  expect(ran).toEqual(['gauge', 'plumb', 'size', 'keep']);
});

test('a page that is left fetches no more', async () => {
  const { parts, ran } = partsOf(['gauge', 'size']);
  const stop = fetchTheRest(parts, []);
  await rest(2050);
  stop();
  await rest(60_000);
  expect(ran).toEqual(['gauge']);
});
