import { SEA_LEVEL_BAR } from '../water/properties.ts';

const { max, min } = Math;

/** An air-charged tank: water on one side of a diaphragm, a fixed amount of air on the other. */
export interface AirTank {
  /** whole volume, L */
  readonly volumeL: number;
  /** gauge pressure of the air with no water in it, bar */
  readonly airChargeBar: number;
}

/**
 * Water in the tank at a gauge pressure, Boyle on absolute pressures: V (1 - (p0 + pa)/(p + pa)).
 * @returns L, 0 at or below the air charge; worked value 9.12 L for 15.1 L, 0.48 bar, at 2.76 bar
 */
export function waterAtPressureL(tank: AirTank, pressureBar: number, atmosphereBar: number = SEA_LEVEL_BAR): number {
  if (pressureBar <= tank.airChargeBar) return 0;
  return tank.volumeL * (1 - (tank.airChargeBar + atmosphereBar) / (pressureBar + atmosphereBar));
}

/** Gauge pressure at a content, bar; the inverse of `waterAtPressureL`. @param waterL 0 up to below the volume */
export function pressureAtWaterBar(tank: AirTank, waterL: number, atmosphereBar: number = SEA_LEVEL_BAR): number {
  const air = tank.volumeL - max(0, min(waterL, 0.999 * tank.volumeL));
  return ((tank.airChargeBar + atmosphereBar) * tank.volumeL) / air - atmosphereBar;
}

/** A tank open to the air, with a float: nothing pushes back on what fills it, and nothing drives it out. */
export interface VentedTank {
  /** content at which its float shuts, L */
  readonly volumeL: number;
  /** the float opens again this much lower, L */
  readonly floatDropL: number;
}
