import { feedWaterAt, supplyOf, type Site } from '../gauge/site.ts';
import { waterAtPressureL } from '../hydraulics/tank.ts';
import { closingBar } from '../hydraulics/train.ts';
import { wayDropBar } from '../hydraulics/way.ts';
import { tankIn } from '../system/faulty.ts';
import { outletOfSystem, trainOfSystem } from '../system/inHouse.ts';
import { kindRow } from '../parts/kinds.ts';
import { solve, type Solved } from '../system/solve.ts';
import { project } from '../system/project.ts';
import type { Fault, HouseNow, SystemState } from '../system/state.ts';
import { ofKind, ofWork, partIn, type System } from '../system/system.ts';
import { osmoticBarPerMgL, scaled } from '../water/composition.ts';
import { PROOF_FIELDS, PROOF_KEYS, type ProofReadings } from './fields.ts';
import { firstFlowLMin } from './signs.ts';
import { type Look, type Model, type Prediction, type Sign, type Suspect } from './suspects.ts';

const { max, min } = Math;

/** A tap that gives less than this only drips, L/min. */
const DRIPS_LMIN = 0.1;
/** Chlorine behind carbon that does its work, mg/L. */
export const BEHIND_CARBON_MGL = 0.02;

/** What is known of the moment a proof was read. */
export interface Reading {
  readonly system: System;
  readonly site: Site;
  readonly house: HouseNow;
  readonly inletBar: number;
  /** what the pen says of the product */
  readonly penMgL: number;
}

export function readingOf(r: ProofReadings, system: System, site: Site): Reading | null {
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
    penMgL: r.productTdsMgL ?? 0,
  };
} // oxfmt-ignore

/** A fault, and how far it has gone. */
export interface Gone {
  readonly f: Model;
  readonly severity: number;
}

/** Where a fault lies in a system. */
export function placesOf(system: System, { in: place }: Model): string[] {
  if (!place) return [];
  const [kind] = place;
  // a pump's switch does what a valve does elsewhere
  const at = kind === 'shut-off' ? [...ofWork(system, 'shuts'), ...ofWork(system, 'switches')] : ofKind(system, kind);
  return at.map((c) => c.id);
}

/** Faults as a state: each with the same severity in every component of its kind. */
export const faultsIn = (system: System, wrong: readonly Gone[]): Readonly<Record<string, Fault>> =>
  Object.fromEntries(
    wrong.flatMap(({ f, severity }) =>
      placesOf(system, f).map((id) => [id, { code: f.in?.[1] ?? 'clogged', severity }] as const),
    ),
  );

/** What a tank shows: litres out of it until the tap only drips, its pressure and the tap's flow while it is full, its air when it is empty. */
function tankSigns(at: Reading, state: SystemState): Prediction {
  const part = partIn(at.system, 'tank');
  const [stored] = ofWork(at.system, 'stores');
  const train = trainOfSystem(at.system, at.house, state);
  if (!part || !stored || !train) return {};
  const outlet = outletOfSystem(at.system, state);
  const tank = tankIn(part, state, stored.id);
  const { temperatureC } = at.house.water;
  const tankFullBar = closingBar(train, at.house.water);
  const fullL = waterAtPressureL(tank, tankFullBar, at.site.airBar);
  const dripsBar = wayDropBar(outlet, DRIPS_LMIN, temperatureC);
  return {
    tankFullBar,
    tapFlowLMin: firstFlowLMin(tank, outlet, tankFullBar, temperatureC, at.site.airBar),
    tankAirBar: tank.airChargeBar,
    tankEmptiedL: max(0, fullL - waterAtPressureL(tank, dripsBar, at.site.airBar)),
  };
}

/** Pressure where the feed reaches the first filter, bar. */
function beforeFilters({ system, house }: Reading, solved: Solved): number {
  const first = system.components.find((c) => kindRow(c.kind).flushed !== undefined);
  const { points } = project(system, solved, house);
  return points.find((p) => p.id === first?.id)?.pressureBar ?? solved.inletBar;
}

/** What each look at the system would show with a state's faults. */
export function look(at: Reading, what: Look, wrong: readonly Gone[]): Prediction {
  const { system, house } = at;
  const faults = faultsIn(system, wrong);
  const has = (code: Suspect): boolean => wrong.some((w) => w.f.code === code);
  if (what === 'tank') return tankSigns(at, { faults });
  // with the feed shut nothing but what leaks back reaches the drain
  if (what === 'feed-off')
    return {
      drainFeedOffLMin: has('non-return') ? (look(at, 'full', wrong).drainWhenFullLMin ?? 0) : 0,
    };
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
  const held = what === 'running' && !has('crossed') ? { inletBar: at.inletBar } : {};
  const s = solve(system, house, { faults, opening, ...held });
  return what === 'supplied'
    ? { membranePressureBar: s.inletBar, feedPressureBar: beforeFilters(at, s) }
    : {
        productFlowLMin: s.productLMin,
        productTdsMgL: s.productTdsMgL,
        concentrateFlowLMin: s.concentrateLMin,
        temperatureC: s.water.temperatureC,
      };
}

/** What each sign would read with what is wrong, from what a sound system shows and the looks that it changes. */
export function predict(at: Reading, wrong: readonly Gone[], sound: Prediction, looks: readonly Look[]): Prediction {
  const changed = looks.filter((l) => wrong.some((w) => w.f.shows.includes(l))).map((l) => look(at, l, wrong));
  // a second pen reads what the first did, but where the first is off
  let all: Prediction = Object.assign({}, sound, ...changed, { secondPenMgL: at.penMgL }) as Prediction;
  for (const { f, severity } of wrong) {
    if (f.code === 'meter-off')
      all = {
        ...all,
        productTdsMgL: (all.productTdsMgL ?? 0) * (1 + 2 * severity),
        secondPenMgL: at.penMgL / (1 + 2 * severity),
      };
    // spent, all of what the mains carry comes through, and that may be twice what was read
    if (f.code === 'carbon-spent')
      all = { ...all, chlorineMgL: max(BEHIND_CARBON_MGL, severity * 2 * max(0.2, at.site.chlorineMgL)) };
  }
  return all;
}

/** What is read of a tank with air in it. */
export const OF_TANK: readonly Sign[] = ['tankAirBar', 'tankEmptiedL', 'tankFullBar', 'tapFlowLMin'];

/** Which looks the readings that were taken ask for. */
export function looksFor(read: Prediction): Look[] {
  return [
    'running',
    'supplied',
    ...(read.drainWhenFullLMin === undefined ? [] : (['full'] as const)),
    ...(OF_TANK.some((k) => read[k] !== undefined) ? (['tank'] as const) : []),
    ...(read.drainFeedOffLMin === undefined ? [] : (['feed-off'] as const)),
  ];
}

/** Content of the tank as its shut-off closes, L. */
function fullLitres(at: Reading): number {
  const part = partIn(at.system, 'tank');
  const train = trainOfSystem(at.system, at.house, {});
  if (!part || !train) return 0;
  return waterAtPressureL(part, closingBar(train, at.house.water), at.site.airBar);
}
