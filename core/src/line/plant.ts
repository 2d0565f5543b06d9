import { feedWaterAt, supplyOf, type Site } from '../gauge/site.ts';
import { tapFlowLMin, pressureForFlowBar, type Outlet } from '../hydraulics/outlet.ts';
import { solveTrain, type Train, type Working } from '../hydraulics/train.ts';
import { fitPermeability, type ElementRating, type Permeability } from '../membrane/element.ts';
import { fillTank, operatingMap, type Fill, type OperatingMap } from '../storage/fill.ts';
import { pressureAtWaterBar, waterAtPressureL, type AirTank } from '../storage/tank.ts';
import { partOf, type Catalogue } from '../shelf/parts.ts';
import type { Design } from './design.ts';

const { max, min } = Math;

/** Pre-filters are taken half loaded: twice their clean pressure loss. */
export const HALF_LOADED = 2;

/** A design in a house, ready for the physics. */
export interface Plant {
  readonly train: Train;
  readonly tank: AirTank;
  readonly outlet: Outlet;
}

/** When the plant is looked at. */
export type Season = 'worst' | 'today';

const fitted = new Map<string, Permeability>();

/** Permeability of a rating, fitted once and kept: a pure function's memory, not state anyone can see. */
export function permeabilityOf(rating: ElementRating): Permeability {
  const key = JSON.stringify(rating);
  let p = fitted.get(key);
  if (!p) {
    p = fitPermeability(rating);
    if (fitted.size > 500) fitted.clear();
    fitted.set(key, p);
  }
  return p;
}

/** The feed side of a design at a house, at the worst hour or on an ordinary moment today. */
export function trainOf(design: Design, catalogue: Catalogue, site: Site, season: Season): Train {
  const pump = design.pumpId === null ? null : partOf(catalogue, 'pump', design.pumpId);
  const shut = partOf(catalogue, 'shut-off', design.shutOffId);
  const pre =
    partOf(catalogue, 'sediment', design.sedimentId).barPerLMin +
    design.carbonIds.reduce((s, id) => s + partOf(catalogue, 'carbon', id).barPerLMin, 0);
  return {
    supply: supplyOf(site, season),
    limiterBar: design.limiterId === null ? null : partOf(catalogue, 'limiter', design.limiterId).setBar,
    preFilterBarPerLMin: HALF_LOADED * pre,
    pump: pump?.curve ?? null,
    permeability: permeabilityOf(partOf(catalogue, 'element', design.elementId).rating),
    restrictor: partOf(catalogue, 'restrictor', design.restrictorId).flow,
    shutOff: pump
      ? { kind: 'pressure-switch', closeBar: pump.closeBar, reopenBar: pump.reopenBar }
      : { kind: 'four-port', closeRatio: shut.closeRatio, reopenRatio: shut.reopenRatio },
    nonReturnBar: partOf(catalogue, 'non-return', design.nonReturnId).barLoss,
  };
}

/** The product side from tank to tap. */
export function outletOf(design: Design, catalogue: Catalogue, site: Pick<Site, 'tapLengthM' | 'tapRiseM'>): Outlet {
  const mineral = design.mineralId === null ? 0 : partOf(catalogue, 'mineral', design.mineralId).barPerLMin;
  return {
    filterBarPerLMin: partOf(catalogue, 'polish', design.polishId).barPerLMin + mineral,
    tube: {
      boreMm: partOf(catalogue, 'tube', design.tubeId).boreMm,
      lengthM: site.tapLengthM + 1,
      riseM: site.tapRiseM,
    },
    tapResistance: partOf(catalogue, 'tap', design.tapId).resistance,
  };
}

/** Everything the physics needs of a design in a house. */
export function plantOf(design: Design, catalogue: Catalogue, site: Site, season: Season): Plant {
  const tank = partOf(catalogue, 'tank', design.tankId);
  return {
    train: trainOf(design, catalogue, site, season),
    tank: { volumeL: tank.volumeL, airChargeBar: tank.airChargeBar },
    outlet: outletOf(design, catalogue, site),
  };
}

/** The temperature a season is judged at, deg C. */
export function seasonTemperatureC(site: Site, season: Season): number {
  return season === 'worst' ? min(site.coldestC, site.todayC) : site.todayC;
}

/** What a plant does over one fill and a day of fills, in one season. */
export interface Operating {
  readonly temperatureC: number;
  readonly map: OperatingMap;
  readonly fill: Fill;
  /** made per day while filling again and again from empty, L/day */
  readonly litresADay: number;
  /** litres to the drain for each litre made, over a whole fill */
  readonly wasteRatio: number;
  /** content at shut-off less content when the tap's flow falls below the wanted one, L */
  readonly usableL: number;
  /** the train against a half-full tank */
  readonly middle: Working;
  readonly middleBar: number;
  /** content there, L */
  readonly middleL: number;
  /** at the open tap from a half-full tank, L/min */
  readonly tapFlowLMin: number;
}

/** The map's point nearest to a tank pressure: enough to compare many designs, not to draw one. */
function nearestPoint(map: OperatingMap, bar: number): Working {
  const last = map.points.length - 1;
  const i = map.closeBar > 0 ? Math.min(last, Math.max(0, Math.round((bar / map.closeBar) * last))) : 0;
  const point = map.points[i];
  if (!point) throw new RangeError('an operating map without points');
  return point;
}

/**
 * Runs a plant in a season: map, fill, usable water, and the moment the tank is half full.
 * @param middleFrom 'map' takes that moment from the map's nearest point, for searches
 */
export function operate(
  plant: Plant,
  site: Site,
  season: Season,
  wantedTapFlowLMin: number,
  map?: OperatingMap,
  middleFrom: 'solved' | 'map' = 'solved',
): Operating {
  const temperatureC = seasonTemperatureC(site, season);
  const water = feedWaterAt(site, temperatureC);
  const m = map ?? operatingMap(plant.train, water);
  const fill = fillTank(m, plant.tank);
  const emptyBar = pressureForFlowBar(plant.outlet, wantedTapFlowLMin, temperatureC);
  const middleL = fill.waterL / 2;
  const middleBar = pressureAtWaterBar(plant.tank, middleL);
  return {
    temperatureC,
    map: m,
    fill,
    litresADay: fill.minutes > 0 ? (fill.madeL / fill.minutes) * 1440 : 0,
    wasteRatio: fill.madeL > 0 ? fill.wasteL / fill.madeL : Infinity,
    usableL: max(0, fill.waterL - waterAtPressureL(plant.tank, emptyBar)),
    middle: middleFrom === 'map' ? nearestPoint(m, middleBar) : solveTrain(plant.train, water, middleBar, m.points[0]),
    middleBar,
    middleL,
    tapFlowLMin: tapFlowLMin(plant.outlet, middleBar, temperatureC),
  };
}
