import { wayDropBar, wayFlowLMin, type Way } from './way.ts';

/** The product side from the tank, or from the membrane where there is none, to the open tap. */
export type Outlet = Way;

/** Pressure in the tank that carries a flow to the tap, bar. */
export const pressureForFlowBar = (o: Outlet, flowLMin: number, temperatureC: number): number =>
  wayDropBar(o, flowLMin, temperatureC);

/** Flow at the open tap from a tank pressure, L/min; 0 where the pressure does not lift the water. */
export const tapFlowLMin = (o: Outlet, tankBar: number, temperatureC: number): number =>
  wayFlowLMin(o, tankBar, temperatureC);
