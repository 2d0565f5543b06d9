import { feedWaterAt, siteFrom, type Assumed, type Site } from '../../gauge/site.ts';
import { numberOf, type FieldKey, type Known } from '../../gauge/fields.ts';
import { bell, seeded, type Random } from '../../demand/random.ts';
import type { ElementOutput } from '../../membrane/element.ts';
import { solveTrain, type Train } from '../../hydraulics/train.ts';
import type { Catalogue } from '../../parts/catalogue.ts';
import { COARSE_MAP, operatingMap, type OperatingMap } from '../../run/fill.ts';
import { operate, operateDirect, type Operating } from '../../run/operate.ts';
import type { Design } from '../../system/design.ts';
import { designInHouse, seasonTemperatureC, type InHouse, type Season } from '../../system/inHouse.ts';
import { USUAL_SALT_ACTIVATION_K } from '../../system/membranes.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import { physicalFailures } from './failures.ts';
import { figureError, readingError } from './readings.ts';
import { liveSample, type LivedSeason } from './year.ts';

const { floor, max, min } = Math;

/** Ends of what parts differ by from their sheets. */
export const PART_SPREAD = {
  /** product flow of an element, share */
  elementFlow: 0.15,
  /** salt passage of an element, share */
  elementPassage: 0.35,
  /** restrictor flow, share */
  restrictor: 0.12,
  /** air charge of a tank, share: set by a hand pump and a tyre gauge */
  tankCharge: 0.15,
  /** closing and reopening ratio of a shut-off, absolute */
  closing: 0.04,
  /** activation temperature of the salt permeability where a sheet is silent, K */
  saltActivationK: 900,
} as const;

/**
 * What the house rule for calcite holds in reserve, as an index: as much as an ordinary kit's pH (0.2), hardness and alkalinity
 * (0.04 each) and the warmest water (0.02 a °C) are off together. Only a truth beyond it scales; else the same doubt counted twice.
 */
export const CALCITE_RESERVE = 0.25;

/** What of parts may be otherwise than their sheets say. */
export type PartCause = 'element' | 'passage' | 'restrictor' | 'tankCharge' | 'closing' | 'saltActivation' | 'filters';
/** What may be otherwise than it was read, assumed or stated. */
export type Cause = FieldKey | PartCause;

/** What parts really are: shares of what their sheets say, and how loaded the filters are, 0 new to 1 spent. */
export interface PartsAsTheyAre {
  readonly element: number;
  readonly passage: number;
  readonly restrictor: number;
  readonly tankCharge: number;
  /** added to the closing and the reopening ratio */
  readonly closing: number;
  /** added to the usual activation temperature, K */
  readonly saltActivationK: number;
  readonly load: number;
}

/** A house and its parts as they may really be. */
export interface Truth {
  readonly site: Site;
  readonly parts: PartsAsTheyAre;
  /** how far each cause is off: readings in standard deviations, parts from -2 to 2, the ends of their tolerance */
  readonly off: Readonly<Partial<Record<Cause, number>>>;
}

/** Figures drawn about what was read or assumed, in the order they are drawn. */
const DRAWN: readonly (readonly [FieldKey, (s: Site) => number | undefined, least: number])[] = [
  ['feedTdsMgL', (s) => s.tdsMgL, 1],
  ['hardnessMgL', (s) => s.hardnessMgL, 0],
  ['alkalinityMgL', (s) => s.water.carbonate.alkalinity * 50043.5, 1],
  ['pH', (s) => s.water.carbonate.pH, 4.5],
  ['silicaMgL', (s) => (s.water.composition.molL.SiO2 ?? 0) * 60083, 0],
  ['coldestC', (s) => s.coldestC, 0.5],
  ['warmestC', (s) => s.warmestC, 0.5],
  ['staticPressureBar', (s) => s.staticBar, 0.1],
  ['runningPressureBar', (s) => s.worstBar, 0.1],
  ['litresADay', (s) => s.litresADay, 0.5],
  ['largestDrawL', (s) => s.largestDrawL, 0.2],
  ['tapRiseM', (s) => s.tapRiseM, 0],
];

/** The readings that are drawn. */
export const DRAWN_FIELDS: readonly FieldKey[] = DRAWN.map(([field]) => field);

/** What moves together where both were only assumed: one is reckoned from the other. */
const FOLLOWS: Readonly<Partial<Record<FieldKey, FieldKey>>> = { alkalinityMgL: 'hardnessMgL', pH: 'alkalinityMgL' };

/** Points of a filter's life that are told apart. */
const LOADS = 5;

/**
 * Houses and parts as they may really be: each reading off by its own error, each guess by as wide as a guess, each part by
 * its tolerance, the filters at any point of their life. In pairs that lie opposite each other, so that few draws keep the mean.
 * @param held readings taken again that come out as they stand: a guess then errs as a reading does, a reading by half of it
 * @param seed the same seed gives the same draws
 */
export function truthsOf(
  input: SizeInput,
  site: Site,
  assumed: readonly Assumed[],
  draws: number,
  seed = 1,
  held: ReadonlySet<FieldKey> = new Set(),
): Truth[] {
  const random = seeded(seed);
  const drawn: Drawn[] = [];
  while (drawn.length < draws) {
    const one = drawOne(random);
    drawn.push(one, opposite(one));
  }
  // a water is worked out at some length: a few of them serve all draws
  const waters = min(MOST_WATERS, 2 * floor(draws / (2 * DRAWS_A_WATER)) || draws);
  const figures = figuresOf(input, site, assumed, held);
  const rules = { ...input.rules, calciteIndexMax: input.rules.calciteIndexMax + CALCITE_RESERVE };
  return drawn.slice(0, draws).map((one, i) => {
    const water = drawn[i % waters] ?? one;
    const mixed = new Map([...one, ...[...water].filter(([c]) => OF_WATER.has(c))]);
    return truthAt({ ...input, rules }, site, figures, mixed);
  });
}

/** What the water's state is worked out from. */
const OF_WATER: ReadonlySet<Cause> = new Set([
  'feedTdsMgL',
  'hardnessMgL',
  'alkalinityMgL',
  'pH',
  'silicaMgL',
  'warmestC',
]);
const MOST_WATERS = 40;
const DRAWS_A_WATER = 4;

type Drawn = ReadonlyMap<Cause, number>;
const BY_PARTS: readonly PartCause[] = ['element', 'passage', 'restrictor', 'tankCharge', 'closing', 'saltActivation', 'filters']; // oxfmt-ignore

/**
 * One draw: of each reading how many standard deviations it is off; of each part and the filters anywhere within what they
 * may be, -2 to 2, where 2 is the end of its tolerance: a maker's tolerance is a limit, not a bell.
 */
function drawOne(random: Random): Drawn {
  return new Map<Cause, number>([
    ...DRAWN.map(([field]): [Cause, number] => [field, bell(random)]),
    ...BY_PARTS.map((c): [Cause, number] => [c, 4 * random() - 2]),
  ]);
}
const opposite = (drawn: Drawn): Drawn => new Map([...drawn].map(([c, z]) => [c, -z]));

/** A figure that is drawn, and how far it may be off. */
interface Figure {
  readonly field: FieldKey;
  readonly value: number;
  readonly error: number;
  readonly least: number;
  /** what it is reckoned from and moves with; undefined where it is off by itself */
  readonly with: FieldKey | undefined;
}

function figuresOf(
  input: SizeInput,
  site: Site,
  assumed: readonly Assumed[],
  held: ReadonlySet<FieldKey>,
): readonly Figure[] {
  const guessed = (field: FieldKey): boolean => assumed.some((a) => a.field === field);
  return DRAWN.flatMap(([field, of, least]) => {
    const value = of(site);
    if (value === undefined) return [];
    const { error } = figureError(field, value, input.known, site, assumed, input.errors);
    const leads = FOLLOWS[field];
    const follows = leads !== undefined && guessed(field) && guessed(leads) && !held.has(field);
    const left = held.has(field) ? takenAgain(field, value, error, guessed(field)) : error;
    return { field, value, error: left, least, with: follows ? leads : undefined };
  });
}

/** @param input with the house rules the draws are judged by */
function truthAt(input: SizeInput, site: Site, figures: readonly Figure[], drawn: Drawn): Truth {
  const off: Partial<Record<Cause, number>> = {};
  const z = (cause: Cause): number => {
    const by = drawn.get(cause) ?? 0;
    off[cause] = by;
    return by;
  };
  const read: Partial<Record<FieldKey, number>> = {};
  for (const { field, value, error, least, with: leads } of figures)
    read[field] = max(least, value + ((leads === undefined ? z(field) : (drawn.get(leads) ?? 0)) / 2) * error);
  const share = (cause: PartCause, half: number): number => max(0.2, 1 + (z(cause) / 2) * half);
  const life = (z('filters') + 2) / 4;
  return {
    site: siteWith(input, site, read),
    parts: {
      element: share('element', PART_SPREAD.elementFlow),
      passage: share('passage', PART_SPREAD.elementPassage),
      restrictor: share('restrictor', PART_SPREAD.restrictor),
      tankCharge: share('tankCharge', PART_SPREAD.tankCharge),
      closing: (z('closing') / 2) * PART_SPREAD.closing,
      saltActivationK: (z('saltActivation') / 2) * PART_SPREAD.saltActivationK,
      load: (floor(min(LOADS - 1, life * LOADS)) + 0.5) / LOADS,
    },
    off,
  };
}

/** Error left once a figure was read, or read once more. */
function takenAgain(field: FieldKey, value: number, error: number, guessed: boolean): number {
  return guessed ? min(error, readingError(field, value, false)) : error / 2;
}

/** The house with its figures moved; what was guessed of the household stays known as a guess. */
function siteWith(input: SizeInput, site: Site, read: Partial<Record<FieldKey, number>>): Site {
  const worst = read.runningPressureBar ?? site.worstBar;
  const still = max(worst, read.staticPressureBar ?? site.staticBar);
  const pressures: Known =
    site.source === 'well' && numberOf(input.known, 'runningPressureBar') === undefined
      ? { switchLowBar: worst, switchHighBar: still, staticPressureBar: still }
      : {
          runningPressureBar: worst,
          staticPressureBar: still,
          ...(site.source === 'well' ? { switchLowBar: worst } : {}),
        };
  const coldest = read.coldestC ?? site.coldestC;
  const moved = siteFrom(
    {
      ...input.known,
      ...read,
      ...pressures,
      temperatureC: max(coldest, min(site.todayC, read.warmestC ?? site.warmestC)),
      warmestC: max(coldest, read.warmestC ?? site.warmestC),
    },
    input.rules,
    input.placed,
  );
  if (!moved.ok) return site;
  return {
    ...moved.site,
    resistance: site.resistance,
    highestBar: site.highestBar,
    guessed: site.guessed,
    wantedTapFlowLMin: site.wantedTapFlowLMin,
  };
}

/** A design as it stands in a truth. */
export function plantIn(t: Truth, design: Design, catalogue: Catalogue, season: Season): InHouse {
  const plant = designInHouse(design, catalogue, t.site, season, t.parts.load);
  const tank = plant.tank && { ...plant.tank, airChargeBar: plant.tank.airChargeBar * t.parts.tankCharge };
  return { ...plant, tank, train: trainAsIs(t, plant.train) };
}

/** A train with its parts as they are. */
export function trainAsIs({ parts }: Truth, train: Train): Train {
  const p = train.permeability;
  const salt =
    p.saltActivationK === USUAL_SALT_ACTIVATION_K ? p.saltActivationK + parts.saltActivationK : p.saltActivationK;
  const { shutOff } = train;
  return {
    ...train,
    permeability: {
      ...p,
      waterLDayBar: p.waterLDayBar * parts.element,
      saltLDay: p.saltLDay * parts.passage,
      saltActivationK: salt,
    },
    restrictor: { ...train.restrictor, flowLDay: train.restrictor.flowLDay * parts.restrictor },
    shutOff:
      shutOff.kind === 'four-port'
        ? {
            ...shutOff,
            closeRatio: shutOff.closeRatio + parts.closing,
            reopenRatio: shutOff.reopenRatio + parts.closing,
          }
        : shutOff,
  };
}

/** What a design does in a truth, in the worst season; with the train's map for what is lived on it. */
export interface InTruth {
  readonly worst: Operating;
  /** none without a tank */
  readonly map: OperatingMap | null;
  readonly plant: InHouse;
  /** against no product pressure in the warmest water */
  readonly warm: ElementOutput;
}

/** Runs a design in a truth, coarsely. @param map of a design that differs by its tank only, in the same truth */
export function runIn(t: Truth, design: Design, catalogue: Catalogue, like?: InTruth): InTruth {
  const plant = plantIn(t, design, catalogue, 'worst');
  const temperatureC = seasonTemperatureC(t.site, 'worst');
  const water = feedWaterAt(t.site, temperatureC);
  const hot = feedWaterAt(t.site, t.site.warmestC);
  const warm =
    like?.warm ?? solveTrain(plantIn(t, design, catalogue, 'today').train, hot, 0, undefined, COARSE_MAP.slices).out;
  if (!plant.tank)
    return { worst: operateDirect(plant, water, temperatureC, COARSE_MAP.slices), map: null, plant, warm };
  const map = like?.map ?? operatingMap(plant.train, water, COARSE_MAP);
  return { worst: operate(plant, t.site, 'worst', t.site.wantedTapFlowLMin, map, 'map'), map, plant, warm };
}

/** A season as it is lived in a truth: salt as drunk, litres to the drain for each litre made; of a running product without a tank. */
export function livedIn(t: Truth, { worst, map, plant }: InTruth): LivedSeason {
  const filled = { wasteRatio: worst.wasteRatio, tdsMgL: worst.fill.tankTdsMgL };
  if (!plant.tank || !map || worst.fill.reason !== null) return filled;
  const l = liveSample(plant, plant.tank, t.site, map, feedWaterAt(t.site, worst.temperatureC));
  return l.madeL > 0 ? { wasteRatio: l.wasteL / l.madeL, tdsMgL: l.tdsMgL } : filled;
}

/** Whether a design does in a truth: nothing physical speaks against it, and what is drunk is not too salty. */
export function doesIn(t: Truth, run: InTruth, drunkTdsMgL: number, design: Design, input: SizeInput): boolean {
  return (
    drunkTdsMgL <= input.rules.productTdsMaxMgL &&
    // what keeps a hair too little of the feed is only wasteful: that costs points already
    physicalFailures(design, input.catalogue, run.worst, run.warm, t.site, input.rules).every(
      (f) => f.code === 'recovery-too-low',
    )
  );
}
