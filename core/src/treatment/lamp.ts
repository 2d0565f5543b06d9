const { exp, log, max } = Math;

/** Dose that a lamp for unsafe-looking water must give, mJ/cm2 (NSF/ANSI 55 class A); 16 is class B, for treated water. */
export const UV_DOSE = { classA: 40, classB: 16 } as const;

/** An ultraviolet lamp as its sheet rates it. */
export interface Lamp {
  /** at the stated flow and transmittance, end of lamp life, mJ/cm2 */
  readonly ratedDoseMJcm2: number;
  readonly ratedFlowLMin: number;
  /** of 1 cm of water at 254 nm, percent */
  readonly ratedTransmittancePercent: number;
  /** water between the lamp's sleeve and the wall, cm */
  readonly gapCm: number;
  readonly lifeHours: number;
  /** output at the end of its life against new, 0.5 to 1; the rating is at the end */
  readonly endOfLifeShare: number;
}

/** Mean of the light over the gap against clear water, by Beer-Lambert: (1 - T^d)/(-d ln T). */
export function meanLight(transmittancePercent: number, gapCm: number): number {
  const t = transmittancePercent / 100;
  if (t >= 1) return 1;
  const k = -log(max(1e-6, t)) * gapCm;
  return (1 - exp(-k)) / k;
}

export interface LampWork {
  readonly doseMJcm2: number;
  /** flow at which the wanted dose is just given, L/min */
  readonly maxFlowLMin: number;
  readonly meets: boolean;
  /** hours of life left; negative when overdue */
  readonly hoursLeft: number;
}

/**
 * Dose of a lamp at a tap's flow: inversely with the flow, with the water's transmittance, falling in a straight line to
 * the rated figure at the end of its life and further at the same rate beyond.
 * @param flowLMin above 0; @param hours burnt
 */
export function lampWork(
  lamp: Lamp,
  flowLMin: number,
  transmittancePercent: number,
  hours: number,
  wantedMJcm2: number = UV_DOSE.classA,
): LampWork {
  const clear = meanLight(transmittancePercent, lamp.gapCm) / meanLight(lamp.ratedTransmittancePercent, lamp.gapCm);
  const age = max(0.1, 1 - (1 - lamp.endOfLifeShare) * (hours / lamp.lifeHours)) / lamp.endOfLifeShare;
  const atRatedFlow = lamp.ratedDoseMJcm2 * clear * age;
  const doseMJcm2 = (atRatedFlow * lamp.ratedFlowLMin) / flowLMin;
  return {
    doseMJcm2,
    maxFlowLMin: (atRatedFlow * lamp.ratedFlowLMin) / wantedMJcm2,
    meets: doseMJcm2 >= wantedMJcm2,
    hoursLeft: lamp.lifeHours - hours,
  };
}

/** Transmittance below which no lamp may stand, percent of 1 cm at 254 nm: the light does not reach the wall. */
export const RAW_TRANSMITTANCE = 75;

/** What a lamp asks of its water that this one does not give, with the figure. */
export interface LampCondition {
  readonly code: 'iron' | 'hardness' | 'turbidity' | 'transmittance';
  readonly value: number;
}

/**
 * What a water must be for a lamp to work at all; what it fails of that. Limits of common practice (NSF/ANSI 55 feed).
 * @param w iron and hardness in mg/L (as CaCO3), turbidity in NTU, transmittance of 1 cm at 254 nm in percent
 */
export function lampPreconditions(w: {
  ironMgL: number;
  hardnessMgL: number;
  turbidityNTU: number;
  transmittancePercent: number;
}): LampCondition[] {
  const out: LampCondition[] = [];
  if (w.ironMgL > 0.3) out.push({ code: 'iron', value: w.ironMgL });
  if (w.hardnessMgL > 120) out.push({ code: 'hardness', value: w.hardnessMgL });
  if (w.turbidityNTU > 1) out.push({ code: 'turbidity', value: w.turbidityNTU });
  if (w.transmittancePercent < RAW_TRANSMITTANCE) out.push({ code: 'transmittance', value: w.transmittancePercent });
  return out;
}
