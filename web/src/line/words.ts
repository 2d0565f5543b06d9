import { branchOf, formatNumber, type Component, type ProfilePoint } from '@katharos/core';

const BRANCH = {
  feed: 'on the feed',
  product: 'on the product',
  tank: 'off the tank tee',
  fridge: 'on a branch',
  concentrate: 'on the way to the drain',
} as const;

/** An element as a screen reader says it. */
export function elementWords(e: Component, p: ProfilePoint | undefined, mark: string | undefined): string {
  const figures = p
    ? `, ${formatNumber(p.pressureBar, 2)} bar, ${formatNumber(p.flowLMin, 2)} litres a minute, ${formatNumber(p.tdsMgL, 3)} milligrams a litre`
    : '';
  return `${e.slot} ${BRANCH[branchOf(e)]}${figures}${mark === undefined ? '' : `, ${mark}`}`;
}
