import { lazyPart } from './lazyPart.ts';

/** The day, and what is asked of a household: a page that opens on a job begins without them. */
export const ROUNDS = lazyPart(() => import('../firm/rounds/Rounds.tsx'));
export const HOUSEHOLD = lazyPart(() => import('../firm/rounds/HouseholdDialog.tsx'));
