import { closingBar, solveTrain, type FeedWater, type Train, type Working } from '../hydraulics/train.ts';
import { SEA_LEVEL_BAR } from '../water/properties.ts';
import { pressureAtWaterBar, waterAtPressureL, type AirTank } from './tank.ts';

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
  /** why it does not shut */
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

/** Output against tank pressure is nearly straight: five points keep a fill's time within 0.5 %. */
const MAP_POINTS = 5;
const FILL_STEPS = 28;

/** Solves the train at a few product pressures from none to its closing pressure. */
export function operatingMap(t: Train, water: FeedWater): OperatingMap {
  const closeBar = closingBar(t, water);
  const pressuresBar = Array.from({ length: MAP_POINTS }, (_, i) => (closeBar * i) / (MAP_POINTS - 1));
  const points: Working[] = [];
  for (const p of pressuresBar) points.push(solveTrain(t, water, p, points.at(-1)));
  return { closeBar, pressuresBar, points };
}

interface Making {
  readonly permeate: number;
  readonly concentrate: number;
  readonly salt: number;
}

/** Product, concentrate (L/day) and salt (mg/day) against a tank pressure, by straight lines between the map's points. */
function makingAt(m: OperatingMap, pressureBar: number): Making {
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
 * Fills a tank by integrating the train against the rising tank pressure, dt = dV / Q(p(V)), midpoint rule on equal
 * steps of content. The fill ends at the closing pressure, or is said never to end.
 * @param fromL content at the start, L
 * @returns figures up to shut-off; where it never shuts, up to the last content the train still reaches within a day
 */
export function fillTank(
  map: OperatingMap,
  tank: AirTank,
  fromL = 0,
  atmosphereBar: number = SEA_LEVEL_BAR,
  maxMinutes: number = LONGEST_FILL_MIN,
): Fill {
  const fullL = waterAtPressureL(tank, map.closeBar, atmosphereBar);
  const start = makingAt(map, pressureAtWaterBar(tank, fromL, atmosphereBar));
  const base = { closeBar: map.closeBar, waterL: fromL, madeL: 0, wasteL: 0, minutes: 0, fillRecovery: 0 };
  const tds0 = start.permeate > 0 ? start.salt / start.permeate : 0;
  if (fullL <= fromL) {
    const reason = fullL <= 0 ? ('closes-below-air-charge' as const) : null;
    return { ...base, shuts: reason === null, reason, tankTdsMgL: tds0, lastDropTdsMgL: tds0, curve: [] };
  }
  const step = (fullL - fromL) / FILL_STEPS;
  let minutes = 0;
  let wasteL = 0;
  let salt = 0;
  let waterL = fromL;
  let lastDrop = tds0;
  const curve: FillPoint[] = [
    { minutes: 0, waterL, tankBar: pressureAtWaterBar(tank, fromL, atmosphereBar), permeateLDay: start.permeate },
  ];
  let reason: Fill['reason'] = null;
  for (let i = 0; i < FILL_STEPS; i++) {
    const now = makingAt(map, pressureAtWaterBar(tank, waterL + step / 2, atmosphereBar));
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
    const tankBar = pressureAtWaterBar(tank, waterL, atmosphereBar);
    curve.push({ minutes, waterL, tankBar, permeateLDay: makingAt(map, tankBar).permeate });
  }
  const madeL = waterL - fromL;
  return {
    shuts: reason === null,
    reason,
    closeBar: map.closeBar,
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
