import { temperatureFactor } from './temperature.ts';

const { log } = Math;

/** A membrane system read once, or a reference it is brought to. Pressures gauge, bar; flows in any one unit. */
export interface MembraneReading {
  readonly feedPressureBar: number;
  /** feed to concentrate, bar */
  readonly dropBar: number;
  readonly permeatePressureBar: number;
  readonly temperatureC: number;
  /** 0 up to below 1 */
  readonly recovery: number;
  readonly feedTdsMgL: number;
  readonly permeateTdsMgL?: number | undefined;
}

/** Osmotic pressure of sodium chloride as ASTM D4516 takes it, bar. @param tdsMgL 0 to 45,000; @param temperatureC 0 to 45 */
export function standardOsmoticBar(tdsMgL: number, temperatureC: number): number {
  return tdsMgL < 20000
    ? (tdsMgL * (temperatureC + 320)) / 491000
    : (((0.0117 * tdsMgL - 34) / 14.23) * (temperatureC + 320)) / 345;
}

/** Mean of feed and brine along a membrane by the logarithm, c_f ln(1/(1 - Y)) / Y, mg/L. @param recovery 0 up to below 1 */
export function feedBrineTds(feedTdsMgL: number, recovery: number): number {
  return recovery > 0 ? (feedTdsMgL * log(1 / (1 - recovery))) / recovery : feedTdsMgL;
}

/** Net driving pressure of a reading, bar: below 0 nothing is made. */
export function netDrivingBar(r: MembraneReading, permeateTdsMgL = r.permeateTdsMgL ?? 0): number {
  return (
    r.feedPressureBar -
    r.dropBar / 2 -
    r.permeatePressureBar -
    standardOsmoticBar(feedBrineTds(r.feedTdsMgL, r.recovery), r.temperatureC) +
    standardOsmoticBar(permeateTdsMgL, r.temperatureC)
  );
}

/** A reading brought to reference conditions. */
export interface Normalised {
  /** permeate flow at the reference for each unit of the flow that was read */
  readonly flowFactor: number;
  /** salt passage there, 0 to 1; null where the product's TDS was not read */
  readonly passage: number | null;
  readonly permeateTdsMgL: number | null;
}

/** Rounds in which the product's own osmotic pressure at the reference settles: it is a hundredth of the rest. */
const ROUNDS = 6;

/**
 * Brings a reading to reference conditions after ASTM D4516: flow by net driving pressure and temperature factor, salt passage
 * by flow, mean concentration and temperature factor, with the model's own factor for both.
 * @throws RangeError where either has no net driving pressure
 */
export function normalise(reading: MembraneReading, reference: MembraneReading): Normalised {
  const driving = netDrivingBar(reading);
  if (!(driving > 0)) throw new RangeError('the reading has no net driving pressure');
  const warmth = temperatureFactor(reference.temperatureC) / temperatureFactor(reading.temperatureC);
  const thickening = (r: MembraneReading): number => feedBrineTds(1, r.recovery);
  let permeateTdsMgL = reference.permeateTdsMgL ?? reading.permeateTdsMgL ?? 0;
  let flowFactor = 1;
  let passage: number | null = null;
  for (let i = 0; i < ROUNDS; i++) {
    const wanted = netDrivingBar(reference, permeateTdsMgL);
    if (!(wanted > 0)) throw new RangeError('the reference has no net driving pressure');
    flowFactor = (wanted / driving) * warmth;
    if (reading.permeateTdsMgL === undefined) break;
    const read = reading.permeateTdsMgL / reading.feedTdsMgL;
    passage = (read * warmth * thickening(reference)) / thickening(reading) / flowFactor;
    if (reference.permeateTdsMgL !== undefined) break;
    permeateTdsMgL = passage * reference.feedTdsMgL;
  }
  return { flowFactor, passage, permeateTdsMgL: passage === null ? null : passage * reference.feedTdsMgL };
}
