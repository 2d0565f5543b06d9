import { saltLDayAt } from '../membrane/permeability.ts';
import { pressureForFlowBar, type Outlet } from '../hydraulics/outlet.ts';
import { closingBar, solveTrain, type FeedWater, type Train, type Working } from '../hydraulics/train.ts';
import { firstGlassTds, tdsAfterStand, type Standing } from '../membrane/stand.ts';

const { abs, max } = Math;

/** A glass, L. */
export const GLASS_L = 0.25;
/** The stand that a first glass is judged after, h: a night. */
export const NIGHT_H = 8;

/** A system without a tank, running at its open tap. */
export interface DirectRun {
  /** product at the tap, L/min */
  readonly tapFlowLMin: number;
  readonly glassSeconds: number;
  /** on the product side behind the non-return valve: what filters, tube, rise and tap take, bar */
  readonly productBar: number;
  /** product pressure at which it stops once the tap is shut, bar */
  readonly closeBar: number;
  /** it still makes water against that pressure, so that it comes to a stop */
  readonly shuts: boolean;
  readonly working: Working;
  /** it flushes its membrane with feed water as it stops: by its electric valve, so only with power */
  readonly rinses: boolean;
  /** what stands beside the membrane once it has stopped */
  readonly standing: Standing;
  /** first glass after a night's stand, mg/L */
  readonly firstGlassTdsMgL: number;
  /** what stands on the product side after that night, mg/L */
  readonly afterNightTdsMgL: number;
}

/**
 * The steady state at the open tap: the product flow at which what the membrane makes against the way to the tap is what
 * that way lets through. What is made falls with the pressure against it and that pressure rises with the flow, so there
 * is one flow; it is bracketed and found by the secant, halving where that leaves the bracket.
 * @param holdUp beside the membrane, L, each above 0
 * @param slices of the channel; the element's own number if left out
 */
export function runDirect(
  train: Train,
  water: FeedWater,
  outlet: Outlet,
  holdUp: { readonly productL: number; readonly feedL: number },
  slices?: number,
): DirectRun {
  const barAt = (lMin: number): number => max(0, pressureForFlowBar(outlet, lMin, water.temperatureC));
  let working = solveTrain(train, water, barAt(0), undefined, slices);
  let low = 0;
  let high = working.out.permeateLDay / 1440;
  let flow = high;
  let lastFlow = 0;
  let lastMiss = high;
  for (let n = 0; n < 40 && high > 1e-9; n++) {
    working = solveTrain(train, water, barAt(flow), working, slices);
    const miss = working.out.permeateLDay / 1440 - flow;
    if (abs(miss) <= 1e-7 * high) break;
    if (miss > 0) low = flow;
    else high = flow;
    const slope = (miss - lastMiss) / (flow - lastFlow);
    lastFlow = flow;
    lastMiss = miss;
    const next = slope < 0 ? flow - miss / slope : low;
    flow = next > low && next < high ? next : 0.5 * (low + high);
  }
  const made = working.out.permeateLDay / 1440;
  const closeBar = closingBar(train, water, slices);
  const against = solveTrain(train, water, closeBar, working, slices);
  const rinses = train.feed.some((s) => s.pump !== null);
  const standing: Standing = {
    ...holdUp,
    productTdsMgL: working.out.permeateTdsMgL,
    // rinsed as it stops the membrane stands in feed water, else in what stood along its channel
    feedTdsMgL: rinses ? water.tdsMgL : (water.tdsMgL + working.out.concentrateTdsMgL) / 2,
    saltLDay: saltLDayAt(train.permeability, water.temperatureC),
  };
  return {
    tapFlowLMin: made,
    glassSeconds: made > 0 ? (60 * GLASS_L) / made : Infinity,
    productBar: barAt(made),
    closeBar,
    shuts: against.out.permeateLDay > 1,
    working,
    rinses,
    standing,
    firstGlassTdsMgL: firstGlassTds(standing, NIGHT_H, GLASS_L),
    afterNightTdsMgL: tdsAfterStand(standing, NIGHT_H),
  };
}
