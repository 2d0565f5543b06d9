import {
  changedBy,
  closing,
  solveTrain,
  type FeedWater,
  type Near,
  type Train,
  type Working,
} from '../hydraulics/train.ts';
import { SLICES } from '../membrane/channel.ts';
import type { ElementOutput } from '../membrane/element.ts';
import { SEA_LEVEL_BAR } from '../water/properties.ts';
import { pressureAtWaterBar, waterAtPressureL, type AirTank } from '../hydraulics/tank.ts';

const { floor, max, min } = Math;

/** After this long a fill is said never to end. */
export const LONGEST_FILL_MIN = 1440;

/** What the train makes against a range of product pressures, to be shared by every tank on it. */
export interface OperatingMap {
  readonly closeBar: number;
  readonly pressuresBar: readonly number[];
  readonly points: readonly Working[];
}

export interface FillPoint {
  readonly minutes: number;
  readonly waterL: number;
  readonly tankBar: number;
  readonly permeateLDay: number;
}

/** One fill of a tank from a content to shut-off. */
export interface Fill {
  readonly shuts: boolean;
  /** why it does not shut, or why it shuts without any water */
  readonly reason: 'closes-below-air-charge' | 'pressure-too-low' | 'longer-than-a-day' | null;
  readonly closeBar: number;
  readonly minutes: number;
  /** content at the end, L */
  readonly waterL: number;
  readonly madeL: number;
  readonly wasteL: number;
  /** made / (made + waste) over the whole fill */
  readonly fillRecovery: number;
  /** flow-weighted over what was made, mg/L */
  readonly tankTdsMgL: number;
  readonly lastDropTdsMgL: number;
  readonly curve: readonly FillPoint[];
}

/** How finely a map is made. */
interface Detail {
  readonly points: number;
  readonly slices: number;
}
/** Output against tank pressure is nearly straight: five points keep a fill's time within 0.5 %. */
export const FINE_MAP: Detail = { points: 5, slices: SLICES };
/** Enough to compare thousands of designs (within 1 % of the fine one); what is shown is worked out finely again. */
export const COARSE_MAP: Detail = { points: 4, slices: 5 };
/** Enough for the year's means of a search. */
export const COARSEST_MAP: Detail = { points: 3, slices: 4 };
const FILL_STEPS = 28;

/** Solves the train at a few product pressures from none to its closing pressure. */
export function operatingMap(t: Train, water: FeedWater, detail: Detail = FINE_MAP): OperatingMap {
  const { closeBar, near } = closing(t, water, detail.slices);
  const last = detail.points - 1;
  const pressuresBar = Array.from({ length: detail.points }, (_, i) => (closeBar * i) / last);
  const at = (i: number, beside?: Near): Working => solveTrain(t, water, pressuresBar[i] ?? 0, beside, detail.slices);
  const full = at(last, near);
  const open = at(0, changedBy(full, -closeBar, t));
  // what is made falls nearly straight from the one to the other
  const between = (i: number): Near => {
    const mix = (from: number, to: number): number => from + ((to - from) * i) / last;
    const permeateLDay = mix(open.out.permeateLDay, full.out.permeateLDay);
    return { inletBar: mix(open.inletBar, full.inletBar), out: { permeateLDay } };
  };
  const points = pressuresBar.map((_, i) => (i === 0 ? open : i === last ? full : at(i, between(i))));
  return { closeBar, pressuresBar, points };
}

export interface Making {
  readonly permeate: number;
  readonly concentrate: number;
  readonly salt: number;
}

/** Product, concentrate (L/day) and salt (mg/day) against a tank pressure, by straight lines between the map's points. */
export function makingAt(m: OperatingMap, pressureBar: number): Making {
  const last = m.points.length - 1;
  const x = m.closeBar > 0 ? min(last, max(0, (pressureBar / m.closeBar) * last)) : 0;
  const i = min(last - 1, floor(x));
  const f = x - i;
  const a = m.points[i]?.out;
  const b = m.points[i + 1]?.out;
  if (!a || !b) return { permeate: 0, concentrate: 0, salt: 0 };
  const mix = (u: number, v: number): number => u + (v - u) * f;
  return {
    permeate: mix(a.permeateLDay, b.permeateLDay),
    concentrate: mix(a.concentrateLDay, b.concentrateLDay),
    salt: mix(a.permeateLDay * a.permeateTdsMgL, b.permeateLDay * b.permeateTdsMgL),
  };
}

/**
 * Fills a tank by integrating what is made against the rising tank pressure, dt = dV / Q(p(V)), midpoint rule on equal
 * steps of content. The fill ends at the closing pressure, or is said never to end.
 */
function integrate(
  making: (tankBar: number) => Making,
  tank: AirTank,
  closeBar: number,
  fromL: number,
  atmosphereBar: number,
  maxMinutes: number,
  steps: number,
  wantCurve: boolean,
): Fill {
  const fullL = waterAtPressureL(tank, closeBar, atmosphereBar);
  const start = making(pressureAtWaterBar(tank, fromL, atmosphereBar));
  const base = { closeBar, waterL: fromL, madeL: 0, wasteL: 0, minutes: 0, fillRecovery: 0 };
  const tds0 = start.permeate > 0 ? start.salt / start.permeate : 0;
  if (fullL <= fromL + 1e-9) {
    const reason = fullL <= 0 ? ('closes-below-air-charge' as const) : null;
    return { ...base, shuts: true, reason, tankTdsMgL: tds0, lastDropTdsMgL: tds0, curve: [] };
  }
  const step = (fullL - fromL) / steps;
  let minutes = 0;
  let wasteL = 0;
  let salt = 0;
  let waterL = fromL;
  let lastDrop = tds0;
  const curve: FillPoint[] = [
    { minutes: 0, waterL, tankBar: pressureAtWaterBar(tank, fromL, atmosphereBar), permeateLDay: start.permeate },
  ];
  let reason: Fill['reason'] = null;
  for (let i = 0; i < steps; i++) {
    const now = making(pressureAtWaterBar(tank, waterL + step / 2, atmosphereBar));
    const dt = now.permeate > 1e-6 ? (step / now.permeate) * 1440 : Infinity;
    if (minutes + dt > maxMinutes) {
      reason = now.permeate > 1e-6 ? 'longer-than-a-day' : 'pressure-too-low';
      const left = maxMinutes - minutes;
      const made = Number.isFinite(dt) ? (step * left) / dt : 0;
      waterL += made;
      salt += now.permeate > 1e-6 ? made * (now.salt / now.permeate) : 0;
      wasteL += (now.concentrate * left) / 1440;
      minutes = maxMinutes;
      break;
    }
    minutes += dt;
    waterL += step;
    wasteL += (now.concentrate * dt) / 1440;
    lastDrop = now.salt / now.permeate;
    salt += step * lastDrop;
    if (!wantCurve) continue;
    const tankBar = pressureAtWaterBar(tank, waterL, atmosphereBar);
    curve.push({ minutes, waterL, tankBar, permeateLDay: making(tankBar).permeate });
  }
  const madeL = waterL - fromL;
  if (reason === null && steps > FILL_STEPS) {
    const end = making(closeBar);
    if (end.permeate > 0) lastDrop = end.salt / end.permeate;
  }
  return {
    shuts: reason === null,
    reason,
    closeBar,
    minutes,
    waterL,
    madeL,
    wasteL,
    fillRecovery: madeL + wasteL > 0 ? madeL / (madeL + wasteL) : 0,
    tankTdsMgL: madeL > 0 ? salt / madeL : tds0,
    lastDropTdsMgL: lastDrop,
    curve,
  };
}

/**
 * Fills a tank from a train's operating map.
 * @param fromL content at the start, L
 * @param wantCurve false where only the figures are wanted
 * @returns figures up to shut-off; where it never shuts, up to the content reached in the longest time allowed
 */
export function fillTank(
  map: OperatingMap,
  tank: AirTank,
  fromL = 0,
  atmosphereBar: number = SEA_LEVEL_BAR,
  maxMinutes: number = LONGEST_FILL_MIN,
  wantCurve = true,
): Fill {
  const making = (bar: number): Making => makingAt(map, bar);
  return integrate(making, tank, map.closeBar, fromL, atmosphereBar, maxMinutes, FILL_STEPS, wantCurve);
}

/** Steps of a fill that is solved anew at each of them. */
const FINE_STEPS = 240;

/** Fills a tank from any source that says what it makes against a tank pressure, solved at every step. */
export function fillFrom(
  at: (tankBar: number) => ElementOutput,
  tank: AirTank,
  closeBar: number,
  fromL: number,
  atmosphereBar: number,
  maxMinutes: number,
): Fill {
  const making = (bar: number): Making => {
    const o = at(bar);
    return { permeate: o.permeateLDay, concentrate: o.concentrateLDay, salt: o.permeateLDay * o.permeateTdsMgL };
  };
  return integrate(making, tank, closeBar, fromL, atmosphereBar, maxMinutes, FINE_STEPS, false);
}
