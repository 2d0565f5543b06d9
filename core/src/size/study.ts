import { siteFrom, type Site } from '../gauge/site.ts';
import { GAUGE_FIELDS, type FieldKey } from '../gauge/fields.ts';

import { operate, plantOf, type Plant } from '../line/plant.ts';
import type { Design } from '../line/design.ts';
import { formatNumber, formatReading } from '../quantity/format.ts';
import { baseUnit } from '../quantity/units.ts';
import type { SizeInput } from './decide.ts';
import { evaluate } from './evaluate.ts';

/** Makers state the flow of an element within about this share. */
export const ELEMENT_TOLERANCE = 0.15;

/** How far one reading may move before the design no longer does, or before a pump is no longer needed. */
export interface FlipPoint {
  readonly field: FieldKey;
  readonly label: string;
  readonly unit: string;
  readonly reading: number;
  /** half-width of the reading's own uncertainty */
  readonly error: number;
  readonly assumed: boolean;
  /** range of the scale */
  readonly min: number;
  readonly max: number;
  /** the design holds between these; null where it holds to the end of the scale */
  readonly holdsFrom: number | null;
  readonly holdsTo: number | null;
  readonly sentence: string;
  /** the reading's uncertainty reaches the flip: worth taking again */
  readonly near: boolean;
}

/** Output against water temperature, with the element's tolerance. */
export interface TemperaturePoint {
  readonly temperatureC: number;
  readonly litresADay: number;
  readonly lowLDay: number;
  readonly highLDay: number;
  readonly withoutPumpLDay: number | null;
}

export interface DesignStudy {
  readonly flips: readonly FlipPoint[];
  /** smallest pressure at the worst hour at which the same parts do without their pump, bar; null where none does */
  readonly noPumpFromBar: number | null;
  readonly byTemperature: readonly TemperaturePoint[];
}

interface Lever {
  readonly field: FieldKey;
  readonly min: number;
  readonly max: number;
  readonly error: (v: number, assumed: boolean) => number;
  readonly read: (s: Site) => number;
  readonly apply: (s: Site, v: number) => Site;
  readonly word: string;
}

/** The readings a decision hangs on, and how each moves the house. */
const LEVERS: readonly Lever[] = [
  {
    field: 'runningPressureBar',
    min: 0.3,
    max: 8,
    error: (_, assumed) => (assumed ? 0.4 : 0.1),
    read: (s) => s.worstBar,
    apply: (s, v) => ({
      ...s,
      worstBar: v,
      staticBar: Math.max(s.staticBar, v),
      highestBar: Math.max(s.highestBar, v),
    }),
    word: 'pressure',
  },
  {
    field: 'coldestC',
    min: 1,
    max: 25,
    error: (_, assumed) => (assumed ? 3 : 1),
    read: (s) => s.coldestC,
    apply: (s, v) => ({ ...s, coldestC: v, todayC: Math.max(s.todayC, v), warmestC: Math.max(s.warmestC, v) }),
    word: 'coldest water',
  },
  {
    field: 'litresADay',
    min: 1,
    max: 200,
    error: (v, assumed) => v * (assumed ? 0.3 : 0.15),
    read: (s) => s.litresADay,
    apply: (s, v) => ({ ...s, litresADay: v }),
    word: 'use',
  },
  {
    field: 'largestDrawL',
    min: 0.5,
    max: 30,
    error: (v, assumed) => v * (assumed ? 0.25 : 0.1),
    read: (s) => s.largestDrawL,
    apply: (s, v) => ({ ...s, largestDrawL: v }),
    word: 'largest draw',
  },
];

/** First value from `good` towards `end` at which the test fails, by widening steps and bisection; null if it never does. */
export function edgeOf(works: (v: number) => boolean, good: number, end: number): number | null {
  let inside = good;
  let outside = Number.NaN;
  for (let i = 1; i <= 8 && Number.isNaN(outside); i++) {
    const v = good + ((end - good) * i * i) / 64;
    if (works(v)) inside = v;
    else outside = v;
  }
  if (Number.isNaN(outside)) return null;
  for (let n = 0; n < 12; n++) {
    const mid: number = 0.5 * (inside + outside);
    if (works(mid)) inside = mid;
    else outside = mid;
  }
  return 0.5 * (inside + outside);
}

function flipOf(lever: Lever, input: SizeInput, design: Design, site: Site, assumed: boolean): FlipPoint {
  const works = (v: number): boolean =>
    evaluate(design, input.catalogue, lever.apply(site, v), input.rules).failures.length === 0;
  const reading = lever.read(site);
  const error = lever.error(reading, assumed);
  const min = Math.min(lever.min, reading);
  const max = Math.max(lever.max, reading);
  const holds = works(reading);
  const holdsFrom = holds ? edgeOf(works, reading, min) : reading;
  const holdsTo = holds ? edgeOf(works, reading, max) : reading;
  const f = GAUGE_FIELDS[lever.field];
  const unit = f.type === 'quantity' ? (f.unit === '' ? '' : baseUnit(f.kind)) : '';
  const n = (v: number): string => `${formatNumber(v, 2)} ${unit}`.trim();
  const limits = [
    holdsFrom === null ? '' : `from ${n(holdsFrom)}`,
    holdsTo === null ? '' : `up to ${n(holdsTo)}`,
  ].filter(Boolean);
  const said = `${assumed ? 'assumed' : 'read'} ${formatReading(reading)} ${unit} ± ${formatNumber(error, 2)}`;
  const sentence = !holds
    ? `does not hold at ${n(reading)}`
    : limits.length === 0
      ? `holds over the whole scale; ${said}`
      : `holds ${limits.join(' ')}; ${said}`;
  const near = (holdsFrom !== null && reading - error <= holdsFrom) || (holdsTo !== null && reading + error >= holdsTo);
  return {
    field: lever.field,
    label: lever.word,
    unit,
    reading,
    error,
    assumed,
    min,
    max,
    holdsFrom,
    holdsTo,
    sentence,
    near,
  };
}

function litresAt(plant: Plant, site: Site, temperatureC: number, wanted: number, tolerance: number): number {
  const p = plant.train.permeability;
  const scaled: Plant = {
    ...plant,
    train: { ...plant.train, permeability: { ...p, waterLDayBar: p.waterLDayBar * (1 + tolerance) } },
  };
  const o = operate(scaled, { ...site, coldestC: temperatureC, todayC: temperatureC }, 'worst', wanted);
  return o.fill.shuts ? o.litresADay : 0;
}

/** Looks around a design: what would flip it, and what it makes in colder and warmer water. */
export function studyDesign(input: SizeInput, design: Design): DesignStudy | null {
  const result = siteFrom(input.known, input.rules);
  if (!result.ok) return null;
  const { site, assumed } = result;
  const isAssumed = (f: FieldKey): boolean => assumed.some((a) => a.field === f);
  const flips = LEVERS.map((l) => flipOf(l, input, design, site, isAssumed(l.field)));
  const plant = plantOf(design, input.catalogue, site, 'worst');
  const bareDesign = { ...design, pumpId: null };
  const bare = design.pumpId === null ? null : plantOf(bareDesign, input.catalogue, site, 'worst');
  const wanted = input.rules.wantedTapFlowLMin;
  const byTemperature = [2, 4, 6, 8, 10, 13, 16, 20, 25].map((temperatureC) => ({
    temperatureC,
    litresADay: litresAt(plant, site, temperatureC, wanted, 0),
    lowLDay: litresAt(plant, site, temperatureC, wanted, -ELEMENT_TOLERANCE),
    highLDay: litresAt(plant, site, temperatureC, wanted, ELEMENT_TOLERANCE),
    withoutPumpLDay: bare ? litresAt(bare, site, temperatureC, wanted, 0) : null,
  }));
  let noPumpFromBar: number | null = null;
  if (bare) {
    const lever = LEVERS[0];
    const fails = (v: number): boolean =>
      !lever || evaluate(bareDesign, input.catalogue, lever.apply(site, v), input.rules).failures.length > 0;
    noPumpFromBar = fails(site.worstBar) ? edgeOf(fails, site.worstBar, 8) : site.worstBar;
  }
  return { flips, noPumpFromBar, byTemperature };
}
