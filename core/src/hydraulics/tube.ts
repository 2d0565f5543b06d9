import { BAR_PER_METRE, densityKgM3, viscosityPaS } from '../water/properties.ts';

const { PI, cbrt, log, sqrt } = Math;

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
  // 2.457 ln(1/(7/Re)^0.9)
  const a = sixteenth(2.457 * 0.9 * log(reynolds / 7));
  const b = sixteenth(37530 / reynolds);
  const eight = 8 / reynolds;
  const laminar = eight * eight * (eight * eight);
  const sum = a + b;
  // the twelfth root as a cube root of a fourth root
  return 8 * cbrt(sqrt(sqrt(laminar * laminar * laminar + 1 / (sum * sqrt(sum)))));
}

/** x to the 16th by squaring. */
function sixteenth(x: number): number {
  const fourth = x * x * (x * x);
  return fourth * fourth * (fourth * fourth);
}

/** Mean speed in a tube, m/s. */
function speedMS(run: Pick<TubeRun, 'boreMm'>, flowLMin: number): number {
  const d = run.boreMm / 1000;
  return flowLMin / 60000 / ((PI * d * d) / 4);
}

/** Reynolds number of a flow in a tube, dimensionless; below about 2100 it is laminar. */
export function reynoldsNumber(run: Pick<TubeRun, 'boreMm'>, flowLMin: number, temperatureC: number): number {
  return (densityKgM3(temperatureC) * speedMS(run, flowLMin) * (run.boreMm / 1000)) / viscosityPaS(temperatureC);
}

/**
 * Pressure lost in a smooth tube by Darcy-Weisbach, with its rise.
 * @param flowLMin 0 to 60 L/min; @param temperatureC 0 to 60 C
 * @returns bar; worked value 0.32 bar for 6.35 mm bore, 5 m, 3 L/min, 15 C
 */
export function tubeDropBar(run: TubeRun, flowLMin: number, temperatureC: number): number {
  const lift = run.riseM * BAR_PER_METRE;
  if (flowLMin < 1e-9) return lift;
  const friction = frictionFactor(reynoldsNumber(run, flowLMin, temperatureC));
  const head = 0.5 * densityKgM3(temperatureC) * speedMS(run, flowLMin) ** 2;
  return lift + (friction * (run.lengthM / (run.boreMm / 1000)) * head) / 1e5;
}
