import type { Fact } from '@katharos/core';
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { makeStore } from './store.ts';
import { openDB } from 'idb';
import { dropRefused, recordFacts, restoreOutbox, sendOutbox } from './outbox.ts';

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
    // a new page still has it, and sends it to nobody until a person decides
    const next = makeStore();
    const after = server(201);
    await next.dispatch(restoreOutbox());
    expect(next.getState().outbox).toMatchObject({ pending: [], refused: [{ fact: bad }] });
    expect(after.sent).toEqual([]);
    await next.dispatch(dropRefused(bad.id));
    expect(next.getState().outbox.refused).toEqual([]);
    const third = makeStore();
    await third.dispatch(restoreOutbox());
    expect(third.getState().outbox.refused).toEqual([]);
  });
  test.each([401, 403, 408, 429, 502, 503])('an answer of %d refuses nothing: it waits', async (status) => {
    server(status);
    const store = makeStore();
    const f = fact();
    await store.dispatch(recordFacts([f]));
    expect(store.getState().outbox).toMatchObject({ pending: [f], refused: [], link: 'away' });
    server(201);
    await store.dispatch(sendOutbox());
    expect(store.getState().outbox.pending).toEqual([]);
  });
  test('a job the server stumbles on is set aside for the others, in their order, and tried again', async () => {
    const other = (value: number): Fact => ({ ...fact(value), jobId: '5f0c4b1e-1111-4111-a111-000000000002' });
    const [a, b, c] = [fact(1), other(2), other(3)];
    server('away');
    const store = makeStore();
    await store.dispatch(recordFacts([a, b, c]));
    const { sent } = server(500, 201);
    await store.dispatch(sendOutbox());
    expect(sent).toEqual([[a], [b, c]]);
    expect(store.getState().outbox).toMatchObject({ pending: [a], link: 'away' });
    await jest.advanceTimersByTimeAsync(3000);
    expect(store.getState().outbox.pending).toEqual([]);
  });
  test('what an older page left is lifted by the designs of its job and sent, once the server answers', async () => {
    const older: Omit<Fact, 'v'> & { v?: 2 } = fact(7);
    delete older.v;
    const d = await openDB('katharos', 1);
    await d.put('outbox', older);
    server('away');
    const store = makeStore();
    await store.dispatch(restoreOutbox());
    expect(store.getState().outbox.pending).toEqual([]);
    expect(await d.get('outbox', older.id)).toEqual(older);
    const sent: Fact[][] = [];
    globalThis.fetch = ((_url: string, init?: { body?: string }) => {
      if (init?.body) sent.push((JSON.parse(init.body) as { facts: Fact[] }).facts);
      return Promise.resolve(Response.json(init?.body ? { stored: 1 } : { designs: [] }));
    }) as unknown as typeof fetch;
    await jest.advanceTimersByTimeAsync(30_000);
    for (let i = 0; i < 20; i++) await d.count('outbox');
    expect(sent).toEqual([[{ ...older, v: 2 }]]);
    expect(await d.get('outbox', older.id)).toBeUndefined();
    d.close();
  });
});
