import { siteFrom } from '../../gauge/site.ts';
import type { Design } from '../../system/design.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import { doesIn, livedIn, runIn, truthsOf } from './truths.ts';

const { floor, min } = Math;

/** Where a figure lies in nine of ten draws, and in the middle one. */
export interface Band {
  readonly low: number;
  readonly middle: number;
  readonly high: number;
}

/** What a design comes to when readings and parts are what they may be. */
export interface Bands {
  readonly draws: number;
  /** share of the draws in which the design does, 0 to 1 */
  readonly holds: number;
  readonly litresADay: Band;
  readonly fillMinutes: Band;
  readonly tankTdsMgL: Band;
  readonly wasteRatio: Band;
  readonly usableL: Band;
  readonly tapFlowLMin: Band;
}

function band(values: number[]): Band {
  const sorted = values.sort((a, b) => a - b);
  const at = (p: number): number => sorted[min(sorted.length - 1, floor(p * sorted.length))] ?? 0;
  return { low: at(0.05), middle: at(0.5), high: at(0.95) };
}

/**
 * Draws readings and parts at random within their errors and works the design out for each.
 * @param draws 500 or more for steady bands
 * @param seed the same seed gives the same bands
 * @returns null where the house is not known well enough to size
 */
export function bandsOf(input: SizeInput, design: Design, draws = 500, seed = 1): Bands | null {
  const result = siteFrom(input.known, input.rules, input.placed);
  if (!result.ok) return null;
  const { site, assumed } = result;
  const kept = {
    litres: [] as number[],
    minutes: [] as number[],
    tds: [] as number[],
    waste: [] as number[],
    usable: [] as number[],
    tap: [] as number[],
  };
  let holds = 0;
  for (const t of truthsOf(input, site, assumed, draws, seed)) {
    const run = runIn(t, design, input.catalogue);
    const o = run.worst;
    const lived = livedIn(t, run);
    if (doesIn(t, run, lived.tdsMgL, design, input)) holds++;
    kept.litres.push(o.litresADay);
    kept.minutes.push(o.fill.minutes);
    kept.tds.push(lived.tdsMgL);
    kept.waste.push(Number.isFinite(lived.wasteRatio) ? lived.wasteRatio : 1000);
    kept.usable.push(o.usableL);
    kept.tap.push(o.tapFlowLMin);
  }
  return {
    draws,
    holds: holds / draws,
    litresADay: band(kept.litres),
    fillMinutes: band(kept.minutes),
    tankTdsMgL: band(kept.tds),
    wasteRatio: band(kept.waste),
    usableL: band(kept.usable),
    tapFlowLMin: band(kept.tap),
  };
}
