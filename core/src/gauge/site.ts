import { analysisFrom, waterState, type Analysis, type WaterState } from '../water/analysis.ts';
import { osmoticBarPerMgL } from '../water/composition.ts';
import { atmosphereBar } from '../water/properties.ts';
import { safeRecovery, SCALING_LIMITS, type SafeRecovery } from '../treatment/scaling.ts';
import type { FeedWater, Supply } from '../hydraulics/train.ts';
import type { HouseRules } from '../rules/rules.ts';
import { COOKING_SHARE, extraLADay, USUAL_MEALS, type Habits } from '../demand/draws.ts';
import { assumedFigureWords } from '../words/water.ts';
import { cupboardOf, type CupboardSize, type Placed } from './place.ts';
import { secondOf, type Second } from './second.ts';
import { choiceOf, choicesIn, numberOf, type FieldKey, type Known } from './fields.ts';

/** A value nobody read, taken openly, with why. */
export interface Assumed {
  readonly field: FieldKey;
  readonly value: number | string;
  readonly why: string;
}

/** A household's ways that are taken by a guess where nobody asked. */
export const HABITS = ['litresADay', 'largestDrawL', 'patience'] as const satisfies readonly FieldKey[];
export type Habit = (typeof HABITS)[number];

/** The house as every computation takes it. */
export interface Site {
  readonly source: string;
  readonly laboratory: string;
  readonly tdsMgL: number;
  readonly hardnessMgL: number;
  /** the whole analysis, read or assumed, worked out */
  readonly water: WaterState;
  /** most of the feed that may be kept in the warmest water before the membrane scales */
  readonly safe: SafeRecovery;
  readonly disinfectant: string;
  readonly chlorineMgL: number;
  /** as read, or as usual in such a source */
  readonly nitrateMgL: number;
  readonly ironMgL: number;
  readonly manganeseMgL: number;
  readonly turbidityNTU: number;
  readonly smell: string;
  readonly todayC: number;
  readonly coldestC: number;
  readonly warmestC: number;
  /** nothing running, bar */
  readonly staticBar: number;
  /** at the worst hour: another tap running, or the well switch about to start, bar */
  readonly worstBar: number;
  /** at night, bar */
  readonly highestBar: number;
  /** of the supply pipe, bar per (L/min)^2 */
  readonly resistance: number;
  readonly litresADay: number;
  readonly largestDrawL: number;
  /** of the household's ways, those nobody was asked about */
  readonly guessed: readonly Habit[];
  /** the household's habits where somebody asked */
  readonly mealsADay: number | undefined;
  readonly bottlesADay: number | undefined;
  readonly iceLADay: number | undefined;
  readonly secondTapLADay: number | undefined;
  /** what they want of it, and what they fear in it */
  readonly aim: string;
  readonly worries: readonly string[];
  /** flow at the tap that counts as running: the household's patience, or the house rule, L/min */
  readonly wantedTapFlowLMin: number;
  /** a tank under the sink: either, tank or none */
  readonly storeWish: string;
  readonly fridge: boolean;
  /** least pressure of its valve, bar */
  readonly fridgeMinBar: number;
  /** its tube, m, and how much higher its inlet stands, m */
  readonly fridgeLengthM: number;
  readonly fridgeRiseM: number;
  /** a dispenser that heats and cools on a branch of its own */
  readonly dispenser: boolean;
  readonly metalAfter: string;
  readonly mineralsWanted: boolean;
  readonly caresMost: Care;
  readonly socket: string;
  /** what it must stand in; null where nobody measured */
  readonly cupboard: CupboardSize | null;
  /** a second place for what does not go into it; null for none */
  readonly second: Second | null;
  /** what stands in the cupboard already */
  readonly placed: Placed;
  /** all of it in the cupboard, part of it beside, or elsewhere */
  readonly standsWhere: string;
  readonly worktop: string;
  readonly drainRun: string;
  /** clamp, spigot or standpipe */
  readonly drainWay: string;
  /** below, above or bracket; how the tap is fixed */
  readonly tapMount: string;
  /** all, back or sides */
  readonly screwWalls: string;
  /** what the feed is joined to; 'unknown' where nobody looked */
  readonly stopValveThread: string;
  readonly pipeMaterial: string;
  readonly disposalUnit: boolean;
  readonly airGap: boolean;
  readonly tapLengthM: number;
  readonly tapRiseM: number;
  readonly altitudeM: number;
  /** of the air, absolute bar */
  readonly airBar: number;
}

/** What a household cares for most when several designs do. */
export type Care = 'balanced' | 'waste' | 'wait' | 'purity' | 'room' | 'electricity' | 'cost';

export type SiteResult =
  | { readonly ok: true; readonly site: Site; readonly assumed: readonly Assumed[] }
  | { readonly ok: false; readonly missing: readonly FieldKey[]; readonly assumed: readonly Assumed[] };

/** Hardness as a share of TDS, and the usual chlorine, by kind of source; shown as assumed wherever used. */
const BY_SOURCE: Readonly<Record<string, { hardnessShare: number; chlorineMgL: number; name: string }>> = {
  mains: { hardnessShare: 0.5, chlorineMgL: 0.4, name: 'mains water' },
  'softened-mains': { hardnessShare: 0.03, chlorineMgL: 0.4, name: 'softened mains' },
  well: { hardnessShare: 0.6, chlorineMgL: 0, name: 'a well' },
  surface: { hardnessShare: 0.4, chlorineMgL: 0, name: 'surface water' },
  rain: { hardnessShare: 0.2, chlorineMgL: 0, name: 'rain water' },
};

/** Hardness usual in a kind of source at its TDS, mg/L as CaCO3. */
export function hardnessFor(source: string, tdsMgL: number): number {
  return (BY_SOURCE[source]?.hardnessShare ?? 0.5) * tdsMgL;
}

/** Litres a day where nobody said them: the house rule for each person, more or less with the meals, and the extras. */
function usualLitres(
  people: number,
  each: number,
  habits: Omit<Habits, 'litresADay' | 'largestDrawL'>,
): { readonly litresADay: number; readonly why: string } {
  const meals = habits.mealsADay ?? USUAL_MEALS;
  const plain = people * each * (1 - COOKING_SHARE + (COOKING_SHARE * meals) / USUAL_MEALS);
  const extra = extraLADay(habits);
  const why = [`${String(each)} L a day for each of ${String(people)} (house rule)`];
  if (meals !== USUAL_MEALS)
    why.push(`with ${String(meals)} ${meals === 1 ? 'meal' : 'meals'} cooked a day instead of ${String(USUAL_MEALS)}`);
  if (extra > 0) why.push(`and ${String(Number(extra.toPrecision(3)))} L for bottles, ice and a second tap`);
  return { litresADay: Number((plain + extra).toPrecision(4)), why: why.join(', ') };
}

/** From its branch tee to a fridge or a dispenser, m, until somebody measures it. */
export const FRIDGE_TUBE_M = 4;

/** Of a supply pipe nobody measured, bar per (L/min)^2. */
const USUAL_RESISTANCE = 0.012;

/** Seconds that people of a patience stand for a quarter of a litre. */
const PATIENCE_S: Readonly<Record<string, number>> = { brisk: 12, patient: 30 };

/** Share of the salt that passes, for the thickening of the concentrate: its exact value hardly matters there. */
const USUAL_PASSAGE = 0.04;

/** The fields behind the figures an analysis had to assume. */
const ANALYSIS_FIELDS: Readonly<Partial<Record<string, FieldKey>>> = {
  pH: 'pH',
  alkalinityMgL: 'alkalinityMgL',
  SiO2: 'silicaMgL',
  NO3: 'nitrateMgL',
};

/**
 * Mains water follows the soil around its pipes: the yearly mean of the air plus about 3 °C, swinging by about half of
 * what the air's months do, a month late. Within about 2 °C for pipes a metre deep.
 * @param coldC, warmC mean air of the coldest and the warmest month
 * @returns null unless both are known and in order; never below 1 °C: a pipe that freezes gives no water
 */
export function soilWater(
  coldC: number | undefined,
  warmC: number | undefined,
): { readonly coldestC: number; readonly warmestC: number } | null {
  if (coldC === undefined || warmC === undefined || warmC < coldC) return null;
  const mean = (coldC + warmC) / 2 + 3;
  const swing = (warmC - coldC) / 4;
  const round = (v: number): number => Math.max(1, Math.round(10 * v) / 10);
  return { coldestC: round(mean - swing), warmestC: round(mean + swing) };
}

/** States of the waters last asked for: a pure function's memory. A house is asked many times with the same water. */
const states = new Map<string, { readonly water: WaterState; readonly safe: SafeRecovery }>();
const STATES_KEPT = 64;

/** A water's state, and how far it may be concentrated at the warmest. */
function stateOf(
  analysis: Analysis,
  warmestC: number,
  calciteIndexMax: number,
): { readonly water: WaterState; readonly safe: SafeRecovery } {
  const key = JSON.stringify([analysis, warmestC, calciteIndexMax]);
  const known = states.get(key);
  if (known) return known;
  const water = waterState(analysis);
  const safe = safeRecovery(water, USUAL_PASSAGE, warmestC, { ...SCALING_LIMITS, calciteIndexMax });
  const [oldest] = states.keys();
  if (states.size >= STATES_KEPT && oldest !== undefined) states.delete(oldest);
  states.set(key, { water, safe });
  return { water, safe };
}

/**
 * Turns readings into the house the computations take: what is missing and can be assumed is assumed in the open, what
 * cannot be assumed (source, TDS, today's temperature, a pressure, people or litres) is named as missing.
 * @param placed what stands in the cupboard already
 */
export function siteFrom(known: Known, rules: HouseRules, placed: Placed = {}): SiteResult {
  const assumed: Assumed[] = [];
  const missing: FieldKey[] = [];
  const n = (k: FieldKey): number | undefined => numberOf(known, k);
  const num = (field: FieldKey, value: number, why: string): number => {
    const read = n(field);
    if (read !== undefined) return read;
    assumed.push({ field, value, why });
    return value;
  };
  const pick = (field: FieldKey, value: string, why: string): string => {
    const read = choiceOf(known, field);
    if (read !== undefined) return read;
    assumed.push({ field, value, why });
    return value;
  };

  const source = choiceOf(known, 'source');
  const tdsMgL = n('feedTdsMgL');
  const todayC = n('temperatureC');
  const low = n('switchLowBar');
  const still = n('staticPressureBar') ?? (source === 'well' ? (n('switchHighBar') ?? low) : undefined);
  if (source === undefined) missing.push('source');
  if (tdsMgL === undefined) missing.push('feedTdsMgL');
  if (todayC === undefined) missing.push('temperatureC');
  if (still === undefined) missing.push(source === 'well' ? 'switchLowBar' : 'staticPressureBar');
  if (n('people') === undefined && n('litresADay') === undefined) missing.push('people');
  const kind = BY_SOURCE[source ?? 'mains'] ?? { hardnessShare: 0.5, chlorineMgL: 0.4, name: 'mains water' };
  if (source === undefined || tdsMgL === undefined || todayC === undefined || still === undefined || missing.length > 0)
    return { ok: false, missing, assumed };

  const hardnessMgL = num(
    'hardnessMgL',
    Math.round(hardnessFor(source, tdsMgL)),
    `about ${String(kind.hardnessShare * 100)} % of the TDS in ${kind.name}`,
  );
  const chlorineMgL = num('chlorineMgL', kind.chlorineMgL, `usual in ${kind.name}`);
  const soil = soilWater(n('airColdestC'), n('airWarmestC'));
  const coldestC = num(
    'coldestC',
    soil ? Math.min(todayC, soil.coldestC) : Math.max(3, Math.min(todayC - 2, 7)),
    soil
      ? 'estimated from the air: yearly mean plus 3 °C, less half the half-swing (the soil smooths it, a month late)'
      : 'nobody knew: a cold mains winter of 7 °C, or 2 °C below today if that is lower',
  );
  const warmestC = Math.max(
    todayC,
    num(
      'warmestC',
      Math.max(todayC, soil ? soil.warmestC : Math.min(25, coldestC + 12)),
      soil
        ? 'estimated from the air: yearly mean plus 3 °C, and half the half-swing'
        : 'nobody knew: 12 °C above the coldest, at most 25 °C',
    ),
  );
  const { worstBar, resistance } = supplySide(still, source === 'well' ? low : undefined, n, num);
  const highestBar =
    source === 'well'
      ? Math.max(still, n('switchHighBar') ?? still)
      : Math.max(
          still,
          num('highestPressureBar', still + 1, 'night-time pressure taken as 1 bar above the static reading'),
        );
  const { analysis, assumed: taken } = analysisFrom({
    source,
    tdsMgL,
    hardnessMgL,
    temperatureC: todayC,
    pH: n('pH'),
    alkalinityMgL: n('alkalinityMgL'),
    silicaMgL: n('silicaMgL'),
    nitrateMgL: n('nitrateMgL'),
  });
  for (const a of taken) {
    const field = ANALYSIS_FIELDS[a.field];
    if (field) assumed.push({ field, value: a.value, why: assumedFigureWords(a, source) });
  }
  const { water, safe } = stateOf(analysis, warmestC, rules.calciteIndexMax);
  const altitudeM = n('altitudeM') ?? 0;
  const people = n('people');
  const habits = {
    mealsADay: n('mealsADay'),
    bottlesADay: n('bottlesADay'),
    iceLADay: n('iceLADay'),
    secondTapLADay: n('secondTapLADay'),
  };
  const usual = usualLitres(people ?? 1, rules.litresPerPersonDay, habits);
  const litresADay = num('litresADay', usual.litresADay, usual.why);
  const patience = PATIENCE_S[pick('patience', 'ordinary', 'nobody asked them')];
  const fridge = pick('fridge', 'no', 'nobody spoke of one') === 'yes';
  return {
    ok: true,
    assumed,
    site: {
      source,
      laboratory: choiceOf(known, 'laboratory') ?? 'none',
      tdsMgL,
      hardnessMgL,
      water,
      safe,
      disinfectant: pick(
        'disinfectant',
        chlorineMgL > 0 ? 'chlorine' : 'none',
        chlorineMgL > 0 ? 'usual in mains water; total without free would be chloramine' : 'there is no chlorine in it',
      ),
      chlorineMgL,
      nitrateMgL: n('nitrateMgL') ?? taken.find((a) => a.field === 'NO3')?.value ?? 0,
      ironMgL: n('ironMgL') ?? 0,
      manganeseMgL: n('manganeseMgL') ?? 0,
      turbidityNTU: n('turbidityNTU') ?? 0,
      smell: choiceOf(known, 'smell') ?? 'no',
      todayC,
      coldestC,
      warmestC,
      staticBar: still,
      worstBar,
      highestBar,
      resistance,
      litresADay,
      largestDrawL: num('largestDrawL', 4, 'a stock pot'),
      guessed: HABITS.filter((habit) => known[habit] === undefined),
      ...habits,
      aim: pick('aim', 'dissolved', 'what reverse osmosis is for'),
      worries: choicesIn(known.worry ?? 'none').filter((w) => w !== 'none'),
      wantedTapFlowLMin: patience === undefined ? rules.wantedTapFlowLMin : (60 * 0.25) / patience,
      storeWish: pick('storeWish', rules.store === 'direct' ? 'none' : rules.store, 'by the house rule'),
      fridge,
      fridgeMinBar: fridge ? num('fridgeMinBar', 1.4, 'the low end of what fridges ask') : 0,
      fridgeLengthM: fridge ? num('fridgeLengthM', FRIDGE_TUBE_M, 'along two walls of a kitchen') : FRIDGE_TUBE_M,
      fridgeRiseM: n('fridgeRiseM') ?? 0,
      dispenser: choiceOf(known, 'dispenser') === 'yes',
      metalAfter: pick('metalAfter', 'no', 'plastic tube to a lead-free tap'),
      mineralsWanted: pick('mineralsWanted', 'no', 'nobody asked for them') === 'yes',
      caresMost: pick('caresMost', 'balanced', 'nobody asked them') as Care,
      socket: pick('socket', 'no', 'not looked for: taken as none'),
      cupboard: cupboardOf(known),
      second: secondOf(known),
      placed,
      standsWhere: choiceOf(known, 'standsWhere') ?? 'cupboard',
      worktop: choiceOf(known, 'worktop') ?? 'unknown',
      drainRun: choiceOf(known, 'drainRun') ?? rules.drainRun,
      drainWay: choiceOf(known, 'drainWay') ?? 'clamp',
      tapMount: choiceOf(known, 'tapMount') ?? 'below',
      screwWalls: choiceOf(known, 'screwWalls') ?? 'all',
      stopValveThread: choiceOf(known, 'stopValveThread') ?? 'unknown',
      pipeMaterial: choiceOf(known, 'pipeMaterial') ?? 'unknown',
      disposalUnit: choiceOf(known, 'disposalUnit') === 'yes',
      airGap: choiceOf(known, 'airGap') === 'yes',
      tapLengthM: num('tapLengthM', 1.5, 'tank and tap in the same cupboard'),
      tapRiseM: num('tapRiseM', 0.6, 'cupboard floor to spout'),
      altitudeM,
      airBar: atmosphereBar(altitudeM),
    },
  };
}

/**
 * Pressure at the worst hour and resistance of the supply, from a running pressure and the flow beside it; what of the two
 * nobody read is taken so that together they are a 15 mm pipe.
 * @param wellLow switch of a well, which is its worst hour; undefined elsewhere
 */
function supplySide(
  still: number,
  wellLow: number | undefined,
  n: (k: FieldKey) => number | undefined,
  num: (k: FieldKey, value: number, why: string) => number,
): Pick<Site, 'worstBar' | 'resistance'> {
  const flow = n('runningFlowLMin');
  const known = flow !== undefined && flow > 0;
  if (wellLow !== undefined && n('runningPressureBar') === undefined)
    return { worstBar: wellLow, resistance: USUAL_RESISTANCE };
  const running = known
    ? num('runningPressureBar', Math.max(0.5 * still, still - USUAL_RESISTANCE * flow * flow), 'what a 15 mm pipe leaves of the static pressure at the flow beside it')
    : num('runningPressureBar', 0.85 * still, 'the worst hour taken as 15 % below the static pressure');
  const worstBar = wellLow ?? Math.min(still, running);
  if (known) return { worstBar, resistance: still > running ? (still - running) / (flow * flow) : USUAL_RESISTANCE };
  if (flow === undefined)
    num('runningFlowLMin', Math.sqrt(Math.max(0, still - running) / USUAL_RESISTANCE), 'supply resistance as of a 15 mm pipe: 1.2 bar lost at 10 L/min');
  return { worstBar, resistance: USUAL_RESISTANCE };
} // oxfmt-ignore

/** Whether a house's highest pressure is known: somebody read it, or a switch holds it; else it is a guess. */
export const highestIsKnown = (known: Known): boolean =>
  numberOf(known, 'highestPressureBar') !== undefined || choiceOf(known, 'source') === 'well';

/** The house's water at a temperature, as the element takes it. */
export function feedWaterAt(site: Site, temperatureC: number): FeedWater {
  return {
    temperatureC,
    tdsMgL: site.tdsMgL,
    osmoticBarPerMgL: osmoticBarPerMgL(site.water.composition, temperatureC),
  };
}

/** The supply on an ordinary moment today, and at the worst hour. */
export function supplyOf(site: Site, hour: 'today' | 'worst'): Supply {
  return { staticBar: hour === 'worst' ? site.worstBar : site.staticBar, resistance: site.resistance };
}
