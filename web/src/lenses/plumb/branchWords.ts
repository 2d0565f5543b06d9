import type { Branch } from '@katharos/core';

/** What a tube carries, in words. */
export const BRANCH_WORD: Readonly<Record<Branch, string>> = {
  feed: 'feed',
  product: 'product',
  tank: 'to the tank',
  fridge: 'on a branch',
  concentrate: 'to the drain',
};
