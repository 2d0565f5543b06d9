import { GAS_CONSTANT } from './properties.ts';
import { mapAmounts, SPECIES, sumAmounts, toMolL, type Amounts } from './species.ts';

const { log, max, sqrt } = Math;

/** What is dissolved, and what follows from it. */
export interface Composition {
  /** mol/L */
  readonly molL: Amounts;
  /** everything together, mol/L */
  readonly particlesMolL: number;
  /** stoichiometric, mol/L */
  readonly ionicStrengthMolL: number;
  /** sum of all that is dissolved, bicarbonate in full, mg/L */
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
  // the bracket loses its figures for very thin water: its series is x^3/3 there
  const sigma = root < 1e-3 ? 1 : (3 * (x - 1 / x - 2 * log(x))) / (b * root) ** 3;
  return max(0.5, 1 - 0.3907 * chargeProduct * sigma * root + 0.02 * ionicStrengthMolL);
}

/** Works out a composition from its amounts. @param molL mol/L, each 0 or more */
export function composition(molL: Amounts): Composition {
  const chargeSquared = sumAmounts(molL, (c, x) => c * x.charge ** 2);
  const ions = sumAmounts(molL, (c, x) => (x.charge === 0 ? 0 : c));
  const ionicStrengthMolL = 0.5 * chargeSquared;
  return {
    molL,
    particlesMolL: sumAmounts(molL, (c) => c),
    ionicStrengthMolL,
    tdsMgL: sumAmounts(molL, (c, x) => c * x.molarMass * 1000),
    // sum(z^2 c)/sum(c) is the mean |z+ z-| of the mixture: 1 for NaCl, 2 for CaCl2, 4 for CaSO4
    osmoticCoefficient: osmoticCoefficient(ionicStrengthMolL, ions > 0 ? chargeSquared / ions : 1),
  };
}

/** The same water with other amounts of all it holds. @param factor 0 or more */
export function scaled(water: Composition, factor: number): Composition {
  return composition(mapAmounts(water.molL, (v) => v * factor));
}

/** A pure sodium chloride solution, the test water of every rating. @param tdsMgL 0 to 45 000 mg/L */
export function sodiumChloride(tdsMgL: number): Composition {
  const c = tdsMgL / 1000 / (SPECIES.Na.molarMass + SPECIES.Cl.molarMass);
  return composition({ Na: c, Cl: c });
}

/** A composition from an analysis in mg/L, as it stands. */
export function fromMgL(mgL: Amounts): Composition {
  return composition(toMolL(mgL));
}

/**
 * Osmotic pressure by van 't Hoff with the osmotic coefficient: pi = phi R T sum(c).
 * @returns bar; worked value 0.815 bar for 1000 mg/L NaCl at 25 C
 */
export function osmoticPressureBar(water: Composition, temperatureC: number): number {
  return water.osmoticCoefficient * GAS_CONSTANT * (temperatureC + 273.15) * water.particlesMolL;
}

/** Osmotic pressure per mg/L of this make-up, bar L/mg; the make-up is kept while it is concentrated. 0 for no salt. */
export function osmoticBarPerMgL(water: Composition, temperatureC: number): number {
  return water.tdsMgL > 0 ? osmoticPressureBar(water, temperatureC) / water.tdsMgL : 0;
}
