import type { LossFactor } from './compile.ts';

/** Pre-filters in sizing are taken half way through their life. */
export const HALF_WAY = 0.5;

/** Pre-filters further apart than this while it makes water are changed, bar: practice says 0.7 to 1. */
export const FILTERS_APART_BAR = 0.7;

/**
 * Pressure loss of a cartridge against its clean one as it loads: doubled half way, three times at the end of its life.
 * @param load litres passed over litres of life, 0 to 2
 */
export function loadedLoss(load: number): number {
  return 1 + 2 * load;
}

/** What clogs, at a load; all else as new. */
export const atLoad =
  (load: number): LossFactor =>
  (_, effect) =>
    effect.does === 'loses' && effect.clogs ? loadedLoss(load) : 1;
