import { solveElement, type ElementOutput, type Permeability } from '../membrane/element.ts';
import { restrictorFlowLDay, type Restrictor } from './restrictor.ts';

const { abs, max, min } = Math;

/** Relative miss of the flow at which a steady state counts as found. */
const FLOW_TOLERANCE = 1e-6;

/** What the house pushes with. pressure = static - resistance x flow^2 */
export interface Supply {
  /** gauge with nothing running, bar */
  readonly staticBar: number;
  /** bar per (L/min)^2 */
  readonly resistance: number;
}

/** A booster pump by its straight curve: boost = maxBoostBar (1 - flow / maxFlowLMin). */
export interface PumpCurve {
  readonly maxBoostBar: number;
  readonly maxFlowLMin: number;
  /** the pump stops itself below this inlet pressure, bar */
  readonly minInletBar: number;
}

/** How the system stops making water when the tank is full. */
export type ShutOff =
  | { readonly kind: 'four-port'; readonly closeRatio: number; readonly reopenRatio: number }
  | { readonly kind: 'pressure-switch'; readonly closeBar: number; readonly reopenBar: number };

/** The water of one moment. */
export interface FeedWater {
  readonly temperatureC: number;
  readonly tdsMgL: number;
  /** bar L/mg at this temperature */
  readonly osmoticBarPerMgL: number;
}

/** The feed side of a system as the hydraulics see it. */
export interface Train {
  readonly supply: Supply;
  /** set point of a pressure limiting valve, bar; null for none */
  readonly limiterBar: number | null;
  /** linear loss of pre-filters and housings as they are now, bar per L/min */
  readonly preFilterBarPerLMin: number;
  readonly pump: PumpCurve | null;
  readonly permeability: Permeability;
  readonly restrictor: Restrictor;
  readonly shutOff: ShutOff;
  /** loss over the non-return valve on the product, bar */
  readonly nonReturnBar: number;
}

/** The train at work against one pressure on its product side. */
export interface Working {
  /** after the limiting valve, before the pre-filters */
  readonly supplyBar: number;
  /** after the pre-filters, before a pump */
  readonly filteredBar: number;
  /** at the membrane's inlet */
  readonly inletBar: number;
  readonly out: ElementOutput;
}

/** Pressures along the feed side at a flow, bar, never below zero. */
export function feedPressures(t: Train, flowLMin: number): Pick<Working, 'supplyBar' | 'filteredBar' | 'inletBar'> {
  const raw = t.supply.staticBar - t.supply.resistance * flowLMin * flowLMin;
  const supplyBar = max(0, t.limiterBar === null ? raw : min(raw, t.limiterBar));
  const filteredBar = max(0, supplyBar - t.preFilterBarPerLMin * flowLMin);
  const boost =
    t.pump && filteredBar >= t.pump.minInletBar ? max(0, t.pump.maxBoostBar * (1 - flowLMin / t.pump.maxFlowLMin)) : 0;
  return { supplyBar, filteredBar, inletBar: filteredBar + boost };
}

/**
 * Steady state of the feed side against a product pressure: the flow at which what the element and the restrictor take
 * at the inlet pressure is what the supply brings there. Bracketed regula falsi (Illinois) on the flow, never fails.
 * @param productBar gauge pressure behind the non-return valve (the tank's), bar
 * @param near a solution for a pressure close by, to start from; it changes the effort, not the answer
 */
export function solveTrain(t: Train, water: FeedWater, productBar: number, near?: Working): Working {
  const at = (flowLMin: number): Working => {
    const p = feedPressures(t, flowLMin);
    const concentrateLDay = max(1e-6, restrictorFlowLDay(t.restrictor, p.inletBar, water.temperatureC));
    const out = solveElement(t.permeability, {
      feedPressureBar: p.inletBar,
      permeatePressureBar: productBar + t.nonReturnBar,
      temperatureC: water.temperatureC,
      tdsMgL: water.tdsMgL,
      osmoticBarPerMgL: water.osmoticBarPerMgL,
      concentrateLDay,
    });
    return { ...p, out };
  };
  const miss = (w: Working, flow: number): number => w.out.feedLDay / 1440 - flow;
  // the feed taken falls as the flow rises, so a flow and the feed taken there lie on either side of the root
  const first = near ? near.out.feedLDay / 1440 : 0;
  let w = at(first);
  const taken = w.out.feedLDay / 1440;
  if (abs(taken - first) <= FLOW_TOLERANCE * (1 + first)) return w;
  const missFirst = taken - first;
  w = at(taken);
  const missTaken = miss(w, taken);
  let low = min(first, taken);
  let high = max(first, taken);
  let missLow = taken > first ? missFirst : missTaken;
  let missHigh = taken > first ? missTaken : missFirst;
  if (abs(missTaken) <= FLOW_TOLERANCE * (1 + taken)) return w;
  for (let n = 0; n < 50; n++) {
    if (high - low < 1e-9) return w;
    const flow = min(high, max(low, (low * missHigh - high * missLow) / (missHigh - missLow)));
    w = at(flow);
    const m = miss(w, flow);
    if (abs(m) < FLOW_TOLERANCE * (1 + flow)) return w;
    if (m > 0) {
      low = flow;
      missLow = m;
      missHigh *= n > 0 ? 0.5 : 1;
    } else {
      high = flow;
      missHigh = m;
      missLow *= n > 0 ? 0.5 : 1;
    }
  }
  return w;
}

/** Tank pressure at which the system stops, bar: a share of the inlet's pressure, or the switch's own. */
export function closingBar(t: Train, water: FeedWater): number {
  if (t.shutOff.kind === 'pressure-switch') return t.shutOff.closeBar;
  let close = t.shutOff.closeRatio * feedPressures(t, 0).inletBar;
  let near: Working | undefined;
  for (let n = 0; n < 2; n++) {
    near = solveTrain(t, water, close, near);
    close = t.shutOff.closeRatio * near.inletBar;
  }
  return close;
}
