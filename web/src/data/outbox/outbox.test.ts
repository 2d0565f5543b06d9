import { makeVersion, type Fact, householdTexts } from '@katharos/core';
import { house as houseKnown, rules, shelf } from '@katharos/core/testing';
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { api } from '../api.ts';
import { makeStore, type AppStore } from '../store.ts';
import { openDB } from 'idb';
import { signInAs } from '../../testing/signedIn.ts';
import { forgetFirm } from '../signing.ts';
import { factEntry, forgetEntries, keepRefused, noteEntries, readKept, UNKEPT } from './entries.ts';
import { jobWith } from './jobWith.ts';
import {
  addHousehold,
  approveVersion,
  dropRefused,
  editHousehold,
  recordFacts,
  restoreOutbox,
  sendOutbox,
} from './outbox.ts';
import { decided } from '@katharos/core/testing/decided';

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

const pendingOf = (store: AppStore): unknown[] => store.getState().outbox.pending.map((e) => e.body);

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
    expect(pendingOf(store)).toEqual([f]);
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
    expect(pendingOf(store)).toEqual([a, b]);
    expect(store.getState().outbox.link).toBe('away');

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
  test('is not lost where the page dies before the store has it, nor brought back once it is done with', async () => {
    const { sent } = server(201);
    const lost = fact(411);
    noteEntries([factEntry(lost)]);
    localStorage.setItem(`${UNKEPT}odd`, '{"half');
    forgetFirm();
    await makeStore().dispatch(restoreOutbox());
    expect(sent).toEqual([[lost]]);
    await makeStore().dispatch(restoreOutbox());
    expect(sent).toHaveLength(1);
    expect(Object.keys(localStorage).filter((k) => k.startsWith(UNKEPT))).toEqual([`${UNKEPT}odd`]);
    // what was refused meanwhile stays refused
    const refused = { entry: factEntry(fact(412)), reason: 'Not so.' };
    await keepRefused(refused);
    noteEntries([refused.entry]);
    expect((await readKept()).refused).toEqual([refused]);
    await forgetEntries([refused.entry.id]);
    localStorage.clear();
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
    expect(refused).toMatchObject([{ entry: { body: bad }, reason: 'Some values cannot be taken.' }]);
    // a new page still has it, and sends it to nobody until a person decides
    const next = makeStore();
    const after = server(201);
    await next.dispatch(restoreOutbox());
    expect(next.getState().outbox).toMatchObject({ pending: [], refused: [{ entry: { body: bad } }] });
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
    signInAs(store, f.by);
    await store.dispatch(recordFacts([f]));
    expect(pendingOf(store)).toEqual([f]);
    expect(store.getState().outbox).toMatchObject({ refused: [], link: status === 401 ? 'ok' : 'away' });
    server(201);
    await store.dispatch(sendOutbox());
    expect(store.getState().outbox.pending).toEqual([]);
  });
  test('stays when an answer that was asked for before it was sent comes after it', async () => {
    const house = {
      id: JOB,
      ...householdTexts({ name: 'Mill Lane 2' }),
      version: 0,
    };
    let old: (r: Response) => void = () => undefined;
    globalThis.fetch = (input: unknown) =>
      input instanceof Request
        ? new Promise<Response>((resolve) => (old = resolve))
        : Promise.resolve(new Response('{"stored":1}', { status: 201 }));
    const store = makeStore();
    const asked = store.dispatch(api.endpoints.getJob.initiate(JOB));
    const f = fact();
    await store.dispatch(recordFacts([f]));
    old(
      new Response(JSON.stringify({ id: JOB, household: house, facts: [], designs: [], unreadable: [] }), {
        headers: { 'content-type': 'application/json' },
      }),
    );
    await asked;
    await Promise.resolve();
    expect(api.endpoints.getJob.select(JOB)(store.getState()).data?.facts).toEqual([f]);
    asked.unsubscribe();
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
    expect(pendingOf(store)).toEqual([a]);
    // the server is there: what it stumbles on is told with what it said
    expect(store.getState().outbox).toMatchObject({ link: 'ok', failing: { [a.jobId]: expect.stringMatching(/\w/) } });
    await jest.advanceTimersByTimeAsync(3000);
    for (let i = 0; i < 20; i++) await readKept();
    expect(store.getState().outbox).toMatchObject({ pending: [], failing: {} });
  });
  test('written down by another tab is shown here, and sent by whoever comes first', async () => {
    server('away');
    const here = makeStore();
    const there = makeStore();
    const [a, b] = [fact(1), fact(2)];
    await there.dispatch(recordFacts([a]));
    await here.dispatch(recordFacts([b]));
    // the one that sends sees both
    expect(pendingOf(here)).toEqual([a, b]);
    const { sent } = server(201);
    await here.dispatch(sendOutbox());
    expect(sent).toEqual([[a, b]]);
    // one that was not told sends what it has again: the server stores it once
    await there.dispatch(sendOutbox());
    expect(pendingOf(there)).toEqual([]);
    expect(new Set(sent.flat().map((f) => f.id))).toEqual(new Set([a.id, b.id]));
  });
  test('stays in an open page though the device is cleared meanwhile', async () => {
    server('away');
    const store = makeStore();
    const f = fact();
    await store.dispatch(recordFacts([f]));
    const d = await openDB('katharos', 1);
    await d.clear('outbox');
    d.close();
    const { sent } = server(201);
    await store.dispatch(sendOutbox());
    expect(sent).toEqual([[f]]);
  });
  test('that holds what no database does is sent all the same, and kept with the server’s reason', async () => {
    const half = { ...fact(), typed: 'half \ud83d' };
    server('away');
    const store = makeStore();
    await store.dispatch(recordFacts([half]));
    server(422);
    const next = makeStore();
    await next.dispatch(restoreOutbox());
    expect(next.getState().outbox).toMatchObject({ unreadable: 0, refused: [{ entry: { body: half } }] });
    await next.dispatch(dropRefused(half.id));
  });
  test('where the device keeps nothing is in the page alone until it is sent, and said to be', async () => {
    const full = jest.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
      throw new DOMException('no room', 'QuotaExceededError');
    });
    try {
      server('away');
      const store = makeStore();
      const f = fact();
      await store.dispatch(recordFacts([f]));
      expect(store.getState().outbox).toMatchObject({ noRoom: true, unkept: [f.id], pending: [{ id: f.id }] });
      const { sent } = server(201);
      await store.dispatch(sendOutbox());
      expect([sent, store.getState().outbox.noRoom, pendingOf(store)]).toEqual([[[f]], false, []]);
    } finally {
      full.mockRestore();
    }
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

describe('every write of a job', () => {
  const WHO = '5f0c4b1e-2222-4222-a222-000000000002';
  const born = { id: '5f0c4b1e-5555-4555-a555-000000000001', jobId: JOB, by: WHO, ...householdTexts({ name: 'Mill Lane 2', place: 'Town' }) };
  const house = { id: born.id, ...householdTexts({ name: born.name, place: born.place }), version: 0 };
  const d = decided({ known: houseKnown, catalogue: shelf, rules });
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  let thing = 0;
  const version = makeVersion({ known: houseKnown, catalogue: shelf, rules }, { design: d.chosen.design }, {
    id: '5f0c4b1e-4444-4444-a444-000000000001', at: '2026-05-01T09:00:00.000Z', by: WHO, reason: '', against: '', before: null,
    newId: () => `5f0c4b1e-6666-4666-a666-${String(++thing).padStart(12, '0')}`,
  });
  const tick = (): Fact => ({ v: 2, id: `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`, jobId: JOB, by: WHO, at: '2026-05-01T10:00:00.000Z', kind: 'tick', design: version.id, step: 'leave', done: true });
  /** Answers by path, in turn; says what was asked. */
  const answering = (answer: (path: string) => number | 'away' | { status: number; json: unknown }): string[] => {
    const asked: string[] = [];
    globalThis.fetch = ((url: string, init?: { method?: string }) => {
      const path = `${init?.method ?? 'GET'} ${url.replace('/api/', '').replace(JOB, 'J').replace(born.id, 'H')}`;
      const a = answer(path);
      if (a === 'away') return Promise.reject(new TypeError('failed to fetch'));
      asked.push(path);
      const { status, json } = typeof a === 'number' ? { status: a, json: a < 300 ? {} : { type: 'urn:x', title: 'No', status: a } } : a;
      return Promise.resolve(new Response(JSON.stringify(json), { status }));
    }) as unknown as typeof fetch;
    return asked;
  };
  const kinds = (store: AppStore): string[] => store.getState().outbox.pending.map((e) => e.write);

  test('waits without a signal, shows as if it were taken, survives the page, and leaves in its order', async () => {
    answering(() => 'away');
    const store = makeStore();
    expect(await store.dispatch(addHousehold(born, WHO))).toEqual({ kind: 'waits' });
    await store.dispatch(recordFacts([fact(1)]));
    expect(await store.dispatch(approveVersion(JOB, version))).toEqual({ kind: 'waits' });
    await store.dispatch(recordFacts([tick()]));
    expect(await store.dispatch(editHousehold(JOB, house, { ...house, notes: 'rings twice' }, WHO))).toEqual({ kind: 'waits' });
    const shown = jobWith(undefined, store.getState().outbox.pending, JOB);
    expect([shown?.household.notes, shown?.facts.length, shown?.designs.map((x) => x.number)]).toEqual(['rings twice', 2, [1]]);

    const asked = answering(() => 201);
    const next = makeStore();
    await next.dispatch(restoreOutbox());
    expect(asked).toEqual(['POST households', 'POST jobs/J/facts', 'POST jobs/J/designs', 'POST jobs/J/facts', 'PUT households/H']);
    expect(kinds(next)).toEqual([]);
    const third = makeStore();
    await third.dispatch(restoreOutbox());
    expect(asked).toHaveLength(5);
  });
  test('refused at its form it goes back to the form, and is not kept', async () => {
    const current = { ...house, notes: 'theirs', version: 3 };
    answering(() => ({ status: 409, json: { type: 'urn:x', title: 'Changed meanwhile', status: 409, current } }));
    const store = makeStore();
    const outcome = await store.dispatch(editHousehold(JOB, house, { ...house, notes: 'mine' }, WHO));
    expect(outcome).toMatchObject({ kind: 'refused', current });
    expect(store.getState().outbox).toMatchObject({ pending: [], refused: [] });
  });
  test('refused after its form is gone it is kept, with all that hangs on it, and nothing else', async () => {
    answering(() => 'away');
    const store = makeStore();
    await store.dispatch(approveVersion(JOB, version));
    await store.dispatch(recordFacts([tick(), fact(2)]));
    answering((path) => (path.endsWith('designs') ? 409 : 201));
    await store.dispatch(sendOutbox());
    const { pending, refused } = store.getState().outbox;
    expect([pending, refused.map((r) => [r.entry.write, r.reason])]).toEqual([
      [],
      [['design', 'No.'], ['fact', 'What it belongs to was refused.']],
    ]);
    const next = makeStore();
    const asked = answering(() => 201);
    await next.dispatch(restoreOutbox());
    expect([next.getState().outbox.refused.length, asked]).toEqual([2, []]);
    for (const r of refused) await next.dispatch(dropRefused(r.entry.id));
  });
  test('whose answer was lost on the way stands already when it is sent again', async () => {
    const edit = { ...house, notes: 'mine' };
    answering(() => ({ status: 409, json: { type: 'urn:x', title: 'Changed', status: 409, current: { ...edit, version: 1 } } }));
    const store = makeStore();
    expect(await store.dispatch(editHousehold(JOB, house, edit, WHO))).toEqual({ kind: 'sent' });
  });
  test('a row nobody can read stays where it is, and is counted', async () => {
    answering(() => 201);
    const d2 = await openDB('katharos', 1);
    await d2.put('outbox', { id: 'x', write: 'something newer', body: 1 });
    const store = makeStore();
    await store.dispatch(restoreOutbox());
    expect(store.getState().outbox.unreadable).toBe(1);
    expect(await d2.get('outbox', 'x')).toBeDefined();
    await d2.delete('outbox', 'x');
    d2.close();
  });
}); // oxfmt-ignore
