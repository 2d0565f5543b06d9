import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { KeptDecision } from '@katharos/contract';
import { CORE_VERSION, householdTexts, readJob, tellBeside, type Decision } from '@katharos/core';
import { rules, shelf } from '@katharos/core/testing';
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import { createElement, type ReactNode } from 'react';
import { Provider } from 'react-redux';
import { serve } from '../testing/serve.ts';
import { decided } from '@katharos/core/testing/decided';

/** What the worker was asked, by name. */
const asked: string[] = [];
jest.unstable_mockModule('comlink', () => ({
  wrap: () => new Proxy({}, { get: (_, name: string) => (name === 'then' ? undefined : () => Promise.resolve(asked.push(name))) }),
})); // oxfmt-ignore
Object.assign(globalThis, { Worker: jest.fn() });
const { happened, JOB, readings } = await import('../testing/jobContext.tsx');
const { askJob } = await import('./askJob.ts');
const { BESIDE } = await import('./beside.ts');
const { useKeptDecision } = await import('./useKeptDecision.ts');
const { useCore } = await import('../data/useCore.ts');
const { houseKey } = await import('../data/coreWorkers.ts');
const { makeStore } = await import('../data/store.ts');
const { selectRecorded } = await import('./selectors.ts');

const facts = readings();
const { known, placed } = readJob(facts);
const decision = { ...decided({ known, catalogue: shelf, rules }), sentence: 'As the server has it.' };
const kept: KeptDecision = {
  known,
  placed,
  standing: null,
  stamp: 'one',
  coreVersion: CORE_VERSION,
  decision,
  beside: null,
};
const firm = { parts: shelf, partVersions: {}, rules, rulesVersion: 0, stamp: 'one', people: [], instruments: [] };
const household = { id: '5f0c4b1e-5555-4555-a555-000000000001', version: 0, ...householdTexts({ name: 'Mill Lane 2', place: 'Town' }) }; // oxfmt-ignore

let store = makeStore();
const wrapper = ({ children }: { children: ReactNode }) => createElement(Provider, { store, children });
/** Opens the page of the job where the server says this, and gives what the page is told at its first drawing. */
async function opened(of: { facts?: unknown; stamp?: string; decision?: unknown } = {}): Promise<string | undefined> {
  const { key, known } = await openedJob(of);
  const { result } = renderHook(() => useCore('decide', [key, known, null]), { wrapper });
  return result.current.value?.sentence;
}
async function openedJob(of: Parameters<typeof opened>[0] = {}): Promise<Parameters<(typeof BESIDE)['study']>[0]> {
  serve({
    [`GET jobs/${JOB}`]: () => ({ json: { id: JOB, household, facts: of.facts ?? facts, designs: [], unreadable: [] } }),
    'GET shelf': () => ({ json: { ...firm, stamp: of.stamp ?? firm.stamp } }),
    [`GET jobs/${JOB}/decision`]: () => ({ json: 'decision' in of ? of.decision : kept }),
  }); // oxfmt-ignore
  await act(() => store.dispatch(askJob(JOB)));
  const recorded = selectRecorded(store.getState(), JOB);
  if (!recorded) throw new Error('the job is not here');
  const { parts, record } = recorded;
  const key = houseKey(parts, recorded.rules, record.placed);
  return { key, known: record.known, errors: recorded.errors, standing: recorded.standing };
}
beforeEach(() => {
  cleanup();
  localStorage.clear();
  store = makeStore();
  asked.length = 0;
});

describe('a page that opens on a job', () => {
  test('shows at its first drawing what the server decided, and has nothing worked out for it', async () => {
    expect(await opened()).toBe('As the server has it.');
    expect(asked).not.toContain('decide');
  });

  test('decides by itself where the server decided from something else, or not yet', async () => {
    const more = [...facts, happened({ kind: 'reading', field: 'feedTdsMgL', value: 900, typed: '900' })];
    const others = [{ facts: more }, { stamp: 'two' }, { decision: null }, { decision: { ...kept, coreVersion: 'another' } }, { decision: { ...kept, known: { ...known, people: 9 } } }];
    for (const of of others) {
      store = makeStore();
      asked.length = 0;
      expect(await opened(of)).toBeUndefined();
      expect(asked).toContain('decide');
    }
  }); // oxfmt-ignore
});

describe('what is told beside a decision', () => {
  const inHouse = (of: Parameters<typeof householdSays>[0]) => {
    const known = householdSays(of);
    const input = { known, catalogue: shelf, rules };
    const decision: Decision = decided(input);
    return {
      facts: readings(known),
      decision: { ...kept, known, decision, beside: { errors: {}, told: tellBeside(input, decision) } },
    };
  };
  const householdSays = (of: Partial<typeof known>) => ({ ...known, ...of });

  test.each([
    ['recommendation', {}, ['study', 'turns', 'bands', 'softening', 'vented']],
    ['nothing-fits', { cupboardHeightMm: 400 }, ['turns', 'remedies']],
    ['referral', { source: 'well', nitrateMgL: 80 }, ['provisional']],
  ] as const)('is there at the first drawing where the server worked it out: %s', async (kind, of, names) => {
    const said = inHouse(of);
    expect(said.decision.decision.kind).toBe(kind);
    const house = await openedJob(said);
    expect(Object.keys(said.decision.beside.told)).toEqual(names);
    for (const name of names) {
      const { result } = renderHook(() => useCore(name, BESIDE[name](house, said.decision.decision)), { wrapper });
      expect(result.current.fresh).toBe(true);
      expect(result.current.value).toEqual(JSON.parse(JSON.stringify(said.decision.beside.told[name])));
    }
    expect(asked).not.toEqual(expect.arrayContaining([names[0]]));
  });

  test('is worked out by the page where its instruments say other errors', async () => {
    const said = inHouse({});
    const beside = { ...said.decision.beside, errors: { feedTdsMgL: 3 } };
    const house = await openedJob({ ...said, decision: { ...said.decision, beside } });
    const { result } = renderHook(() => useCore('study', BESIDE.study(house, said.decision.decision)), { wrapper });
    expect(result.current.value).toBeUndefined();
    expect(asked).toContain('study');
  });
});

describe('what the server decided', () => {
  const hook = (here: boolean) =>
    renderHook(({ here }) => useKeptDecision(JOB, here), { wrapper, initialProps: { here } });

  test('is waited for a little, once its job is here', async () => {
    jest.useFakeTimers();
    try {
      globalThis.fetch = jest.fn(() => new Promise<Response>(() => undefined));
      const { result, rerender } = hook(false);
      await act(() => jest.advanceTimersByTimeAsync(5000));
      expect(result.current).toBeUndefined();
      rerender({ here: true });
      await act(() => jest.advanceTimersByTimeAsync(300));
      expect(result.current).toBeUndefined();
      await act(() => jest.advanceTimersByTimeAsync(200));
      expect(result.current).toBeNull();
    } finally {
      jest.useRealTimers();
    }
  });

  test('is not waited for where the server is away or knows no such job', async () => {
    serve({ [`GET jobs/${JOB}/decision`]: () => 'away' });
    const { result } = hook(true);
    await waitFor(() => {
      expect(result.current).toBeNull();
    });
  });
});
