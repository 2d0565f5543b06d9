import { feedWaterAt, type Site } from '../../gauge/site.ts';
import type { Design } from '../../system/design.ts';
import { designInHouse, type InHouse } from '../../system/inHouse.ts';
import { operateDirect } from '../../run/operate.ts';
import type { Catalogue } from '../../parts/catalogue.ts';
import { COARSE_MAP, fillTank, operatingMap } from '../../run/fill.ts';
import { MONTH_NAMES, monthsOf } from '../../run/months.ts';
import { ELEMENT_TOLERANCE } from './study.ts';

/** What a design makes in one month of an ordinary year, with the band its element may lie in. */
export interface SeasonPoint {
  readonly month: string;
  readonly temperatureC: number;
  /** filling again and again from empty, or at the open tap, L/day */
  readonly litresADay: number;
  readonly lowLDay: number;
  readonly highLDay: number;
  /** in the tank, or running, mg/L */
  readonly tdsMgL: number;
  readonly wasteRatio: number;
}

/** The year by month at the ordinary pressure, with the element at either end of what makers state. */
export function seasonsOf(design: Design, catalogue: Catalogue, site: Site): SeasonPoint[] {
  const plant = designInHouse(design, catalogue, site, 'today');
  const at = (
    temperatureC: number,
    tolerance: number,
  ): Omit<SeasonPoint, 'month' | 'temperatureC' | 'lowLDay' | 'highLDay'> => {
    const p = plant.train.permeability;
    const train = { ...plant.train, permeability: { ...p, waterLDayBar: p.waterLDayBar * (1 + tolerance) } };
    return outputOf({ ...plant, train }, site, temperatureC);
  };
  return monthsOf(Math.min(site.coldestC, site.warmestC), site.warmestC).map((m, i) => ({
    month: MONTH_NAMES[i] ?? '',
    temperatureC: m.temperatureC,
    ...at(m.temperatureC, 0),
    lowLDay: at(m.temperatureC, -ELEMENT_TOLERANCE).litresADay,
    highLDay: at(m.temperatureC, ELEMENT_TOLERANCE).litresADay,
  }));
}

function outputOf(
  plant: InHouse,
  site: Site,
  temperatureC: number,
): Pick<SeasonPoint, 'litresADay' | 'tdsMgL' | 'wasteRatio'> {
  const water = feedWaterAt(site, temperatureC);
  if (!plant.tank) {
    const o = operateDirect(plant, water, temperatureC, COARSE_MAP.slices);
    return { litresADay: o.litresADay, tdsMgL: o.fill.tankTdsMgL, wasteRatio: o.wasteRatio };
  }
  const fill = fillTank(operatingMap(plant.train, water, COARSE_MAP), plant.tank, 0, plant.airBar, undefined, false);
  return {
    litresADay: fill.reason === null && fill.minutes > 0 ? (fill.madeL / fill.minutes) * 1440 : 0,
    tdsMgL: fill.tankTdsMgL,
    wasteRatio: fill.madeL > 0 ? fill.wasteL / fill.madeL : 0,
  };
}
