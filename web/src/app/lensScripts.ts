import { LENSES } from '@katharos/core';
import { api } from './api.ts';
import type { AppStore } from './store.ts';
import { startCore } from '../worker/useCore.ts';

/** Each lens comes when it is first opened. */
export const LENS_SCRIPTS = {
  gauge: () => import('../lenses/gauge/Gauge.tsx'),
  size: () => import('../lenses/size/Size.tsx'),
  plumb: () => import('../lenses/plumb/Plumb.tsx'),
  flush: () => import('../lenses/flush/Flush.tsx'),
  prove: () => import('../lenses/prove/Prove.tsx'),
  keep: () => import('../lenses/keep/Keep.tsx'),
} as const;

/** Where a page opens on a job, the job, its lens and the computation are fetched side by side, before anything is drawn. */
export function fetchAhead(pathname: string, store: AppStore): void {
  const [, jobs, id, last] = pathname.split('/');
  const lens = LENSES.find((l) => l === last);
  if (jobs !== 'jobs' || id === undefined || !lens) return;
  // the page asks the same when it is drawn, and finds the answer or the question under way
  void store.dispatch(api.endpoints.getJob.initiate(id, { subscribe: false }));
  void store.dispatch(api.endpoints.getShelf.initiate(null, { subscribe: false }));
  startCore();
  // what fails here fails again, and is told, where the lens is opened
  void LENS_SCRIPTS[lens]().catch(() => undefined);
}
