import { lazyPart } from './lazyPart.ts';

/** The sheet of each lens: its script comes when it is first opened, or once the page has nothing else to do. */
export const SHEETS = {
  gauge: lazyPart(() => import('../lenses/gauge/Gauge.tsx')),
  size: lazyPart(() => import('../lenses/size/Size.tsx')),
  plumb: lazyPart(() => import('../lenses/plumb/Plumb.tsx')),
  flush: lazyPart(() => import('../lenses/flush/Flush.tsx')),
  prove: lazyPart(() => import('../lenses/prove/Prove.tsx')),
  keep: lazyPart(() => import('../lenses/keep/Keep.tsx')),
} as const;
