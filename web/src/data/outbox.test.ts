import type { Fact } from '@katharos/core';
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { makeStore } from './store.ts';
import { outboxActions, recordFacts, restoreOutbox, sendOutbox } from './outbox.ts';

const JOB = '5f0c4b1e-1111-4111-a111-000000000001';
let serial = 0;
const fact = (value = 300): Fact => ({
  v: 2,
  id: `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`,
  jobId: JOB,
  by: '5f0c4b1e-2222-4222-a222-000000000002',
  at: '2026-05-01T08:00:00.000Z',
  kind: 'reading',
  field: 'feedTdsMgL',
  value,
  typed: String(value),
});

/** A server that answers each request by the next of these. */
function server(...answers: (number | 'away')[]): { sent: Fact[][] } {
  const sent: Fact[][] = [];
  globalThis.fetch = ((_url: string, init: { body: string }) => {
    const answer = answers.length > 1 ? answers.shift() : answers[0];
    if (answer === 'away') return Promise.reject(new TypeError('failed to fetch'));
    sent.push((JSON.parse(init.body) as { facts: Fact[] }).facts);
    const body =
      answer === 201 ? { stored: 1 } : { type: 'urn:x', title: 'Some values cannot be taken', status: answer };
    return Promise.resolve(new Response(JSON.stringify(body), { status: answer ?? 500 }));
  }) as unknown as typeof fetch;
  return { sent };
}

beforeEach(() => {
  jest.useFakeTimers({ doNotFake: ['setImmediate', 'queueMicrotask', 'nextTick', 'performance'] });
});
afterEach(() => {
  jest.useRealTimers();
});

describe('what is recorded', () => {
  test('is shown at once and sent', async () => {
    const { sent } = server(201);
    const store = makeStore();
    const f = fact();
    const done = store.dispatch(recordFacts([f]));
    expect(store.getState().outbox.pending).toEqual([f]);
    await done;
    expect(sent).toEqual([[f]]);
    expect(store.getState().outbox).toMatchObject({ pending: [], link: 'ok' });
  });
  test('waits while the server is away, survives a new page, and is sent later in order', async () => {
    server('away');
    const a = fact(1);
    const b = fact(2);
    const store = makeStore();
    await store.dispatch(recordFacts([a]));
    await store.dispatch(recordFacts([b]));
    expect(store.getState().outbox).toMatchObject({ link: 'away', pending: [a, b] });

    const { sent } = server(201);
    const next = makeStore();
    await next.dispatch(restoreOutbox());
    expect(
      sent
        .flat()
        .map((f) => f.id)
        .sort(),
    ).toEqual([a.id, b.id]);
    expect(next.getState().outbox.pending).toEqual([]);
    const third = makeStore();
    await third.dispatch(restoreOutbox());
    expect(sent).toHaveLength(1);
  });
  test('is tried again by itself', async () => {
    const { sent } = server('away', 201);
    const store = makeStore();
    await store.dispatch(recordFacts([fact()]));
    expect(sent).toHaveLength(0);
    await jest.advanceTimersByTimeAsync(3500);
    await store.dispatch(sendOutbox());
    expect(sent).toHaveLength(1);
    expect(store.getState().outbox.pending).toEqual([]);
  });
  test('one refused fact does not hold back the others, and is kept with its reason', async () => {
    const good = fact(1);
    const bad = fact(2);
    server('away');
    const store = makeStore();
    await store.dispatch(recordFacts([good]));
    await store.dispatch(recordFacts([bad]));
    const { sent } = server(422, 201, 422);
    await store.dispatch(sendOutbox());
    expect(sent).toEqual([[good, bad], [good], [bad]]);
    const { pending, refused } = store.getState().outbox;
    expect(pending).toEqual([]);
    expect(refused).toMatchObject([{ fact: bad, reason: 'Some values cannot be taken.' }]);
    store.dispatch(outboxActions.dismissed(bad.id));
    expect(store.getState().outbox.refused).toEqual([]);
  });
});
