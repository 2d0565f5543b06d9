import { QueryStatus, skipToken } from '@reduxjs/toolkit/query';
import { useEffect, useMemo, useState } from 'react';
import { coreApi, type Question } from './coreApi.ts';
import type { Questions } from './coreWorkers.ts';
import { useAppSelector, type AppDispatch, type RootState } from './store.ts';

/** What takes longest is asked once the hand rests: while it moves, the sentence has the machine to itself. */
const AT_REST: ReadonlySet<keyof Questions> = new Set(['study', 'turns', 'softening', 'vented', 'bands', 'faults']);
const REST_MS = 250;

/** Whether a question is under way, of one kind or of any. */
const isAsking = (state: RootState, name?: keyof Questions): boolean =>
  Object.values(state.core.queries as Record<string, Asked | undefined>).some(
    (q) => q?.status === QueryStatus.pending && (name === undefined || q.originalArgs?.name === name),
  );
interface Asked {
  readonly status: QueryStatus;
  readonly originalArgs?: Question;
}

/** Whether anything is being worked out at this moment. */
export const useWorking = (): boolean => useAppSelector((s) => isAsking(s));

/**
 * Asks what the page will ask once it is drawn again, so that the worker begins at once. Nothing is asked while another of
 * its kind is under way: the newest is asked then anyway.
 */
export const askEarly =
  <K extends keyof Questions>(name: K, args: Parameters<Questions[K]>) =>
  (dispatch: AppDispatch, state: () => RootState): void => {
    if (typeof Worker === 'undefined' || isAsking(state(), name)) return;
    void dispatch(coreApi.endpoints.answer.initiate({ name, asked: JSON.stringify(args) }, { subscribe: false }));
  };

/** A question's last answer; `fresh` tells whether it answers the question asked now. */
export interface Answer<T> {
  readonly value: T | undefined;
  readonly fresh: boolean;
  readonly error: string | null;
}

/**
 * Asks the worker and keeps the last answer on the page while a new one is worked out. One question of a kind is in
 * flight; while it is, only the newest next one is kept, older ones are dropped. What is remembered is there at once.
 * @param args null asks nothing
 * @param restMs how long a hand must have rested before the next is asked; null while what it is about is still worked out:
 *   nothing is asked then
 */
export function useCore<K extends keyof Questions>(
  name: K,
  args: Parameters<Questions[K]> | null,
  restMs: number | null = AT_REST.has(name) ? REST_MS : 0,
): Answer<ReturnType<Questions[K]>> {
  type Result = ReturnType<Questions[K]>;
  const wanted = args === null ? null : JSON.stringify(args);
  const [asked, setAsked] = useState(restMs === null ? null : wanted);
  const { data, isFetching, error } = coreApi.endpoints.answer.useQuery(
    asked === null ? skipToken : { name, asked },
    { selectFromResult: (r) => ({ data: r.data, isFetching: r.isFetching, error: r.error }) }, // oxfmt-ignore
  );
  const remembered = useAppSelector(
    (s) => wanted !== null && wanted !== asked && coreApi.endpoints.answer.select({ name, asked: wanted })(s).isSuccess,
  );
  const first = asked === null && restMs !== null;
  if (wanted !== asked && (wanted === null || first || remembered)) setAsked(wanted);
  const follows = wanted !== asked && !isFetching;
  useEffect(() => {
    if (!follows || restMs === null) return;
    // once the answer to the last is drawn, not in its place
    const t = setTimeout(() => { setAsked(wanted); }, restMs); // oxfmt-ignore
    return () => {
      clearTimeout(t);
    };
  }, [follows, wanted, restMs]);
  const nothing = wanted === null;
  const fresh = nothing || (wanted === asked && !isFetching);
  return useMemo(
    () => ({
      value: nothing ? undefined : (data as Result | undefined),
      fresh,
      error: typeof error === 'string' ? error : null,
    }),
    [nothing, data, fresh, error],
  );
}
