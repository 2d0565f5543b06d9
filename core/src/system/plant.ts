import type { Permeability } from '../membrane/permeability.ts';
import { feedWaterAt, supplyOf, type Site } from '../gauge/site.ts';
import { tapFlowLMin, pressureForFlowBar, type Outlet } from '../hydraulics/outlet.ts';
import { solveTrain, type FeedWater, type Train, type Working } from '../hydraulics/train.ts';
import { fitPermeability, type ElementRating } from '../membrane/element.ts';
import { runDirect, type DirectRun } from '../run/openTap.ts';
import { fillTank, LONGEST_FILL_MIN, operatingMap, type Fill, type OperatingMap } from '../run/fill.ts';
import { pressureAtWaterBar, waterAtPressureL, type AirTank } from '../hydraulics/tank.ts';
import { partOf, type Catalogue } from '../parts/catalogue.ts';
import type { Design } from './design.ts';
import { feedTubeM } from './line.ts';

const { max, min } = Math;

/** Pre-filters in sizing are taken half way through their life. */
export const HALF_WAY = 0.5;

/**
 * Pressure loss of a cartridge against its clean one as it loads: doubled half way, three times at the end of its life.
 * @param load litres passed over litres of life, 0 to 2
 */
export function loadedLoss(load: number): number {
  return 1 + 2 * load;
}

/** A design in a house, ready for the physics. */
export interface Plant {
  readonly train: Train;
  /** null where water is made while it is drawn */
  readonly tank: AirTank | null;
  /** beside the membrane while nothing runs, all elements together, L */
  readonly holdUp: HoldUp;
  readonly outlet: Outlet;
  /** of the air round the tank, absolute bar */
  readonly airBar: number;
}

/** When the plant is looked at. */
export type Season = 'worst' | 'today';

/** Water that stands on both sides of a membrane while nothing runs, L. */
export interface HoldUp {
  readonly productL: number;
  readonly feedL: number;
}

/**
 * Hold-up of an element whose sheet says nothing of it: by its size, from the volume of a wound element of about 1 m2 for
 * 250 L/day (core tube and housing ends on the product side, spacer and housing on the feed side). Within a factor of 1.5.
 */
export function usualHoldUp(rating: ElementRating): HoldUp {
  const size = rating.permeateLDay / 250;
  return { productL: 0.05 + 0.02 * size, feedL: 0.2 + 0.06 * size };
}

const fitted = new WeakMap<ElementRating, Permeability>();

/** Permeability of a rating, fitted once and kept: a pure function's memory, not state anyone can see. */
export function permeabilityOf(rating: ElementRating): Permeability {
  const p = fitted.get(rating) ?? fitPermeability(rating);
  fitted.set(rating, p);
  return p;
}

const twins = new WeakMap<Permeability, Map<number, Permeability>>();

/** The same element several times in a row; kept, so that it is made once. */
function inSeries(p: Permeability, count: number): Permeability {
  if (count === 1) return p;
  const made = twins.get(p) ?? new Map<number, Permeability>();
  twins.set(p, made);
  const twin = made.get(count) ?? { ...p, inSeries: count };
  made.set(count, twin);
  return twin;
}

/** The feed side of a design at a house, at the worst hour or on an ordinary moment today. */
export function trainOf(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  season: Season,
  load: number = HALF_WAY,
): Train {
  const pump = design.pumpId === null ? null : partOf(catalogue, 'pump', design.pumpId);
  const shut = partOf(catalogue, 'shut-off', design.shutOffId);
  const pre =
    partOf(catalogue, 'sediment', design.sedimentId).barPerLMin +
    (design.ironId === null ? 0 : partOf(catalogue, 'iron', design.ironId).barPerLMin) +
    design.carbonIds.reduce((s, id) => s + partOf(catalogue, 'carbon', id).barPerLMin, 0);
  return {
    supply: supplyOf(site, season),
    limiterBar: design.limiterId === null ? null : partOf(catalogue, 'limiter', design.limiterId).setBar,
    preFilterBarPerLMin: loadedLoss(load) * pre,
    feedTube: {
      boreMm: partOf(catalogue, 'tube', design.tubeId).boreMm,
      lengthM: feedTubeM(design),
      riseM: 0,
    },
    pump: pump?.curve ?? null,
    permeability: inSeries(permeabilityOf(partOf(catalogue, 'element', design.elementId).rating), design.elementCount),
    restrictor: partOf(catalogue, 'restrictor', design.restrictorId).flow,
    shutOff: pump
      ? { kind: 'pressure-switch', closeBar: pump.closeBar, reopenBar: pump.reopenBar }
      : {
          kind: 'four-port',
          closeRatio: shut.closeRatio,
          reopenRatio: shut.reopenRatio,
          closeOffsetBar: shut.closeOffsetBar,
        },
    permeatePump: design.permeatePumpId === null ? null : partOf(catalogue, 'permeate-pump', design.permeatePumpId),
    nonReturnBar: partOf(catalogue, 'non-return', design.nonReturnId).barLoss,
  };
}

/** The product side from tank to tap. */
export function outletOf(design: Design, catalogue: Catalogue, site: Pick<Site, 'tapLengthM' | 'tapRiseM'>): Outlet {
  const mineral = design.mineralId === null ? 0 : partOf(catalogue, 'mineral', design.mineralId).barPerLMin;
  const lamp = design.lampId === null ? 0 : partOf(catalogue, 'lamp', design.lampId).barPerLMin;
  return {
    filterBarPerLMin: partOf(catalogue, 'polish', design.polishId).barPerLMin + mineral + lamp,
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
  const tank = design.tankId === null ? null : partOf(catalogue, 'tank', design.tankId);
  const element = partOf(catalogue, 'element', design.elementId);
  const holdUp = element.holdUp ?? usualHoldUp(element.rating);
  return {
    train: trainOf(design, catalogue, site, season),
    tank: tank && { volumeL: tank.volumeL, airChargeBar: tank.airChargeBar },
    holdUp: { productL: design.elementCount * holdUp.productL, feedL: design.elementCount * holdUp.feedL },
    outlet: outletOf(design, catalogue, site),
    airBar: site.airBar,
  };
}

/** The temperature a season is judged at, deg C. */
export function seasonTemperatureC(site: Site, season: Season): number {
  return season === 'worst' ? min(site.coldestC, site.todayC) : site.todayC;
}

/** What a plant does over one fill and a day of fills, or while it runs at the open tap, in one season. */
export interface Operating {
  readonly temperatureC: number;
  readonly map: OperatingMap;
  /** of a system without a tank: no content, its TDS that of the running product */
  readonly fill: Fill;
  /** running at the open tap without a tank; null where there is one */
  readonly direct: DirectRun | null;
  /** made per day while filling again and again from empty, or while the tap stands open, L/day */
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
  if (!plant.tank) return operateDirect(plant, water, temperatureC);
  const m = map ?? operatingMap(plant.train, water);
  const fill = fillTank(m, plant.tank, 0, plant.airBar, LONGEST_FILL_MIN, middleFrom === 'solved');
  const emptyBar = pressureForFlowBar(plant.outlet, wantedTapFlowLMin, temperatureC);
  const middleL = fill.waterL / 2;
  const middleBar = pressureAtWaterBar(plant.tank, middleL, plant.airBar);
  return {
    temperatureC,
    map: m,
    fill,
    direct: null,
    litresADay: fill.minutes > 0 ? (fill.madeL / fill.minutes) * 1440 : 0,
    wasteRatio: fill.madeL > 0 ? fill.wasteL / fill.madeL : Infinity,
    usableL: max(0, fill.waterL - waterAtPressureL(plant.tank, emptyBar, plant.airBar)),
    middle: middleFrom === 'map' ? nearestPoint(m, middleBar) : solveTrain(plant.train, water, middleBar, m.points[0]),
    middleBar,
    middleL,
    tapFlowLMin: tapFlowLMin(plant.outlet, middleBar, temperatureC),
  };
}

/** Runs a plant without a tank at its open tap. @param slices of the channel; fewer for searches */
export function operateDirect(plant: Plant, water: FeedWater, temperatureC: number, slices?: number): Operating {
  const direct = runDirect(plant.train, water, plant.outlet, plant.holdUp, slices);
  const { working, tapFlowLMin: flow, productBar, closeBar } = direct;
  const { out } = working;
  return {
    temperatureC,
    direct,
    map: { closeBar, pressuresBar: [productBar], points: [working] },
    fill: {
      shuts: direct.shuts,
      reason: direct.shuts ? null : 'pressure-too-low',
      closeBar,
      minutes: 0,
      waterL: 0,
      madeL: 0,
      wasteL: 0,
      fillRecovery: out.recovery,
      tankTdsMgL: out.permeateTdsMgL,
      lastDropTdsMgL: out.permeateTdsMgL,
      curve: [],
    },
    litresADay: 1440 * flow,
    wasteRatio: out.permeateLDay > 0 ? out.concentrateLDay / out.permeateLDay : Infinity,
    usableL: 0,
    middle: working,
    middleBar: productBar,
    middleL: 0,
    tapFlowLMin: flow,
  };
}
