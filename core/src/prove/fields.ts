import type { QuantityKind } from '../quantity/units.ts';
import { ofKind, ofWork, partIn, type System } from '../system/system.ts';

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
  feedPressureBar: {
    label: 'Pressure before the pre-filters',
    kind: 'pressure',
    unit: 'bar',
    min: 0,
    max: 20,
    needed: false,
    how: 'While it makes water: with the one before the membrane it tells a clogged filter from a valve half shut.',
  },
  drainFeedOffLMin: {
    label: 'Drain with the feed off',
    kind: 'flow',
    unit: 'mL/min',
    min: 0,
    max: 5,
    needed: false,
    how: 'Tank full, feed shut, a minute later: what still drips leaks back through the non-return valve. 0 if nothing does.',
  },
  drainStopMin: {
    label: 'Minutes until the drain stops',
    kind: 'duration',
    unit: 'min',
    min: 0,
    max: 600,
    needed: false,
    how: 'A glass (a quarter of a litre) out of a full tank, tap shut, feed on: until the drain stands still.',
  },
  secondPenMgL: {
    label: 'Product TDS by a second pen',
    kind: 'concentration',
    unit: 'mg/L',
    min: 0,
    max: 45000,
    needed: false,
    how: 'The same water, another pen: it tells a pen that is off from a membrane that lets salt by.',
  },
  tankFullBar: {
    label: 'Pressure of the full tank',
    kind: 'pressure',
    unit: 'bar',
    min: 0,
    max: 12,
    needed: false,
    how: 'A gauge in the tank’s line, feed on, tap shut, drain standing still.',
  },
  tapFlowLMin: {
    label: 'Tap, from a full tank',
    kind: 'flow',
    unit: 'L/min',
    min: 0,
    max: 20,
    needed: false,
    how: 'Tap fully open, the first half litre into the jug, and the watch.',
  },
  tapHalfLMin: {
    label: 'Tap, from a half full tank',
    kind: 'flow',
    unit: 'L/min',
    min: 0,
    max: 20,
    needed: false,
    how: 'Half of its water drawn off, feed shut: the next half litre into the jug, and the watch.',
  },
  firstGlassMgL: {
    label: 'First glass after it stood',
    kind: 'concentration',
    unit: 'mg/L',
    min: 0,
    max: 45000,
    needed: false,
    how: 'After a night, before anything ran. It is saltier than the rest: what stood beside the membrane comes first.',
  },
  tightDropBar: {
    label: 'Pressure lost in ten minutes',
    kind: 'pressure',
    unit: 'bar',
    min: 0,
    max: 12,
    needed: false,
    how: 'Feed off, tank valve and tap shut, ten minutes by the gauge. Little water is shut in: a drop a second shows within minutes. Over an open tank only a large leak would.',
  },
  mineralPH: {
    label: 'pH after the minerals',
    kind: 'acidity',
    unit: 'pH',
    min: 3,
    max: 12,
    needed: false,
    how: 'At the tap, after a glass has run. The first glass after a night stands higher.',
  },
  mineralHardnessMgL: {
    label: 'Hardness after the minerals',
    kind: 'hardness',
    unit: 'mg/L',
    min: 0,
    max: 1000,
    needed: false,
    how: 'At the tap, by drops, after a glass has run.',
  },
} as const satisfies Record<string, ProofField>;

export type ProofKey = keyof typeof PROOF_FIELDS;
export const PROOF_KEYS = Object.keys(PROOF_FIELDS) as ProofKey[];

/** A reading by its key. */
export const proofField = (key: ProofKey): ProofField => PROOF_FIELDS[key];

/** A reading as it is asked of one system. */
export interface AskedField extends ProofField {
  readonly key: ProofKey;
}

/**
 * What is read to prove a system, in the order it is read. Without a membrane it is what comes out of the tap: how fast,
 * how warm, and whether the carbon holds; without a tank nothing is asked of one.
 */
export function proofFieldsFor(system: System): AskedField[] {
  if (ofWork(system, 'separates').length > 0) {
    const aired = partIn(system, 'tank') !== undefined;
    const minerals = partIn(system, 'mineral') !== undefined;
    const asked = PROOF_KEYS.filter((k) => (aired || !OF_AIRED_TANK.has(k)) && (minerals || !OF_MINERALS.has(k))).map((key): AskedField => ({ key, ...PROOF_FIELDS[key] }));
    if (aired) return asked;
    const how = partIn(system, 'vented-tank')
      ? 'At the sample port, its tube into the jug: the tap gives the pump’s flow, not the membrane’s.'
      : 'Tap open, jug and watch.';
    const vented = partIn(system, 'vented-tank') !== undefined;
    const without: Partial<Record<ProofKey, Partial<AskedField>>> = {
      productFlowLMin: { how },
      tightDropBar: { how: `Feed off, ${vented ? 'the float held shut' : 'tap shut'}, ten minutes by the gauge. Little water is shut in: a drop a second shows within minutes.` },
      ...(vented ? {} : { drainWhenFullLMin: { label: 'Drain with the tap shut', how: 'Feed on, tap shut, its own rinse over: it should stop. 0 if it does.' } }),
    };
    return asked.map((f) => ({ ...f, ...without[f.key] }));
  }
  const carbon = ofKind(system, 'carbon').length > 0;
  return [
    { key: 'productFlowLMin', ...PROOF_FIELDS.productFlowLMin, label: 'Tap flow', unit: 'L/min', how: 'Tap fully open, jug and watch.' },
    { key: 'temperatureC', ...PROOF_FIELDS.temperatureC, label: 'Temperature', how: 'In the running water.' },
    ...(carbon
      ? [{ key: 'chlorineMgL' as const, ...PROOF_FIELDS.chlorineMgL, needed: true, how: 'At the tap, running; below 0.1 mg/L.' }]
      : []),
  ];
} // oxfmt-ignore
const OF_AIRED_TANK: ReadonlySet<ProofKey> = new Set([
  'tankEmptiedL',
  'tankAirBar',
  'drainFeedOffLMin',
  'tankFullBar',
  'tapFlowLMin',
  'tapHalfLMin',
  'drainStopMin',
]);
const OF_MINERALS: ReadonlySet<ProofKey> = new Set(['mineralPH', 'mineralHardnessMgL']);

/** How a system stands while it is read, in a sentence. */
export function proofMoment(system: System): string {
  if (ofWork(system, 'separates').length === 0)
    return 'Tap fully open, after a minute’s run. Nothing else in the house running.';
  const both = 'Product at the sample port, before any minerals. The same pen for both.';
  if (partIn(system, 'vented-tank')) return `While it fills, after some minutes’ run, tap shut. ${both}`;
  return `${partIn(system, 'tank') ? 'Tank shut, tap open' : 'Tap open'}, after some minutes’ run. ${both}`;
}

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

/** Half-widths of the errors of readings whose instrument is known, base units, 0 or more; what is not named has the usual one. */
export type OwnErrors = Partial<Record<ProofKey, number>>;

/** Readings of one proof, in base units. */
export type ProofReadings = Partial<Record<ProofKey, number>>;
