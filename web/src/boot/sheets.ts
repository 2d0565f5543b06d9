import { CHARTS } from './charts.ts';
import { CUPBOARD } from './cupboard.ts';
import { LABORATORY } from './laboratory.ts';
import { lazyPart } from './lazyPart.ts';
import { HOUSEHOLD, ROUNDS } from './rounds.ts';

/** The sheet of each lens: its script comes when it is first opened, or once the page has nothing else to do. */
export const SHEETS = {
  gauge: lazyPart(() => import('../lenses/gauge/Gauge.tsx')),
  size: lazyPart(() => import('../lenses/size/Size.tsx')),
  plumb: lazyPart(() => import('../lenses/plumb/Plumb.tsx')),
  flush: lazyPart(() => import('../lenses/flush/Flush.tsx')),
  prove: lazyPart(() => import('../lenses/prove/Prove.tsx')),
  keep: lazyPart(() => import('../lenses/keep/Keep.tsx')),
} as const;

/** Fetches what has not come yet, so that every part of a job opens at once, and where there is no signal too. */
export function fetchTheRest(): void {
  // what does not come now is asked for again where it is opened
  for (const part of [...Object.values(SHEETS), ...Object.values(CHARTS), CUPBOARD, LABORATORY, ROUNDS, HOUSEHOLD])
    part.fetch().catch(() => undefined);
}
