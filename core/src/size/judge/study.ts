import { highestIsKnown, siteFrom, type Assumed, type Site } from '../../gauge/site.ts';
import { GAUGE_FIELDS, type FieldKey, type Known } from '../../gauge/fields.ts';
import { designInHouse, type InHouse } from '../../system/inHouse.ts';
import { operate } from '../../run/operate.ts';
import { designInWords, kindInWords, sameDesign, sameKind, type Design } from '../../system/design.ts';
import { formatNumber, formatReading } from '../../quantity/format.ts';
import { shownUnit } from '../../quantity/units.ts';
import { COARSE_MAP } from '../../run/fill.ts';
import type { Contender } from '../decide.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import { evaluateCoarsely, evaluateWithin, sharedOf, type Shared } from './evaluate.ts';
import { figureError } from './readings.ts';

const { abs, max, min } = Math;

/** Makers state the flow of an element within about this share. */
export const ELEMENT_TOLERANCE = 0.15;

/** How far one reading may move before another decision is due. */
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
  /** the decision stands between these; null where it stands to the end of the scale */
  readonly holdsFrom: number | null;
  readonly holdsTo: number | null;
  /** what comes of it beyond each edge, in words */
  readonly below: string | null;
  readonly above: string | null;
  readonly sentence: string;
  /** at the end of the reading's uncertainty the design fails, or another kind is ahead: worth taking again */
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
  /** the nearest flip first */
  readonly flips: readonly FlipPoint[];
  /** smallest pressure at the worst hour at which the same parts do without their pump, bar; null where none does */
  readonly noPumpFromBar: number | null;
  readonly byTemperature: readonly TemperaturePoint[];
}

interface Lever {
  readonly field: FieldKey;
  readonly min: number;
  readonly max: number;
  readonly word: string;
  /** figure in use, read or assumed; undefined where the house has none */
  readonly read: (s: Site, known: Known) => number | undefined;
  /** moving it leaves pressures, temperatures and the water's salt as they are: what was solved serves again */
  readonly still?: true;
  /** the readings with this one moved, and what must move with it */
  readonly apply: (known: Known, s: Site, v: number) => Known;
}

const plain = (
  field: FieldKey,
  from: number,
  to: number,
  word: string,
  read: (s: Site) => number | undefined,
): Lever => ({ field, min: from, max: to, word, read, apply: (known, _, v) => ({ ...known, [field]: v }) });
const still = (...args: Parameters<typeof plain>): Lever => ({ ...plain(...args), still: true });

/** Every reading a decision may hang on, and how each moves the house. */
const LEVERS: readonly Lever[] = [
  {
    field: 'runningPressureBar',
    min: 0.3,
    max: 8,
    word: 'pressure at the worst hour',
    read: (s) => (s.source === 'well' ? undefined : s.worstBar),
    apply: (known, s, v) => ({
      ...known,
      runningPressureBar: v,
      staticPressureBar: max(s.staticBar, v),
      ...(highestIsKnown(known) ? { highestPressureBar: max(s.highestBar, v) } : {}),
    }),
  },
  {
    field: 'switchLowBar',
    min: 0.3,
    max: 6,
    word: 'well switch, low',
    read: (s) => (s.source === 'well' ? s.worstBar : undefined),
    apply: (known, s, v) => ({ ...known, switchLowBar: v, switchHighBar: max(s.staticBar, v) }),
  },
  {
    field: 'staticPressureBar',
    min: 0.5,
    max: 8,
    word: 'static pressure',
    read: (s) => s.staticBar,
    apply: (known, s, v) => ({
      ...known,
      staticPressureBar: v,
      ...(highestIsKnown(known) ? { highestPressureBar: max(s.highestBar, v) } : {}),
      ...(s.source === 'well' ? {} : { runningPressureBar: min(s.worstBar, v) }),
    }),
  },
  {
    field: 'highestPressureBar',
    min: 0.5,
    max: 12,
    word: 'highest pressure',
    still: true,
    read: (s) => (s.source === 'well' ? undefined : s.highestBar),
    apply: (known, s, v) => ({ ...known, highestPressureBar: max(v, s.staticBar) }),
  },
  {
    field: 'coldestC',
    min: 1,
    max: 25,
    word: 'coldest water',
    read: (s) => s.coldestC,
    apply: (known, s, v) => ({ ...known, coldestC: v, temperatureC: max(s.todayC, v), warmestC: max(s.warmestC, v) }),
  },
  {
    field: 'warmestC',
    min: 4,
    max: 38,
    word: 'warmest water',
    read: (s) => s.warmestC,
    apply: (known, s, v) => ({ ...known, warmestC: max(v, s.todayC) }),
  },
  plain('feedTdsMgL', 20, 4000, 'feed TDS', (s) => s.tdsMgL),
  plain('hardnessMgL', 0, 700, 'hardness', (s) => s.hardnessMgL),
  plain('alkalinityMgL', 1, 600, 'alkalinity', (s) => s.water.carbonate.alkalinity * 50043.5),
  still('pH', 5.5, 9.5, 'pH', (s) => s.water.carbonate.pH),
  still('silicaMgL', 0, 100, 'silica', (s) => (s.water.composition.molL.SiO2 ?? 0) * 60083),
  still('litresADay', 1, 200, 'use', (s) => s.litresADay),
  still('largestDrawL', 0.5, 30, 'largest draw', (s) => s.largestDrawL),
  still('chlorineMgL', 0, 5, 'chlorine', (s) => (s.disinfectant === 'none' ? undefined : s.chlorineMgL)),
  still('ironMgL', 0, 3, 'iron', (s) => (s.ironMgL > 0 ? s.ironMgL : undefined)),
  still('fridgeMinBar', 0.3, 4, 'fridge’s least pressure', (s) => (s.fridge ? s.fridgeMinBar : undefined)),
  still('fridgeLengthM', 0.5, 30, 'tube to the fridge', (s) => (s.fridge ? s.fridgeLengthM : undefined)),
  still('tapLengthM', 0.2, 30, 'tube to the tap', (s) => s.tapLengthM),
  still('tapRiseM', 0, 6, 'rise to the tap', (s) => s.tapRiseM),
  still('cupboardWidthMm', 300, 1500, 'cupboard width', (s) => s.cupboard?.widthMm),
  still('cupboardDepthMm', 150, 900, 'cupboard depth', (s) => s.cupboard?.depthMm),
  still('cupboardHeightMm', 250, 900, 'cupboard height', (s) => s.cupboard?.heightMm),
];

/** The range a reading is moved over to see what follows; null for one no decision hangs on. */
export function leverRange(field: FieldKey): { readonly min: number; readonly max: number } | null {
  const lever = LEVERS.find((l) => l.field === field);
  return lever ? { min: lever.min, max: lever.max } : null;
}

/** The readings with one of them moved to a value, and those moved along that cannot stay. */
export function moved(known: Known, site: Site, field: FieldKey, value: number): Known {
  const lever = LEVERS.find((l) => l.field === field);
  return lever ? lever.apply(known, site, value) : { ...known, [field]: value };
}

/** Halvings of a step in which a verdict turned: an edge is told to two digits, and stands within a thousandth of its scale. */
const BISECTIONS = 8;

/** First value from `good` towards `end` at which the test fails, by widening steps and bisection; null if it never does. */
export function edgeOf(works: (v: number) => boolean, good: number, end: number): number | null {
  if (good === end) return null;
  let inside = good;
  let outside = Number.NaN;
  for (let i = 1; i <= 8 && Number.isNaN(outside); i++) {
    const v = good + ((end - good) * i * i) / 64;
    if (works(v)) inside = v;
    else outside = v;
  }
  if (Number.isNaN(outside)) return null;
  for (let n = 0; n < BISECTIONS; n++) {
    const mid: number = 0.5 * (inside + outside);
    if (works(mid)) inside = mid;
    else outside = mid;
  }
  return 0.5 * (inside + outside);
}

/** What would be said of the design at a moved reading: null where the decision stands. */
type Verdict = string | null;

/** A design with what was solved of it at the readings as they are. */
interface Rival {
  readonly design: Design;
  /** points for what it may not do; see `weigh` */
  readonly risk: number;
  /** none without a tank: its running state is worked out anew */
  readonly shared: Shared | undefined;
}

const familyOf = (design: Design, input: SizeInput, site: Site): Shared | undefined =>
  design.tankId === null ? undefined : sharedOf(design, input.catalogue, site, COARSE_MAP);

/** What would be said of a design at these readings, beside those that stood next in line at others: null where it stands. */
export function verdictAt(input: SizeInput, design: Design, contenders: readonly Contender[], risk: number): Verdict {
  const rival = (c: Contender): Rival => ({ ...c, shared: undefined });
  const others = contenders.filter((c) => !sameDesign(c.design, design)).map(rival);
  return judge(input, rival({ design, risk }), others, input.known, false);
}

/**
 * Judges a design at moved readings: it falls when it fails, or when another kind of system is ahead of it, and of every
 * other size of its own kind, by more than the band within which they are as good. Another size of the same kind is no flip.
 */
function judge(input: SizeInput, own: Rival, contenders: readonly Rival[], known: Known, sameWater: boolean): Verdict {
  const r = siteFrom(known, input.rules, input.placed);
  if (!r.ok) return null;
  const { site } = r;
  const { catalogue, rules } = input;
  const sharedAt = ({ design, shared }: Rival): Shared | undefined =>
    sameWater ? shared : familyOf(design, input, site);
  const mine = evaluateCoarsely(own.design, catalogue, site, rules, sharedAt(own));
  const failure = mine.failures[0];
  if (failure) return failure.text;
  /** whether a contender works and stands below these points; a year that cannot bring it there is not worked out */
  const below = (c: Rival, points: number): boolean => {
    const e = evaluateWithin(c.design, catalogue, site, rules, sharedAt(c), points - c.risk);
    return e?.failures.length === 0 && e.score + c.risk < points;
  };
  const ahead = contenders.find(
    (c) => !sameKind(c.design, own.design) && below(c, mine.score + own.risk - rules.indifference),
  );
  if (!ahead) return null;
  const points =
    evaluateCoarsely(ahead.design, catalogue, site, rules, sharedAt(ahead)).score + ahead.risk + rules.indifference;
  return contenders.some((c) => sameKind(c.design, own.design) && below(c, points))
    ? null
    : `${capital(kindInWords(ahead.design))} does better: ${designInWords(ahead.design, catalogue)}.`;
}

const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** @param now what is said of the design at the readings as they are */
function flipOf(
  lever: Lever,
  input: SizeInput,
  own: Rival,
  contenders: readonly Rival[],
  now: Verdict,
  site: Site,
  taken: readonly Assumed[],
): FlipPoint | null {
  const reading = lever.read(site, input.known);
  if (reading === undefined) return null;
  const { error, assumed } = figureError(lever.field, reading, input.known, site, taken, input.errors);
  const known = (v: number): Known => lever.apply(input.known, site, v);
  const verdict = (v: number): Verdict => judge(input, own, contenders, known(v), lever.still === true);
  const low = min(lever.min, reading);
  const high = max(lever.max, reading);
  // what was only taken for granted is another reading once it is read
  const here = sameReadings(known(reading), input.known) ? now : verdict(reading);
  const holds = here === null;
  /** where it ends towards one end of the scale, and what is said a little beyond, or in a narrower gap at the very edge */
  const ends = (scale: number, way: 1 | -1): { readonly at: number | null; readonly beyond: Verdict } => {
    let last = here;
    const works = (v: number): boolean => {
      const said = verdict(v);
      last = said ?? last;
      return said === null;
    };
    const at = holds ? edgeOf(works, reading, scale) : reading;
    return { at, beyond: at === null ? null : (verdict(at + way * 0.002 * (high - low)) ?? last) };
  };
  const { at: holdsFrom, beyond: below } = ends(low, -1);
  const { at: holdsTo, beyond: above } = ends(high, 1);
  const f = GAUGE_FIELDS[lever.field];
  const unit = f.type === 'quantity' ? shownUnit(f.kind) : '';
  const n = (v: number): string => `${formatNumber(v, 2)} ${unit}`.trim();
  const limits =
    holdsFrom !== null && holdsTo !== null
      ? `from ${formatNumber(holdsFrom, 2)} to ${n(holdsTo)}`
      : holdsFrom !== null
        ? `from ${n(holdsFrom)} up`
        : holdsTo !== null
          ? `up to ${n(holdsTo)}`
          : '';
  const said = `${assumed ? 'assumed' : 'read'} ${formatReading(reading)} ± ${formatNumber(error, 2)}`;
  const sentence = !holds
    ? `does not hold at ${n(reading)}`
    : limits === ''
      ? `holds over the whole scale; ${said}`
      : `holds ${limits}; ${said}`;
  return {
    field: lever.field,
    label: lever.word,
    unit,
    reading,
    error,
    assumed,
    min: low,
    max: high,
    holdsFrom,
    holdsTo,
    below,
    above,
    sentence,
    near:
      (holdsFrom !== null && reading - error <= holdsFrom && verdict(max(low, reading - error)) !== null) ||
      (holdsTo !== null && reading + error >= holdsTo && verdict(min(high, reading + error)) !== null),
  };
}

const sameReadings = (a: Known, b: Known): boolean =>
  [...Object.keys(a), ...Object.keys(b)].every((k) => a[k as FieldKey] === b[k as FieldKey]);

/** How many of its own errors a reading is away from its nearest flip. */
function distance(f: FlipPoint): number {
  const edges = [f.holdsFrom, f.holdsTo].filter((e) => e !== null);
  return edges.length === 0 ? Infinity : min(...edges.map((e) => abs(e - f.reading))) / max(1e-9, f.error);
}

function litresAt(plant: InHouse, site: Site, temperatureC: number, wanted: number, tolerance: number): number {
  const p = plant.train.permeability;
  const scaled: InHouse = {
    ...plant,
    train: { ...plant.train, permeability: { ...p, waterLDayBar: p.waterLDayBar * (1 + tolerance) } },
  };
  const o = operate(scaled, { ...site, coldestC: temperatureC, todayC: temperatureC }, 'worst', wanted);
  return o.fill.reason === null ? o.litresADay : 0;
}

/** What a design makes in colder and warmer water, with the element's tolerance. */
function curveOf(input: SizeInput, design: Design, site: Site): TemperaturePoint[] {
  const plant = designInHouse(design, input.catalogue, site, 'worst');
  const bare =
    design.pumpId === null ? null : designInHouse({ ...design, pumpId: null }, input.catalogue, site, 'worst');
  const wanted = site.wantedTapFlowLMin;
  return [2, 4, 6, 8, 10, 13, 16, 20, 25].map((temperatureC) => ({
    temperatureC,
    litresADay: litresAt(plant, site, temperatureC, wanted, 0),
    lowLDay: litresAt(plant, site, temperatureC, wanted, -ELEMENT_TOLERANCE),
    highLDay: litresAt(plant, site, temperatureC, wanted, ELEMENT_TOLERANCE),
    withoutPumpLDay: bare ? litresAt(bare, site, temperatureC, wanted, 0) : null,
  }));
}

/**
 * Looks around a design: which reading would change the decision and where, and what it makes in colder and warmer water.
 * @param contenders designs that stood next in line; where one of another kind does better the decision changes too
 * @param risk points of the design itself for what it may not do
 */
export function studyDesign(
  input: SizeInput,
  design: Design,
  contenders: readonly Contender[] = [],
  risk = 0,
): DesignStudy | null {
  const result = siteFrom(input.known, input.rules, input.placed);
  if (!result.ok) return null;
  const { site, assumed } = result;
  const rivalOf = (c: Contender): Rival => ({ ...c, shared: familyOf(c.design, input, site) });
  const own = rivalOf({ design, risk });
  const others = contenders.filter((c) => !sameDesign(c.design, design)).map(rivalOf);
  // a design that is not the best here (it was chosen by hand) is only asked whether it still does
  const rivals = judge(input, own, others, input.known, true) === null ? others : [];
  const now = rivals === others ? null : judge(input, own, rivals, input.known, true);
  const flips = LEVERS.flatMap((l) => flipOf(l, input, own, rivals, now, site, assumed) ?? []).sort(
    (a, b) => distance(a) - distance(b),
  );
  let noPumpFromBar: number | null = null;
  if (design.pumpId !== null) {
    const bare = rivalOf({ design: { ...design, pumpId: null }, risk: 0 });
    const pressure = LEVERS[site.source === 'well' ? 1 : 0];
    const fails = (v: number): boolean =>
      !pressure || judge(input, bare, [], pressure.apply(input.known, site, v), false) !== null;
    noPumpFromBar = fails(site.worstBar) ? edgeOf(fails, site.worstBar, 8) : site.worstBar;
  }
  return { flips, noPumpFromBar, byTemperature: curveOf(input, design, site) };
}
