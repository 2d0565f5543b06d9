import { CACO3_PER_MEQ, CO2_MASS } from './species.ts';

const { log10, sqrt } = Math;

/** Equilibrium constants of the carbonate system at a temperature, as -log10, activities in mol/L. */
export interface CarbonateConstants {
  readonly pK1: number;
  readonly pK2: number;
  /** calcite, Ca + CO3 */
  readonly pKcalcite: number;
  readonly pKw: number;
  /** CO2 gas to solution, mol/(L atm) */
  readonly pKH: number;
}

/**
 * Plummer & Busenberg (1982), Geochim. Cosmochim. Acta 46, 1011, table 9; water from Plummer & Busenberg's companion
 * fit to Olofsson & Hepler (1975).
 * @param temperatureC 0 to 90 deg C
 * @returns worked values 6.352, 10.329, 8.480, 14.0 at 25 C
 */
export function carbonateConstants(temperatureC: number): CarbonateConstants {
  const t = temperatureC + 273.15;
  const lg = log10(t);
  return {
    pK1: 356.3094 + 0.06091964 * t - 21834.37 / t - 126.8339 * lg + 1684915 / t ** 2,
    pK2: 107.8871 + 0.03252849 * t - 5151.79 / t - 38.92561 * lg + 563713.9 / t ** 2,
    pKcalcite: 171.9065 + 0.077993 * t - 2839.319 / t - 71.595 * lg,
    pKw: 283.971 + 0.05069842 * t - 13323 / t - 102.24447 * lg + 1119669 / t ** 2,
    pKH: -(108.3865 + 0.01985076 * t - 6919.53 / t - 40.45154 * lg + 669365 / t ** 2),
  };
}

/** Debye-Hueckel A of water: 1.82e6 (eps T)^-1.5, eps after Malmberg & Maryott (1956). 0.509 at 25 C. */
export function debyeHueckelA(temperatureC: number): number {
  const t = temperatureC;
  const eps = 87.74 - 0.40008 * t + 9.398e-4 * t ** 2 - 1.41e-6 * t ** 3;
  return 1.82e6 * (eps * (t + 273.15)) ** -1.5;
}

/**
 * Activity coefficient after Davies (1962): log g = -A z^2 (I^0.5/(1 + I^0.5) - 0.3 I).
 * @param ionicStrengthMolL 0 to 0.5 mol/L; beyond, the value at 0.5 is kept
 * @returns dimensionless, 1 for a neutral species
 */
export function activity(charge: number, ionicStrengthMolL: number, temperatureC: number): number {
  const i = Math.min(0.5, Math.max(0, ionicStrengthMolL));
  const root = sqrt(i);
  return 10 ** (-debyeHueckelA(temperatureC) * charge ** 2 * (root / (1 + root) - 0.3 * i));
}

/** The carbonate system as concentrations, mol/L. */
export interface CarbonateSystem {
  readonly pH: number;
  readonly co2: number;
  readonly hco3: number;
  readonly co3: number;
  /** all inorganic carbon */
  readonly total: number;
  /** eq/L: bicarbonate + 2 carbonate + hydroxide - hydrogen */
  readonly alkalinity: number;
  /** activity of carbonate, for saturation */
  readonly co3Activity: number;
}

/** What the system's two questions share at a temperature and ionic strength. */
interface Medium {
  readonly k1: number;
  readonly k2: number;
  readonly kw: number;
  readonly g1: number;
  readonly g2: number;
}

function mediumOf(temperatureC: number, ionicStrengthMolL: number): Medium {
  const k = carbonateConstants(temperatureC);
  return {
    k1: 10 ** -k.pK1,
    k2: 10 ** -k.pK2,
    kw: 10 ** -k.pKw,
    g1: activity(1, ionicStrengthMolL, temperatureC),
    g2: activity(2, ionicStrengthMolL, temperatureC),
  };
}

/** Ratios to bicarbonate, and hydroxide less hydrogen (mol/L), at a hydrogen activity. */
const co2PerHco3 = (m: Medium, h: number): number => (h * m.g1) / m.k1;
const co3PerHco3 = (m: Medium, h: number): number => (m.k2 * m.g1) / (h * m.g2);
const excess = (m: Medium, h: number): number => (m.kw / h - h) / m.g1;

/** Alkalinity, mg/L as CaCO3, to eq/L. */
export function alkalinityEqL(mgLAsCaCO3: number): number {
  return mgLAsCaCO3 / CACO3_PER_MEQ / 1000;
}

/**
 * The system from pH and alkalinity.
 * @param alkalinity eq/L; below what the pH's own hydroxide makes, no carbon is left and bicarbonate is 0
 */
export function carbonateAt(
  pH: number,
  alkalinity: number,
  temperatureC: number,
  ionicStrengthMolL: number,
): CarbonateSystem {
  const m = mediumOf(temperatureC, ionicStrengthMolL);
  const h = 10 ** -pH;
  return finish(m, h, Math.max(0, (alkalinity - excess(m, h)) / (1 + 2 * co3PerHco3(m, h))));
}

/**
 * The system from all inorganic carbon and alkalinity: the pH by bisection (alkalinity rises with pH).
 * @param total mol/L, 0 or more
 * @param alkalinity eq/L
 * @returns pH within 2 to 12.5
 */
export function carbonateOf(
  total: number,
  alkalinity: number,
  temperatureC: number,
  ionicStrengthMolL: number,
): CarbonateSystem {
  const m = mediumOf(temperatureC, ionicStrengthMolL);
  let low = 10 ** -12.5;
  let high = 1e-2;
  let h = 1e-7;
  for (let n = 0; n < 52; n++) {
    h = sqrt(low * high);
    const hco3 = total / (1 + co2PerHco3(m, h) + co3PerHco3(m, h));
    if (hco3 * (1 + 2 * co3PerHco3(m, h)) + excess(m, h) < alkalinity) high = h;
    else low = h;
  }
  return finish(m, h, total / (1 + co2PerHco3(m, h) + co3PerHco3(m, h)));
}

function finish(m: Medium, h: number, hco3: number): CarbonateSystem {
  const co2 = hco3 * co2PerHco3(m, h);
  const co3 = hco3 * co3PerHco3(m, h);
  return {
    pH: -log10(h),
    co2,
    hco3,
    co3,
    total: co2 + hco3 + co3,
    alkalinity: hco3 + 2 * co3 + excess(m, h),
    co3Activity: co3 * m.g2,
  };
}

/** CO2 in solution, mol/L to mg/L. */
export function co2MgL(system: CarbonateSystem): number {
  return system.co2 * CO2_MASS * 1000;
}
