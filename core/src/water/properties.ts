/** Physical constants and properties of water that every other subject shares. */

/** Gas constant, L bar / (mol K). CODATA 2018. */
export const GAS_CONSTANT = 0.0831446262;
/** Standard atmosphere, bar. */
export const SEA_LEVEL_BAR = 1.01325;
/** Pressure of one metre of water, bar per m (998 kg/m3 x 9.80665 m/s2). */
export const BAR_PER_METRE = 0.09787;
/** Range in which the temperature functions are used, deg C. */
export const WATER_TEMPERATURE = { minC: 0.1, maxC: 60 } as const;

/**
 * Dynamic viscosity of liquid water at 0.1 MPa, IAPWS SR6-08 (2011), eq. 7: a sum of four powers of T/300 K.
 * @param temperatureC 0 to 60 deg C (within 1 % there)
 * @returns Pa s; worked values 1.138e-3 at 15 C, 0.890e-3 at 25 C
 */
export function viscosityPaS(temperatureC: number): number {
  const known = viscosities.get(temperatureC);
  if (known !== undefined) return known;
  const t = (temperatureC + 273.15) / 300;
  const mu = 1e-6 * (280.68 * t ** -1.9 + 511.45 * t ** -7.7 + 61.131 * t ** -19.6 + 0.45903 * t ** -40);
  if (viscosities.size > 100) viscosities.clear();
  viscosities.set(temperatureC, mu);
  return mu;
}
/** The last answers: a solve asks for the same few temperatures again and again. */
const viscosities = new Map<number, number>();

/** Density of water, kg/m3, by a parabola about 4 C; within 0.1 % from 0 to 45 C. */
export function densityKgM3(temperatureC: number): number {
  return 1000 - 0.0057 * (temperatureC - 4) ** 2;
}

/**
 * Absolute pressure of the air at an altitude, bar (ICAO standard atmosphere, troposphere).
 * @param altitudeM -400 to 4000 m
 */
export function atmosphereBar(altitudeM: number): number {
  return SEA_LEVEL_BAR * (1 - 2.25577e-5 * altitudeM) ** 5.25588;
}
