import { householdTexts } from '@katharos/core';
import { beforeEach, expect, jest, test } from '@jest/globals';
import type { Job, RoundsEntry } from '@katharos/contract';
import { rules, shelf as parts } from '@katharos/core/testing';
import { happened, WHO } from '../../testing/jobContext.tsx';
import { serve } from '../../testing/serve.ts';
import { signInAs } from '../../testing/signedIn.ts';
import { api } from '../api.ts';
import { addHousehold, editHousehold, recordFacts } from '../outbox/outbox.ts';
import { makeStore, type AppStore } from '../store.ts';
import { hearAgain, keepAlong, takeAlong, visitedSoon } from './along.ts';
import { forgetKept, jobPath, keepAnswer, keptAnswer, keptPaths } from './store.ts';

const id = (n: number): string => `5f0c4b1e-7777-4777-a777-${String(n).padStart(12, '0')}`;
const household = {
  id: id(900),
  ...householdTexts({ name: 'Mill Lane 2' }),
  version: 0,
};
const job = (n: number, name = 'Mill Lane 2') => ({
  id: id(n),
  household: { ...household, name },
  facts: [],
  designs: [],
  unreadable: [],
});
const shelf = { parts, partVersions: {}, rules, rulesVersion: 0, instruments: [], people: [] };
const rounds = (visits: readonly unknown[] = []) => ({ clocks: [], due: [], visits, behind: 0 });
const visit = (n: number, on: string) =>
  ({ jobId: id(n), summary: { visits: [{ on, reason: 'Change' }] } }) as unknown as RoundsEntry;
/** What was written since a bound, as the server tells it. */
const changes =
  (jobs: readonly number[] = [], bound = '7') =>
  () => ({ json: { bound, shelf: '', jobs: jobs.map(id), many: false } });
const anyJob = Object.fromEntries(
  Array.from({ length: 41 }, (_, n) => [`GET ${jobPath(id(n))}`, () => ({ json: job(n) })]),
);
const inDays = (days: number): string => new Date(Date.now() + days * 86400000).toISOString();

let store: AppStore;
beforeEach(async () => {
  localStorage.clear();
  await forgetKept();
  store = makeStore();
  signInAs(store, WHO);
});
const ask = (n: number) => store.dispatch(api.endpoints.getJob.initiate(id(n), { forceRefetch: true }));

test('what the server said answers where it is away, until it is there again', async () => {
  serve({ [`GET jobs/${id(1)}`]: () => ({ json: job(1) }) });
  await ask(1);
  expect(store.getState().kept.shown).toEqual({});
  for (const away of [() => 'away' as const, () => ({ status: 503, json: { status: 503 } })]) {
    serve({ [`GET jobs/${id(1)}`]: away });
    expect((await ask(1)).data?.household.name).toBe('Mill Lane 2');
    expect(store.getState().kept.shown[jobPath(id(1))]).toBeGreaterThan(Date.now() - 60_000);
  }
  serve({ [`GET jobs/${id(1)}`]: () => ({ json: job(1, 'Mill Lane 3') }) });
  store.dispatch(hearAgain());
  await new Promise((r) => setTimeout(r, 50));
  expect(api.endpoints.getJob.select(id(1))(store.getState()).data?.household.name).toBe('Mill Lane 3');
  expect(store.getState().kept.shown).toEqual({});
});

test('what is not here, and what the server refuses, is no answer of the device’s', async () => {
  serve({ [`GET jobs/${id(1)}`]: () => 'away' });
  expect((await ask(1)).error).toMatchObject({ status: 'FETCH_ERROR' });
  await keepAnswer(jobPath(id(2)), job(2));
  serve({});
  expect((await ask(2)).error).toMatchObject({ status: 404 });
});

test('a server that is slow is answered for, and heard when it does answer', async () => {
  await keepAnswer(jobPath(id(1)), job(1));
  let answer: (r: Response) => void = () => undefined;
  globalThis.fetch = jest.fn(() => new Promise<Response>((r) => { answer = r; })); // oxfmt-ignore
  expect((await ask(1)).data?.household.name).toBe('Mill Lane 2');
  const late = answer;
  serve({ [`GET jobs/${id(1)}`]: () => ({ json: job(1, 'Mill Lane 3') }) });
  late(new Response(JSON.stringify(job(1, 'Mill Lane 3')), { headers: { 'content-type': 'application/json' } }));
  await new Promise((r) => setTimeout(r, 50));
  expect(api.endpoints.getJob.select(id(1))(store.getState()).data?.household.name).toBe('Mill Lane 3');
});

test('jobs taken along, with a visit today or tomorrow, or opened here are brought up; others are not fetched', async () => {
  await keepAnswer(jobPath(id(1)), job(1), { openedMs: 5 });
  await keepAnswer(jobPath(id(2)), job(2), { chosen: true });
  const asked = serve({
    'GET changes': changes(),
    'GET rounds': () => ({ json: rounds([visit(3, inDays(0)), visit(4, inDays(5))]) }),
    'GET shelf': () => ({ json: shelf }),
    ...Object.fromEntries([1, 2, 3, 4].map((n) => [`GET jobs/${id(n)}`, () => ({ json: job(n, 'anew') })])),
  });
  await store.dispatch(keepAlong());
  expect(asked.map((a) => a.path)).toEqual(['changes', 'rounds', 'shelf', ...[3, 1, 2].map((n) => jobPath(id(n)))]);
  expect(Object.keys(store.getState().kept.jobs).sort()).toEqual([id(1), id(2), id(3)]);
  expect(
    ((await keptAnswer(jobPath(id(1))))?.body as { household: { name: string } } | undefined)?.household.name,
  ).toBe('anew');
  expect(store.getState().kept.jobs[id(2)]?.chosen).toBe(true);
});

test('only what was written to since is fetched again, and what could not be is asked for the next time', async () => {
  const others = { 'GET rounds': () => ({ json: rounds() }), 'GET shelf': () => ({ json: shelf }) };
  for (const n of [1, 2]) await keepAnswer(jobPath(id(n)), job(n), { openedMs: 5 });
  serve({ ...others, ...anyJob, 'GET changes': changes([], '7') });
  await store.dispatch(keepAlong());
  serve({ ...others, 'GET changes': changes([2], '9'), [`GET ${jobPath(id(2))}`]: () => 'away' });
  await store.dispatch(keepAlong());
  let since: string | null = null;
  const asked = serve({
    ...others,
    ...anyJob,
    'GET changes': (_body, params) => {
      since = params.get('since');
      return changes([2], '9')();
    },
  });
  await store.dispatch(keepAlong());
  expect(since).toBe('7');
  expect(asked.map((a) => a.path).filter((p) => p.startsWith('jobs/'))).toEqual([jobPath(id(2))]);
  expect(localStorage.getItem('katharos.kept')).toBe('9');
});

test('a job the server no longer has is let go of; a server that is away changes nothing', async () => {
  await keepAnswer(jobPath(id(1)), job(1), { chosen: true });
  serve({ 'GET changes': changes(), 'GET rounds': () => 'away' });
  await store.dispatch(keepAlong());
  expect(await keptAnswer(jobPath(id(1)))).not.toBeNull();
  serve({ 'GET changes': changes(), 'GET rounds': () => ({ json: rounds() }), 'GET shelf': () => ({ json: shelf }) });
  await store.dispatch(keepAlong());
  expect(await keptAnswer(jobPath(id(1)))).toBeNull();
});

test('what was sent is in what the device keeps, before anything is read again; a household born here is kept from then on', async () => {
  await keepAnswer(jobPath(id(1)), job(1));
  serve({
    [`POST jobs/${id(1)}/facts`]: () => ({ status: 201, json: { stored: 1 } }),
    'POST households': () => ({ status: 201, json: {} }),
    [`PUT households/${household.id}`]: () => ({ json: { ...household, notes: 'Ring twice.', version: 1 } }),
  });
  const fact = { ...happened({ kind: 'note', text: 'seen' }), jobId: id(1) };
  await store.dispatch(recordFacts([fact]));
  await store.dispatch(editHousehold(id(1), household, { ...householdTexts(household), notes: 'Ring twice.' }, WHO));
  const body = (await keptAnswer(jobPath(id(1))))?.body as Job;
  expect(body.facts).toEqual([fact]);
  expect(body.household).toMatchObject({ notes: 'Ring twice.', version: 1 });
  const born = {
    id: id(901),
    jobId: id(5),
    ...householdTexts({ name: 'Cellar Row 3' }),
  };
  await store.dispatch(addHousehold(born, WHO));
  expect(((await keptAnswer(jobPath(id(5))))?.body as Job | undefined)?.household.name).toBe('Cellar Row 3');
});

test('of the jobs opened here the last thirty stay, and those somebody chose', async () => {
  for (let n = 1; n <= 40; n++) await keepAnswer(jobPath(id(n)), job(n), { openedMs: n, chosen: n === 1 });
  serve({
    'GET changes': changes(),
    'GET rounds': () => ({ json: rounds() }),
    'GET shelf': () => ({ json: shelf }),
    ...anyJob,
  });
  await store.dispatch(keepAlong());
  const left = (await keptPaths()).filter((k) => k.path.startsWith('jobs/')).map((k) => k.openedMs);
  expect(left.sort((a, b) => a - b)).toEqual([1, ...Array.from({ length: 30 }, (_, i) => 11 + i)]);
  await store.dispatch(takeAlong(id(1), false));
  await store.dispatch(keepAlong());
  expect(await keptAnswer(jobPath(id(1)))).toBeNull();
});

test('today and tomorrow are this device’s', () => {
  const noon = new Date(2026, 10, 26, 12).getTime();
  const at = (day: number, hour: number): string => new Date(2026, 10, day, hour).toISOString();
  const visits = [visit(1, at(25, 23)), visit(2, at(26, 1)), visit(3, at(27, 23)), visit(4, at(28, 1))];
  expect(visitedSoon({ visits }, noon)).toEqual([id(2), id(3)]);
  expect(visitedSoon(undefined, noon)).toEqual([]);
});
