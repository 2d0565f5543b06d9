import { beforeEach, describe, expect, test } from '@jest/globals';
import { ShelfSchema, type Job, type Shelf } from '@katharos/contract';
import { proposalOf, readJob, householdTexts } from '@katharos/core';
import { house, rules, shelf } from '@katharos/core/testing';
import { api } from '../data/api.ts';
import { factEntry } from '../data/outbox/entries.ts';
import { outboxActions } from '../data/outbox/state.ts';
import { elementChosen, tried } from '../data/session.ts';
import { makeStore, type AppStore } from '../data/store.ts';
import { happened, JOB, readings, versionOf, WHO } from '../testing/jobContext.tsx';
import { selectJob, selectKnown, selectRecorded, selectTrial } from './selectors.ts';
import { decided } from '@katharos/core/testing/decided';

const stored: Job = {
  id: JOB,
  household: { id: '5f0c4b1e-5555-4555-a555-000000000001', ...householdTexts({ name: 'Mill Lane 2', place: 'Town' }), version: 0 },
  facts: readings(),
  designs: [],
  unreadable: [],
}; // oxfmt-ignore
const firm: Shelf = ShelfSchema.parse({
  parts: shelf,
  partVersions: {},
  rules,
  rulesVersion: 0,
  people: [{ id: WHO, name: 'Imra Tole' }],
  instruments: [
    {
      id: '5f0c4b1e-6666-4666-a666-000000000001',
      name: 'pen A',
      what: 'pen',
      checkEveryDays: null,
      checks: [],
      address: null,
      version: 0,
      reads: [{ kind: 'concentration', unit: 'mg/L', min: 0, max: 2000, errorFixed: 20, errorShare: 0 }],
    },
  ],
});
const OTHER = '5f0c4b1e-1111-4111-a111-000000000009';
const raised = () => happened({ kind: 'reading', field: 'feedTdsMgL', value: 777, typed: '777' });

let store: AppStore;
const knows = async (job: Job | null, of: Shelf | null = firm): Promise<void> => {
  if (job) await store.dispatch(api.util.upsertQueryData('getJob', JOB, job));
  if (of) await store.dispatch(api.util.upsertQueryData('getShelf', null, of));
};
const recorded = () => selectRecorded(store.getState(), JOB);
beforeEach(() => {
  localStorage.clear();
  store = makeStore();
});

describe('what is recorded of a job', () => {
  test('is nothing until both the job and the shelf are here', async () => {
    expect(recorded()).toBeNull();
    await knows(stored, null);
    expect(recorded()).toBeNull();
    expect(selectJob(store.getState(), JOB)?.facts).toHaveLength(stored.facts.length);
    await knows(null);
    expect(recorded()?.household.name).toBe('Mill Lane 2');
    expect(recorded()?.record.known).toEqual(readJob(stored.facts).known);
    expect(recorded()?.approved).toBeNull();
    // what an instrument the firm knows may be out by
    expect(recorded()?.errors.feedTdsMgL).toBe(20);
  });
  test('holds what waits on this device, and is the same object while nothing of it changes', async () => {
    await knows(stored);
    const before = recorded();
    store.dispatch(elementChosen('pump'));
    store.dispatch(tried({ jobId: JOB, values: { feedTdsMgL: 900 }, by: 'scrubbing' }));
    expect(recorded()).toBe(before);
    store.dispatch(outboxActions.added([factEntry(raised())]));
    expect(recorded()?.record.known.feedTdsMgL).toBe(777);
    expect(before?.record.known.feedTdsMgL).toBe(house.feedTdsMgL);
  });
  test('another job’s waiting facts are not its own', async () => {
    await knows(stored);
    const before = recorded();
    store.dispatch(outboxActions.added([factEntry({ ...raised(), jobId: OTHER })]));
    expect(recorded()?.record.known).toEqual(before?.record.known);
  });
  test('names the approved version, and stands on what was judged then though the readings have moved', async () => {
    const known = readJob(stored.facts).known;
    const input = { known, catalogue: shelf, rules };
    const proposal = proposalOf(decided(input));
    if (!proposal) throw new Error('the house is sized');
    const version = versionOf(input, proposal);
    await knows({ ...stored, designs: [version], facts: [...stored.facts, raised()] });
    expect(recorded()?.approved?.id).toBe(version.id);
    expect(recorded()?.built?.version.judged.known.feedTdsMgL).toBe(house.feedTdsMgL);
    expect(recorded()?.record.known.feedTdsMgL).toBe(777);
  });
});

describe('what is tried', () => {
  test('stands in place of what was read, of its own job only', async () => {
    await knows(stored);
    const read = selectKnown(store.getState(), JOB);
    store.dispatch(tried({ jobId: OTHER, values: { feedTdsMgL: 900 }, by: 'scrubbing' }));
    expect(selectTrial(store.getState(), JOB)).toBeNull();
    expect(selectKnown(store.getState(), JOB)).toBe(read);
    store.dispatch(tried({ jobId: JOB, values: { feedTdsMgL: 900 }, by: 'scrubbing' }));
    expect(selectKnown(store.getState(), JOB)).toEqual({ ...read, feedTdsMgL: 900 });
  });
});
