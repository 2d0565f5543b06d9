import { feedWaterAt, type Site } from '../../gauge/site.ts';
import { reopenShare, solveTrain, type FeedWater, type Train } from '../../hydraulics/train.ts';
import { drawsOfDay, type Draw } from '../../demand/draws.ts';
import { seeded } from '../../demand/random.ts';
import { lifeLitres, throughputLDay } from '../../system/wear.ts';
import type { Design } from '../../system/design.ts';
import { designInHouse, type InHouse } from '../../system/inHouse.ts';
import type { ElementOutput } from '../../membrane/element.ts';
import { findPart, partOf, type Catalogue, type Part } from '../../parts/catalogue.ts';
import type { HouseRules } from '../../rules/rules.ts';
import { FINE_MAP, fillTank, LONGEST_FILL_MIN, operatingMap, type OperatingMap } from '../../run/fill.ts';
import { pressureForFlowBar } from '../../hydraulics/outlet.ts';
import { waterAtPressureL, type AirTank } from '../../hydraulics/tank.ts';
import { runDirect } from '../../run/openTap.ts';
import { simulateDirect } from '../../run/simulateDirect.ts';
import { monthsOf } from '../../run/months.ts';
import { sampleDays, type Sampled } from '../../run/sample.ts';
import { monthTable, standingBeside, together, ventedTable, type Lived } from '../../run/simulate.ts';

const { max, min } = Math;

/** Days that stand for a month of draws where a design is only compared. */
const SAMPLE_DAYS = 10;

/** Operating maps of an ordinary moment at the coldest, the mean and the warmest water of the year. */
export interface YearMaps {
  readonly temperaturesC: readonly [number, number, number];
  readonly maps: readonly [OperatingMap, OperatingMap, OperatingMap];
  /** lived through at each temperature; in searches at the mean one, whose ratio to a fill from empty stands for the others */
  readonly lived: 'each' | 'mean';
}

/** One season as it is lived. */
export interface LivedSeason {
  /** litres to the drain for each litre made */
  readonly wasteRatio: number;
  /** as drunk, mg/L */
  readonly tdsMgL: number;
}

/** What a design comes to over a mean year of this household, as it is lived. */
export interface YearFigures {
  /** litres to the drain for each litre made, by months */
  readonly wasteRatio: number;
  readonly wasteL: number;
  /** as drunk, mean of the months, mg/L */
  readonly tdsMgL: number;
  /** as lived in the coldest and in the warmest water */
  readonly cold: LivedSeason;
  readonly warm: LivedSeason;
  /** hours of making water, and so of a pump */
  readonly runHours: number;
  readonly energyKWh: number;
  /** cartridges, element, water and power, the firm's money a year */
  readonly cost: number;
  readonly costPerL: number;
}

/** Works the three maps out. */
export function yearMaps(train: Train, site: Site, detail = FINE_MAP, lived: YearMaps['lived'] = 'each'): YearMaps {
  const cold = min(site.coldestC, site.warmestC);
  const temperaturesC = [cold, (cold + site.warmestC) / 2, site.warmestC] as const;
  const at = (t: number): OperatingMap => operatingMap(train, feedWaterAt(site, t), detail);
  return { temperaturesC, maps: [at(temperaturesC[0]), at(temperaturesC[1]), at(temperaturesC[2])], lived };
}

/** The parabola through three points at equal distances, at a place between -1 and 1. */
function parabola(y: readonly [number, number, number], x: number): number {
  return y[1] + (x * (y[2] - y[0])) / 2 + (x * x * (y[2] + y[0] - 2 * y[1])) / 2;
}

/** Days lived before those that are counted, so that the tank holds what it holds when it is used. */
const LEAD_DAYS = 2;
const days = new Map<string, readonly (readonly Draw[])[]>();
/** Households whose days are kept: a reading moved to and fro leaves most of them as they are. */
const DAYS_KEPT = 64;

/** The days every design of a household is compared by: the same draws for all, drawn once. */
function daysOf(site: Site): readonly (readonly Draw[])[] {
  const { litresADay, largestDrawL, mealsADay, bottlesADay, iceLADay, secondTapLADay } = site;
  const habits = [litresADay, largestDrawL, mealsADay, bottlesADay, iceLADay, secondTapLADay].join(' ');
  const known = days.get(habits);
  if (known) return known;
  const random = seeded(1);
  const drawn = Array.from({ length: LEAD_DAYS + SAMPLE_DAYS }, () => drawsOfDay(site, random));
  const [oldest] = days.keys();
  if (days.size >= DAYS_KEPT && oldest !== undefined) days.delete(oldest);
  days.set(habits, drawn);
  return drawn;
}

/**
 * Lives some days with a tank: it is refilled from where the shut-off reopens, not from empty, and each start pushes in what
 * crept through the membrane while it stood.
 * @param map of this plant in this water
 */
export function liveSample(plant: InHouse, tank: AirTank, site: Site, map: OperatingMap, water: FeedWater): Sampled {
  const emptyBar = pressureForFlowBar(plant.outlet, site.wantedTapFlowLMin, site.todayC);
  const standing = standingBeside(map, plant.train, water, plant.holdUp);
  const table = monthTable(map, tank, SAMPLE_DAYS, reopenShare(plant.train), plant.airBar, standing);
  return sampleDays(table, waterAtPressureL(tank, emptyBar, plant.airBar), daysOf(site), LEAD_DAYS);
}

/** What a litre comes to at one temperature as it is lived with: to the drain, carried as drunk, minutes of making. */
type PerLitre = readonly [waste: number, tds: number, minutes: number];
const NOTHING: PerLitre = [0, 0, 0];

function perLitreLived(l: Sampled): PerLitre {
  return l.madeL > 0 ? [l.wasteL / l.madeL, l.tdsMgL, l.runMinutes / l.madeL] : NOTHING;
}
function perLitreFilled(map: OperatingMap, tank: AirTank, airBar: number): PerLitre {
  const f = fillTank(map, tank, 0, airBar, LONGEST_FILL_MIN, false);
  return f.madeL > 0 ? [f.wasteL / f.madeL, f.tankTdsMgL, f.minutes / f.madeL] : NOTHING;
}

/** Twelve months by the parabola through three temperatures, each lived through for some days of draws. */
export function yearFigures(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  tank: AirTank,
  { temperaturesC, maps, lived }: YearMaps,
): YearFigures {
  const plant = designInHouse(design, catalogue, site, 'today');
  const livedAt = (i: 0 | 1 | 2): PerLitre =>
    perLitreLived(liveSample(plant, tank, site, maps[i], feedWaterAt(site, temperaturesC[i])));
  const byMean = (): [PerLitre, PerLitre, PerLitre] => {
    const mean = livedAt(1);
    const [cold, middle, warm] = maps.map((m) => perLitreFilled(m, tank, plant.airBar));
    const as = (filled = NOTHING): PerLitre => {
      const scaled = (k: 0 | 1 | 2): number => (middle && middle[k] > 0 ? (filled[k] * mean[k]) / middle[k] : 0);
      return [scaled(0), scaled(1), scaled(2)];
    };
    return [as(cold), mean, as(warm)];
  };
  const [cold, mean, warm] = lived === 'each' ? [livedAt(0), livedAt(1), livedAt(2)] : byMean();
  const three = (k: 0 | 1 | 2): [number, number, number] => [cold[k], mean[k], warm[k]];
  return sumYear(design, catalogue, site, rules, temperaturesC, three(0), three(1), three(2));
}

/** The same for a design without a tank: three running states, each lived through for some days of draws. */
export function directYear(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  slices?: number,
): YearFigures {
  const plant = designInHouse(design, catalogue, site, 'today');
  const cold = min(site.coldestC, site.warmestC);
  const temperaturesC = [cold, (cold + site.warmestC) / 2, site.warmestC] as const;
  const spans = temperaturesC.map((t) => ({
    run: runDirect(plant.train, feedWaterAt(site, t), plant.outlet, plant.holdUp, slices),
    days: SAMPLE_DAYS,
  }));
  // the same days at each temperature, so that only the water differs
  const lived = spans.map((s) => together(simulateDirect([s], site, seeded(1))));
  const three = (f: (l: Lived) => number): [number, number, number] => {
    const at = (i: number): number => {
      const l = lived[i];
      return l && l.drunkL > 0 ? f(l) : 0;
    };
    return [at(0), at(1), at(2)];
  };
  return sumYear(
    design,
    catalogue,
    site,
    rules,
    temperaturesC,
    three((l) => l.wasteL / l.drunkL),
    three((l) => l.tdsMgL),
    three((l) => l.runMinutes / l.drunkL),
  );
}

/** The same for a vented tank, refilled by its float against nothing. @throws RangeError for a plant without one */
export function ventedYear(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  plant: InHouse,
): YearFigures {
  const { vented, train } = plant;
  if (!vented) throw new RangeError('a year with a vented tank wants one');
  const cold = min(site.coldestC, site.warmestC);
  const temperaturesC = [cold, (cold + site.warmestC) / 2, site.warmestC] as const;
  const lived = (t: number): PerLitre => {
    const water = feedWaterAt(site, t);
    const working = solveTrain(train, water, 0, undefined, FINE_MAP.slices);
    const map = { closeBar: 0, pressuresBar: [0], points: [working] };
    const standing = standingBeside(map, train, water, plant.holdUp);
    return perLitreLived(
      sampleDays(ventedTable(working.out, vented, SAMPLE_DAYS, standing), 0, daysOf(site), LEAD_DAYS),
    );
  };
  const [a, b, c] = temperaturesC.map(lived);
  const three = (k: 0 | 1 | 2): [number, number, number] => [a?.[k] ?? 0, b?.[k] ?? 0, c?.[k] ?? 0];
  return sumYear(design, catalogue, site, rules, temperaturesC, three(0), three(1), three(2));
}

/** Twelve months by parabolas through three temperatures, and what they cost. */
function sumYear(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  temperaturesC: readonly [number, number, number],
  waste: readonly [number, number, number],
  tds: readonly [number, number, number],
  perLitre: readonly [number, number, number],
): YearFigures {
  const half = (temperaturesC[2] - temperaturesC[0]) / 2;
  let wasteL = 0;
  let salt = 0;
  let minutes = 0;
  let litres = 0;
  for (const m of monthsOf(temperaturesC[0], temperaturesC[2])) {
    const x = half > 0 ? (m.temperatureC - temperaturesC[1]) / half : 0;
    const used = m.days * site.litresADay;
    litres += used;
    wasteL += used * parabola(waste, x);
    salt += used * parabola(tds, x);
    minutes += used * parabola(perLitre, x);
  }
  const wasteRatio = wasteL / litres;
  const pump = design.pumpId === null ? null : partOf(catalogue, 'pump', design.pumpId);
  const runHours = minutes / 60;
  const lamp = design.lampId === null ? null : partOf(catalogue, 'lamp', design.lampId);
  // a lamp burns all day: water is never to pass it while it warms up
  const energyKWh = ((pump?.powerW ?? 0) * runHours + (lamp?.powerW ?? 0) * 8760) / 1000;
  const cost = yearCost(design, catalogue, site, rules, wasteRatio, energyKWh);
  return {
    wasteRatio,
    wasteL,
    tdsMgL: salt / litres,
    cold: { wasteRatio: waste[0], tdsMgL: tds[0] },
    warm: { wasteRatio: waste[2], tdsMgL: tds[2] },
    runHours,
    energyKWh,
    cost,
    costPerL: cost / litres,
  };
}

/** A part that is used up, and how long one lasts here. */
export interface Wear {
  readonly part: Part;
  readonly count: number;
  /** until it is changed, by calendar or litres, whichever comes first */
  readonly days: number;
}

/** What of a design is used up at a house, the feed side faster the more goes to the drain. */
export function wearsOut(design: Design, catalogue: Catalogue, site: Site, wasteRatio: number): Wear[] {
  const wear = (id: string | null, feedSide: boolean, count = 1): Wear[] => {
    const part = findPart(catalogue, id);
    if (!part?.life) return [];
    const perDay = throughputLDay(feedSide ? 'sediment' : 'tap', site.litresADay, wasteRatio);
    const days = min(30.44 * (part.life.months ?? Infinity), lifeLitres(part, site) / perDay);
    return Number.isFinite(days) ? [{ part, count, days }] : [];
  };
  return [
    ...wear(design.sedimentId, true),
    ...wear(design.ironId, true),
    ...design.carbonIds.flatMap((id) => wear(id, true)),
    ...wear(design.elementId, false, design.elementCount),
    ...wear(design.polishId, false),
    ...wear(design.mineralId, false),
    ...wear(design.lampId, false),
    ...wear(design.permeatePumpId, false),
  ];
}

/** Water, power, cartridges and element of a year, the firm's money. It rises with the waste and the power. */
export function yearCost(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  wasteRatio: number,
  energyKWh: number,
): number {
  const litres = 365 * site.litresADay * (1 + wasteRatio);
  let cost = (rules.waterPerM3 * litres) / 1000 + rules.powerPerKWh * energyKWh;
  for (const { part, count, days } of wearsOut(design, catalogue, site, wasteRatio))
    cost += (count * (part.price ?? 0) * 365) / days;
  return cost;
}

/** Figures below which a year cannot come. */
export type LeastYear = Pick<YearFigures, 'wasteRatio' | 'tdsMgL' | 'cost'>;

/**
 * What a year with a tank comes to at the least, as a share of running against nothing: it is refilled against what stands in
 * it, and each start carries in what crept. Least met over 6,600 designs of 40 random houses: 1.27 and 1.5.
 */
const WITH_TANK = { waste: 1.2, tds: 1.4 } as const;

/** The least a year of a design can come to: waste, salt and cost as they are against no product pressure, or little more. */
export function leastYear(
  {
    open,
    warm,
    direct,
  }: {
    readonly open: ElementOutput;
    readonly warm: Pick<ElementOutput, 'recovery' | 'permeateTdsMgL'>;
    readonly direct: boolean;
  },
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
): LeastYear {
  // a coarse solve is within a hundredth of a fine one
  const least = direct ? { waste: 0.98, tds: 0.9 } : WITH_TANK;
  const wasteRatio = least.waste * (1 / max(1e-6, warm.recovery, open.recovery) - 1);
  return {
    wasteRatio,
    tdsMgL: least.tds * min(open.permeateTdsMgL, warm.permeateTdsMgL),
    cost: yearCost(design, catalogue, site, rules, wasteRatio, 0),
  };
}
