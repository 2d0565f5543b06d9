import type { QuantityKind } from '../quantity/units.ts';

export interface ProofField {
  readonly label: string;
  readonly kind: QuantityKind;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly how: string;
  readonly needed: boolean;
}

/** What is read to prove a system; base units mg/L, deg C, bar, L/min. */
export const PROOF_FIELDS = {
  feedTdsMgL: {
    label: 'Feed TDS',
    kind: 'concentration',
    unit: 'mg/L',
    min: 1,
    max: 45000,
    needed: true,
    how: 'Same pen for both, rinsed in the water it reads.',
  },
  productTdsMgL: {
    label: 'Product TDS',
    kind: 'concentration',
    unit: 'mg/L',
    min: 0,
    max: 45000,
    needed: true,
    how: 'At the sample port, before any minerals, after it has run for some minutes.',
  },
  temperatureC: {
    label: 'Feed temperature',
    kind: 'temperature',
    unit: '°C',
    min: 0.1,
    max: 60,
    needed: true,
    how: 'In the running feed or concentrate.',
  },
  membranePressureBar: {
    label: 'Pressure before the membrane',
    kind: 'pressure',
    unit: 'bar',
    min: 0,
    max: 20,
    needed: true,
    how: 'At the gauge point while it makes water.',
  },
  productFlowLMin: {
    label: 'Product flow',
    kind: 'flow',
    unit: 'mL/min',
    min: 0,
    max: 10,
    needed: true,
    how: 'Tank shut, tap open, jug and watch.',
  },
  concentrateFlowLMin: {
    label: 'Concentrate flow',
    kind: 'flow',
    unit: 'mL/min',
    min: 0,
    max: 20,
    needed: true,
    how: 'Drain tube into the jug, same moment.',
  },
  chlorineMgL: {
    label: 'Total chlorine after the carbon',
    kind: 'concentration',
    unit: 'mg/L',
    min: 0,
    max: 20,
    needed: false,
    how: 'Between carbon and membrane; below 0.1 mg/L.',
  },
  drainWhenFullLMin: {
    label: 'Drain with the tank full',
    kind: 'flow',
    unit: 'mL/min',
    min: 0,
    max: 20,
    needed: false,
    how: 'Tank full, feed on, tap shut: it should stop. 0 if it does.',
  },
  tankEmptiedL: {
    label: 'Water out of a full tank',
    kind: 'volume',
    unit: 'L',
    min: 0,
    max: 400,
    needed: false,
    how: 'Feed shut, tank full, into the jug until it only drips.',
  },
  tankAirBar: {
    label: 'Air in the empty tank',
    kind: 'pressure',
    unit: 'bar',
    min: 0,
    max: 5,
    needed: false,
    how: 'Tank empty and off the line, at its air valve.',
  },
} as const satisfies Record<string, ProofField>;

export type ProofKey = keyof typeof PROOF_FIELDS;
export const PROOF_KEYS = Object.keys(PROOF_FIELDS) as ProofKey[];
export const proofField = (key: ProofKey): ProofField => PROOF_FIELDS[key];

/** Whether a figure is one the reading can have. */
export function proofAccepts(key: ProofKey, value: number): boolean {
  const f = PROOF_FIELDS[key];
  return Number.isFinite(value) && value >= f.min && value <= f.max;
}

/** Plain figures out of a kept proof's readings. */
export function plainReadings(kept: Partial<Record<ProofKey, { readonly value: number } | undefined>>): ProofReadings {
  const out: ProofReadings = {};
  for (const k of PROOF_KEYS) {
    const v = kept[k]?.value;
    if (v !== undefined) out[k] = v;
  }
  return out;
}

/** Readings of one proof, in base units. */
export type ProofReadings = Partial<Record<ProofKey, number>>;
