import type { ElementSite } from '../membrane/channel.ts';
import { solveElement } from '../membrane/element.ts';
import type { Permeability } from '../membrane/permeability.ts';

/** Water and salt permeability at 25 C, as a reading says they are now. */
export interface Fitted {
  /** L/day per bar of net driving pressure */
  readonly waterLDayBar: number;
  /** L/day */
  readonly saltLDay: number;
}

/** Rounds of the fit, and the share it ends at. Each round is nearly linear in both. */
const ROUNDS = 60;
const NEAR = 1e-8;

/**
 * The permeabilities with which the same element, at the conditions of a reading, makes the flow and the salt that were read.
 * @param made as it was rated; @param at pressure, temperature, feed and concentrate of the reading
 * @param flowLDay product, above 0 L/day; @param tdsMgL of the product, above 0 mg/L
 * @returns null where no permeability explains it: nothing was made, or at no driving pressure
 */
export function fitted(made: Permeability, at: ElementSite, flowLDay: number, tdsMgL: number): Fitted | null {
  if (!(flowLDay > 0) || !(tdsMgL > 0)) return null;
  let [waterLDayBar, saltLDay] = [made.waterLDayBar, made.saltLDay];
  for (let i = 0; i < ROUNDS; i++) {
    const o = solveElement({ ...made, waterLDayBar, saltLDay }, at);
    if (!(o.permeateLDay > 0) || !(o.permeateTdsMgL > 0)) return null;
    const [flow, salt] = [flowLDay / o.permeateLDay, tdsMgL / o.permeateTdsMgL];
    waterLDayBar *= flow;
    // twice the water carries the same salt in twice as much
    saltLDay *= salt * flow;
    if (Math.abs(flow - 1) < NEAR && Math.abs(salt - 1) < NEAR) return { waterLDayBar, saltLDay };
    if (!Number.isFinite(waterLDayBar) || !Number.isFinite(saltLDay) || waterLDayBar > 1e4 * made.waterLDayBar) return null;
  }
  return null;
} // oxfmt-ignore
