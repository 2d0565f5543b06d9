import { feedWaterAt, type Site } from '../../gauge/site.ts';
import { reopenShare } from '../../hydraulics/train.ts';
import type { Design } from '../../system/design.ts';
import { seeded } from '../../demand/random.ts';
import { designInHouse, type InHouse } from '../../system/inHouse.ts';
import { operate } from '../../run/operate.ts';
import { pressureForFlowBar } from '../../hydraulics/outlet.ts';
import { partOf, type Catalogue } from '../../parts/catalogue.ts';
import type { HouseRules } from '../../rules/rules.ts';
import { fillTank, operatingMap } from '../../run/fill.ts';
import { runDirect } from '../../run/openTap.ts';
import { waterAtPressureL } from '../../hydraulics/tank.ts';
import { simulateDirect } from '../../run/simulateDirect.ts';
import { MONTH_NAMES, monthsOf } from '../../run/months.ts';
import { simulateMonths, monthTable, standingBeside, together, type Lived } from '../../run/simulate.ts';

/** What a design does in one month, at an ordinary moment and as the household lives. */
export interface MonthPoint {
  readonly month: string;
  readonly temperatureC: number;
  readonly inletBar: number;
  /** one fill from empty; without a tank the open tap's flow */
  readonly litresADay: number;
  readonly fillMinutes: number;
  readonly shuts: boolean;
  readonly recovery: number;
  readonly wasteRatio: number;
  readonly openTdsMgL: number;
  readonly tankTdsMgL: number;
  /** as lived, with seeded draws */
  readonly lived: Lived;
}

export interface YearLived {
  readonly months: readonly MonthPoint[];
  readonly year: Lived;
  /** month that makes least */
  readonly worstMonth: string;
  /** litres of the year through the pre-filters, and through what follows the tank */
  readonly preFilterL: number;
  readonly productSideL: number;
  readonly energyKWh: number;
}

/** Flow an element loses and salt passage it gains in a year of chlorine-free use: middle of what sheets and records give. */
export const AGEING = { flow: 0.07, passage: 0.12 } as const;

/** What a design makes at an age, in the worst season. */
export interface AgedPoint {
  readonly years: number;
  readonly litresADay: number;
  readonly tankTdsMgL: number;
  /** whether it still meets the household's needs (without the spare a new one must have; a tap a fifth slower is borne) */
  readonly meets: boolean;
}

/** A design over the years: the element ages, all else is kept as it should be. @param years ages asked for, 0 to 10 */
export function ageing(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  years: readonly number[] = [0, 1, 2, 3, 4, 5],
): AgedPoint[] {
  const plant = designInHouse(design, catalogue, site, 'worst');
  const p = plant.train.permeability;
  return years.map((age) => {
    const permeability = {
      ...p,
      waterLDayBar: p.waterLDayBar * (1 - AGEING.flow) ** age,
      saltLDay: p.saltLDay * (1 - AGEING.flow) ** age * (1 + AGEING.passage) ** age,
    };
    const o = operate({ ...plant, train: { ...plant.train, permeability } }, site, 'worst', site.wantedTapFlowLMin);
    return {
      years: age,
      litresADay: o.litresADay,
      tankTdsMgL: o.fill.tankTdsMgL,
      meets:
        o.fill.reason === null &&
        (o.direct ? o.tapFlowLMin >= 0.8 * site.wantedTapFlowLMin : o.litresADay >= site.litresADay) &&
        o.fill.tankTdsMgL <= rules.productTdsMaxMgL,
    };
  });
}

/**
 * Works a design through twelve months: an operating point each, and every minute of the year with draws from the
 * household's habits.
 * @param seed the same seed gives the same year
 */
export function simulateYear(design: Design, catalogue: Catalogue, site: Site, seed = 1): YearLived {
  const plant = designInHouse(design, catalogue, site, 'today');
  const { tank } = plant;
  if (!tank) return liveDirectYear(design, catalogue, site, plant, seed);
  const months = monthsOf(Math.min(site.coldestC, site.warmestC), site.warmestC);
  const maps = months.map((m) => operatingMap(plant.train, feedWaterAt(site, m.temperatureC)));
  const share = reopenShare(plant.train);
  const tables = months.map((m, i) => {
    const map = maps[i];
    if (!map) throw new RangeError('a month without its map');
    const standing = standingBeside(map, plant.train, feedWaterAt(site, m.temperatureC), plant.holdUp);
    return monthTable(map, tank, m.days, share, plant.airBar, standing);
  });
  const emptyBar = pressureForFlowBar(plant.outlet, site.wantedTapFlowLMin, site.todayC);
  const emptyL = waterAtPressureL(tank, emptyBar, plant.airBar);
  const lived = simulateMonths(tables, site, emptyL, seed);
  const points = months.map((m, i): MonthPoint => {
    const map = maps[i];
    const l = lived[i];
    const open = map?.points[0];
    if (!map || !l || !open) throw new RangeError('a month without its map');
    const fill = fillTank(map, tank, 0, plant.airBar);
    return {
      month: MONTH_NAMES[i] ?? '',
      temperatureC: m.temperatureC,
      inletBar: open.inletBar,
      litresADay: fill.minutes > 0 ? (fill.madeL / fill.minutes) * 1440 : 0,
      fillMinutes: fill.minutes,
      shuts: fill.shuts,
      recovery: fill.fillRecovery,
      wasteRatio: fill.madeL > 0 ? fill.wasteL / fill.madeL : 0,
      openTdsMgL: open.out.permeateTdsMgL,
      tankTdsMgL: fill.tankTdsMgL,
      lived: l,
    };
  });
  return yearOf(design, catalogue, points);
}

/** Twelve months of a design without a tank, draw by draw. */
function liveDirectYear(design: Design, catalogue: Catalogue, site: Site, plant: InHouse, seed: number): YearLived {
  const months = monthsOf(Math.min(site.coldestC, site.warmestC), site.warmestC);
  const spans = months.map((m) => ({
    days: m.days,
    run: runDirect(plant.train, feedWaterAt(site, m.temperatureC), plant.outlet, plant.holdUp),
  }));
  const lived = simulateDirect(spans, site, seeded(seed));
  const points = months.map((m, i): MonthPoint => {
    const run = spans[i]?.run;
    const l = lived[i];
    if (!run || !l) throw new RangeError('a month without its run');
    return {
      month: MONTH_NAMES[i] ?? '',
      temperatureC: m.temperatureC,
      inletBar: run.working.inletBar,
      litresADay: 1440 * run.tapFlowLMin,
      fillMinutes: 0,
      shuts: run.shuts,
      recovery: run.working.out.recovery,
      wasteRatio: l.drunkL > 0 ? l.wasteL / l.drunkL : 0,
      openTdsMgL: run.working.out.permeateTdsMgL,
      tankTdsMgL: run.working.out.permeateTdsMgL,
      lived: l,
    };
  });
  return yearOf(design, catalogue, points);
}

function yearOf(design: Design, catalogue: Catalogue, points: readonly MonthPoint[]): YearLived {
  const worst = points.reduce((a, b) => (b.litresADay < a.litresADay ? b : a));
  const year = together(points.map((p) => p.lived));
  const pump = design.pumpId === null ? null : partOf(catalogue, 'pump', design.pumpId);
  const lamp = design.lampId === null ? null : partOf(catalogue, 'lamp', design.lampId);
  return {
    months: points,
    year,
    worstMonth: worst.month,
    preFilterL: year.madeL + year.wasteL,
    productSideL: year.drunkL,
    energyKWh: ((pump?.powerW ?? 0) * year.runMinutes) / 60000 + ((lamp?.powerW ?? 0) * 24 * year.days) / 1000,
  };
}
