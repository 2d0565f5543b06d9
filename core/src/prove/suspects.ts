import type { FaultCode } from '../system/state.ts';

/** What may be wrong with a system that is read. */
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
  | 'half-shut'
  | 'pump-weak'
  | 'overcharged'
  | 'after-tank'
  | 'meter-off';

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
  | 'tankEmptiedL'
  | 'feedPressureBar'
  | 'drainFeedOffLMin'
  | 'secondPenMgL'
  | 'tankFullBar'
  | 'tapFlowLMin';

/** One standard deviation of each sign: parts and readings together; a share of the figure and a floor. */
export const SPREAD: Readonly<Record<Sign, { share: number; floor: number }>> = {
  productFlowLMin: { share: 0.085, floor: 0.004 },
  productTdsMgL: { share: 0.2, floor: 0.8 },
  concentrateFlowLMin: { share: 0.08, floor: 0.01 },
  membranePressureBar: { share: 0.06, floor: 0.2 },
  temperatureC: { share: 0, floor: 3 },
  chlorineMgL: { share: 0, floor: 0.04 },
  drainWhenFullLMin: { share: 0.3, floor: 0.004 },
  tankAirBar: { share: 0.05, floor: 0.06 },
  tankEmptiedL: { share: 0.1, floor: 0.3 },
  feedPressureBar: { share: 0.06, floor: 0.2 },
  drainFeedOffLMin: { share: 0.3, floor: 0.004 },
  secondPenMgL: { share: 0.04, floor: 0.8 },
  tankFullBar: { share: 0.08, floor: 0.12 },
  tapFlowLMin: { share: 0.12, floor: 0.05 },
};

/** What would be read, by sign. */
export type Prediction = Partial<Record<Sign, number>>;

/** A suspect: where it lies, how common it is, and where it shows. */
export interface Model {
  readonly code: Suspect;
  readonly name: string;
  /** how common it is beside the others, before anything is read */
  readonly prior: number;
  /** times as common in new work, before anything wore */
  readonly fresh: number;
  readonly check: string;
  /** the component it lies in, by kind, and what is wrong with it; none where it lies in the reading */
  readonly in?: readonly [kind: string, code: FaultCode];
  /** which of the looks at the system it changes */
  readonly shows: readonly Look[];
  /** it hardly shows before it is nearly all the way */
  readonly late?: boolean;
}

/** Running with the tank shut, at the pressure that was read or from the supply; standing full; the tank by itself; the feed shut. */
export type Look = 'running' | 'supplied' | 'full' | 'tank' | 'feed-off';

export const HEALTHY: Model = {
  code: 'none',
  name: 'nothing: all as it should be',
  prior: 1,
  fresh: 1,
  check: 'Nothing to do.',
  shows: [],
};
export const SUSPECTS: readonly Model[] = [
  HEALTHY,
  {
    code: 'bypass',
    name: 'feed passes the membrane at an O-ring or the brine seal',
    prior: 0.25,
    fresh: 2,
    check: 'Membrane out: O-rings, brine seal, product tube; seat it home and read again.',
    in: ['membrane', 'bypassed'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'torn',
    name: 'membrane torn or eaten by chlorine',
    prior: 0.15,
    fresh: 0.2,
    check: 'Read chlorine after the carbon. A new membrane, and new carbon first.',
    in: ['membrane', 'torn'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'scaled',
    name: 'membrane scaled or fouled',
    prior: 0.2,
    fresh: 0.05,
    check: 'Hardness and restrictor first; then a new membrane and less recovery.',
    in: ['membrane', 'scaled'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'restrictor-blocked',
    name: 'restrictor blocked, or the drain tube kinked',
    prior: 0.12,
    fresh: 1.5,
    check: 'Follow the drain tube for a kink; blow the restrictor through or change it; read the drain again.',
    in: ['restrictor', 'blocked'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'restrictor-open',
    name: 'restrictor missing, bypassed or the wrong one',
    prior: 0.08,
    fresh: 1.5,
    check: 'Read what stands on it; look for an open flush valve.',
    in: ['restrictor', 'open'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'pre-filter-clogged',
    name: 'pre-filter clogged',
    prior: 0.2,
    fresh: 0.1,
    check: 'Pressure before and after the pre-filters while it runs; above 0.7 bar apart, change them.',
    in: ['sediment', 'clogged'],
    late: true,
    shows: ['supplied'],
  },
  {
    code: 'non-return',
    name: 'non-return valve leaks',
    prior: 0.06,
    fresh: 1,
    check: 'Feed off: does the drain still drip? Then the tank empties backwards through it.',
    in: ['non-return', 'leaks'],
    shows: ['full', 'feed-off'],
  },
  {
    code: 'shut-off',
    name: 'shut-off does not close',
    prior: 0.08,
    fresh: 1,
    check: 'Tank full, feed on: the drain should stop. Air charge and pressure first, then the valve.',
    in: ['shut-off', 'stays-open'],
    shows: ['full'],
  },
  {
    code: 'air-charge',
    name: 'tank has lost its air',
    prior: 0.1,
    fresh: 0.7,
    check: 'Tank empty and off the line: read the air, pump it up to its charge.',
    in: ['tank', 'airless'],
    shows: ['tank'],
  },
  {
    code: 'overcharged',
    name: 'tank’s air stands above its charge',
    prior: 0.06,
    fresh: 1.5,
    check: 'Tank empty and off the line: read the air, let it down to its charge.',
    in: ['tank', 'overcharged'],
    shows: ['tank'],
  },
  {
    code: 'after-tank',
    name: 'what follows the tank is clogged or kinked',
    prior: 0.06,
    fresh: 1,
    check:
      'Tank valve fully open, the tube to the tap without a kink, the tap’s strainer; then the polish after the tank.',
    in: ['polish', 'clogged'],
    late: true,
    shows: ['tank'],
  },
  {
    code: 'half-shut',
    name: 'stop valve not fully open, or the feed tube kinked',
    prior: 0.08,
    fresh: 3,
    check:
      'Stop valve and feed valve fully open; follow the feed tube for a kink; read the pressure before the filters again.',
    in: ['stop-valve', 'half-shut'],
    late: true,
    shows: ['supplied'],
  },
  {
    code: 'pump-weak',
    name: 'booster pump does not run, or is weak',
    prior: 0.1,
    fresh: 1.5,
    check:
      'Listen and feel: plug, transformer, pressure switch, a closed tank; then water at its inlet; then the pump.',
    in: ['pump', 'weak'],
    shows: ['supplied'],
  },
  {
    code: 'crossed',
    name: 'product and concentrate tubes crossed',
    prior: 0.03,
    fresh: 4,
    check: 'Follow both tubes from the membrane housing: the product comes from the middle.',
    in: ['membrane', 'crossed'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'hot-feed',
    name: 'fed from the hot line, or hot water crosses a mixer',
    prior: 0.02,
    fresh: 3,
    check: 'Shut it at once. Run both taps, feel, label; above 38 °C a membrane is ruined.',
    in: ['feed', 'hot'],
    shows: ['running', 'supplied'],
  },
  {
    code: 'carbon-spent',
    name: 'carbon spent: chlorine reaches the membrane',
    prior: 0.1,
    fresh: 0.3,
    check: 'Change the carbon before anything else, and read chlorine again.',
    in: ['carbon', 'spent'],
    shows: [],
  },
  {
    code: 'meter-off',
    name: 'the pen is off, or the samples stood',
    prior: 0.06,
    fresh: 1,
    check: 'Rinse, check it in known water, run ten minutes, read both again.',
    shows: [],
  },
];
