import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { house, rules, shelf } from '@katharos/core/testing';
import { decide, glanceAt, type Decision, type Known } from '@katharos/core';
import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';

/** A question as the worker got it; it is answered by hand. */
interface Asked {
  readonly name: string;
  readonly args: readonly unknown[];
  readonly answer: (value: unknown) => void;
}
const asked: Asked[] = [];
jest.unstable_mockModule('comlink', () => ({
  wrap: () =>
    new Proxy(
      {},
      {
        get:
          (_, name: string) =>
          (...args: unknown[]) =>
            new Promise((answer) => {
              asked.push({ name, args, answer });
            }),
      },
    ),
}));
Object.assign(globalThis, { Worker: jest.fn() });
const { useDecision } = await import('./useDecision.ts');
const { makeStore } = await import('../data/store.ts');

const of = (name: string): Asked[] => asked.filter((a) => a.name === name);
const wait = (ms: number, f: () => void = () => undefined): Promise<void> =>
  act(async () => {
    f();
    await new Promise((done) => setTimeout(done, ms));
  });
const at = (bar: number): Known => ({ ...house, runningPressureBar: bar });
const input = (bar: number) => ({ known: at(bar), catalogue: shelf, rules });
const first = decide(input(2.4));
if (first.kind !== 'recommendation') throw new Error(first.sentence);
const { chosen, contenders, risk } = first;

const opened = async () => {
  const store = makeStore();
  const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
  const hook = renderHook(({ bar }) => useDecision('1', 'a-job', at(bar), null), {
    initialProps: { bar: 2.4 },
    wrapper,
  });
  await wait(5);
  return hook;
};
beforeEach(() => {
  asked.length = 0;
});

describe('the sentence under a moving hand', () => {
  test('the first decision is asked for at once, and nothing is said before it', async () => {
    const { result } = await opened();
    expect(asked.map((a) => a.name)).toEqual(['decide']);
    expect(result.current.sentence).toBeUndefined();
  });
  test('follows by what was advised, and by the whole catalogue once the hand rests', async () => {
    const { result, rerender } = await opened();
    await wait(5, () => of('decide')[0]?.answer(first));
    expect(result.current.sentence).toBe(first.sentence);
    rerender({ bar: 2.5 });
    await wait(5);
    expect(of('glance')[0]?.args).toEqual(['1', at(2.5), chosen.design, contenders, risk]);
    expect(of('decide')).toHaveLength(1);
    const glance = glanceAt(input(2.5), chosen.design, contenders, risk);
    await wait(5, () => of('glance')[0]?.answer(glance));
    expect(result.current.sentence).toBe(glance?.sentence);
    expect(result.current.decision.fresh).toBe(false);
    await wait(200);
    expect(of('decide')).toHaveLength(2);
    const then: Decision = decide(input(2.5));
    await wait(5, () => of('decide')[1]?.answer(then));
    expect(result.current.decision.fresh).toBe(true);
    expect(result.current.sentence).toBe(then.sentence);
  });
  test('where nothing can be said at once, the last sentence stays until the decision is there', async () => {
    const { result, rerender } = await opened();
    await wait(5, () => of('decide')[0]?.answer(first));
    rerender({ bar: 2.6 });
    await wait(5);
    await wait(5, () => of('glance')[0]?.answer(null));
    expect(result.current.sentence).toBe(first.sentence);
  });
});
