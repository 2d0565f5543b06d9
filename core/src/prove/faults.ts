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
import { PROOF_FIELDS, PROOF_KEYS, type ProofKey, type ProofReadings } from './fields.ts';
import { firstFlowLMin } from './signs.ts';
import {
  HEALTHY,
  SPREAD,
  SUSPECTS,
  type Look,
  type Model,
  type Prediction,
  type Sign,
  type Suspect,
} from './suspects.ts';

const { abs, exp, hypot, log, max, min } = Math;

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
function look(at: Reading, what: Look, model: Model, severity: number): Prediction {
  const { system, house } = at;
  const faults = faultsIn(system, model, severity);
  if (what === 'tank') return tankSigns(at, { faults });
  // with the feed shut nothing but what leaks back reaches the drain
  if (what === 'feed-off')
    return {
      drainFeedOffLMin: model.code === 'non-return' ? (look(at, 'full', model, severity).drainWhenFullLMin ?? 0) : 0,
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
  const held = what === 'running' && model.code !== 'crossed' ? { inletBar: at.inletBar } : {};
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

/** What is read of a tank with air in it. */
const OF_TANK: readonly Sign[] = ['tankAirBar', 'tankEmptiedL', 'tankFullBar', 'tapFlowLMin'];

/** Which looks the readings that were taken ask for. */
function looksFor(read: Prediction): Look[] {
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

/** How likely readings are where a prediction holds: the logarithm of their density, each sign by its own spread and the pen's error. */
function logDensity(read: Prediction, predicted: Prediction, meterError: number): number {
  let sum = 0;
  for (const k of Object.keys(SPREAD) as Sign[]) {
    const r = read[k];
    const e = predicted[k];
    if (r === undefined || e === undefined) continue;
    const sigma = sigmaOf(k, e, r, meterError);
    sum -= ((r - e) / sigma) ** 2 / 2 + log(sigma);
  }
  return sum;
}

/** One standard deviation of a sign where so much is predicted and so much was read. */
function sigmaOf(k: Sign, predicted: number, read: number, meterError: number): number {
  const { share, floor } = SPREAD[k];
  const pen = k === 'productTdsMgL' ? meterError : 0;
  return hypot(share, pen) * max(abs(predicted), 0.3 * abs(read)) + floor;
}

/** Severities tried of each fault: it is averaged over them, so that one that fits at a single severity is not preferred. */
const STEPS = 12;

/** What hardly shows before it is nearly all the way is tried there more closely. */
const LATE = 2.5;

/** A suspect against the readings: how likely they are with it, and what each severity would show. */
interface Tried {
  readonly f: Model;
  /** logarithm of prior times the readings' density, averaged over the severities */
  readonly weight: number;
  /** what each severity would show, with its share of that suspect */
  readonly shown: readonly { readonly severity: number; readonly predicted: Prediction; readonly share: number }[];
}

const meanLog = (logs: readonly number[]): number => {
  const top = max(...logs);
  return top + log(logs.reduce((s, l) => s + exp(l - top), 0) / logs.length);
};

/** Below this age a system is new work, days. */
const NEW_WORK_DAYS = 30;

/** Each suspect tried at every severity. @param looks the looks at the system that are worked out */
function tryAll(at: Reading, read: Prediction, looks: readonly Look[], asked: Circumstances): Tried[] {
  const { system } = at;
  const sound: Prediction = Object.assign(
    { chlorineMgL: BEHIND_CARBON_MGL },
    ...looks.map((l) => look(at, l, HEALTHY, 0)),
  ) as Prediction;
  const able = SUSPECTS.filter((f) => !f.in || Object.keys(faultsIn(system, f, 1)).length > 0);
  const isNew = asked.ageDays !== undefined && asked.ageDays < NEW_WORK_DAYS;
  return able.map((f) => {
    // what shows in none of the looks is as likely as before them
    const told = f.shows.some((l) => looks.includes(l)) || f.code === 'meter-off' || f.code === 'carbon-spent';
    const steps = told ? STEPS : 1;
    const tried = Array.from({ length: steps }, (_, i) => {
      const u = (i + 1) / steps;
      const severity = f.late === true ? 1 - (1 - u) ** LATE : u;
      const predicted = predict(at, f, severity, sound, looks);
      return { severity, predicted, log: logDensity(read, predicted, asked.meterError) };
    });
    const mean = meanLog(tried.map((t) => t.log));
    return {
      f,
      weight: log(f.prior * (isNew ? f.fresh : 1)) + mean,
      shown: tried.map((t) => ({ ...t, share: exp(t.log - mean) / steps })),
    };
  });
}

/** What is asked with the readings: the pen's error as a share; how long the system has worked, days, where that is known. */
export interface Circumstances {
  readonly meterError: number;
  readonly ageDays?: number | undefined;
}

const shares = (weights: readonly number[]): number[] => {
  const top = max(...weights);
  const total = weights.reduce((s, w) => s + exp(w - top), 0);
  return weights.map((w) => exp(w - top) / total);
};

/** The signs that were read. */
const signsIn = (r: ProofReadings): Prediction =>
  Object.fromEntries((Object.keys(SPREAD) as Sign[]).flatMap((k) => (r[k] === undefined ? [] : [[k, r[k]]])));

/**
 * Ranks what may be wrong: each fault is put into its component, the same solver works the system out at every severity,
 * and what would be read is compared with all that was; severities are averaged. One fault at a time.
 * @returns most likely first; empty where the needed readings are missing, or there is no membrane
 */
export function rankFaults(
  r: ProofReadings,
  system: System,
  site: Site,
  meterError: number,
  ageDays?: number,
): RankedFault[] {
  const at = readingOf(r, system, site);
  if (!at) return [];
  const read = signsIn(r);
  const tried = tryAll(at, read, looksFor(read), { meterError, ageDays });
  return ranked(tried);
}

function ranked(tried: readonly Tried[]): RankedFault[] {
  const likely = shares(tried.map((t) => t.weight));
  return tried
    .map(({ f, shown }, i) => {
      const best = shown.reduce((a, b) => (b.share > a.share ? b : a));
      return {
        code: f.code,
        name: f.name,
        likelihood: likely[i] ?? 0,
        severity: f.code === 'none' ? 0 : best.severity,
        predicted: best.predicted,
        check: f.check,
      };
    })
    .sort((a, b) => b.likelihood - a.likelihood || a.code.localeCompare(b.code));
}

/** A reading that was not taken yet, and what it is worth. */
export interface FurtherReading {
  readonly key: ProofKey;
  /** minutes it takes */
  readonly minutes: number;
  /** how much less is left to guess once it is read, bits, by what is likely now */
  readonly bits: number;
}

/** What readings say of a system, and what they leave open. */
export interface Diagnosis {
  readonly ranked: readonly RankedFault[];
  /** readings worth taking next, most for their minutes first */
  readonly next: readonly FurtherReading[];
  /** faults that none of the readings taken shows, with the reading that would */
  readonly notLookedAt: readonly { readonly code: Suspect; readonly name: string; readonly by: ProofKey }[];
}

/** Minutes each further reading takes, its walk and its wait. */
const MINUTES: Readonly<Partial<Record<Sign, number>>> = {
  chlorineMgL: 2,
  feedPressureBar: 3,
  drainFeedOffLMin: 4,
  drainWhenFullLMin: 6,
  tankAirBar: 12,
  tankEmptiedL: 10,
  tankFullBar: 6,
  tapFlowLMin: 3,
};
/** Which further reading shows what a look does. */
const SHOWN_BY: Readonly<Partial<Record<Look, Sign>>> = {
  full: 'drainWhenFullLMin',
  tank: 'tankAirBar',
  'feed-off': 'drainFeedOffLMin',
};
/** A reading worth less than this is not named, bits. */
const WORTH_BITS = 0.02;

const entropy = (p: readonly number[]): number => -p.reduce((s, x) => (x > 1e-12 ? s + x * Math.log2(x) : s), 0);

/**
 * Ranks what may be wrong and says which reading would tell most for its minutes: what is left to guess now, against what would be
 * left on average once it is read, each fault in turn taken as the truth at the severities that fit it.
 * @returns null where the needed readings are missing, or there is no membrane
 */
export function diagnose(r: ProofReadings, system: System, site: Site, asked: Circumstances): Diagnosis | null {
  const at = readingOf(r, system, site);
  if (!at) return null;
  const read = signsIn(r);
  const taken = looksFor(read);
  const stored = partIn(system, 'tank') !== undefined;
  const open = (Object.keys(MINUTES) as Sign[]).filter(
    (k) => read[k] === undefined && (stored || !OF_TANK.includes(k)),
  );
  const all: Look[] = [...new Set<Look>([...taken, 'full', 'feed-off', ...(stored ? (['tank'] as const) : [])])];
  const tried = tryAll(at, read, all, asked);
  const now = shares(tried.map((t) => t.weight));
  const left = entropy(now);
  const next = open.map((k): FurtherReading => {
    const minutes = MINUTES[k] ?? 5;
    return { key: k, minutes, bits: max(0, left - leftAfter(tried, now, k, asked)) };
  });
  const shown = (f: Model): boolean => f.shows.length === 0 || f.shows.some((l) => taken.includes(l));
  return {
    ranked: ranked(tried),
    next: next.filter((x) => x.bits >= WORTH_BITS).sort((a, b) => b.bits / b.minutes - a.bits / a.minutes),
    notLookedAt: tried.flatMap(({ f }) => {
      const by =
        f.code === 'carbon-spent'
          ? read.chlorineMgL === undefined
            ? 'chlorineMgL'
            : null
          : shown(f)
            ? null
            : f.code === 'after-tank'
              ? 'tapFlowLMin'
              : f.shows.flatMap((l) => SHOWN_BY[l] ?? [])[0];
      return by && (stored || !OF_TANK.includes(by)) ? [{ code: f.code, name: f.name, by }] : [];
    }),
  };
}

/** What is left to guess on average once a sign is read, bits. */
function leftAfter(tried: readonly Tried[], now: readonly number[], k: Sign, asked: Circumstances): number {
  // a suspect's figure at each of its severities, as likely as that severity is
  const density = (t: Tried, value: number): number =>
    t.shown.reduce((s, x) => {
      const e = x.predicted[k] ?? 0;
      const sigma = sigmaOf(k, e, value, asked.meterError);
      return s + (x.share * exp(-(((value - e) / sigma) ** 2) / 2)) / sigma;
    }, 0);
  return tried.reduce((sum, truth, i) => {
    const p = now[i] ?? 0;
    if (p < 1e-4) return sum;
    // the truth at a few of its severities stands for all of them
    return (
      sum +
      p *
        truth.shown.reduce((s, x) => {
          if (x.share < 0.02) return s;
          const value = x.predicted[k] ?? 0;
          const then = tried.map((t, j) => (now[j] ?? 0) * density(t, value));
          const total = then.reduce((a, b) => a + b, 0);
          return s + x.share * (total > 0 ? entropy(then.map((v) => v / total)) : 0);
        }, 0)
    );
  }, 0);
}
