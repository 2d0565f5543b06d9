import type { Site } from '../gauge/site.ts';
import { formatNumber } from '../quantity/format.ts';
import { partIn, type System } from '../system/system.ts';
import type { ProofKey, ProofReadings } from './fields.ts';

/** Flows so many times apart are of two units, not of two tubes. */
const APART = 40;
/** What is read of a house differs from what was gauged by more than this before it is asked about, °C and times. */
const WARMER_C = 4;
const STRONGER = 1.35;
/** A booster adds hardly more than this, bar. */
const BOOST_BAR = 7;
const PSI_BAR = 14.5038;

/**
 * What looks like a slip of the hand at the field it was typed into: a unit taken for another, a figure of another day. It asks and
 * refuses nothing. @returns a question for each reading that has one
 */
export function proofSlips(r: ProofReadings, system: System, site: Site): Partial<Record<ProofKey, string>> {
  const n = formatNumber;
  const out: Partial<Record<ProofKey, string>> = {};
  const { productFlowLMin: product, concentrateFlowLMin: drain, temperatureC, membranePressureBar, feedPressureBar } = r;
  if (product !== undefined && drain !== undefined && product > 0 && drain > 0) {
    const small: ProofKey = product < drain ? 'productFlowLMin' : 'concentrateFlowLMin';
    const [low, high] = [Math.min(product, drain), Math.max(product, drain)];
    if (high > APART * low)
      out[small] = `${n(1000 * low, 2)} mL/min beside ${n(1000 * high, 2)}: are both in the same unit?`;
  }
  if (r.feedTdsMgL !== undefined && r.productTdsMgL !== undefined && r.productTdsMgL >= r.feedTdsMgL)
    out.productTdsMgL = 'Saltier than the feed: are the two samples swapped?';
  if (temperatureC !== undefined && (temperatureC < site.coldestC - WARMER_C || temperatureC > site.warmestC + WARMER_C))
    out.temperatureC = `This house has ${n(site.coldestC, 2)} to ${n(site.warmestC, 2)} °C: is it of the running feed, and of today?`;
  const most = STRONGER * site.highestBar + (partIn(system, 'pump') ? BOOST_BAR : 0);
  const [pressures, supply] = [{ membranePressureBar, feedPressureBar }, STRONGER * site.highestBar];
  for (const [k, bar] of Object.entries(pressures) as [ProofKey, number | undefined][]) {
    const limit = k === 'feedPressureBar' ? supply : most;
    if (bar !== undefined && bar > limit)
      out[k] = `More than this house can push: was it ${n(bar, 3)} psi, which are ${n(bar / PSI_BAR, 2)} bar?`;
  }
  if (membranePressureBar !== undefined && feedPressureBar !== undefined && !partIn(system, 'pump') && membranePressureBar > feedPressureBar + 0.3)
    out.feedPressureBar = 'Less than behind the filters, and no pump between them: are the two swapped?';
  return out;
} // oxfmt-ignore
