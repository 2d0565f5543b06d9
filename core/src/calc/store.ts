import * as z from 'zod';
import { reynoldsNumber, tubeDropBar } from '../hydraulics/tube.ts';
import { fillFrom } from '../run/fill.ts';
import { waterAtPressureL } from '../hydraulics/tank.ts';
import { atmosphereBar, SEA_LEVEL_BAR } from '../water/properties.ts';
import { solveElement } from '../membrane/element.ts';
import { calculator } from './calculator.ts';
import {
  altitudeM,
  concentrateOf,
  element,
  fitted,
  oneConcentrate,
  osmoticOf,
  positive,
  pressureBar,
  siteFields,
  temperatureC,
} from './schemas.ts';

const vessel = { volumeL: positive.max(1000), airChargeBar: z.number().min(0).max(10) };
const airOf = (altitude: number | undefined): number =>
  altitude === undefined ? SEA_LEVEL_BAR : atmosphereBar(altitude);

/** Water in an air-charged tank. */
export const tank = calculator(
  'tank',
  'litres of water in an air-charged tank at a pressure',
  z.strictObject({ ...vessel, pressureBar, altitudeM: altitudeM.optional() }),
  (i) => ({ waterL: waterAtPressureL(i, i.pressureBar, airOf(i.altitudeM)) }),
);

/** A tube's loss with its rise. */
export const tube = calculator(
  'tube',
  'pressure lost in a smooth tube, its rise included, and its Reynolds number',
  z.strictObject({
    flowLMin: z.number().min(0).max(60),
    boreMm: z.number().min(0.5).max(60),
    lengthM: z.number().min(0).max(500),
    riseM: z.number().min(-100).max(100),
    temperatureC,
  }),
  (i) => ({
    pressureDropBar: tubeDropBar(i, i.flowLMin, i.temperatureC),
    reynolds: reynoldsNumber(i, i.flowLMin, i.temperatureC),
  }),
);

const FILL_REASONS = {
  'closes-below-air-charge': 'the shut-off closes below the air charge of the tank: no water is stored',
  'pressure-too-low': 'the tank presses back as hard as the element can push before the shut-off closes',
  'longer-than-a-day': 'the shut-off has not closed in the longest time allowed',
} as const;

/** A tank filled by an element at a constant feed pressure. */
export const fill = calculator(
  'fill',
  'a tank filled by an element until its shut-off closes: time, litres, waste, TDS',
  z.strictObject({
    element,
    site: z.strictObject(siteFields).superRefine(oneConcentrate),
    tank: z.strictObject({ ...vessel, altitudeM: altitudeM.optional() }),
    closeRatio: z.number().min(0).max(1.5),
    closeOffsetBar: z.number().min(-5).max(10).default(0),
    fromL: z.number().min(0).max(1000).default(0),
    maxMinutes: positive.max(100000).default(1440),
  }),
  (i) => {
    const p = fitted(i.element);
    const site = {
      feedPressureBar: i.site.feedPressureBar,
      temperatureC: i.site.temperatureC,
      tdsMgL: i.site.tdsMgL,
      osmoticBarPerMgL: osmoticOf(i.site),
      concentrateLDay: concentrateOf(i.site),
    };
    const f = fillFrom(
      (permeatePressureBar) => solveElement(p, { ...site, permeatePressureBar }),
      i.tank,
      i.closeRatio * i.site.feedPressureBar + i.closeOffsetBar,
      i.fromL,
      airOf(i.tank.altitudeM),
      i.maxMinutes,
    );
    return {
      minutes: f.minutes,
      waterL: f.waterL,
      wasteL: f.wasteL,
      tankTdsMgL: f.tankTdsMgL,
      lastDropTdsMgL: f.lastDropTdsMgL,
      shuts: f.shuts,
      ...(f.reason === null ? {} : { reason: FILL_REASONS[f.reason] }),
    };
  },
);
