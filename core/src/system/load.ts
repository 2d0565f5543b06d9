import type { LossFactor } from './compile.ts';

/** Pre-filters in sizing are taken half way through their life. */
export const HALF_WAY = 0.5;

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
