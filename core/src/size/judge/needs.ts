import type { Habit, Site } from '../../gauge/site.ts';
import type { HouseRules } from '../../rules/rules.ts';
import type { Operating } from '../../run/operate.ts';

const { max } = Math;

/**
 * Share by which a design may miss what was only guessed of a household before it does not do: a guess is not known closer.
 * What is missed costs points. What the household said is held to the letter.
 */
export const GUESS_SLACK = 0.15;

/** What a household needs of a system: what is wanted, and below what a design does not do. */
export interface Need {
  readonly wanted: number;
  readonly least: number;
}

/** Litres a day with the house rule's spare, litres in one draw, litres a minute at the tap. */
export function needsOf(
  site: Site,
  rules: Pick<HouseRules, 'spareCapacity'>,
): Readonly<Record<'litresADay' | 'drawL' | 'tapLMin', Need>> {
  const need = (wanted: number, habit: Habit): Need => ({
    wanted,
    least: site.guessed.includes(habit) ? (1 - GUESS_SLACK) * wanted : wanted,
  });
  return {
    litresADay: need(site.litresADay * rules.spareCapacity, 'litresADay'),
    drawL: need(site.largestDrawL, 'largestDrawL'),
    tapLMin: need(site.wantedTapFlowLMin, 'patience'),
  };
}

/** Shares by which a working design misses what is wanted, one after the other summed; 0 where it misses nothing. */
export function missedShare(w: Operating, site: Site, rules: Pick<HouseRules, 'spareCapacity'>): number {
  const { litresADay, drawL, tapLMin } = needsOf(site, rules);
  const short = (has: number, { wanted }: Need): number => max(0, 1 - has / wanted);
  return w.direct ? short(w.tapFlowLMin, tapLMin) : short(w.litresADay, litresADay) + short(w.usableL, drawL);
}
