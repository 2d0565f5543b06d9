import { temperatureFactor } from '../membrane/temperature.ts';
import type { Permeability } from '../membrane/permeability.ts';
import { SLICES, type Slice } from '../membrane/channel.ts';
import { solveWith, type ElementOutput } from '../membrane/element.ts';
import { restrictorFlowLDay, type Restrictor } from './restrictor.ts';
import { rootOfFalling } from '../quantity/root.ts';
import { wayDropBar, type Way } from './way.ts';

const { max, min } = Math;

/** Relative miss of the flow at which a steady state counts as found; where it is solved coarsely, far less than its slices cost. */
const FLOW_TOLERANCE = 1e-6;
const COARSE_TOLERANCE = 1e-5;

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
  | {
      readonly kind: 'four-port';
      readonly closeRatio: number;
      readonly reopenRatio: number;
      /** added to the share of the line's pressure, bar */
      readonly closeOffsetBar: number;
    }
  | { readonly kind: 'pressure-switch'; readonly closeBar: number; readonly reopenBar: number };

/** The water of one moment. */
export interface FeedWater {
  readonly temperatureC: number;
  readonly tdsMgL: number;
  /** bar L/mg at this temperature */
  readonly osmoticBarPerMgL: number;
}

/** A stretch of the feed side, and what acts on the pressure at its end. */
export interface Stretch {
  readonly way: Way;
  /** a limiting valve's set point, bar; null for none */
  readonly limitBar: number | null;
  readonly pump: PumpCurve | null;
}

/** The feed side of a system as the hydraulics see it. */
export interface Train {
  readonly supply: Supply;
  /** from the stop valve to the membrane, cut where a valve or a pump acts on the pressure; filters as they are now */
  readonly feed: readonly Stretch[];
  readonly permeability: Permeability;
  readonly restrictor: Restrictor;
  readonly shutOff: ShutOff;
  /** loss over the non-return valve on the product, bar */
  readonly nonReturnBar: number;
  /** from the membrane to where its product's pressure is told, the non-return valve left out; none if left out */
  readonly permeate?: Way | undefined;
  /** driven by the concentrate, it lifts the product into the tank; null for none */
  readonly permeatePump: PermeatePump | null;
}

/** A permeate pump: the membrane feels only a share of the tank's pressure, and the shut-off closes later. */
export interface PermeatePump {
  readonly backShare: number;
  readonly closeRatio: number;
  readonly reopenRatio: number;
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
  /** the pump would take more than the supply brings: it cuts out, starts and cuts out again */
  readonly starved: boolean;
}

/** What is made in a state close to the one that is looked for. */
export interface Near {
  readonly inletBar: number;
  readonly out: Pick<ElementOutput, 'permeateLDay'>;
}

/** Share of a change of the product's pressure that the membrane feels: the feed and its salt give the rest back. */
const FELT = 0.95;

/** About what is made once the product's pressure changes: it goes with the net pressure. */
export function changedBy(w: Working, bar: number, t: Pick<Train, 'permeatePump'>): Near {
  const { permeateLDay, netDrivingPressureBar: net } = w.out;
  const then = net - FELT * bar * (t.permeatePump?.backShare ?? 1);
  return {
    inletBar: w.inletBar,
    out: { permeateLDay: net > 0 && then > 0 ? (permeateLDay * then) / net : permeateLDay },
  };
}

/** Pressures along the feed side at a flow, bar, never below zero. */
export function feedPressures(
  t: Train,
  flowLMin: number,
  temperatureC: number,
): Pick<Working, 'supplyBar' | 'filteredBar' | 'inletBar'> {
  let bar = max(0, t.supply.staticBar - t.supply.resistance * flowLMin * flowLMin);
  let supplyBar = bar;
  let filteredBar = -1;
  for (const s of t.feed) {
    bar = max(0, bar - wayDropBar(s.way, flowLMin, temperatureC));
    if (s.limitBar !== null) {
      bar = min(bar, s.limitBar);
      supplyBar = bar;
    }
    if (s.pump) {
      filteredBar = bar;
      if (bar >= s.pump.minInletBar) bar += max(0, s.pump.maxBoostBar * (1 - flowLMin / s.pump.maxFlowLMin));
    }
  }
  return { supplyBar, filteredBar: filteredBar < 0 ? bar : filteredBar, inletBar: bar };
}

/** The booster pump of a train; null for none. */
export const pumpOf = (t: Train): PumpCurve | null => t.feed.find((s) => s.pump)?.pump ?? null;

/**
 * Steady state of the feed side against a product pressure: the flow at which what the elements and the restrictor take
 * at the inlet pressure is what the supply brings there. Never fails.
 * @param productBar gauge pressure behind the non-return valve (the tank's), bar
 * @param near what is made against a pressure close by, or beside another restrictor; it changes the effort, not the answer
 * @param note is filled with the slices of the channel
 */
export function solveTrain(
  t: Train,
  water: FeedWater,
  productBar: number,
  near?: Near,
  slices: number = SLICES,
  note?: Slice[],
): Working {
  const atRest = feedPressures(t, 0, water.temperatureC);
  let pressures = atRest;
  const letOut = (inletBar: number): number =>
    max(1e-6, restrictorFlowLDay(t.restrictor, inletBar, water.temperatureC));
  const pump = pumpOf(t);
  const pumpsAtRest = pump !== null && atRest.filteredBar >= pump.minInletBar;
  const { out, atEdge } = solveWith(
    t.permeability,
    {
      permeatePressureBar:
        productBar * (t.permeatePump?.backShare ?? 1) +
        t.nonReturnBar +
        onTheWay(t, water, productBar, atRest.inletBar),
      temperatureC: water.temperatureC,
      tdsMgL: water.tdsMgL,
      osmoticBarPerMgL: water.osmoticBarPerMgL,
    },
    (feedLDay) => {
      pressures = feedLDay === 0 ? atRest : feedPressures(t, feedLDay / 1440, water.temperatureC);
      return {
        feedPressureBar: pressures.inletBar,
        concentrateLDay: letOut(pressures.inletBar),
        beyond: pumpsAtRest && pressures.filteredBar < pump.minInletBar,
      };
    },
    {
      near: near && near.out.permeateLDay + letOut(near.inletBar),
      tolerance: slices < SLICES ? COARSE_TOLERANCE : FLOW_TOLERANCE,
      note,
      slices,
      ...(pumpsAtRest
        ? { edge: (beyond: number) => 1440 * cutOutLMin(t, pump, beyond / 1440, water.temperatureC) }
        : {}),
    },
  );
  return { ...pressures, out, starved: atEdge };
}

/** Share of what a membrane would make at the pressure at rest that it makes at work: feed, filters and salt take the rest. */
const AT_WORK = 0.75;

/**
 * Lost by the product on its way, bar, at about what will be made: some hundredths at most in a tank system, so that a flow
 * within a quarter serves (within 0.05 % of what is made).
 */
function onTheWay(t: Train, water: FeedWater, productBar: number, inletBar: number): number {
  if (!t.permeate) return 0;
  const p = t.permeability;
  const push = max(0, inletBar - productBar * (t.permeatePump?.backShare ?? 1) - water.osmoticBarPerMgL * water.tdsMgL);
  const made = AT_WORK * p.waterLDayBar * (p.inSeries ?? 1) * temperatureFactor(water.temperatureC) * push;
  return wayDropBar(t.permeate, made / 1440, water.temperatureC);
}

/** The highest flow at which the supply holds the pump's least inlet pressure, L/min: between none and one that does not. */
function cutOutLMin(t: Train, pump: PumpCurve, beyondLMin: number, temperatureC: number): number {
  const within = 1e-9 * beyondLMin;
  const edge = rootOfFalling(
    (flow) => feedPressures(t, flow, temperatureC).filteredBar - pump.minInletBar,
    0,
    beyondLMin,
    within,
  );
  // a hair below, so that the pump runs there whatever the flow is multiplied by on its way
  return max(0, edge - 2 * within);
}

/** Tank pressure at which the system stops, bar: a share of the inlet's pressure, or the switch's own. */
export const closingBar = (t: Train, water: FeedWater, slices?: number): number => closing(t, water, slices).closeBar;

/** The same, with what is made about there where it had to be worked out. */
export function closing(t: Train, water: FeedWater, slices?: number): { closeBar: number; near?: Near | undefined } {
  if (t.shutOff.kind === 'pressure-switch') return { closeBar: t.shutOff.closeBar };
  const ratio = t.permeatePump?.closeRatio ?? t.shutOff.closeRatio;
  const offset = t.shutOff.closeOffsetBar;
  let close = max(0, ratio * feedPressures(t, 0, water.temperatureC).inletBar + offset);
  let near: Near | undefined;
  for (let n = 0; n < 2; n++) {
    const against = close;
    const made = solveTrain(t, water, against, near, slices);
    close = max(0, ratio * made.inletBar + offset);
    near = changedBy(made, close - against, t);
  }
  return { closeBar: close, near };
}

/** Tank pressure at which it begins to make water again, as a share of the closing pressure, 0 to 1. */
export function reopenShare(t: Train): number {
  if (t.shutOff.kind === 'pressure-switch') return min(1, t.shutOff.reopenBar / t.shutOff.closeBar);
  const p = t.permeatePump ?? t.shutOff;
  return min(1, p.reopenRatio / p.closeRatio);
}

/** What a system is doing. */
export type TrainState = 'filling' | 'full and shut' | 'drawing while filling' | 'never shuts';

/**
 * The state at a tank pressure and a draw. A system whose product no longer rises before its closing pressure never shuts:
 * its drain runs on.
 * @param makes product against that pressure, L/min
 */
export function trainState(tankBar: number, closeBar: number, makesLMin: number, drawLMin: number): TrainState {
  if (tankBar >= closeBar) return 'full and shut';
  if (makesLMin <= 1e-6) return 'never shuts';
  return drawLMin > 0 ? 'drawing while filling' : 'filling';
}
