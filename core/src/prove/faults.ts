import type { Permeability } from '../membrane/permeability.ts';
import type { Site } from '../gauge/site.ts';
import { feedPressures } from '../hydraulics/train.ts';
import { restrictorFlowLDay } from '../hydraulics/restrictor.ts';
import { inSeries, permeabilityOf } from '../system/membranes.ts';
import { plantIn } from '../system/plant.ts';
import { ofWork, partIn, type System } from '../system/system.ts';
import { solveElement, type ElementOutput } from '../membrane/element.ts';
import { waterAtPressureL } from '../hydraulics/tank.ts';
import { conditionsOf, type Conditions } from './verdict.ts';
import type { ProofReadings } from './fields.ts';

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

type Prediction = Partial<Record<Sign, number>>;

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

interface Model {
  readonly code: Suspect;
  readonly name: string;
  /** how common it is beside the others, before anything is read */
  readonly prior: number;
  readonly check: string;
  /** readings there would be at a severity from 0 (nothing) to 1 (all the way) */
  readonly at: (severity: number, house: House) => Prediction;
}

/** What a healthy system would show here, and the means to work out a sick one. */
interface House {
  readonly healthy: Prediction;
  readonly solve: (change: { a?: number; b?: number; concentrateShare?: number }) => ElementOutput;
  readonly restrictorLMin: number;
  readonly feedTds: number;
}

const flows = (o: ElementOutput): Prediction => ({
  productFlowLMin: o.permeateLDay / 1440,
  productTdsMgL: o.permeateTdsMgL,
  concentrateFlowLMin: o.concentrateLDay / 1440,
});

const FAULTS: readonly Model[] = [
  { code: 'none', name: 'nothing: all as it should be', prior: 1, check: 'Nothing to do.', at: (_, h) => h.healthy },
  {
    code: 'bypass',
    name: 'feed passes the membrane at an O-ring or the brine seal',
    prior: 0.25,
    check: 'Membrane out: O-rings, brine seal, product tube; seat it home and read again.',
    at: (s, h) => {
      const o = h.solve({});
      const leak = o.permeateLDay * s * s;
      return {
        ...h.healthy,
        ...flows(o),
        productFlowLMin: (o.permeateLDay + leak) / 1440,
        productTdsMgL: (o.permeateLDay * o.permeateTdsMgL + leak * h.feedTds) / (o.permeateLDay + leak),
      };
    },
  },
  {
    code: 'torn',
    name: 'membrane torn or eaten by chlorine',
    prior: 0.15,
    check: 'Read chlorine after the carbon. A new membrane, and new carbon first.',
    at: (s, h) => ({ ...h.healthy, ...flows(h.solve({ a: 1 + 0.8 * s, b: 1 + 12 * s })) }),
  },
  {
    code: 'scaled',
    name: 'membrane scaled or fouled',
    prior: 0.2,
    check: 'Hardness and restrictor first; then a new membrane and less recovery.',
    at: (s, h) => ({ ...h.healthy, ...flows(h.solve({ a: max(0.05, 1 - 0.9 * s), b: 1 + 1.5 * s })) }),
  },
  {
    code: 'restrictor-blocked',
    name: 'restrictor blocked',
    prior: 0.12,
    check: 'Blow it through or change it; read the drain again.',
    at: (s, h) => ({ ...h.healthy, ...flows(h.solve({ concentrateShare: max(0.02, 1 - s) })) }),
  },
  {
    code: 'restrictor-open',
    name: 'restrictor missing, bypassed or the wrong one',
    prior: 0.08,
    check: 'Read what stands on it; look for an open flush valve.',
    at: (s, h) => ({ ...h.healthy, ...flows(h.solve({ concentrateShare: 1 + 4 * s })) }),
  },
  {
    code: 'pre-filter-clogged',
    name: 'pre-filter clogged',
    prior: 0.2,
    check: 'Pressure before and after the pre-filters while it runs; above 0.7 bar apart, change them.',
    at: (s, h) => ({ ...h.healthy, membranePressureBar: (h.healthy.membranePressureBar ?? 0) * (1 - 0.9 * s) }),
  },
  {
    code: 'non-return',
    name: 'non-return valve leaks',
    prior: 0.06,
    check: 'Feed off: does the drain still drip? Then the tank empties backwards through it.',
    at: (s, h) => ({ ...h.healthy, drainWhenFullLMin: 0.05 * s }),
  },
  {
    code: 'shut-off',
    name: 'shut-off does not close',
    prior: 0.08,
    check: 'Tank full, feed on: the drain should stop. Air charge and pressure first, then the valve.',
    at: (s, h) => ({ ...h.healthy, drainWhenFullLMin: h.restrictorLMin * max(0.3, s) }),
  },
  {
    code: 'air-charge',
    name: 'tank has lost its air',
    prior: 0.1,
    check: 'Tank empty and off the line: read the air, pump it up to its charge.',
    at: (s, h) => {
      const air = h.healthy.tankAirBar;
      const litres = h.healthy.tankEmptiedL;
      return {
        ...h.healthy,
        ...(air === undefined ? {} : { tankAirBar: air * (1 - s) }),
        // the tank takes as much and gives less: without push the last of it stays in
        ...(litres === undefined ? {} : { tankEmptiedL: litres * (1 - 0.8 * s) }),
      };
    },
  },
  {
    code: 'crossed',
    name: 'product and concentrate tubes crossed',
    prior: 0.03,
    check: 'Follow both tubes from the membrane housing: the product comes from the middle.',
    at: (_, h) => {
      const o = h.solve({});
      return {
        ...h.healthy,
        productFlowLMin: o.concentrateLDay / 1440,
        concentrateFlowLMin: o.permeateLDay / 1440,
        productTdsMgL: o.concentrateTdsMgL,
      };
    },
  },
  {
    code: 'hot-feed',
    name: 'fed from the hot line, or hot water crosses a mixer',
    prior: 0.02,
    check: 'Shut it at once. Run both taps, feel, label; above 38 °C a membrane is ruined.',
    at: (s, h) => ({ ...h.healthy, temperatureC: 35 + 25 * s }),
  },
  {
    code: 'carbon-spent',
    name: 'carbon spent: chlorine reaches the membrane',
    prior: 0.1,
    check: 'Change the carbon before anything else, and read chlorine again.',
    at: (s, h) => ({ ...h.healthy, chlorineMgL: 0.1 + s }),
  },
  {
    code: 'meter-off',
    name: 'the pen is off, or the samples stood',
    prior: 0.06,
    check: 'Rinse, check it in known water, run ten minutes, read both again.',
    at: (s, h) => ({ ...h.healthy, productTdsMgL: (h.healthy.productTdsMgL ?? 0) * (1 + 2 * s) }),
  },
];

function houseOf(c: Conditions, system: System, site: Site): House | null {
  const element = partIn(system, 'element');
  const restrictor = partIn(system, 'restrictor')?.flow;
  const plant = plantIn(system, site, 'today');
  if (!element || !restrictor || !plant) return null;
  const p = inSeries(permeabilityOf(element.rating), ofWork(system, 'separates').length);
  const restrictorLDay = max(1, restrictorFlowLDay(restrictor, c.site.feedPressureBar, c.site.temperatureC));
  const solve: House['solve'] = ({ a = 1, b = 1, concentrateShare = 1 }) => {
    const sick: Permeability = {
      ...p,
      waterLDayBar: p.waterLDayBar * a,
      saltLDay: p.saltLDay * b,
    };
    return solveElement(sick, { ...c.site, concentrateLDay: restrictorLDay * concentrateShare });
  };
  const right = solve({});
  const inlet = feedPressures(plant.train, right.feedLDay / 1440, c.site.temperatureC).inletBar;
  const closeBar =
    plant.train.shutOff.kind === 'pressure-switch'
      ? plant.train.shutOff.closeBar
      : (plant.train.permeatePump?.closeRatio ?? plant.train.shutOff.closeRatio) * inlet;
  return {
    solve,
    restrictorLMin: restrictorLDay / 1440,
    feedTds: c.site.tdsMgL,
    healthy: {
      ...flows(right),
      membranePressureBar: inlet,
      temperatureC: min(site.warmestC, max(site.coldestC, c.site.temperatureC)),
      chlorineMgL: 0.02,
      drainWhenFullLMin: 0,
      ...(plant.tank
        ? {
            tankAirBar: plant.tank.airChargeBar,
            tankEmptiedL: waterAtPressureL(plant.tank, closeBar, site.airBar),
          }
        : {}),
    },
  };
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

/**
 * Ranks what may be wrong: each fault is simulated in the same model at every severity and compared with all that was
 * read. One fault at a time; two together show as the one that explains more.
 * @returns most likely first; empty where the needed readings are missing
 */
export function rankFaults(r: ProofReadings, system: System, site: Site, meterError: number): RankedFault[] {
  const c = conditionsOf(r, system, site);
  const house = c && houseOf(c, system, site);
  if (!house) return [];
  const read: Prediction = {};
  for (const k of Object.keys(SPREAD) as Sign[]) {
    const v = r[k];
    if (v !== undefined) read[k] = v;
  }
  const pen = 1 + meterError;
  const able = FAULTS.filter((f) => f.code !== 'air-charge' || partIn(system, 'tank') !== undefined);
  const found = able.map((f) => {
    let best = { severity: 0, miss: Infinity, predicted: house.healthy };
    const steps = f.code === 'none' ? 1 : 24;
    for (let i = 1; i <= steps; i++) {
      const severity = i / steps;
      const predicted = f.at(severity, house);
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
