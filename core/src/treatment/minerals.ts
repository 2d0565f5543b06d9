import {
  activity,
  alkalinityEqL,
  carbonateAt,
  carbonateConstants,
  carbonateOf,
  type CarbonateSystem,
} from '../water/carbonate.ts';
import { viscosityPaS } from '../water/properties.ts';
import { calciteIndex } from '../water/saturation.ts';
import { CACO3, CACO3_PER_MEQ, SPECIES } from '../water/species.ts';

const { max, min } = Math;

/** A water as it meets a bed of calcite. */
export interface SoftWater {
  readonly temperatureC: number;
  readonly pH: number;
  /** mg/L as CaCO3 */
  readonly alkalinityMgL: number;
  /** mg/L as Ca */
  readonly calciumMgL: number;
  readonly tdsMgL: number;
}

/** How water and grains meet. */
export interface Contact {
  /** of the water between the grains, min */
  readonly minutes: number;
  /** diameter, mm */
  readonly grainMm: number;
  /** share of the bed that is water, 0.25 to 0.7 */
  readonly voidage: number;
  /** along the flow, mm: with the time it gives the velocity; a usual cartridge's where nobody says */
  readonly bedLengthMm?: number | undefined;
}

export interface Remineralised {
  readonly pH: number;
  readonly alkalinityMgL: number;
  readonly calciumMgL: number;
  readonly tdsMgL: number;
  /** calcite taken up, mg/L as CaCO3; the same figure is grams for 1000 L */
  readonly dissolvedMgL: number;
  /** what would be taken up at equilibrium, mg/L as CaCO3 */
  readonly equilibriumMgL: number;
  readonly calciteSaturationIndex: number | null;
}

/** TDS that one mg/L of dissolved calcite brings: its calcium, and its alkalinity in full as bicarbonate. */
const TDS_PER_CALCITE = (SPECIES.Ca.molarMass + 2 * SPECIES.HCO3.molarMass) / CACO3;

interface Bed {
  readonly system: CarbonateSystem;
  readonly calcium: number;
  readonly ionicStrength: number;
}

/**
 * The water after x mol/L of calcite: calcium + x, alkalinity + 2x, inorganic carbon + x (no gas in or out). Ionic
 * strength: calcium and bicarbonate, the charges closed by and the rest of the TDS taken as sodium chloride.
 */
function after(w: SoftWater, x: number, total: number, alkalinity: number): Bed {
  const calcium = w.calciumMgL / SPECIES.Ca.molarMass / 1000 + x;
  const alk = alkalinity + 2 * x;
  const listed = w.calciumMgL + alkalinity * SPECIES.HCO3.molarMass * 1000;
  const salt = max(0, w.tdsMgL - listed) / 1000 / (SPECIES.Na.molarMass + SPECIES.Cl.molarMass);
  const gap = Math.abs(2 * calcium - alk);
  const ionicStrength = 0.5 * (4 * calcium + max(0, alk) + gap) + salt;
  return { system: carbonateOf(total + x, alk, w.temperatureC, ionicStrength), calcium, ionicStrength };
}

/**
 * Rate of calcite's dissolution per area, Plummer, Wigley & Parkhurst (1978), Am. J. Sci. 278, 179: forward
 * k1 a(H) + k2 a(CO2) + k3 a(H2O), the way back as (1 - Omega^(2/3)).
 * @returns mol/(cm2 s); 0 at and above saturation
 */
export function calciteRate(
  system: CarbonateSystem,
  calcium: number,
  temperatureC: number,
  ionicStrength: number,
): number {
  const t = temperatureC + 273.15;
  const k1 = 10 ** (0.198 - 444 / t);
  const k2 = 10 ** (2.84 - 2177 / t);
  const k3 = temperatureC <= 25 ? 10 ** (-5.86 - 317 / t) : 10 ** (-1.1 - 1737 / t);
  const omega =
    calcium *
    activity(2, ionicStrength, temperatureC) *
    system.co3Activity *
    10 ** carbonateConstants(temperatureC).pKcalcite;
  if (omega >= 1) return 0;
  return 1e-3 * (k1 * 10 ** -system.pH + k2 * system.co2 + k3) * (1 - omega ** (2 / 3));
}

/**
 * Lets a water take up calcite in a closed bed: a share of what would dissolve at equilibrium, or by the time it has with
 * the grains.
 * @param how `approach` 0 to 1, or the contact
 */
export function remineralise(
  w: SoftWater,
  how: { readonly approach: number } | { readonly contact: Contact },
): Remineralised {
  const alkalinity = alkalinityEqL(w.alkalinityMgL);
  const start = after(w, 0, 0, alkalinity);
  const total = carbonateAt(w.pH, alkalinity, w.temperatureC, start.ionicStrength).total;
  const at = (x: number): Bed => after(w, x, total, alkalinity);
  const index = (b: Bed): number => calciteIndex(b.calcium, b.system, w.temperatureC, b.ionicStrength) ?? -Infinity;
  let equilibrium = 0;
  if (index(at(0)) < 0) {
    let high = 1e-3;
    while (index(at(high)) < 0 && high < 1) high *= 2;
    let low = 0;
    for (let n = 0; n < 60; n++) {
      const mid = 0.5 * (low + high);
      if (index(at(mid)) < 0) low = mid;
      else high = mid;
    }
    equilibrium = 0.5 * (low + high);
  }
  const x = 'approach' in how ? how.approach * equilibrium : dissolvedIn(w, how.contact, at, equilibrium);
  const end = at(x);
  const dissolvedMgL = x * CACO3 * 1000;
  return {
    pH: x === 0 ? w.pH : end.system.pH,
    alkalinityMgL: w.alkalinityMgL + 2 * x * 1000 * CACO3_PER_MEQ,
    calciumMgL: end.calcium * SPECIES.Ca.molarMass * 1000,
    tdsMgL: w.tdsMgL + dissolvedMgL * TDS_PER_CALCITE,
    dissolvedMgL,
    equilibriumMgL: equilibrium * CACO3 * 1000,
    calciteSaturationIndex: calciteIndex(end.calcium, end.system, w.temperatureC, end.ionicStrength),
  };
}

/** Length of a usual cartridge's bed, mm. */
const USUAL_BED_MM = 120;
/** Diffusion of calcium bicarbonate at 25 C, cm2/s. */
const DIFFUSION_25 = 1e-5;
/** Sherwood number of grains in water that hardly moves. */
const STAGNANT_SHERWOOD = 4;

/**
 * Peclet and Sherwood number of water in a bed of grains, Wilson & Geankoplis (1966), Ind. Eng. Chem. Fundam. 5, 9, for
 * liquids at Reynolds numbers of 0.0016 to 55: Sh = 1.09/voidage Pe^(1/3), Pe the superficial velocity times the grain over
 * the diffusion. A cartridge at tap flow runs near Pe 13,000 and Sh 35 to 70; in water that stands Sh ends at 4.
 * @param c its minutes above 0
 */
export function bedTransfer(c: Contact, temperatureC: number): { readonly peclet: number; readonly sherwood: number } {
  const warm = ((temperatureC + 273.15) / 298.15) * (viscosityPaS(25) / viscosityPaS(temperatureC));
  const between = (c.bedLengthMm ?? USUAL_BED_MM) / 10 / (60 * c.minutes);
  const peclet = (between * c.voidage * (c.grainMm / 10)) / (DIFFUSION_25 * warm);
  return { peclet, sherwood: max(STAGNANT_SHERWOOD, (1.09 / c.voidage) * Math.cbrt(peclet)) };
}

/** Mass transfer through the film round a grain, diffusion by temperature over viscosity. @returns cm/s */
export function filmCmS(c: Contact, temperatureC: number): number {
  const warm = ((temperatureC + 273.15) / 298.15) * (viscosityPaS(25) / viscosityPaS(temperatureC));
  return (bedTransfer(c, temperatureC).sherwood * DIFFUSION_25 * warm) / (c.grainMm / 10);
}

/** mol/L taken up in a contact: the time for each small share of the way is added until the contact is over. */
function dissolvedIn(w: SoftWater, c: Contact, at: (x: number) => Bed, equilibrium: number): number {
  if (equilibrium <= 0 || c.minutes <= 0) return 0;
  // grains as spheres: area of 1 L of water between them, cm2
  const area = (1000 * 6 * (1 - c.voidage)) / ((c.grainMm / 10) * c.voidage);
  const film = filmCmS(c, w.temperatureC);
  // the surface and the film of water round the grain, one behind the other
  const rate = (share: number): number => {
    const b = at(share * equilibrium);
    const surface = calciteRate(b.system, b.calcium, w.temperatureC, b.ionicStrength);
    const through = (film * (1 - share) * equilibrium) / 1000;
    return surface > 0 && through > 0 ? (area * surface * through) / (surface + through) : 0;
  };
  let seconds = 60 * c.minutes;
  let share = 0;
  let left = 1;
  // steps of a twentieth of what is left to go, at most 2 % of the whole
  while (left > 1e-9) {
    const step = min(0.02, left / 20);
    const r = rate(share + step / 2);
    if (!(r > 0)) break;
    const takes = (step * equilibrium) / r;
    if (takes >= seconds) return (share + (step * seconds) / takes) * equilibrium;
    seconds -= takes;
    share += step;
    left = 1 - share;
  }
  return share * equilibrium;
}

/** Whether metal may follow a water, and by which of its figures. */
export interface MetalAfter extends Pick<Remineralised, 'pH' | 'alkalinityMgL' | 'calciteSaturationIndex'> {
  readonly acceptable: boolean;
  readonly code: 'acid' | 'unbuffered' | 'no-film' | 'borne';
}

/** Whether metal pipe or a brass tap may follow, and why not. Figures of common practice for copper. */
export function metalAfter(w: Pick<Remineralised, 'pH' | 'alkalinityMgL' | 'calciteSaturationIndex'>): MetalAfter {
  const { pH, alkalinityMgL, calciteSaturationIndex } = w;
  const figures = { pH, alkalinityMgL, calciteSaturationIndex };
  if (pH < 7) return { acceptable: false, code: 'acid', ...figures };
  if (alkalinityMgL < 60) return { acceptable: false, code: 'unbuffered', ...figures };
  if (calciteSaturationIndex !== null && calciteSaturationIndex < -1)
    return { acceptable: false, code: 'no-film', ...figures };
  return { acceptable: true, code: 'borne', ...figures };
}

/** Months a bed lasts until a share of it is dissolved. @param bedGrams calcite in it; @returns Infinity where nothing dissolves */
export function monthsPerRefill(
  bedGrams: number,
  usableShare: number,
  dissolvedMgL: number,
  litresADay: number,
): number {
  const perMonth = (dissolvedMgL / 1000) * litresADay * 30.44;
  return perMonth > 1e-9 ? (bedGrams * usableShare) / perMonth : Infinity;
}
