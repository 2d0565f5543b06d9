import { lazyPart } from './lazyPart.ts';

/** The drawn cupboard, with what lets things be dragged about in it. */
export const CUPBOARD = lazyPart(() => import('../lenses/gauge/Cupboard.tsx'));
