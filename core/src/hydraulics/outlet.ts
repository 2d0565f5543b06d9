import { tubeDropBar, type TubeRun } from './tube.ts';

/** The product side from the tank to the tap. */
export interface Outlet {
  /** linear loss of polishing filter and mineral bed, bar per L/min */
  readonly filterBarPerLMin: number;
  readonly tube: TubeRun;
  /** tap fully open, bar per (L/min)^2 */
  readonly tapResistance: number;
}

/** Pressure in the tank that carries a flow to the tap, bar. */
export function pressureForFlowBar(o: Outlet, flowLMin: number, temperatureC: number): number {
  return (
    o.filterBarPerLMin * flowLMin + tubeDropBar(o.tube, flowLMin, temperatureC) + o.tapResistance * flowLMin * flowLMin
  );
}

/** Flow at the open tap from a tank pressure, L/min, by bisection; 0 where the pressure does not lift the water. */
export function tapFlowLMin(o: Outlet, tankBar: number, temperatureC: number): number {
  if (tankBar <= pressureForFlowBar(o, 0, temperatureC)) return 0;
  let low = 0;
  let high = 30;
  for (let n = 0; n < 30; n++) {
    const mid = 0.5 * (low + high);
    if (pressureForFlowBar(o, mid, temperatureC) > tankBar) high = mid;
    else low = mid;
  }
  return 0.5 * (low + high);
}
