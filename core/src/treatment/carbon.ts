const { min } = Math;

export type Disinfectant = 'chlorine' | 'chloramine' | 'none';

/** A carbon stage (or several alike in a row). */
export interface CarbonBed {
  /** of all stages together, L */
  readonly bedVolumeL: number;
  readonly kind: 'block' | 'granular' | 'catalytic';
}

/**
 * Contact that brings the disinfectant below 0.1 mg/L for most of the carbon's life, seconds of empty bed. Chlorine is
 * taken within seconds, finer grain sooner; chloramine takes catalytic carbon about a minute, ordinary carbon minutes.
 */
export const WANTED_CONTACT_S = {
  chlorine: { block: 5, granular: 20, catalytic: 15 },
  chloramine: { block: 180, granular: 360, catalytic: 60 },
} as const;

/**
 * Grams of disinfectant (as Cl2) that a litre of bed takes before it lets 0.1 mg/L by at the wanted contact: figures on
 * the low side of common practice; carbon late is told by the chlorine test, not by this sum.
 */
export const CAPACITY_G_PER_L = {
  chlorine: { block: 60, granular: 40, catalytic: 40 },
  chloramine: { block: 3, granular: 2, catalytic: 15 },
} as const;

export interface CarbonWork {
  /** empty bed, s */
  readonly contactSeconds: number;
  readonly wantedSeconds: number;
  readonly enough: boolean;
  /** litres until it is spent; null where there is nothing to take */
  readonly litresLife: number | null;
  readonly monthsLife: number | null;
}

/**
 * What a carbon bed does at a flow.
 * @param flowLMin product and concentrate together, above 0
 * @param disinfectantMgL as Cl2, before it
 * @param litresADay through the bed
 */
export function carbonWork(
  bed: CarbonBed,
  flowLMin: number,
  agent: Disinfectant,
  disinfectantMgL: number,
  litresADay: number,
): CarbonWork {
  const contactSeconds = (60 * bed.bedVolumeL) / flowLMin;
  const wantedSeconds = agent === 'none' ? 0 : WANTED_CONTACT_S[agent][bed.kind];
  const share = wantedSeconds > 0 ? min(1, contactSeconds / wantedSeconds) : 1;
  // below a thousandth there is nothing to speak of
  const load = agent === 'none' || disinfectantMgL < 1e-3 ? 0 : disinfectantMgL;
  // too little contact lets it by early: the usable capacity goes with the share of the wanted time
  const grams = agent === 'none' ? 0 : CAPACITY_G_PER_L[agent][bed.kind] * bed.bedVolumeL * share;
  const litresLife = load > 0 ? (1000 * grams) / load : null;
  return {
    contactSeconds,
    wantedSeconds,
    enough: contactSeconds >= wantedSeconds,
    litresLife,
    monthsLife: litresLife !== null && litresADay > 1e-3 ? litresLife / litresADay / 30.44 : null,
  };
}

/** Free chlorine times time that thin-film membranes bear before their salt passage doubles, mg/L-hours. */
export const MEMBRANE_BEARS_MGL_H = { low: 200, high: 1000 } as const;

/**
 * What a membrane sees when the carbon is late.
 * @param mgL behind the carbon; @param hoursADay that water runs
 * @returns mg/L-hours a day, and the days until the low and the high end of what it bears
 */
export function membraneExposure(
  mgL: number,
  hoursADay: number,
): { perDay: number; daysToLow: number | null; daysToHigh: number | null } {
  const perDay = mgL < 1e-3 ? 0 : mgL * hoursADay;
  return {
    perDay,
    daysToLow: perDay > 1e-6 ? MEMBRANE_BEARS_MGL_H.low / perDay : null,
    daysToHigh: perDay > 1e-6 ? MEMBRANE_BEARS_MGL_H.high / perDay : null,
  };
}
