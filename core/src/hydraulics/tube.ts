import { BAR_PER_METRE, densityKgM3, viscosityPaS } from '../water/properties.ts';

const { PI, log } = Math;

/** A run of tube. */
export interface TubeRun {
  readonly boreMm: number;
  readonly lengthM: number;
  /** rise from inlet to outlet, m, positive upward */
  readonly riseM: number;
}

/**
 * Friction factor (Darcy) of a smooth tube over all flows, Churchill (1977), Chem. Eng. 84(24), 91.
 * @param reynolds above 0; equals 64/Re where the flow is laminar
 */
export function frictionFactor(reynolds: number): number {
  const a = (2.457 * log(1 / (7 / reynolds) ** 0.9)) ** 16;
  const b = (37530 / reynolds) ** 16;
  return 8 * ((8 / reynolds) ** 12 + 1 / (a + b) ** 1.5) ** (1 / 12);
}

/**
 * Pressure lost in a smooth tube by Darcy-Weisbach, with its rise.
 * @param flowLMin 0 to 30 L/min; @param temperatureC 0 to 60 C
 * @returns bar; worked value 0.32 bar for 6.35 mm bore, 5 m, 3 L/min, 15 C
 */
export function tubeDropBar(run: TubeRun, flowLMin: number, temperatureC: number): number {
  const lift = run.riseM * BAR_PER_METRE;
  if (flowLMin <= 0) return lift;
  const d = run.boreMm / 1000;
  const speed = flowLMin / 60000 / ((PI * d * d) / 4);
  const rho = densityKgM3(temperatureC);
  const re = (rho * speed * d) / viscosityPaS(temperatureC);
  return lift + (frictionFactor(re) * (run.lengthM / d) * rho * speed * speed) / 2 / 1e5;
}
