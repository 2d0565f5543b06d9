import { feedWaterAt, supplyOf, type Site } from '../gauge/site.ts';
import { waterAtPressureL } from '../hydraulics/tank.ts';
import { closingBar } from '../hydraulics/train.ts';
import { wayDropBar } from '../hydraulics/way.ts';
import { tankIn } from '../system/faulty.ts';
import { systemInHouse, trainOfSystem } from '../system/inHouse.ts';
import { solve } from '../system/solve.ts';
import type { Fault, FaultCode, HouseNow, SystemState } from '../system/state.ts';
import { ofKind, ofWork, partIn, type System } from '../system/system.ts';
import { osmoticBarPerMgL, scaled } from '../water/composition.ts';
import { PROOF_FIELDS, PROOF_KEYS, type ProofReadings } from './fields.ts';

const { abs, exp, log, max, min } = Math;

export type Suspect =
  | 'none'
  | 'bypass'
  | 'torn'
  | 'scaled'
  | 'restrictor-blocked'
  | 'restrictor-open'
  | 'pre-filter-clogged'
  | 'non-return'
  | 'shut-off'
  | 'air-charge'
  | 'crossed'
  | 'hot-feed'
  | 'carbon-spent'
  | 'meter-off';

/** A fault with how well it explains the readings. */
export interface RankedFault {
  readonly code: Suspect;
  readonly name: string;
  /** 0 to 1; all together make 1 */
  readonly likelihood: number;
  /** how far it would have gone, 0 to 1 */
  readonly severity: number;
  /** what would be read if it were so, beside what was read */
  readonly predicted: Readonly<Partial<Record<Sign, number>>>;
  readonly check: string;
}

/** The figures faults are told apart by. */
export type Sign =
  | 'productFlowLMin'
  | 'productTdsMgL'
  | 'concentrateFlowLMin'
  | 'membranePressureBar'
  | 'temperatureC'
  | 'chlorineMgL'
  | 'drainWhenFullLMin'
  | 'tankAirBar'
  | 'tankEmptiedL';

/** One standard deviation of each sign: parts and readings together; a share of the figure and a floor. */
const SPREAD: Readonly<Record<Sign, { share: number; floor: number }>> = {
  productFlowLMin: { share: 0.085, floor: 0.004 },
  productTdsMgL: { share: 0.2, floor: 1.5 },
  concentrateFlowLMin: { share: 0.08, floor: 0.01 },
  membranePressureBar: { share: 0.06, floor: 0.2 },
  temperatureC: { share: 0, floor: 3 },
  chlorineMgL: { share: 0, floor: 0.04 },
  drainWhenFullLMin: { share: 0.3, floor: 0.004 },
  tankAirBar: { share: 0.05, floor: 0.06 },
  tankEmptiedL: { share: 0.1, floor: 0.3 },
};

type Prediction = Partial<Record<Sign, number>>;

interface Model {
  readonly code: Suspect;
  readonly name: string;
  /** how common it is beside the others, before anything is read */
  readonly prior: number;
  readonly check: string;
  /** the component it lies in, by kind, and what is wrong with it; none where it lies in the reading */
  readonly in?: readonly [kind: string, code: FaultCode];
  /** which of the looks at the system it changes */
  readonly shows: readonly Look[];
}

/** Running with the tank shut, at the pressure that was read or from the supply; standing full; the tank by itself. */
type Look = 'running' | 'supplied' | 'full' | 'tank';

const HEALTHY: Model = {
  code: 'none',
  name: 'nothing: all as it should be',
  prior: 1,
  check: 'Nothing to do.',
  shows: [],
};
const SUSPECTS: readonly Model[] = [
  HEALTHY,
  {
    code: 'bypass',
    name: 'feed passes the membrane at an O-ring or the brine seal',
    prior: 0.25,
    check: 'Membrane out: O-rings, brine seal, product tube; seat it home and read again.',
    in: ['membrane', 'bypassed'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'torn',
    name: 'membrane torn or eaten by chlorine',
    prior: 0.15,
    check: 'Read chlorine after the carbon. A new membrane, and new carbon first.',
    in: ['membrane', 'torn'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'scaled',
    name: 'membrane scaled or fouled',
    prior: 0.2,
    check: 'Hardness and restrictor first; then a new membrane and less recovery.',
    in: ['membrane', 'scaled'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'restrictor-blocked',
    name: 'restrictor blocked, or the drain tube kinked',
    prior: 0.12,
    check: 'Follow the drain tube for a kink; blow the restrictor through or change it; read the drain again.',
    in: ['restrictor', 'blocked'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'restrictor-open',
    name: 'restrictor missing, bypassed or the wrong one',
    prior: 0.08,
    check: 'Read what stands on it; look for an open flush valve.',
    in: ['restrictor', 'open'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'pre-filter-clogged',
    name: 'pre-filter clogged',
    prior: 0.2,
    check: 'Pressure before and after the pre-filters while it runs; above 0.7 bar apart, change them.',
    in: ['sediment', 'clogged'],
    shows: ['supplied'],
  },
  {
    code: 'non-return',
    name: 'non-return valve leaks',
    prior: 0.06,
    check: 'Feed off: does the drain still drip? Then the tank empties backwards through it.',
    in: ['non-return', 'leaks'],
    shows: ['full'],
  },
  {
    code: 'shut-off',
    name: 'shut-off does not close',
    prior: 0.08,
    check: 'Tank full, feed on: the drain should stop. Air charge and pressure first, then the valve.',
    in: ['shut-off', 'stays-open'],
    shows: ['full'],
  },
  {
    code: 'air-charge',
    name: 'tank has lost its air',
    prior: 0.1,
    check: 'Tank empty and off the line: read the air, pump it up to its charge.',
    in: ['tank', 'airless'],
    shows: ['tank'],
  },
  {
    code: 'crossed',
    name: 'product and concentrate tubes crossed',
    prior: 0.03,
    check: 'Follow both tubes from the membrane housing: the product comes from the middle.',
    in: ['membrane', 'crossed'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'hot-feed',
    name: 'fed from the hot line, or hot water crosses a mixer',
    prior: 0.02,
    check: 'Shut it at once. Run both taps, feel, label; above 38 °C a membrane is ruined.',
    in: ['feed', 'hot'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'carbon-spent',
    name: 'carbon spent: chlorine reaches the membrane',
    prior: 0.1,
    check: 'Change the carbon before anything else, and read chlorine again.',
    in: ['carbon', 'spent'],
    shows: [],
  },
  {
    code: 'meter-off',
    name: 'the pen is off, or the samples stood',
    prior: 0.06,
    check: 'Rinse, check it in known water, run ten minutes, read both again.',
    shows: [],
  },
];

/** A tap that gives less than this only drips, L/min. */
const DRIPS_LMIN = 0.1;
/** Chlorine behind carbon that does its work, mg/L. */
const BEHIND_CARBON_MGL = 0.02;

/** What is known of the moment a proof was read. */
interface Reading {
  readonly system: System;
  readonly site: Site;
  readonly house: HouseNow;
  readonly inletBar: number;
}

function readingOf(r: ProofReadings, system: System, site: Site): Reading | null {
  if (PROOF_KEYS.some((k) => PROOF_FIELDS[k].needed && r[k] === undefined)) return null;
  if (ofWork(system, 'separates').length === 0) return null;
  const temperatureC = min(site.warmestC, max(site.coldestC, r.temperatureC ?? 25));
  const tdsMgL = max(1, r.feedTdsMgL ?? site.tdsMgL);
  const make = site.water.composition;
  const water = make.tdsMgL > 0 ? scaled(make, tdsMgL / make.tdsMgL) : make;
  const osmotic = make.tdsMgL > 0 ? osmoticBarPerMgL(water, temperatureC) : feedWaterAt(site, temperatureC).osmoticBarPerMgL;
  return {
    system,
    site,
    house: {
      supply: supplyOf(site, 'today'),
      water: { temperatureC, tdsMgL, osmoticBarPerMgL: osmotic },
      airBar: site.airBar,
    },
    inletBar: r.membranePressureBar ?? 0,
  };
} // prettier-ignore

/** Faults as a state: the same severity in every component of the kind. */
function faultsIn(system: System, model: Model, severity: number): Readonly<Record<string, Fault>> {
  if (!model.in) return {};
  const [kind, code] = model.in;
  // a pump's switch does what a valve does elsewhere
  const at = kind === 'shut-off' ? [...ofWork(system, 'shuts'), ...ofWork(system, 'switches')] : ofKind(system, kind);
  return Object.fromEntries(at.map((c) => [c.id, { code, severity }]));
}

/** Litres out of a full tank until the tap only drips, and the air in it when it is empty. */
function tankSigns(at: Reading, state: SystemState): Prediction {
  const part = partIn(at.system, 'tank');
  const [stored] = ofWork(at.system, 'stores');
  const plant = systemInHouse(at.system, at.site, 'today');
  const train = trainOfSystem(at.system, at.house, state);
  if (!part || !stored || !plant || !train) return {};
  const tank = tankIn(part, state, stored.id);
  const { temperatureC } = at.house.water;
  const fullL = waterAtPressureL(tank, closingBar(train, at.house.water), at.site.airBar);
  const dripsBar = wayDropBar(plant.outlet, DRIPS_LMIN, temperatureC);
  return {
    tankAirBar: tank.airChargeBar,
    tankEmptiedL: max(0, fullL - waterAtPressureL(tank, dripsBar, at.site.airBar)),
  };
}

/** What each look at the system would show with a state's faults. */
function look(at: Reading, what: Look, model: Model, severity: number): Prediction {
  const { system, house } = at;
  const faults = faultsIn(system, model, severity);
  if (what === 'tank') return tankSigns(at, { faults });
  const stored = ofWork(system, 'stores');
  if (what === 'full') {
    const tanks = Object.fromEntries(stored.map((c) => [c.id, { litres: fullLitres(at), tdsMgL: 0 }]));
    return { drainWhenFullLMin: solve(system, house, { faults, tanks, shut: true }).concentrateLMin };
  }
  const opening = {
    ...Object.fromEntries(ofKind(system, 'tap').map((c) => [c.id, 1])),
    ...Object.fromEntries(stored.map((c) => [c.id, 0])),
  };
  // flows are those at the pressure that was read; only crossed tubes change what that pressure means
  const held = what === 'running' && model.code !== 'crossed' ? { inletBar: at.inletBar } : {};
  const s = solve(system, house, { faults, opening, ...held });
  return what === 'supplied'
    ? { membranePressureBar: s.inletBar }
    : {
        productFlowLMin: s.productLMin,
        productTdsMgL: s.productTdsMgL,
        concentrateFlowLMin: s.concentrateLMin,
        temperatureC: s.water.temperatureC,
      };
}

/** What each sign would read with a fault in it, from what a sound system shows and the looks that the fault changes. */
function predict(at: Reading, model: Model, severity: number, sound: Prediction, looks: readonly Look[]): Prediction {
  const changed = model.shows.filter((l) => looks.includes(l)).map((l) => look(at, l, model, severity));
  const all: Prediction = Object.assign({}, sound, ...changed) as Prediction;
  const tds = all.productTdsMgL ?? 0;
  if (model.code === 'meter-off') return { ...all, productTdsMgL: tds * (1 + 2 * severity) };
  // spent, all of what the mains carry comes through, and that may be twice what was read
  if (model.code === 'carbon-spent')
    return { ...all, chlorineMgL: max(BEHIND_CARBON_MGL, severity * 2 * max(0.2, at.site.chlorineMgL)) };
  return all;
}

/** Which looks the readings that were taken ask for. */
function looksFor(read: Prediction): Look[] {
  return [
    'running',
    'supplied',
    ...(read.drainWhenFullLMin === undefined ? [] : (['full'] as const)),
    ...(read.tankAirBar === undefined && read.tankEmptiedL === undefined ? [] : (['tank'] as const)),
  ];
}

/** Content of the tank as its shut-off closes, L. */
function fullLitres(at: Reading): number {
  const part = partIn(at.system, 'tank');
  const train = trainOfSystem(at.system, at.house, {});
  if (!part || !train) return 0;
  return waterAtPressureL(part, closingBar(train, at.house.water), at.site.airBar);
}

/** Squared distance of a prediction from what was read, in standard deviations. */
function miss(read: Prediction, predicted: Prediction): number {
  let sum = 0;
  for (const [k, spread] of Object.entries(SPREAD) as [Sign, { share: number; floor: number }][]) {
    const r = read[k];
    const e = predicted[k];
    if (r === undefined || e === undefined) continue;
    const sigma = spread.share * max(abs(e), 0.3 * abs(r)) + spread.floor;
    sum += ((r - e) / sigma) ** 2;
  }
  return sum;
}

/** Severities tried of each fault. */
const STEPS = 12;

/**
 * Ranks what may be wrong: each fault is put into its component, the same solver works the system out at every severity,
 * and what would be read is compared with all that was. One fault at a time; two together show as the one that explains more.
 * @returns most likely first; empty where the needed readings are missing, or there is no membrane
 */
export function rankFaults(r: ProofReadings, system: System, site: Site, meterError: number): RankedFault[] {
  const at = readingOf(r, system, site);
  if (!at) return [];
  const read: Prediction = {};
  for (const k of Object.keys(SPREAD) as Sign[]) {
    const v = r[k];
    if (v !== undefined) read[k] = v;
  }
  const pen = 1 + meterError;
  const looks = looksFor(read);
  const sound: Prediction = Object.assign(
    { chlorineMgL: BEHIND_CARBON_MGL },
    ...looks.map((l) => look(at, l, HEALTHY, 0)),
  ) as Prediction;
  const able = SUSPECTS.filter((f) => !f.in || Object.keys(faultsIn(system, f, 1)).length > 0);
  const found = able.map((f) => {
    let best = { severity: 0, miss: Infinity, predicted: {} as Prediction };
    // what shows in none of the readings taken is as likely as before them
    const told = f.shows.some((l) => looks.includes(l)) || f.code === 'meter-off' || f.code === 'carbon-spent';
    const steps = told ? STEPS : 1;
    for (let i = 1; i <= steps; i++) {
      const severity = i / steps;
      const predicted = predict(at, f, severity, sound, looks);
      const m = miss(read, predicted) / pen;
      if (m < best.miss) best = { severity, miss: m, predicted };
    }
    return { f, best, weight: log(f.prior) - best.miss / 2 };
  });
  const top = max(...found.map((x) => x.weight));
  const total = found.reduce((s, x) => s + exp(x.weight - top), 0);
  return found
    .map(({ f, best, weight }) => ({
      code: f.code,
      name: f.name,
      likelihood: exp(weight - top) / total,
      severity: f.code === 'none' ? 0 : best.severity,
      predicted: best.predicted,
      check: f.check,
    }))
    .sort((a, b) => b.likelihood - a.likelihood || a.code.localeCompare(b.code));
}
