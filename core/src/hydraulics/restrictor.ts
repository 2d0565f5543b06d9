import { viscosityPaS } from '../water/properties.ts';

const { sqrt } = Math;

/** What fixes the concentrate flow. */
export interface Restrictor {
  readonly kind: 'orifice' | 'capillary';
  /** stated flow, L/day, at the stated pressure difference and temperature */
  readonly flowLDay: number;
  readonly atBar: number;
  readonly atC: number;
}

/**
 * Flow through a restrictor to an open drain. An orifice goes by the square root of the pressure and hardly feels
 * temperature; a capillary is laminar (Hagen-Poiseuille) and goes by pressure over viscosity.
 * @param pressureBar gauge before it, 0 to 20 bar
 * @returns L/day; 0 at or below no pressure
 */
export function restrictorFlowLDay(r: Restrictor, pressureBar: number, temperatureC: number): number {
  if (pressureBar <= 0) return 0;
  const ratio = pressureBar / r.atBar;
  if (r.kind === 'orifice') return r.flowLDay * sqrt(ratio);
  return (r.flowLDay * ratio * viscosityPaS(r.atC)) / viscosityPaS(temperatureC);
}
