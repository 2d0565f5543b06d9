import { pressureAtWaterBar, waterAtPressureL, type AirTank, type VentedTank } from '../hydraulics/tank.ts';
import { reopenShare, type Train } from '../hydraulics/train.ts';
import { activated } from '../membrane/permeability.ts';
import { trainOfSystem } from '../system/inHouse.ts';
import { solve, type Solved } from '../system/solve.ts';
import type { HouseNow, SystemState } from '../system/state.ts';
import { tankIn, waterIn } from '../system/faulty.ts';
import { ofWork, partIn, type System } from '../system/system.ts';
import { usualHoldUp, type HoldUp } from '../system/membranes.ts';
import { FINE_MAP, makingAt, operatingMap, type OperatingMap } from './fill.ts';

const { exp, max, min } = Math;

/** How a whole system stands in time. */
export interface Moment {
  readonly seconds: number;
  readonly tankL: number;
  /** of salt in the tank, mg */
  readonly tankSaltMg: number;
  /** the shut-off, or the pump's switch, is open: it makes water */
  readonly making: boolean;
  /** the pump has stopped itself for want of inlet pressure; seconds until it tries again */
  readonly trippedS: number;
  /** behind the shut-off, before the membrane, bar */
  readonly feedSideBar: number;
  /** beside the membrane, mg/L */
  readonly productSideMgL: number;
  readonly feedSideMgL: number;
  /** of the hold-up that has yet to be pushed out by what is made, L */
  readonly heldL: number;
  readonly made: Made;
}

/** What has come of it since the beginning. */
export interface Made {
  readonly productL: number;
  readonly wasteL: number;
  readonly drawnL: number;
  readonly drawnMg: number;
  readonly starts: number;
  readonly makingS: number;
}

/** What a hand does, and what the house gives. */
export interface Inputs {
  /** outlets by component id, 0 shut to 1 open */
  readonly outlets: Readonly<Record<string, number>>;
  /** electricity; true if left out */
  readonly power?: boolean;
}

/** A system in a house, ready to be stepped: its fast tables, made from the solver. */
export interface Engine {
  readonly system: System;
  readonly house: HouseNow;
  readonly state: SystemState;
  readonly train: Train | null;
  readonly tank: AirTank | null;
  readonly vented: VentedTank | null;
  readonly map: OperatingMap | null;
  readonly closeL: number;
  readonly reopenL: number;
  readonly holdUp: HoldUp;
  readonly saltLDay: number;
  readonly powered: boolean;
  /** what outlets take, and open taps without a tank, by how they stand: solved once, kept with the engine */
  readonly drawn: Map<string, readonly Drawn[]>;
  readonly opened: Map<string, Solved>;
}

interface Drawn {
  readonly bar: number;
  readonly flowLMin: number;
}

/** A pump that was starved stands still this long before it tries again, and runs this long until it finds out, s. */
const TRIPPED_S = 30;
const FINDS_OUT_S = 2;
/** Water that a bar less lets go of behind a shut valve: housings and tubes give a little, L/bar. */
const GIVE_L_BAR = 0.004;
/** A step is cut where the tank would change by more than this share of its volume. */
const SHARE = 0.01;
const POINTS = 24;
/** A content this near to where a valve acts is there, L. */
const CLOSE_ENOUGH_L = 2e-6;

/**
 * Makes a system ready to be stepped.
 * @param state what is loaded and wrong with it; openings and contents of it are not read
 */
export function engineOf(system: System, house: HouseNow, state: SystemState = {}): Engine {
  const element = partIn(system, 'element');
  const stored = ofWork(system, 'stores')[0];
  const part = partIn(system, 'tank');
  const water = waterIn(house.water, state, system.components[1]?.id);
  const train = trainOfSystem(system, { ...house, water }, state);
  const tank = stored && part ? tankIn(part, state, stored.id) : null;
  const vented = partIn(system, 'vented-tank') ?? null;
  const map = train && (tank || vented) ? operatingMap(train, water, { ...FINE_MAP, points: 9 }) : null;
  const closeBar = map?.closeBar ?? 0;
  const count = ofWork(system, 'separates').length;
  const one = element ? (element.holdUp ?? usualHoldUp(element.rating)) : { productL: 0, feedL: 0 };
  return {
    system,
    house: { ...house, water },
    state,
    train,
    tank,
    vented,
    map,
    closeL: vented ? vented.volumeL : tank ? waterAtPressureL(tank, closeBar, house.airBar) : 0,
    reopenL: vented
      ? vented.volumeL - vented.floatDropL
      : tank && train
        ? waterAtPressureL(tank, closeBar * reopenShare(train), house.airBar)
        : 0,
    holdUp: { productL: count * one.productL, feedL: count * one.feedL },
    saltLDay: train ? activated(train.permeability, water.temperatureC).b * (train.permeability.inSeries ?? 1) : 0,
    powered: ofWork(system, 'switches').length > 0,
    drawn: new Map(),
    opened: new Map(),
  };
}

/** Where a system begins: its tank empty or at a content, nothing running yet. */
export function momentOf(e: Engine, tankL = 0): Moment {
  const fresh = e.map ? makingAt(e.map, e.map.closeBar / 2) : null;
  const product = fresh && fresh.permeate > 0 ? fresh.salt / fresh.permeate : 0;
  return {
    seconds: 0,
    tankL,
    tankSaltMg: tankL * product,
    making: tankL < e.closeL - CLOSE_ENOUGH_L && tankL <= e.reopenL,
    trippedS: 0,
    feedSideBar: 0,
    productSideMgL: product,
    feedSideMgL: e.house.water.tdsMgL,
    heldL: 0,
    made: { productL: 0, wasteL: 0, drawnL: 0, drawnMg: 0, starts: 0, makingS: 0 },
  };
}

/** What the outlets take at a tank pressure, L/min: solved at a few pressures for each way they stand, then read off. */
function drawLMin(e: Engine, outlets: Inputs['outlets'], bar: number): number {
  if (!(e.tank || e.vented) || Object.values(outlets).every((o) => o <= 0)) return 0;
  const key = JSON.stringify(outlets);
  const known = e.drawn.get(key) ?? drawTable(e, outlets);
  e.drawn.set(key, known);
  const top = known.at(-1)?.bar ?? 0;
  const x = top > 0 ? min(POINTS - 1e-9, max(0, (bar / top) * POINTS)) : 0;
  const a = known[Math.floor(x)];
  const b = known[Math.floor(x) + 1];
  return a && b ? a.flowLMin + (b.flowLMin - a.flowLMin) * (x - Math.floor(x)) : 0;
}

function drawTable(e: Engine, outlets: Inputs['outlets']): Drawn[] {
  const stored = ofWork(e.system, 'stores')[0];
  const { tank } = e;
  if (!stored) return [];
  const taken = (litres: number): number => {
    const tanks = { [stored.id]: { litres, tdsMgL: 0 } };
    const solved = solve(e.system, e.house, { ...e.state, tanks, opening: outlets, shut: true });
    return solved.outlets.reduce((s, o) => s + o.flowLMin, 0);
  };
  if (!tank) {
    const flowLMin = taken(1);
    return Array.from({ length: POINTS + 1 }, (_, i) => ({ bar: i / POINTS, flowLMin }));
  }
  const top = max(0.1, 1.2 * (e.map?.closeBar ?? 1));
  return Array.from({ length: POINTS + 1 }, (_, i) => {
    const bar = (top * i) / POINTS;
    const litres = waterAtPressureL(tank, bar, e.house.airBar);
    return { bar, flowLMin: litres <= 0 ? 0 : taken(litres) };
  });
}

/**
 * Lets time pass. Flows are quasi-steady; litres, salt, hold-up and the pressure behind a shut valve are moved, and the
 * step is cut where something happens: the shut-off closes or reopens, the tank runs empty, the hold-up has left, the pump
 * trips or tries again.
 * @param seconds above 0
 */
export function step(e: Engine, from: Moment, inputs: Inputs, seconds: number): Moment {
  let m = from;
  let left = seconds;
  for (let n = 0; left > 1e-9 && n < 100000; n++) {
    const next = e.tank || e.vented ? stepTank(e, m, inputs, left) : stepOpen(e, m, inputs, left);
    left -= next.seconds - m.seconds;
    m = next;
  }
  return m;
}

interface Rates {
  readonly product: number;
  readonly waste: number;
  readonly salt: number;
  readonly starved: boolean;
}
const STILL: Rates = { product: 0, waste: 0, salt: 0, starved: false };

/** What is made at a tank pressure, L/s and mg/s. */
function ratesAt(e: Engine, bar: number): Rates {
  if (!e.map) return STILL;
  const now = makingAt(e.map, bar);
  return {
    product: now.permeate / 86400,
    waste: now.concentrate / 86400,
    salt: now.salt / 86400,
    starved: e.map.points[0]?.starved ?? false,
  };
}

/** What stands beside the membrane after a stand: salt creeps through until both sides are alike. */
function creep(e: Engine, m: Moment, seconds: number): Pick<Moment, 'productSideMgL' | 'feedSideMgL'> {
  const { productL, feedL } = e.holdUp;
  if (productL <= 0) return m;
  const common = (productL * m.productSideMgL + feedL * m.feedSideMgL) / (productL + feedL);
  const gone = exp((-e.saltLDay / 86400) * (1 / productL + 1 / feedL) * seconds);
  return {
    productSideMgL: common - (common - m.productSideMgL) * gone,
    feedSideMgL: common - (common - m.feedSideMgL) * gone,
  };
}

/** Pressure behind a valve that has shut, as the restrictor lets it go. */
function fallen(e: Engine, bar: number, seconds: number): number {
  if (bar <= 0.01 || !e.train) return 0;
  const out = e.map?.points[0]?.out.concentrateLDay ?? 0;
  const at = e.map?.points[0]?.inletBar ?? 1;
  return bar * exp((-out / 86400 / at / GIVE_L_BAR) * seconds);
}

function stepTank(e: Engine, m: Moment, inputs: Inputs, left: number): Moment {
  const { tank } = e;
  const pressure = (litres: number): number => (tank ? pressureAtWaterBar(tank, litres, e.house.airBar) : 0);
  const bar = pressure(m.tankL);
  const power = inputs.power ?? true;
  const runs = m.making && m.trippedS <= 0 && (power || !e.powered);
  const at = (litres: number): { rates: Rates; drawing: number } => {
    const here = pressure(litres);
    const rates = runs ? ratesAt(e, here) : STILL;
    const draw = drawLMin(e, inputs.outlets, here) / 60;
    return { rates, drawing: m.tankL > 1e-9 ? draw : min(draw, rates.product) };
  };
  const start = at(m.tankL);
  const net = start.rates.product - start.drawing;
  const events = [
    left,
    (SHARE * (tank ?? e.vented ?? { volumeL: 1 }).volumeL) / max(1e-9, Math.abs(net)),
    runs && net > 0 ? (e.closeL - m.tankL) / net : Infinity,
    !m.making && net < 0 ? (m.tankL - e.reopenL) / -net : Infinity,
    net < 0 && m.tankL > 1e-9 ? m.tankL / -net : Infinity,
    runs && m.heldL > 0 ? m.heldL / max(1e-12, start.rates.product) : Infinity,
    m.trippedS > 0 ? m.trippedS : Infinity,
    start.rates.starved ? FINDS_OUT_S : Infinity,
  ].filter((t) => t > 1e-3);
  const dt = min(left, ...events);
  // at the middle of the step
  const { rates, drawing } = at(max(0, m.tankL + (net * dt) / 2));
  const product = rates.product * dt;
  const drawnL = drawing * dt;
  const tankL = max(0, m.tankL + product - drawnL);
  // what stood beside the membrane leaves before what is made fresh
  const held = min(m.heldL, product);
  const saltIn = held * m.productSideMgL + (product > 0 ? (1 - held / product) * rates.salt * dt : 0);
  const tds = m.tankL > 1e-9 ? m.tankSaltMg / m.tankL : rates.product > 0 ? rates.salt / rates.product : 0;
  const drawnMg = drawnL * tds;
  const making = runs ? tankL < e.closeL - CLOSE_ENOUGH_L : m.making || tankL <= e.reopenL + CLOSE_ENOUGH_L;
  const starts = making && !m.making;
  const fresh = rates.product > 0 ? rates.salt / rates.product : m.productSideMgL;
  return {
    seconds: m.seconds + dt,
    tankL,
    tankSaltMg: max(0, m.tankSaltMg + saltIn - drawnMg),
    making,
    trippedS: rates.starved ? TRIPPED_S : max(0, m.trippedS - dt),
    feedSideBar: runs ? (e.map?.points[0]?.inletBar ?? 0) : fallen(e, m.feedSideBar, dt),
    ...(runs ? { productSideMgL: m.heldL > product ? m.productSideMgL : fresh, feedSideMgL: concentrateSide(e, bar) } : creep(e, m, dt)),
    heldL: starts ? e.holdUp.productL : max(0, m.heldL - product),
    made: {
      productL: m.made.productL + product,
      wasteL: m.made.wasteL + rates.waste * dt,
      drawnL: m.made.drawnL + drawnL,
      drawnMg: m.made.drawnMg + drawnMg,
      starts: m.made.starts + (starts ? 1 : 0),
      makingS: m.made.makingS + (runs ? dt : 0),
    },
  };
} // oxfmt-ignore

/** What stands on the feed side as it stops: between feed and concentrate. */
function concentrateSide(e: Engine, bar: number): number {
  const points = e.map?.points ?? [];
  const i = e.map && e.map.closeBar > 0 ? Math.round((bar / e.map.closeBar) * (points.length - 1)) : 0;
  const out = points[max(0, min(points.length - 1, i))]?.out;
  return out ? (e.house.water.tdsMgL + out.concentrateTdsMgL) / 2 : e.house.water.tdsMgL;
}

/** Without a tank water is made, or let through, as it is drawn. */
function stepOpen(e: Engine, m: Moment, inputs: Inputs, left: number): Moment {
  const open = Object.values(inputs.outlets).some((o) => o > 0) && ((inputs.power ?? true) || !e.powered);
  if (!open) {
    return { ...m, seconds: m.seconds + left, making: false, feedSideBar: fallen(e, m.feedSideBar, left), ...creep(e, m, left) };
  }
  const key = JSON.stringify(inputs.outlets);
  const solved = e.opened.get(key) ?? solve(e.system, e.house, { ...e.state, opening: inputs.outlets });
  e.opened.set(key, solved);
  const flow = solved.productLMin / 60;
  const heldL = m.making ? m.heldL : e.holdUp.productL;
  const dt = heldL > 1e-9 && flow > 0 ? min(left, heldL / flow) : left;
  const litres = flow * dt;
  const tds = heldL > 1e-9 ? m.productSideMgL : solved.productTdsMgL;
  return {
    ...m,
    seconds: m.seconds + dt,
    making: true,
    feedSideBar: solved.inletBar,
    productSideMgL: heldL > litres + 1e-9 ? m.productSideMgL : solved.productTdsMgL,
    // rinsed as it stops the membrane stands in feed water, else in what stood along its channel
    feedSideMgL: e.powered ? e.house.water.tdsMgL : (e.house.water.tdsMgL + solved.concentrateTdsMgL) / 2,
    heldL: max(0, heldL - litres),
    made: {
      productL: m.made.productL + litres,
      wasteL: m.made.wasteL + (solved.concentrateLMin / 60) * dt,
      drawnL: m.made.drawnL + litres,
      drawnMg: m.made.drawnMg + litres * tds,
      starts: m.made.starts + (m.making ? 0 : 1),
      makingS: m.made.makingS + dt,
    },
  };
} // oxfmt-ignore
