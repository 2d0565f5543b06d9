import { standingIn } from '@katharos/core';
import equal from 'fast-deep-equal';
import { api } from '../data/api.ts';
import { coreApi } from '../data/coreApi.ts';
import { houseKey, takeUpDecision } from '../data/coreWorkers.ts';
import type { AppDispatch, RootState } from '../data/store.ts';
import { selectKnown, selectRecorded } from './selectors.ts';

/**
 * Asks what the page of a job is about before it is drawn: the job, the shelf, and what the server decided of it. That is
 * the answer to the page's question where it was decided from the same; what is not decided yet the page asks itself.
 */
export const askJob =
  (id: string) =>
  async (dispatch: AppDispatch, state: () => RootState): Promise<void> => {
    const [, shelf, decision] = await Promise.all([
      dispatch(api.endpoints.getJob.initiate(id, { subscribe: false })),
      dispatch(api.endpoints.getShelf.initiate(null, { subscribe: false })),
      dispatch(api.endpoints.getDecision.initiate(id, { subscribe: false })),
    ]);
    const recorded = selectRecorded(state(), id);
    const kept = decision.data;
    if (!recorded || !kept || kept.stamp !== shelf.data?.stamp) return;
    const { parts, rules, record, built } = recorded;
    const known = selectKnown(state(), id);
    const standing = built && standingIn(built.system);
    const asked = JSON.stringify([houseKey(parts, rules, record.placed), known, standing]);
    const now = JSON.parse(JSON.stringify([known, record.placed, standing])) as unknown;
    if (!equal([kept.known, kept.placed, kept.standing], now)) return;
    takeUpDecision(parts, rules, kept, kept.stamp);
    const question = { name: 'decide', asked } as const;
    await dispatch(coreApi.util.upsertQueryData('answer', question, Object.freeze(kept.decision)));
  };
