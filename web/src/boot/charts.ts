import { late } from './late.ts';

/** What is drawn with charts, which are as much script as all the rest. */
export const CHARTS = {
  size: late(() => import('../lenses/size/SizeCharts.tsx')),
  keep: late(() => import('../lenses/keep/Trend.tsx')),
} as const;
