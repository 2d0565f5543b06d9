import {
  closingBar,
  diagnose,
  feedWaterAt,
  firstFlowLMin,
  kindRow,
  ofKind,
  ofWork,
  project,
  seeded,
  solve,
  SPREAD,
  SUSPECTS,
  supplyOf,
  systemInHouse,
  outletOfSystem,
  trainOfSystem,
  waterAtPressureL,
  type Fault,
  type HouseNow,
  type ProofReadings,
  type Sign,
  type Site,
  type Suspect,
  type System,
} from '../index.ts';

/** Normal with a mean of 0 and a deviation of 1. */
const normal = (next: () => number): number =>
  Math.sqrt(-2 * Math.log(Math.max(1e-12, next()))) * Math.cos(2 * Math.PI * next());

/** What is wrong, how far, and where it lies. */
export interface Truth {
  readonly code: Suspect;
  readonly severity: number;
}

/** Every suspect a system can have. */
export const suspectsOf = (system: System): Suspect[] =>
  SUSPECTS.filter((s) => !s.in || placesOf(system, s.in[0]).length > 0).map((s) => s.code);

const placesOf = (system: System, kind: string): string[] =>
  (kind === 'shut-off' ? [...ofWork(system, 'shuts'), ...ofWork(system, 'switches')] : ofKind(system, kind)).map(
    (c) => c.id,
  );

/** Errors of parts and instruments, one standard deviation: shares, bar and °C. */
const NOISE = {
  element: 0.08,
  passage: 0.12,
  restrictor: 0.05,
  jug: 0.03,
  pen: 0.02,
  barGauge: 0.1,
  thermometer: 0.7,
} as const;

/** What an installer would read on a system with a fault in it, all of it, each figure off as parts and instruments are. */
export function readWith(system: System, site: Site, truth: Truth, next: () => number, noisy = true): ProofReadings {
  const temperatureC = site.coldestC + (site.warmestC - site.coldestC) * next();
  const here: HouseNow = { supply: supplyOf(site, 'today'), water: feedWaterAt(site, temperatureC), airBar: site.airBar };
  const model = SUSPECTS.find((s) => s.code === truth.code);
  const faults: Record<string, Fault> = {};
  const [kind, code] = model?.in ?? [];
  if (kind !== undefined && code !== undefined)
    for (const id of placesOf(system, kind)) faults[id] = { code, severity: truth.severity };
  const stored = ofWork(system, 'stores').map((c) => c.id);
  const running = solve(system, here, { faults, opening: { ...Object.fromEntries(stored.map((id) => [id, 0])), tap: 1 } });
  const plant = systemInHouse(system, site, 'today');
  const error = (): number => (noisy ? normal(next) : 0);
  const off = (share: number): number => Math.max(0.2, 1 + share * error());
  const leaks = truth.code === 'non-return';
  const first = system.components.find((c) => kindRow(c.kind).flushed !== undefined);
  const before = project(system, running, here).points.find((p) => p.id === first?.id)?.pressureBar ?? running.inletBar;
  const crossed = truth.code === 'crossed';
  const pen = truth.code === 'meter-off' ? 1 + 2 * truth.severity : 1;
  const tank = plant?.tank;
  const litres = tank ? waterAtPressureL(tank, closingBar(plant.train, here.water), site.airBar) : 0;
  const full = tank ? solve(system, here, { faults, tanks: { tank: { litres, tdsMgL: 10 } }, shut: true }).concentrateLMin : 0;
  const faulty = trainOfSystem(system, here, { faults });
  const closes = faulty ? closingBar(faulty, here.water) : 0;
  const charge = tank ? tank.airChargeBar * (truth.code === 'air-charge' ? 1 - truth.severity : truth.code === 'overcharged' ? 1 + truth.severity : 1) : 0;
  // an element's own tolerance is none of tubes that are crossed
  const element = crossed ? 1 : off(NOISE.element);
  // what a membrane lets by is its own: both pens read it
  const passage = off(NOISE.passage);
  return {
    feedTdsMgL: site.tdsMgL * off(NOISE.pen),
    productTdsMgL: running.productTdsMgL * (crossed ? 1 : passage) * pen * off(NOISE.pen),
    temperatureC: Math.max(0.2, running.water.temperatureC + NOISE.thermometer * error()),
    membranePressureBar: Math.max(0, running.inletBar + NOISE.barGauge * error()),
    productFlowLMin: running.productLMin * element * off(NOISE.jug),
    concentrateFlowLMin: running.concentrateLMin * off(NOISE.restrictor) * off(NOISE.jug),
    secondPenMgL: running.productTdsMgL * (crossed ? 1 : passage) * off(NOISE.pen),
    chlorineMgL: truth.code === 'carbon-spent' ? truth.severity * Math.max(0.2, site.chlorineMgL) * off(0.1) : 0.02 * next(),
    feedPressureBar: Math.max(0, before + NOISE.barGauge * error()),
    ...(tank
      ? {
          drainWhenFullLMin: full * off(NOISE.jug),
          drainFeedOffLMin: leaks ? full * off(NOISE.jug) : 0,
          tankAirBar: Math.max(0, charge + 0.04 * error()),
          tankFullBar: Math.max(0, closes + 0.06 * error()),
          tapFlowLMin: firstFlowLMin({ ...tank, airChargeBar: charge }, outletOfSystem(system, { faults }), closes, here.water.temperatureC, site.airBar) * off(0.08),
        }
      : {}),
  };
} // oxfmt-ignore

/** The readings every proof has. */
const BASIC = ['feedTdsMgL', 'productTdsMgL', 'temperatureC', 'membranePressureBar', 'productFlowLMin', 'concentrateFlowLMin'] as const; // oxfmt-ignore
export const basicOf = (r: ProofReadings): ProofReadings => Object.fromEntries(BASIC.map((k) => [k, r[k]]));

/** Which truth was named first how often, over equal shares of every suspect. */
export interface Confusions {
  readonly codes: readonly Suspect[];
  /** truth -> named first -> times */
  readonly first: Readonly<Record<string, Readonly<Record<string, number>>>>;
  readonly trials: number;
  /** shares of all trials */
  readonly firstRight: number;
  readonly amongThree: number;
}

/** A fault that shows less than this in every figure is none that anybody comes for, standard deviations. */
const NOTICED = 2.5;

/** How far a fault must have gone to be noticed at all: drawn, and taken further until it shows in some figure. */
function truthOf(system: System, site: Site, code: Suspect, next: () => number): Truth {
  const level = (): number => 0.5;
  const sound = readWith(system, site, { code: 'none', severity: 0 }, level, false);
  let short = 0.6 * next();
  for (let i = 0; i < 20; i++) {
    const truth = { code, severity: 1 - short };
    const read = readWith(system, site, truth, level, false);
    const shows = (Object.keys(SPREAD) as Sign[]).some((k) => {
      const [r, e] = [read[k], sound[k]];
      if (r === undefined || e === undefined) return false;
      return Math.abs(r - e) > NOTICED * (SPREAD[k].share * e + SPREAD[k].floor);
    });
    if (shows || code === 'none') return truth;
    short *= 0.7;
  }
  return { code, severity: 1 };
}

/** Names faults over simulated truths. @param each trials of each truth @param readings which of those taken are used */
export function confusionsOf(
  system: System,
  site: Site,
  each: number,
  seed: number,
  readings: (r: ProofReadings) => ProofReadings = (r) => r,
  codes: readonly Suspect[] = suspectsOf(system),
): Confusions {
  const next = seeded(seed);
  const first: Record<string, Record<string, number>> = {};
  let right = 0;
  let three = 0;
  for (const code of codes)
    for (let i = 0; i < each; i++) {
      const truth = truthOf(system, site, code, next);
      const d = diagnose(readings(readWith(system, site, truth, next)), system, site, { meterError: 0.03 });
      const named = d?.ranked.map((f) => f.code) ?? [];
      const row = (first[code] ??= {});
      const top = named[0] ?? 'none';
      row[top] = (row[top] ?? 0) + 1;
      if (top === code) right++;
      if (named.slice(0, 3).includes(code)) three++;
    }
  const trials = codes.length * each;
  return { codes, first, trials, firstRight: right / trials, amongThree: three / trials };
}
