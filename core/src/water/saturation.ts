import { activity, carbonateConstants, type CarbonateSystem } from './carbonate.ts';

const { log10 } = Math;

/**
 * Langelier index in its Carrier form (Langelier 1936; Standard Methods 2330): pH - pHs with
 * pHs = (9.3 + A + B) - (C + D), A = (log10 TDS - 1)/10, B = -13.12 log10 T + 34.55, C = log10 Ca - 0.4, D = log10 alk.
 * @param calciumMgL as CaCO3
 * @returns null where calcium, alkalinity or TDS is 0; worked value -0.73 for pH 7.5, TDS 320, Ca 150, alkalinity 34, 25 C
 */
export function langelierIndex(
  pH: number,
  temperatureC: number,
  tdsMgL: number,
  calciumMgL: number,
  alkalinityMgL: number,
): number | null {
  if (!(calciumMgL > 0 && alkalinityMgL > 0 && tdsMgL > 0)) return null;
  const a = (log10(tdsMgL) - 1) / 10;
  const b = -13.12 * log10(temperatureC + 273.15) + 34.55;
  const c = log10(calciumMgL) - 0.4;
  return pH - (9.3 + a + b - c - log10(alkalinityMgL));
}

/**
 * Calcite saturation index, log10(a(Ca) a(CO3) / K), ion pairs left out (they lower it by some hundredths in fresh water).
 * @param calcium mol/L
 * @returns 0 at saturation; null where calcium or carbonate is 0
 */
export function calciteIndex(
  calcium: number,
  system: CarbonateSystem,
  temperatureC: number,
  ionicStrengthMolL: number,
): number | null {
  const product = calcium * activity(2, ionicStrengthMolL, temperatureC) * system.co3Activity;
  return product > 0 ? log10(product) + carbonateConstants(temperatureC).pKcalcite : null;
}

const R_LN10_KJ = 0.0083144626 * Math.LN10;
/** log10 K at a temperature by van 't Hoff from 25 C. @param enthalpy kJ/mol */
function logK(at25: number, enthalpy: number, temperatureC: number): number {
  return at25 + (enthalpy / R_LN10_KJ) * (1 / 298.15 - 1 / (temperatureC + 273.15));
}

/**
 * Share of gypsum's solubility product that a water reaches, with the neutral CaSO4 pair taken out first. Constants of
 * the NIST critical compilation (Smith & Martell): gypsum log K -4.61, 1.0 kJ/mol; CaSO4 pair 2.31, 6.9 kJ/mol.
 * @param calcium mol/L, all of it; @param sulphate mol/L, all of it
 * @returns 1 at saturation; in pure water that is 15.3 mmol/L at 25 C (measured about 15.2)
 */
export function gypsumSaturation(
  calcium: number,
  sulphate: number,
  temperatureC: number,
  ionicStrengthMolL: number,
): number {
  if (!(calcium > 0 && sulphate > 0)) return 0;
  const pair = 10 ** logK(2.309, 6.9, temperatureC);
  let paired = 0;
  let g = 1;
  // pairs take ions out, which lowers the ionic strength that binds them: settles in a few rounds
  for (let n = 0; n < 40; n++) {
    g = activity(2, Math.max(0, ionicStrengthMolL - 4 * paired), temperatureC);
    const k = pair * g * g;
    const b = k * (calcium + sulphate) + 1;
    const next = (b - Math.sqrt(b * b - 4 * k * k * calcium * sulphate)) / (2 * k);
    const done = Math.abs(next - paired) < 1e-12;
    paired = next;
    if (done) break;
  }
  const product = g * g * (calcium - paired) * (sulphate - paired);
  return product / 10 ** logK(-4.61, 1, temperatureC);
}

/**
 * Solubility of amorphous silica, mg/L SiO2: log10 C = 4.52 - 731/T (Fournier & Rowe 1977). It rises above pH 9, which is
 * left out: the figure is then on the safe side.
 * @param temperatureC 0 to 60 deg C; worked values 117, 96, 78 at 25, 15, 5 C
 */
export function silicaSolubilityMgL(temperatureC: number): number {
  return 10 ** (4.52 - 731 / (temperatureC + 273.15));
}
