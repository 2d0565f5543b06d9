const { exp } = Math;

/** What stands on both sides of a membrane while nothing flows. */
export interface Standing {
  /** product side, L: housing's core, tube, filters before the tap */
  readonly productL: number;
  /** feed side, L */
  readonly feedL: number;
  readonly productTdsMgL: number;
  readonly feedTdsMgL: number;
  /** salt permeability x area at the water's temperature, L/day */
  readonly saltLDay: number;
}

/**
 * TDS of the product side after a stand: salt creeps through until both sides are alike,
 * C(t) = C_eq - (C_eq - C_0) exp(-B t (1/V_p + 1/V_f)), C_eq the mean by volume.
 * @param hours 0 or more
 * @returns mg/L; between the product's and the common one
 */
export function tdsAfterStand(s: Standing, hours: number): number {
  const common = (s.productL * s.productTdsMgL + s.feedL * s.feedTdsMgL) / (s.productL + s.feedL);
  const rate = (s.saltLDay / 24) * (1 / s.productL + 1 / s.feedL);
  return common - (common - s.productTdsMgL) * exp(-rate * hours);
}

/** TDS of a glass drawn after a stand: what stood comes first, then what is made fresh. @param glassL above 0 */
export function firstGlassTds(s: Standing, hours: number, glassL: number): number {
  const old = Math.min(glassL, s.productL);
  return (old * tdsAfterStand(s, hours) + (glassL - old) * s.productTdsMgL) / glassL;
}
