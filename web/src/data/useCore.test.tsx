import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { rules, shelf } from '@katharos/core/testing';
import { act, cleanup, renderHook as renderBare } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';

/** A question as a worker got it; it is answered by hand. */
interface Asked {
  readonly worker: number;
  readonly name: string;
  readonly args: readonly unknown[];
  readonly answer: (value: unknown) => void;
  readonly fail: (fault: Error) => void;
}
const asked: Asked[] = [];
let workers = 0;

jest.unstable_mockModule('comlink', () => ({
  wrap: () => {
    const worker = ++workers;
    return new Proxy(
      {},
      {
        get:
          (_, name: string) =>
          (...args: unknown[]) =>
            new Promise((answer, fail) => {
              asked.push({ worker, name, args, answer, fail });
            }),
      },
    );
  },
}));
Object.assign(globalThis, { Worker: jest.fn() });
const { askEarly, useCore, useWorking } = await import('./useCore.ts');
const { shelfKey } = await import('./coreWorkers.ts');
const { prefetchWorker } = await import('../boot/prefetched.ts');
const { makeStore } = await import('./store.ts');

let store = makeStore();
const renderHook = <R, P>(hook: (p: P) => R, options: { initialProps?: P } = {}) =>
  renderBare(hook, {
    ...options,
    wrapper: ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>,
  });

const later = setTimeout;
const of = (name: string): Asked[] => asked.filter((a) => a.name === name);
const settle = (f: () => void = () => undefined): Promise<void> =>
  act(async () => {
    f();
    // turns of the loop rather than a time: a machine that is busy gives fewer of them to a moment
    for (let turn = 0; turn < 10; turn++) await new Promise((done) => later(done, 3));
  });
const known = (n: number) => ({ feedTdsMgL: n });
const decide = (n: number) =>
  renderHook(({ tds }) => useCore('decide', ['1', known(tds)]), { initialProps: { tds: n } });

beforeEach(() => {
  asked.length = 0;
  store = makeStore();
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

// first: the workers live as long as the page, and this is about when they start
test('a worker is started once and has the shelf before its first question; the one begun ahead is left to what decides', async () => {
  const key = shelfKey(shelf, rules);
  expect(shelfKey(shelf, rules)).toBe(key);
  expect(workers).toBe(0);
  prefetchWorker();
  const seasons = renderHook(() => useCore('seasons', [key, known(1), {} as never]));
  await settle();
  expect(asked.map((a) => [a.worker, a.name])).toEqual([
    [2, 'setShelf'],
    [2, 'seasons'],
  ]);
  expect(asked[0]?.args[0]).toBe(key);
  await settle(() => of('seasons')[0]?.answer([]));
  expect(seasons.result.current).toEqual({ value: [], fresh: true, error: null });
  const decided = renderHook(() => useCore('decide', [key, known(1)]));
  await settle(() => of('decide')[0]?.answer({}));
  expect(asked.slice(2).map((a) => [a.worker, a.name])).toEqual([
    [1, 'setShelf'],
    [1, 'decide'],
  ]);
  decided.unmount();
  const changed = shelfKey(shelf, { ...rules, discards: 3 });
  expect(changed).not.toBe(key);
  expect(
    of('setShelf')
      .slice(-2)
      .map((a) => a.worker)
      .sort(),
  ).toEqual([1, 2]);
});

describe('a question of the page', () => {
  test('one is under way; of what is asked meanwhile only the newest follows', async () => {
    const page = decide(1);
    page.rerender({ tds: 2 });
    page.rerender({ tds: 3 });
    await settle();
    expect(of('decide').map((a) => a.args[1])).toEqual([known(1)]);
    await settle(() => of('decide')[0]?.answer('one'));
    expect(page.result.current).toEqual({ value: 'one', fresh: false, error: null });
    expect(of('decide').map((a) => a.args[1])).toEqual([known(1), known(3)]);
    await settle(() => of('decide')[1]?.answer('three'));
    expect(page.result.current).toEqual({ value: 'three', fresh: true, error: null });
  });
  test('what follows from another answer is not asked while that is worked out, and then for the newest only', async () => {
    const page = renderHook(
      ({ tds, still }: { tds: number; still: boolean }) => useCore('decide', ['1', known(tds)], still ? null : 0),
      { initialProps: { tds: 21, still: true } },
    );
    await settle();
    expect(of('decide')).toEqual([]);
    expect(page.result.current).toEqual({ value: undefined, fresh: false, error: null });
    page.rerender({ tds: 21, still: false });
    await settle(() => of('decide')[0]?.answer('one'));
    page.rerender({ tds: 22, still: true });
    await settle();
    page.rerender({ tds: 23, still: true });
    await settle();
    expect(page.result.current).toEqual({ value: 'one', fresh: false, error: null });
    expect(of('decide').map((a) => a.args[1])).toEqual([known(21)]);
    page.rerender({ tds: 23, still: false });
    await settle();
    await settle(() => of('decide')[1]?.answer('three'));
    expect(of('decide').map((a) => a.args[1])).toEqual([known(21), known(23)]);
    expect(page.result.current).toEqual({ value: 'three', fresh: true, error: null });
    // what is remembered is no work
    page.rerender({ tds: 21, still: true });
    expect(page.result.current).toEqual({ value: 'one', fresh: true, error: null });
  });
  test('a fault is told and the last answer stays on the page', async () => {
    const page = decide(11);
    await settle(() => of('decide')[0]?.answer('one'));
    page.rerender({ tds: 12 });
    await settle();
    await settle(() => of('decide')[1]?.fail(new Error('the shelf has not come yet')));
    expect(page.result.current).toEqual({ value: 'one', fresh: true, error: 'the shelf has not come yet' });
    page.rerender({ tds: 13 });
    await settle();
    await settle(() => of('decide')[2]?.answer('three'));
    expect(page.result.current).toEqual({ value: 'three', fresh: true, error: null });
  });
  test('the page tells that something is being worked out, and when it no longer is', async () => {
    const working = renderHook(() => useWorking());
    expect(working.result.current).toBe(false);
    decide(21);
    await settle();
    expect(working.result.current).toBe(true);
    await settle(() => of('decide')[0]?.answer('one'));
    expect(working.result.current).toBe(false);
  });
  test('one answered before is there at once, though another is under way, and is not asked again', async () => {
    const page = decide(51);
    await settle(() => of('decide')[0]?.answer('one'));
    page.rerender({ tds: 52 });
    await settle();
    page.rerender({ tds: 51 });
    expect(page.result.current).toEqual({ value: 'one', fresh: true, error: null });
    expect(of('decide')).toHaveLength(2);
    await settle(() => of('decide')[1]?.answer('two'));
    expect(page.result.current.value).toBe('one');
  });
  test('two parts of the page that ask the same have one answer between them', async () => {
    const [a, b] = [decide(61), decide(61)];
    await settle();
    expect(of('decide')).toHaveLength(1);
    await settle(() => of('decide')[0]?.answer('both'));
    expect([a.result.current.value, b.result.current.value]).toEqual(['both', 'both']);
  });
  test('one that failed is asked again when the page comes back to it', async () => {
    const page = decide(71);
    await settle(() => of('decide')[0]?.fail(new Error('no')));
    page.unmount();
    const again = decide(71);
    await settle();
    await settle(() => of('decide')[1]?.answer('yes'));
    expect(again.result.current).toEqual({ value: 'yes', fresh: true, error: null });
  });
  test('nothing asked is nothing worked out', () => {
    const page = renderHook(() => useCore('decide', null));
    expect(page.result.current).toEqual({ value: undefined, fresh: true, error: null });
    expect(asked).toEqual([]);
  });
});

describe('a question asked early', () => {
  test('is not asked again when the page comes to it', async () => {
    await settle(() => {
      store.dispatch(askEarly('decide', ['1', known(31)]));
    });
    expect(of('decide')).toHaveLength(1);
    const page = decide(31);
    await settle(() => of('decide')[0]?.answer('early'));
    expect(of('decide')).toHaveLength(1);
    expect(page.result.current.value).toBe('early');
  });
  test('is of no use where the page asks another, and is not asked while one is under way', async () => {
    await settle(() => {
      store.dispatch(askEarly('decide', ['1', known(41)]));
    });
    const page = decide(42);
    await settle();
    expect(of('decide').map((a) => a.args[1])).toEqual([known(41), known(42)]);
    store.dispatch(askEarly('decide', ['1', known(43)]));
    expect(of('decide')).toHaveLength(2);
    await settle(() => of('decide')[1]?.answer('two'));
    expect(page.result.current.value).toBe('two');
    // a fault of what nobody came to is nobody's
    await settle(() => of('decide')[0]?.fail(new Error('gone')));
    expect(page.result.current.error).toBeNull();
  });
});

describe('what takes longest', () => {
  test('is asked at once the first time, then once the hand rests', async () => {
    jest.useFakeTimers();
    const page = renderHook(({ n }) => useCore('bands', ['1', known(n), {}, {} as never]), { initialProps: { n: 1 } });
    await settle();
    expect(of('bands')).toHaveLength(1);
    await settle(() => of('bands')[0]?.answer('one'));
    for (const n of [2, 3, 4]) {
      page.rerender({ n });
      await settle(() => {
        jest.advanceTimersByTime(150);
      });
    }
    expect(of('bands')).toHaveLength(1);
    for (let i = 0; i < 3; i++)
      await settle(() => {
        jest.advanceTimersByTime(250);
      });
    expect(of('bands').map((a) => a.args[1])).toEqual([known(1), known(4)]);
    await settle(() => of('bands')[1]?.answer('four'));
    expect(page.result.current).toEqual({ value: 'four', fresh: true, error: null });
  });
});
