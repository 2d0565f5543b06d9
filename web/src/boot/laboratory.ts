import { lazyPart } from './lazyPart.ts';

/** A laboratory's report taken in, with what reads its file. */
export const LABORATORY = lazyPart(() => import('../lenses/gauge/LabReport.tsx'));
