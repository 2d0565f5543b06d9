import type { Changes, Rounds } from '@katharos/contract';
import type { ThunkAction, UnknownAction } from '@reduxjs/toolkit';
import { readAnew } from '../api.ts';
import { asPerson, type SessionState } from '../session.ts';
import { counted, type KeptState } from './state.ts';
import { chooseKept, dropKept, jobPath, keepAnswer, keptAnswer, keptPaths, pruneKept } from './store.ts';
import { nowMs } from '../../ui/clock.ts';

interface HasKept {
  readonly session: SessionState;
  readonly kept: KeptState;
}
type Thunk<R> = ThunkAction<R, HasKept, unknown, UnknownAction>;

/** Asks the server and keeps what it says. @returns 'away' where it does not answer, 'gone' where it has no such thing */
async function fetchKept(
  path: string,
  personId: string | null,
  change: { chosen?: boolean } = {},
): Promise<'kept' | 'gone' | 'away'> {
  try {
    const res = await fetch(`/api/${path}`, { headers: asPerson(personId), signal: AbortSignal.timeout(12_000) });
    if (res.status === 404) {
      await dropKept(path);
      return 'gone';
    }
    if (!res.ok) return 'away';
    await keepAnswer(path, await res.json(), change);
    return 'kept';
  } catch {
    return 'away';
  }
}

/** Says on the page which jobs this device keeps. */
export const countKept = (): Thunk<Promise<void>> => async (dispatch) => {
  const jobs: Record<string, { chosen: boolean; heardMs: number }> = {};
  for (const { path, chosen, heardMs } of await keptPaths()) {
    const id = /^jobs\/(.+)$/.exec(path)?.[1];
    if (id !== undefined) jobs[id] = { chosen, heardMs };
  }
  dispatch(counted(jobs));
};

/** Jobs with a visit on this device's today or tomorrow. */
export function visitedSoon(rounds: Pick<Rounds, 'visits'> | undefined, nowMs: number): string[] {
  const day = (ms: number): string => new Date(ms).toDateString();
  const tomorrow = new Date(nowMs);
  tomorrow.setDate(tomorrow.getDate() + 1);
  const soon = [day(nowMs), day(tomorrow.getTime())];
  return (rounds?.visits ?? [])
    .filter((e) => e.summary.visits.some((v) => soon.includes(day(Date.parse(v.on)))))
    .map((e) => e.jobId);
}

let keeping: Promise<void> | null = null;

/** Up to where what is kept here has been brought up, as the server counts. */
const BOUND_KEY = 'katharos.kept';

/** What was written since the last time all of what is kept was brought up; null where the server is away. */
async function changedSince(personId: string | null): Promise<{ bound: string; has: (id: string) => boolean } | null> {
  const since = localStorage.getItem(BOUND_KEY);
  try {
    const res = await fetch(`/api/changes${since === null ? '' : `?since=${since}`}`, { headers: asPerson(personId), signal: AbortSignal.timeout(12_000) });
    if (!res.ok) return null;
    const { bound, jobs, many } = (await res.json()) as Changes;
    const all = since === null || many;
    return { bound, has: (id) => all || jobs.includes(id) };
  } catch {
    return null;
  }
} // oxfmt-ignore

/**
 * Brings up what is taken along: jobs somebody chose, jobs with a visit today or tomorrow, jobs opened lately. What could not be
 * fetched is asked for the next time. Asked while it is at it, it is done one after the other.
 */
export const keepAlong = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  while (keeping) await keeping;
  const work = async (): Promise<void> => {
    const { personId } = getState().session;
    const changed = await changedSince(personId);
    if (!changed) return;
    for (const path of ['rounds', 'shelf']) if ((await fetchKept(path, personId)) === 'away') return;
    const rounds = (await keptAnswer('rounds'))?.body as Rounds | undefined;
    const visits = visitedSoon(rounds, nowMs());
    await pruneKept(new Set(visits.map(jobPath)));
    const kept = new Set((await keptPaths()).map((k) => k.path));
    const ask = new Set(visits.filter((id) => !kept.has(jobPath(id))));
    for (const path of kept) {
      const id = /^jobs\/(.+)$/.exec(path)?.[1];
      if (id !== undefined && changed.has(id)) ask.add(id);
    }
    let all = true;
    for (const id of ask) all &&= (await fetchKept(jobPath(id), personId)) !== 'away';
    if (all) localStorage.setItem(BOUND_KEY, changed.bound);
    await dispatch(countKept());
  };
  keeping = work().finally(() => {
    keeping = null;
  });
  await keeping;
};

/** Takes a job along, or lets go of it. @returns false where it is not here and the server does not give it */
export const takeAlong =
  (id: string, along: boolean): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    const here = await chooseKept(jobPath(id), along);
    const fetched =
      here || !along ? 'kept' : await fetchKept(jobPath(id), getState().session.personId, { chosen: true });
    await dispatch(countKept());
    return fetched === 'kept';
  };

/** Asks anew for whatever of this page came from this device: the server is there again. */
export const hearAgain = (): Thunk<void> => (dispatch, getState) => {
  const paths = Object.keys(getState().kept.shown);
  if (paths.length > 0) dispatch(readAnew(paths) as unknown as UnknownAction);
};
