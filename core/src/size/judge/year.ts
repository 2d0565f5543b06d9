import { feedWaterAt, type Site } from '../../gauge/site.ts';
import type { Train } from '../../hydraulics/train.ts';
import { seeded } from '../../demand/random.ts';
import { lifeLitres, throughputLDay } from '../../system/wear.ts';
import type { Design } from '../../system/design.ts';
import { designInHouse } from '../../system/inHouse.ts';
import { findPart, partOf, type Catalogue, type Part } from '../../parts/catalogue.ts';
import type { HouseRules } from '../../rules/rules.ts';
import { FINE_MAP, fillTank, LONGEST_FILL_MIN, operatingMap, type OperatingMap } from '../../run/fill.ts';
import type { AirTank } from '../../hydraulics/tank.ts';
import { runDirect } from '../../run/openTap.ts';
import { simulateDirect } from '../../run/simulateDirect.ts';
import { monthsOf } from '../../run/months.ts';
import { together, type Lived } from '../../run/simulate.ts';

const { min } = Math;

/** Days that stand for a month of draws where a design is only compared. */
const SAMPLE_DAYS = 10;

/** Operating maps of an ordinary moment at the coldest, the mean and the warmest water of the year. */
export interface YearMaps {
  readonly temperaturesC: readonly [number, number, number];
  readonly maps: readonly [OperatingMap, OperatingMap, OperatingMap];
}

/** What a design comes to over a mean year of this household. */
export interface YearFigures {
  /** litres to the drain for each litre made, by months */
  readonly wasteRatio: number;
  readonly wasteL: number;
  /** in the tank, mean of the months, mg/L */
  readonly tdsMgL: number;
  /** hours of making water, and so of a pump */
  readonly runHours: number;
  readonly energyKWh: number;
  /** cartridges, element, water and power, the firm's money a year */
  readonly cost: number;
  readonly costPerL: number;
}

/** Works the three maps out. */
export function yearMaps(train: Train, site: Site, detail = FINE_MAP): YearMaps {
  const cold = min(site.coldestC, site.warmestC);
  const temperaturesC = [cold, (cold + site.warmestC) / 2, site.warmestC] as const;
  const at = (t: number): OperatingMap => operatingMap(train, feedWaterAt(site, t), detail);
  return { temperaturesC, maps: [at(temperaturesC[0]), at(temperaturesC[1]), at(temperaturesC[2])] };
}

/** The parabola through three points at equal distances, at a place between -1 and 1. */
function parabola(y: readonly [number, number, number], x: number): number {
  return y[1] + (x * (y[2] - y[0])) / 2 + (x * x * (y[2] + y[0] - 2 * y[1])) / 2;
}

/** Twelve months by the parabola through three temperatures, tank by tank. */
export function yearFigures(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  tank: AirTank,
  { temperaturesC, maps }: YearMaps,
): YearFigures {
  const fills = maps.map((m) => fillTank(m, tank, 0, site.airBar, LONGEST_FILL_MIN, false));
  const three = (f: (i: number) => number): [number, number, number] => [f(0), f(1), f(2)];
  const waste = three((i) => {
    const x = fills[i];
    return x && x.madeL > 0 ? x.wasteL / x.madeL : 0;
  });
  const tds = three((i) => fills[i]?.tankTdsMgL ?? 0);
  const perLitre = three((i) => {
    const x = fills[i];
    return x && x.madeL > 0 ? x.minutes / x.madeL : 0;
  });
  return sumYear(design, catalogue, site, rules, temperaturesC, waste, tds, perLitre);
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
  return { wasteRatio, wasteL, tdsMgL: salt / litres, runHours, energyKWh, cost, costPerL: cost / litres };
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
