import type { BaseQueryFn, FetchArgs, FetchBaseQueryError, FetchBaseQueryMeta } from '@reduxjs/toolkit/query/react';
import equal from 'fast-deep-equal';
import { heard, shownFromHere } from './state.ts';
import { keepAnswer, keptAnswer } from './store.ts';

/** A server that takes longer than this is answered for by what the device keeps, until it does answer; ms. */
const SLOW_MS = 3000;
const KEPT = /^(shelf|rounds|jobs\/[^/]+)$/;

type Query = BaseQueryFn<string | FetchArgs, unknown, FetchBaseQueryError, object, FetchBaseQueryMeta>;

/** Path of what is kept; null for what is asked of the server alone. */
function keptPath(args: string | FetchArgs): string | null {
  if (typeof args === 'string') return KEPT.test(args) ? args : null;
  const plain = (args.method ?? 'GET') === 'GET' && Object.keys(args.params ?? {}).length === 0;
  return plain && KEPT.test(args.url) ? args.url : null;
}

const isAway = (e: FetchBaseQueryError | undefined): boolean =>
  e?.status === 'FETCH_ERROR' ||
  e?.status === 'TIMEOUT_ERROR' ||
  e?.status === 503 ||
  e?.status === 502 ||
  e?.status === 504;

/**
 * Asks the server, and keeps what it says of the firm's shelf, the round and single jobs. Where it is away, or slow, what it
 * said last answers in its place, and the page is told since when.
 * @param later called with the path when a slow server did answer, and otherwise than the device
 */
export const orAsKept =
  (ask: Query, later: (dispatch: (action: never) => unknown, path: string) => void): Query =>
  async (args, store, extra) => {
    const path = keptPath(args);
    if (path === null) return ask(args, store, extra);
    const opens = path.startsWith('jobs/') ? { openedMs: Date.now() } : {};
    const asked = Promise.resolve(ask(args, store, extra)).then((r) => {
      if (!r.error) {
        store.dispatch(heard(path));
        void keepAnswer(path, r.data, opens);
      }
      return r;
    });
    const first = await Promise.race([asked, new Promise<null>((resolve) => setTimeout(() => { resolve(null); }, SLOW_MS))]);
    if (first && !isAway(first.error)) return first;
    const kept = await keptAnswer(path);
    if (!kept) return first ?? asked;
    store.dispatch(shownFromHere({ path, heardMs: kept.heardMs }));
    if (!first)
      void asked.then((r) => {
        if (!r.error && !equal(r.data, kept.body)) later(store.dispatch, path);
      });
    return { data: kept.body };
  }; // oxfmt-ignore
