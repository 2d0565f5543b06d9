import { GAS_CONSTANT } from './properties.ts';

const { log, max, sqrt } = Math;

/** Molar masses, g/mol (IUPAC 2021, abridged). */
const MOLAR_MASS = { Ca: 40.078, Mg: 24.305, Na: 22.99, HCO3: 61.017, Cl: 35.45, SO4: 96.06 } as const;
const CHARGE = { Ca: 2, Mg: 2, Na: 1, HCO3: 1, Cl: 1, SO4: 2 } as const;
/** Molar mass of CaCO3, g/mol, in which hardness and alkalinity are expressed. */
const CACO3 = 100.087;

export type Ion = keyof typeof MOLAR_MASS;
const IONS = Object.keys(MOLAR_MASS) as Ion[];

/** An electroneutral make-up of a water of which little is known, and what follows from it. */
export interface Composition {
  /** mol/L */
  readonly molL: Readonly<Record<Ion, number>>;
  readonly ionicStrengthMolL: number;
  /** sum of all ions, mg/L */
  readonly tdsMgL: number;
  /** molal osmotic coefficient at 25 C, dimensionless */
  readonly osmoticCoefficient: number;
}

/**
 * Osmotic coefficient from the Debye-Hueckel term of Robinson & Stokes (1959, ch. 9) with an ion-size term and a linear
 * one fitted to their NaCl table: phi = 1 - 0.3907 |z+ z-| s(1.5 I^0.5) I^0.5 + 0.02 I, with
 * s(x) = 3/x^3 [(1 + x) - 1/(1 + x) - 2 ln(1 + x)]. Within 0.002 of their NaCl values up to 0.5 mol/L.
 * @param ionicStrengthMolL 0 to 0.7 mol/L
 * @param chargeProduct mean |z+ z-| of the salts, 1 for NaCl
 * @returns dimensionless; worked value 0.961 for 1000 mg/L (0.0171 mol/L) NaCl
 */
export function osmoticCoefficient(ionicStrengthMolL: number, chargeProduct: number): number {
  if (ionicStrengthMolL <= 0) return 1;
  const b = 1.5;
  const root = sqrt(ionicStrengthMolL);
  const x = 1 + b * root;
  const sigma = (3 * (x - 1 / x - 2 * log(x))) / (b * root) ** 3;
  return max(0.5, 1 - 0.3907 * chargeProduct * sigma * root + 0.02 * ionicStrengthMolL);
}

function finish(molL: Record<Ion, number>): Composition {
  let ionicStrengthMolL = 0;
  let total = 0;
  let chargeSquared = 0;
  let tdsMgL = 0;
  for (const ion of IONS) {
    ionicStrengthMolL += 0.5 * molL[ion] * CHARGE[ion] ** 2;
    chargeSquared += molL[ion] * CHARGE[ion] ** 2;
    total += molL[ion];
    tdsMgL += molL[ion] * MOLAR_MASS[ion] * 1000;
  }
  // sum(z^2 c)/sum(c) is the mean |z+ z-| of the mixture: 1 for NaCl, 2 for CaCl2, 4 for CaSO4
  const chargeProduct = total > 0 ? chargeSquared / total : 1;
  return { molL, ionicStrengthMolL, tdsMgL, osmoticCoefficient: osmoticCoefficient(ionicStrengthMolL, chargeProduct) };
}

/** A pure sodium chloride solution, the test water of every rating. @param tdsMgL 0 to 40 000 mg/L */
export function sodiumChloride(tdsMgL: number): Composition {
  const c = tdsMgL / 1000 / (MOLAR_MASS.Na + MOLAR_MASS.Cl);
  return finish({ Ca: 0, Mg: 0, Na: c, HCO3: 0, Cl: c, SO4: 0 });
}

/**
 * Makes up a likely water from the two figures an installer has: hardness goes to calcium and magnesium 3:1 by moles,
 * alkalinity is taken as `alkalinityShare` of the larger of hardness and half of the rest, what remains of the TDS
 * is sodium with chloride and sulphate 3:1 by equivalents, and the whole is electroneutral.
 * @param tdsMgL sum of all ions with bicarbonate in full, mg/L, 0 to 40 000
 * @param hardnessMgLAsCaCO3 0 up to about 0.9 of the TDS; more is cut to what the TDS can hold
 * @returns the composition; its tdsMgL equals the given one to rounding
 */
export function likelyWater(tdsMgL: number, hardnessMgLAsCaCO3: number, alkalinityShare = 0.8): Composition {
  const build = (hardness: number): { molL: Record<Ion, number>; mass: number } => {
    const divalent = hardness / CACO3 / 1000;
    const molL: Record<Ion, number> = { Ca: divalent * 0.75, Mg: divalent * 0.25, Na: 0, HCO3: 0, Cl: 0, SO4: 0 };
    molL.HCO3 = 2 * divalent * alkalinityShare;
    const rest = 2 * divalent - molL.HCO3;
    molL.Cl = rest * 0.75;
    molL.SO4 = (rest * 0.25) / 2;
    return { molL, mass: IONS.reduce((s, i) => s + molL[i] * MOLAR_MASS[i] * 1000, 0) };
  };
  const full = build(hardnessMgLAsCaCO3);
  const fits = full.mass <= tdsMgL;
  const { molL, mass } = fits ? full : build((hardnessMgLAsCaCO3 * tdsMgL) / full.mass);
  // mass of one equivalent of sodium with 3/4 chloride and 1/4 sulphate, g
  const perEquivalent = MOLAR_MASS.Na + 0.75 * MOLAR_MASS.Cl + (0.25 * MOLAR_MASS.SO4) / 2;
  const sodium = max(0, tdsMgL - mass) / 1000 / perEquivalent;
  molL.Na = sodium;
  molL.Cl += 0.75 * sodium;
  molL.SO4 += (0.25 * sodium) / 2;
  return finish(molL);
}

/**
 * Osmotic pressure by van 't Hoff with the osmotic coefficient: pi = phi R T sum(c).
 * @returns bar; worked value 0.815 bar for 1000 mg/L NaCl at 25 C
 */
export function osmoticPressureBar(water: Composition, temperatureC: number): number {
  const total = IONS.reduce((s, i) => s + water.molL[i], 0);
  return water.osmoticCoefficient * GAS_CONSTANT * (temperatureC + 273.15) * total;
}

/** Osmotic pressure per mg/L of this make-up, bar L/mg; the make-up is kept while it is concentrated. 0 for no salt. */
export function osmoticBarPerMgL(water: Composition, temperatureC: number): number {
  return water.tdsMgL > 0 ? osmoticPressureBar(water, temperatureC) / water.tdsMgL : 0;
}
