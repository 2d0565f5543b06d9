import { rootOfFalling } from '../quantity/root.ts';
import { pressureAtWaterBar } from '../hydraulics/tank.ts';
import {
  feedPressures,
  solveTrain,
  type FeedWater,
  type ShutOff,
  type Stretch,
  type Train,
  type Working,
} from '../hydraulics/train.ts';
import { both, wayDropBar, wayFlowLMin, type Way } from '../hydraulics/way.ts';
import type { Slice } from '../membrane/channel.ts';
import { pathsOf, stretchesOf, wayOf, type LossFactor, type Paths } from './compile.ts';
import {
  bypassLDay,
  factorIn,
  leakBackLMin,
  membraneIn,
  restrictorIn,
  supplyBehind,
  tankIn,
  waterIn,
} from './faulty.ts';
import { inSeries, permeabilityOf } from './membranes.ts';
import { severityOf, type HouseNow, type SystemState } from './state.ts';
import { ofWork, partIn, type Component, type System } from './system.ts';

const { abs, max, min } = Math;

/** What one membrane of several gives. */
export interface MembraneOut {
  readonly id: string;
  readonly permeateLMin: number;
  readonly permeateTdsMgL: number;
  /** leaving it along its channel */
  readonly onLMin: number;
  readonly onTdsMgL: number;
}

/** A steady state of a whole system. Flows in L/min, pressures in bar gauge. */
export interface Solved {
  readonly feedLMin: number;
  /** made by all membranes, whatever finds its way past them included; without a membrane what is drawn */
  readonly productLMin: number;
  readonly productTdsMgL: number;
  readonly concentrateLMin: number;
  readonly concentrateTdsMgL: number;
  /** out of the storage (negative where it fills) */
  readonly fromTankLMin: number;
  readonly tankBar: number;
  readonly tankTdsMgL: number;
  /** at the storage's tee, or where the product leaves the membrane's way without one */
  readonly teeBar: number;
  /** at the branch tee, or where the trunk ends */
  readonly forkBar: number;
  readonly outlets: readonly { readonly id: string; readonly flowLMin: number }[];
  /** what is drawn carries, mg/L */
  readonly drawnTdsMgL: number;
  /** before the membranes, bar */
  readonly inletBar: number;
  readonly working: Working | null;
  readonly membranes: readonly MembraneOut[];
  /** the pump takes more than the supply brings */
  readonly starved: boolean;
  readonly water: FeedWater;
  readonly factor: LossFactor;
}

/** A store as it stands. */
interface TankNow {
  readonly bar: number;
  readonly tdsMgL: number;
  readonly open: boolean;
  /** open to the air: the water passes it, filled from above and drawn from below */
  readonly vented: boolean;
}

/** What the solver needs of a system in a state: its ways and its membranes, as they are. */
interface Ready {
  readonly paths: Paths;
  readonly factor: LossFactor;
  readonly water: FeedWater;
  readonly feed: readonly Stretch[];
  readonly train: Train | null;
  readonly permeate: Way;
  readonly trunk: Way;
  readonly storage: Way;
  readonly outlets: readonly { readonly component: Component; readonly way: Way; readonly open: number }[];
  readonly tank: TankNow | null;
  readonly bypass: number;
}

const openOf = (state: SystemState, id: string | undefined, usual: number): number =>
  id === undefined ? usual : (state.opening?.[id] ?? usual);

/** How a system stops making water. */
export function shutOffIn(system: System): ShutOff {
  const pump = partIn(system, 'pump');
  if (pump) return { kind: 'pressure-switch', closeBar: pump.closeBar, reopenBar: pump.reopenBar };
  const valve = partIn(system, 'shut-off');
  return valve
    ? { kind: 'four-port', closeRatio: valve.closeRatio, reopenRatio: valve.reopenRatio, closeOffsetBar: valve.closeOffsetBar }
    : { kind: 'pressure-switch', closeBar: Infinity, reopenBar: Infinity };
} // oxfmt-ignore

/** The feed side of a system in a state, its non-return valve and permeate tubes left to the caller; null without a membrane. */
export function trainIn(system: System, house: HouseNow, state: SystemState, feed: readonly Stretch[]): Train | null {
  const membranes = ofWork(system, 'separates');
  const [first] = membranes;
  const restrictor = partIn(system, 'restrictor');
  if (first?.part?.kind !== 'element' || !restrictor) return null;
  const blockedAt = [...ofWork(system, 'restricts'), ...ofWork(system, 'ends')];
  const worst = (code: 'blocked' | 'open'): number => max(0, ...blockedAt.map((c) => severityOf(state, c.id, code)));
  const valve = system.components[0];
  const open = openOf(state, valve?.id, 1) * (1 - severityOf(state, valve?.id, 'half-shut'));
  return {
    supply: supplyBehind(house.supply, open),
    feed,
    permeability: inSeries(membraneIn(permeabilityOf(first.part.rating), state, first.id), membranes.length),
    restrictor: restrictorIn(restrictor.flow, worst('blocked'), worst('open')),
    shutOff: shutOffIn(system),
    permeatePump: partIn(system, 'permeate-pump') ?? null,
    nonReturnBar: 0,
  };
}

function ready(system: System, house: HouseNow, state: SystemState): Ready {
  const paths = pathsOf(system);
  const factor = factorIn(state);
  const held = state.inletBar;
  const feed = held === undefined ? stretchesOf(paths.feed, factor) : [];
  const supply = held === undefined ? house.supply : { staticBar: held, resistance: 0 };
  const train = trainIn(system, { ...house, supply }, state, feed);
  const [stored] = ofWork(system, 'stores');
  const content = stored ? state.tanks?.[stored.id] : undefined;
  return {
    paths,
    factor,
    water: waterIn(house.water, state, paths.feed[1]?.component.id),
    feed,
    train,
    permeate: wayOf(paths.permeate, factor),
    trunk: wayOf(paths.trunk, factor),
    storage: wayOf(paths.storage, factor),
    outlets: paths.outlets.flatMap((way) => {
      const component = way.at(-1)?.component;
      // the pump of a vented tank that has run empty stops itself
      const dry = stored?.part?.kind === 'vented-tank' && (content?.litres ?? 0) <= 0;
      return component ? [{ component, way: wayOf(way, factor), open: dry ? 0 : openOf(state, component.id, 0) }] : [];
    }),
    tank: stored ? tankNow(stored, state, house.airBar, content) : null,
    bypass: severityOf(state, ofWork(system, 'separates')[0]?.id, 'bypassed'),
  };
}

function tankNow(
  stored: Component,
  state: SystemState,
  airBar: number,
  content: { readonly litres: number; readonly tdsMgL: number } | undefined,
): TankNow | null {
  const { part } = stored;
  const open = openOf(state, stored.id, 1) > 0;
  if (part?.kind === 'vented-tank') return { bar: 0, tdsMgL: content?.tdsMgL ?? 0, open, vented: true };
  if (part?.kind !== 'tank') return null;
  const air = tankIn(part, state, stored.id);
  return {
    bar: max(0, pressureAtWaterBar(air, content?.litres ?? 0, airBar)),
    tdsMgL: content?.tdsMgL ?? 0,
    open,
    vented: false,
  };
}

const sum = (all: readonly number[]): number => all.reduce((s, x) => s + x, 0);

/** An outlet's way as far as it is open: a tap half open throttles four times as much. */
const openWay = ({ way, open }: Ready['outlets'][number]): Way => ({
  ...way,
  barPerLMin2: way.barPerLMin2 / (open * open),
});

/** Flow each open outlet takes from a pressure at the fork, L/min. */
function drawnAt(r: Ready, forkBar: number): number[] {
  return r.outlets.map((o) => (o.open <= 0 ? 0 : wayFlowLMin(openWay(o), max(0, forkBar), r.water.temperatureC)));
}

/** Pressure at the fork from one at the tee: what the trunk loses at what the outlets take there. */
function forkFrom(r: Ready, teeBar: number): { forkBar: number; flows: number[] } {
  const c = r.water.temperatureC;
  const lost = (q: number): number => wayDropBar(r.trunk, q, c);
  const still = max(0, teeBar - lost(0));
  const open = r.outlets.filter((o) => o.open > 0);
  const [only] = open;
  if (!only || still <= 0) return { forkBar: still, flows: r.outlets.map(() => 0) };
  if (open.length === 1) {
    const flow = wayFlowLMin(both(r.trunk, openWay(only)), teeBar, c);
    return { forkBar: max(0, teeBar - lost(flow)), flows: r.outlets.map((o) => (o === only ? flow : 0)) };
  }
  const left = (p: number): number => wayFlowLMin(r.trunk, teeBar - p, c) - sum(drawnAt(r, p));
  const forkBar = rootOfFalling(left, 0, still, 1e-9);
  return { forkBar, flows: drawnAt(r, forkBar) };
}

/** Out of the tank to a pressure at its tee, L/min; into it where that is higher than its own. */
function tankFlow(r: Ready, teeBar: number): number {
  if (!r.tank?.open) return 0;
  const over = r.tank.bar - teeBar;
  const flow = wayFlowLMin(r.storage, abs(over), r.water.temperatureC);
  return over >= 0 ? flow : -flow;
}

/**
 * What the membranes make against a pressure at the tee: the way there loses at what was made last, which the search for
 * the pressure brings along. @returns for a search, and to the end at the pressure found
 */
function makerOf(r: Ready): { at: (teeBar: number) => Working; settled: (teeBar: number) => Working } {
  const { train } = r;
  if (!train) throw new RangeError('a system without a membrane makes nothing');
  let last: Working | undefined;
  const at = (teeBar: number): Working => {
    const made = (last?.out.permeateLDay ?? 0) / 1440;
    const lost = wayDropBar(r.permeate, made, r.water.temperatureC);
    last = solveTrain({ ...train, nonReturnBar: lost }, r.water, teeBar, last);
    return last;
  };
  const settled = (teeBar: number): Working => {
    let w = at(teeBar);
    for (let n = 0; n < 4; n++) {
      const before = w.out.permeateLDay;
      w = at(teeBar);
      if (abs(w.out.permeateLDay - before) <= 1e-6 * before) break;
    }
    return w;
  };
  return { at, settled };
}

/** Where the pressure at the tee lies: about the tank's where there is one, else anywhere up to what the membranes push. */
function teeOf(balance: (teeBar: number) => number, r: Ready, highest: number): number {
  const bar = r.tank?.open ? r.tank.bar : null;
  if (bar !== null) {
    const [low, high] = [max(0, bar - 0.3), bar + 0.3];
    // what is left over at the end is the tank's own flow: a tenth of a millibar tells it
    if (balance(low) > 0 && balance(high) < 0) return rootOfFalling(balance, low, high, 1e-5);
  }
  return rootOfFalling(balance, 0, max(highest, bar ?? 0) + 1, 1e-8);
}

/**
 * Steady state of a system in a house: every flow and pressure at which what comes to each tee is what leaves it. Always
 * answers. With a tank the pressure at its tee is the tank's, less its own tube; without one it is the pressure at which
 * what the membranes give is what the outlets take.
 * @param state what is open, stored, loaded and wrong; the litres of an air tank within its volume
 */
export function solve(system: System, house: HouseNow, state: SystemState = {}): Solved {
  const r = ready(system, house, state);
  if (!r.train) return solveWithout(r, house, state, system);
  if (severityOf(state, ofWork(system, 'separates')[0]?.id, 'crossed') > 0) return crossed(r, r.train, system);
  const staysOpen = [...ofWork(system, 'shuts'), ...ofWork(system, 'switches')].some(
    (c) => severityOf(state, c.id, 'stays-open') > 0,
  );
  if (state.shut === true && !staysOpen) return standing(r, r.train, state, system);
  const make = makerOf(r);
  const extra = (w: Working, teeBar: number): number =>
    r.bypass > 0 && r.train ? bypassLDay(r.train.permeability, w.inletBar - teeBar, r.bypass) / 1440 : 0;
  const balance = (teeBar: number): number => {
    const w = make.at(teeBar);
    return w.out.permeateLDay / 1440 + extra(w, teeBar) + tankFlow(r, teeBar) - sum(forkFrom(r, teeBar).flows);
  };
  const highest = feedPressures(r.train, 0, r.water.temperatureC).inletBar / (r.train.permeatePump?.backShare ?? 1);
  const teeBar = r.tank?.vented === true ? 0 : teeOf(balance, r, highest);
  const w = make.settled(teeBar);
  return asSolved(r, w, teeBar, extra(w, teeBar), system);
}

/** Which slice of the channel belongs to which membrane, and what each gives. */
function membranesOf(r: Ready, w: Working, teeBar: number, system: System): MembraneOut[] {
  const { train } = r;
  const membranes = ofWork(system, 'separates');
  if (!train) return [];
  const note: Slice[] = [];
  const lost = wayDropBar(r.permeate, w.out.permeateLDay / 1440, r.water.temperatureC);
  solveTrain({ ...train, nonReturnBar: lost }, r.water, teeBar, w, undefined, note);
  const out = membranes.map(() => ({ water: 0, salt: 0 }));
  let area = 0;
  for (const s of note) {
    const at = out[min(out.length - 1, Math.floor(area + s.share / 2))];
    if (at) {
      at.water += s.waterLDay;
      at.salt += s.saltMgDay;
    }
    area += s.share;
  }
  // brought to the total, which the tolerance of the search leaves a hair apart
  const total = sum(out.map((o) => o.water));
  const scale = total > 0 ? w.out.permeateLDay / total : 0;
  let on = w.out.feedLDay;
  let salt = w.out.feedLDay * r.water.tdsMgL;
  return out.map((o, i) => {
    const last = i === out.length - 1;
    on = last ? w.out.concentrateLDay : on - scale * o.water;
    salt -= scale * o.salt;
    return {
      id: membranes[i]?.id ?? '',
      permeateLMin: (scale * o.water) / 1440,
      permeateTdsMgL: o.water > 0 ? o.salt / o.water : r.water.tdsMgL,
      onLMin: on / 1440,
      onTdsMgL: last ? w.out.concentrateTdsMgL : on > 0 ? salt / on : 0,
    };
  });
}

function asSolved(r: Ready, w: Working, teeBar: number, extraLMin: number, system: System): Solved {
  const { out } = w;
  const made = out.permeateLDay / 1440;
  const productLMin = made + extraLMin;
  const productTds = productLMin > 0 ? (made * out.permeateTdsMgL + extraLMin * r.water.tdsMgL) / productLMin : out.permeateTdsMgL;
  const { forkBar, flows } = forkFrom(r, teeBar);
  // what the balance leaves is the tank's: flow is conserved at its tee to rounding
  const fromTank = r.tank?.open ? sum(flows) - productLMin : 0;
  const drawn = sum(flows);
  const drawnTds = r.tank?.vented === true ? r.tank.tdsMgL : drawn > 0 && fromTank > 0 ? (productLMin * productTds + fromTank * (r.tank?.tdsMgL ?? 0)) / drawn : productTds;
  return {
    feedLMin: out.feedLDay / 1440 + extraLMin,
    productLMin,
    productTdsMgL: productTds,
    concentrateLMin: out.concentrateLDay / 1440,
    concentrateTdsMgL: out.concentrateTdsMgL,
    fromTankLMin: fromTank,
    tankBar: r.tank?.bar ?? 0,
    tankTdsMgL: r.tank?.tdsMgL ?? 0,
    teeBar,
    forkBar,
    outlets: r.outlets.map((o, i) => ({ id: o.component.id, flowLMin: flows[i] ?? 0 })),
    drawnTdsMgL: drawn > 0 ? drawnTds : (r.tank?.tdsMgL ?? productTds),
    inletBar: w.inletBar,
    working: w,
    membranes: membranesOf(r, w, teeBar, system),
    starved: w.starved,
    water: r.water,
    factor: r.factor,
  };
} // oxfmt-ignore

/** Shut by its valve or switch: nothing is made, what is drawn comes out of the tank, and a leaking valve lets it back. */
function standing(r: Ready, train: Train, state: SystemState, system: System): Solved {
  const back = system.components.find((c) => c.kind === 'non-return');
  const leak = leakBackLMin(severityOf(state, back?.id, 'leaks'), r.tank?.bar ?? 0);
  const teeBar = r.tank?.open && !r.tank.vented
    ? rootOfFalling((p) => tankFlow(r, p) - leak - sum(forkFrom(r, p).flows), 0, r.tank.bar, 1e-9)
    : 0;
  const { forkBar, flows } = forkFrom(r, teeBar);
  const tds = r.tank?.tdsMgL ?? 0;
  return {
    feedLMin: 0,
    productLMin: -leak,
    productTdsMgL: tds,
    concentrateLMin: leak,
    concentrateTdsMgL: tds,
    fromTankLMin: r.tank?.open ? sum(flows) + leak : 0,
    tankBar: r.tank?.bar ?? 0,
    tankTdsMgL: tds,
    teeBar,
    forkBar,
    outlets: r.outlets.map((o, i) => ({ id: o.component.id, flowLMin: flows[i] ?? 0 })),
    drawnTdsMgL: tds,
    inletBar: leak > 0 ? 0 : feedPressures(train, 0, r.water.temperatureC).filteredBar,
    working: null,
    membranes: ofWork(system, 'separates').map((c) => ({ id: c.id, permeateLMin: 0, permeateTdsMgL: tds, onLMin: leak, onTdsMgL: tds })),
    starved: false,
    water: r.water,
    factor: r.factor,
  };
} // oxfmt-ignore

/** Without a membrane: the supply pushes through filters, tubes and lamp to the open outlets. */
function solveWithout(r: Ready, house: HouseNow, state: SystemState, system: System): Solved {
  const valve = system.components[0];
  const supply = supplyBehind(house.supply, openOf(state, valve?.id, 1) * (1 - severityOf(state, valve?.id, 'half-shut')));
  const endBar = (q: number): number => feedPressures({ supply, feed: r.feed } as unknown as Train, q, r.water.temperatureC).inletBar;
  const taken = (q: number): number => sum(forkFrom(r, endBar(q)).flows);
  const flow = rootOfFalling((q) => taken(q) - q, 0, 60, 1e-9);
  const teeBar = endBar(flow);
  const { forkBar, flows } = forkFrom(r, teeBar);
  const tds = r.water.tdsMgL;
  const drawn = sum(flows);
  return {
    feedLMin: drawn,
    productLMin: drawn,
    productTdsMgL: tds,
    concentrateLMin: 0,
    concentrateTdsMgL: tds,
    fromTankLMin: 0,
    tankBar: 0,
    tankTdsMgL: 0,
    teeBar,
    forkBar,
    outlets: r.outlets.map((o, i) => ({ id: o.component.id, flowLMin: flows[i] ?? 0 })),
    drawnTdsMgL: tds,
    inletBar: teeBar,
    working: null,
    membranes: [],
    starved: false,
    water: r.water,
    factor: r.factor,
  };
} // oxfmt-ignore

/** Tubes crossed at the membrane: its concentrate runs to the tap, its product to the restrictor. */
function crossed(r: Ready, train: Train, system: System): Solved {
  const open = r.outlets.some((o) => o.open > 0);
  const out = (q: number): number => (open ? endOf(r, q) : feedPressures(train, 0, r.water.temperatureC).inletBar);
  const flow = open ? rootOfFalling((q) => feedPressures(train, q, r.water.temperatureC).inletBar - out(q), 0, 60, 1e-9) : 0;
  const inletBar = feedPressures(train, flow, r.water.temperatureC).inletBar;
  const w = solveTrain({ ...train, feed: [], supply: { staticBar: inletBar, resistance: 0 } }, r.water, 0);
  const made = w.out.permeateLDay / 1440;
  const tds = flow > 0 ? (flow * r.water.tdsMgL - made * w.out.permeateTdsMgL) / max(1e-9, flow - made) : w.out.concentrateTdsMgL;
  const { forkBar, flows } = forkFrom(r, inletBar);
  return {
    ...asSolved(r, { ...w, inletBar }, inletBar, 0, system),
    feedLMin: flow,
    productLMin: max(0, flow - made),
    productTdsMgL: tds,
    concentrateLMin: made,
    concentrateTdsMgL: w.out.permeateTdsMgL,
    fromTankLMin: 0,
    teeBar: inletBar,
    forkBar,
    outlets: r.outlets.map((o, i) => ({ id: o.component.id, flowLMin: flows[i] ?? 0 })),
    drawnTdsMgL: tds,
    inletBar,
  };
} // oxfmt-ignore

/** Pressure that carries a flow through trunk and outlets, bar. */
function endOf(r: Ready, q: number): number {
  const fork = rootOfFalling((p) => q - sum(drawnAt(r, p)), 0, 60, 1e-9);
  return fork + wayDropBar(r.trunk, q, r.water.temperatureC);
}
