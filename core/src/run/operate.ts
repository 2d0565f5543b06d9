import { feedWaterAt, type Site } from '../gauge/site.ts';
import { pressureForFlowBar, tapFlowLMin } from '../hydraulics/outlet.ts';
import { pressureAtWaterBar, waterAtPressureL, type VentedTank } from '../hydraulics/tank.ts';
import { closingBar, solveTrain, type FeedWater, type Working } from '../hydraulics/train.ts';
import { seasonTemperatureC, type InHouse, type Season } from '../system/inHouse.ts';
import { fillTank, LONGEST_FILL_MIN, operatingMap, type Fill, type OperatingMap } from './fill.ts';
import { runDirect, type DirectRun } from './openTap.ts';

const { max } = Math;

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
  plant: InHouse,
  site: Site,
  season: Season,
  wantedTapFlowLMin: number,
  map?: OperatingMap,
  middleFrom: 'solved' | 'map' = 'solved',
): Operating {
  const temperatureC = seasonTemperatureC(site, season);
  const water = feedWaterAt(site, temperatureC);
  if (plant.vented) return operateVented(plant, plant.vented, water, temperatureC);
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

/**
 * Fills a vented tank, to which nothing pushes back: the same flow from the first litre to the last, until the float shuts.
 * What its pump gives at the tap hardly knows the content.
 */
function operateVented(plant: InHouse, tank: VentedTank, water: FeedWater, temperatureC: number): Operating {
  const working = solveTrain(plant.train, water, 0);
  const { out } = working;
  const madeLMin = out.permeateLDay / 1440;
  const closeBar = closingBar(plant.train, water);
  const minutes = madeLMin > 0 ? tank.volumeL / madeLMin : LONGEST_FILL_MIN;
  const wasteRatio = madeLMin > 0 ? out.concentrateLDay / out.permeateLDay : Infinity;
  const shuts = madeLMin > 0 && minutes < LONGEST_FILL_MIN && closeBar > 0;
  const at = (waterL: number) => ({ minutes: madeLMin > 0 ? waterL / madeLMin : 0, waterL, tankBar: 0, permeateLDay: out.permeateLDay });
  return {
    temperatureC,
    map: { closeBar, pressuresBar: [0], points: [working] },
    fill: {
      shuts,
      reason: shuts ? null : 'pressure-too-low',
      closeBar,
      minutes,
      waterL: tank.volumeL,
      madeL: tank.volumeL,
      wasteL: tank.volumeL * wasteRatio,
      fillRecovery: out.recovery,
      tankTdsMgL: out.permeateTdsMgL,
      lastDropTdsMgL: out.permeateTdsMgL,
      curve: [at(0), at(tank.volumeL / 2), at(tank.volumeL)],
    },
    direct: null,
    litresADay: out.permeateLDay,
    wasteRatio,
    usableL: tank.volumeL - tank.floatDropL,
    middle: working,
    middleBar: 0,
    middleL: tank.volumeL / 2,
    tapFlowLMin: tapFlowLMin(plant.outlet, 0, temperatureC),
  };
} // oxfmt-ignore

/** Runs a plant without a tank at its open tap. @param slices of the channel; fewer for searches */
export function operateDirect(plant: InHouse, water: FeedWater, temperatureC: number, slices?: number): Operating {
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
