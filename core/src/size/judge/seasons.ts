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
}

/** The year by month at the ordinary pressure, with the element at either end of what makers state. */
export function seasonsOf(design: Design, catalogue: Catalogue, site: Site): SeasonPoint[] {
  const plant = designInHouse(design, catalogue, site, 'today');
  const at = (temperatureC: number, tolerance: number): number => {
    const p = plant.train.permeability;
    const train = { ...plant.train, permeability: { ...p, waterLDayBar: p.waterLDayBar * (1 + tolerance) } };
    return litresADay({ ...plant, train }, site, temperatureC);
  };
  return monthsOf(Math.min(site.coldestC, site.warmestC), site.warmestC).map((m, i) => ({
    month: MONTH_NAMES[i] ?? '',
    temperatureC: m.temperatureC,
    litresADay: at(m.temperatureC, 0),
    lowLDay: at(m.temperatureC, -ELEMENT_TOLERANCE),
    highLDay: at(m.temperatureC, ELEMENT_TOLERANCE),
  }));
}

function litresADay(plant: InHouse, site: Site, temperatureC: number): number {
  const water = feedWaterAt(site, temperatureC);
  if (!plant.tank) return operateDirect(plant, water, temperatureC, COARSE_MAP.slices).litresADay;
  const fill = fillTank(operatingMap(plant.train, water, COARSE_MAP), plant.tank, 0, plant.airBar, undefined, false);
  return fill.reason === null && fill.minutes > 0 ? (fill.madeL / fill.minutes) * 1440 : 0;
}
