import { kindRow } from '../parts/kinds.ts';
import type { Operating } from '../run/operate.ts';
import { branchOf, ofWork, tubesOf, type System } from '../system/system.ts';

const { ceil, exp, log, PI } = Math;

/** Water in a run of tube, L. @param boreMm inside diameter @param lengthM its length */
export const tubeLitres = (boreMm: number, lengthM: number): number => (PI / 4) * (boreMm / 1000) ** 2 * lengthM * 1000;

/**
 * What is left of something dissolved after a volume was emptied to a remainder and filled again, so many times over: each time
 * the remainder is mixed into the whole, c = c0 (r / (r + f))^n. @param remainderL left in it each time, L @param fillL let in, L
 * @returns share of the first concentration, 0 to 1. Worked value: 0.5 L left of 9.5 filled, twice: (0.5 / 10)^2 = 0.0025
 */
export const leftAfterFills = (remainderL: number, fillL: number, times: number): number =>
  fillL <= 0 ? 1 : (remainderL / (remainderL + fillL)) ** times;

/** Times a volume is emptied and filled until what was dissolved in it is so many times less. @param fold above 1 */
export function fillsFor(fold: number, remainderL: number, fillL: number): number {
  if (remainderL <= 0) return 1;
  const each = log((remainderL + fillL) / remainderL);
  return each <= 0 ? Infinity : ceil(log(fold) / each - 1e-9);
}

/**
 * What is left of something dissolved in a volume that water runs through, mixed all the while: c = c0 exp(-Q t / V). Housings one
 * after the other thin faster than one of their sum, so the sum errs on the long side.
 * @param litres of the volume, L @param flowLMin through it, L/min @returns share of the first concentration, 0 to 1
 */
export const leftAfterRun = (litres: number, flowLMin: number, minutes: number): number =>
  litres <= 0 ? 0 : exp((-flowLMin * minutes) / litres);

/** Minutes a volume is run through until what was dissolved in it is so many times less. @param fold above 1 */
export const minutesFor = (fold: number, litres: number, flowLMin: number): number =>
  flowLMin <= 0 ? Infinity : (log(fold) * litres) / flowLMin;

/** How a system rinses: its volumes, and what pouring a tank away or running the tap does. */
export interface Rinse {
  /** housings, tubes and what else holds water on the feed side, L */
  readonly feedL: number;
  /** the same from the membrane to the tap, without what is stored, L */
  readonly productL: number;
  /** what stays of a tank that is poured until it dribbles, with all between it and the tap, L; 0 without a store */
  readonly remainderL: number;
  /** what a fill lets in, L; 0 without a store */
  readonly fillL: number;
}

/** An air-charged tank gives all but about this share of what it held; a vented one all but what its pump cannot reach. */
const LEFT_IN_TANK = 0.03;
const LEFT_IN_VENTED_L = 0.5;

/** The volumes of a system that water is rinsed through. @param today its fill as it is today */
export function rinseOf(system: System, today: Pick<Operating, 'fill' | 'direct'>): Rinse {
  const held = (side: 'feed' | 'product'): number => {
    const mine = system.components.filter((c) => (branchOf(c) === 'feed') === (side === 'feed'));
    const tubes = tubesOf(system).filter((t) => (t.branch === 'feed') === (side === 'feed') && t.branch !== 'concentrate');
    return (
      mine.reduce((sum, c) => sum + (kindRow(c.kind).waterL ?? 0), 0) +
      tubes.reduce((sum, t) => sum + tubeLitres(t.boreMm, t.lengthM), 0)
    );
  };
  const [store] = ofWork(system, 'stores');
  const productL = held('product');
  const fillL = store && !today.direct ? today.fill.waterL : 0;
  const left = store?.part?.kind === 'vented-tank' ? LEFT_IN_VENTED_L : LEFT_IN_TANK * fillL;
  return { feedL: held('feed'), productL, remainderL: fillL > 0 ? left + productL : 0, fillL };
} // oxfmt-ignore
