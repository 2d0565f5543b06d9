/** One dissolved thing: what a laboratory's sheet lists. */
export interface Species {
  /** as people say it */
  readonly name: string;
  /** g/mol, IUPAC 2021 abridged, of the form the concentration is given in */
  readonly molarMass: number;
  /** charge at the pH of drinking water */
  readonly charge: number;
  /** limiting equivalent conductance at 25 C, S cm2/eq (Robinson & Stokes 1959, app. 6.2); 0 for neutral ones */
  readonly conductance: number;
}

const s = (name: string, molarMass: number, charge: number, conductance: number): Species => ({
  name,
  molarMass,
  charge,
  conductance,
});

/**
 * Every species an analysis may name. Phosphate is taken as HPO4 2-; silica, boron (given as B) and arsenite (given as
 * As) as the uncharged acids they are below pH 9; arsenate (given as As) as HAsO4 2-.
 */
export const SPECIES = {
  Ca: s('calcium', 40.078, 2, 59.5),
  Mg: s('magnesium', 24.305, 2, 53.05),
  Na: s('sodium', 22.99, 1, 50.1),
  K: s('potassium', 39.098, 1, 73.5),
  NH4: s('ammonium', 18.039, 1, 73.55),
  Sr: s('strontium', 87.62, 2, 59.45),
  Ba: s('barium', 137.327, 2, 63.63),
  Fe: s('iron(II)', 55.845, 2, 53.5),
  Mn: s('manganese', 54.938, 2, 53.5),
  Pb: s('lead', 207.2, 2, 69.5),
  Cu: s('copper', 63.546, 2, 53.6),
  Zn: s('zinc', 65.38, 2, 52.8),
  HCO3: s('bicarbonate', 61.017, -1, 44.5),
  CO3: s('carbonate', 60.009, -2, 69.3),
  SO4: s('sulphate', 96.06, -2, 80.02),
  Cl: s('chloride', 35.45, -1, 76.35),
  NO3: s('nitrate', 62.005, -1, 71.46),
  NO2: s('nitrite', 46.005, -1, 71.8),
  F: s('fluoride', 18.998, -1, 55.4),
  Br: s('bromide', 79.904, -1, 78.14),
  PO4: s('phosphate', 95.979, -2, 57),
  AsV: s('arsenate', 74.922, -2, 57),
  AsIII: s('arsenite', 74.922, 0, 0),
  B: s('boron', 10.81, 0, 0),
  SiO2: s('silica', 60.083, 0, 0),
} as const satisfies Record<string, Species>;

export type SpeciesKey = keyof typeof SPECIES;
export const SPECIES_KEYS = Object.keys(SPECIES) as SpeciesKey[];

/** Amounts by species; what is left out is not there. */
export type Amounts = Readonly<Partial<Record<SpeciesKey, number>>>;

/** Molar mass of CaCO3, g/mol, in which hardness and alkalinity are expressed. */
export const CACO3 = 100.087;
/** mg/L of CaCO3 that make one milliequivalent a litre. */
export const CACO3_PER_MEQ = CACO3 / 2;
/** Molar mass of CO2, g/mol. */
export const CO2_MASS = 44.009;

/** mg/L to mol/L. @throws RangeError never; unknown species do not pass the type */
export function toMolL(mgL: Amounts): Amounts {
  return mapAmounts(mgL, (v, k) => v / 1000 / SPECIES[k].molarMass);
}

/** mol/L to mg/L. */
export function toMgL(molL: Amounts): Amounts {
  return mapAmounts(molL, (v, k) => v * 1000 * SPECIES[k].molarMass);
}

/** The same species with other amounts. */
export function mapAmounts(amounts: Amounts, f: (value: number, key: SpeciesKey) => number): Amounts {
  const out: Partial<Record<SpeciesKey, number>> = {};
  for (const key in amounts) {
    const k = key as SpeciesKey;
    const v = amounts[k];
    if (v !== undefined) out[k] = f(v, k);
  }
  return out;
}

/** Sum over the species there are. */
export function sumAmounts(amounts: Amounts, f: (value: number, species: Species) => number): number {
  let sum = 0;
  for (const key in amounts) {
    const k = key as SpeciesKey;
    const v = amounts[k];
    if (v !== undefined) sum += f(v, SPECIES[k]);
  }
  return sum;
}

/** Charges of cations and of anions, eq/L, both positive. */
export function charges(molL: Amounts): { cations: number; anions: number } {
  return {
    cations: sumAmounts(molL, (c, x) => (x.charge > 0 ? c * x.charge : 0)),
    anions: sumAmounts(molL, (c, x) => (x.charge < 0 ? -c * x.charge : 0)),
  };
}

/** Hardness, mg/L as CaCO3: calcium and magnesium, mol for mol. */
export function hardnessMgL(molL: Amounts): number {
  return ((molL.Ca ?? 0) + (molL.Mg ?? 0)) * CACO3 * 1000;
}
