import { CORE_VERSION } from '@katharos/core';
import equal from 'fast-deep-equal';
import { api } from '../data/api.ts';
import { coreApi } from '../data/coreApi.ts';
import { houseKey, takeUpDecision } from '../data/coreWorkers.ts';
import type { AppDispatch, RootState } from '../data/store.ts';
import { BESIDE, type BesideName } from './beside.ts';
import { selectKnown, selectRecorded } from './selectors.ts';

/**
 * Asks what the page of a job is about before it is drawn: the job, the shelf, and what the server decided of it. That is
 * the answer to the page's question where it was decided from the same; what is not decided yet the page asks itself.
 */
export const askJob =
  (id: string) =>
  async (dispatch: AppDispatch, state: () => RootState): Promise<void> => {
    const [, shelf, told] = await Promise.all([
      dispatch(api.endpoints.getJob.initiate(id, { subscribe: false })),
      dispatch(api.endpoints.getShelf.initiate(null, { subscribe: false })),
      dispatch(api.endpoints.getDecision.initiate(id, { subscribe: false })),
    ]);
    const recorded = selectRecorded(state(), id);
    const kept = told.data;
    if (!recorded || kept?.coreVersion !== CORE_VERSION || kept.stamp !== shelf.data?.stamp) return;
    const { parts, rules, record, standing, errors } = recorded;
    const known = selectKnown(state(), id);
    const key = houseKey(parts, rules, record.placed);
    const asked = JSON.stringify([key, known, standing]);
    const now = JSON.parse(JSON.stringify([known, record.placed, standing])) as unknown;
    if (!equal([kept.known, kept.placed, kept.standing], now)) return;
    takeUpDecision(parts, rules, kept, kept.stamp);
    const { decision, beside } = kept;
    const given = (name: 'decide' | BesideName, asked: string, answer: unknown): Promise<unknown> =>
      dispatch(coreApi.util.upsertQueryData('answer', { name, asked }, Object.freeze(answer)));
    await given('decide', asked, decision);
    if (!equal(beside?.errors, errors)) return;
    const house = { key, known, errors, standing };
    for (const [name, answer] of Object.entries(beside?.told ?? {}) as [BesideName, unknown][]) {
      const args = BESIDE[name](house, decision);
      if (args) await given(name, JSON.stringify(args), answer);
    }
  };
