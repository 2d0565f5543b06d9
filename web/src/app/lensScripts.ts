import { LENSES } from '@katharos/core';
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

/** Where a page opens on a job, its lens and the computation are fetched beside the job itself, not after it. */
export function fetchAhead(pathname: string): void {
  const lens = LENSES.find((l) => pathname.startsWith('/jobs/') && pathname.endsWith(`/${l}`));
  if (!lens) return;
  startCore();
  // what fails here fails again, and is told, where the lens is opened
  void LENS_SCRIPTS[lens]().catch(() => undefined);
}
