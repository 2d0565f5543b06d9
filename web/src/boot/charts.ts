import { lazyPart } from './lazyPart.ts';

/** What is drawn with charts, which are as much script as all the rest. */
export const CHARTS = {
  size: lazyPart(() => import('../lenses/size/SizeCharts.tsx')),
  keep: lazyPart(() => import('../lenses/keep/Trend.tsx')),
} as const;
