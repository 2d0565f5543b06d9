import { activated, type Permeability } from './permeability.ts';
import { composition, type Composition } from '../water/composition.ts';
import { charges, SPECIES_KEYS, type Amounts, type SpeciesKey } from '../water/species.ts';
import { type Slice } from './channel.ts';

const { max } = Math;

/**
 * Permeability of each species against sodium chloride's, for thin-film polyamide at pH 6 to 8. Middle of what membrane
 * text books and makers' sheets give for domestic elements (divalent ions a fifth, nitrate two to three times, uncharged
 * boric and arsenious acid many times); single elements differ by a factor of two.
 */
export const RELATIVE_PERMEABILITY: Readonly<Record<SpeciesKey, number>> = {
  Ca: 0.2,
  Mg: 0.18,
  Na: 1,
  K: 1.1,
  NH4: 1.6,
  Sr: 0.2,
  Ba: 0.2,
  Fe: 0.2,
  Mn: 0.25,
  Pb: 0.25,
  Cu: 0.25,
  Zn: 0.25,
  HCO3: 0.9,
  CO3: 0.25,
  SO4: 0.15,
  Cl: 1,
  NO3: 2.5,
  NO2: 3,
  F: 1.2,
  Br: 1,
  PO4: 0.15,
  AsV: 0.5,
  AsIII: 9,
  B: 14,
  SiO2: 1.2,
};

/** What passes of one species, by marching it down the slices that were solved for all the salt together. */
function passageOf(relative: number, p: Permeability, temperatureC: number, slices: readonly Slice[]): number {
  const b = activated(p, temperatureC).b * relative;
  const first = slices[0];
  if (!first) return 1;
  let amount = first.inLDay;
  let passed = 0;
  let water = 0;
  for (const s of slices) {
    const c = amount / s.flowLDay;
    const through = s.flux * s.share;
    const mg = s.flux > 0 ? ((b * s.polarisation) / (s.flux + b * s.polarisation)) * c * through : 0;
    passed += mg;
    water += through;
    amount = max(0, amount - mg);
  }
  return water > 0 ? passed / water : 1;
}

export interface SpeciesPassage {
  /** product over feed concentration, by species of the feed */
  readonly passage: Amounts;
  /** the product, its charges closed with sodium or chloride as the membrane does */
  readonly product: Composition;
}

/**
 * Passage of each species through a solved element. The salt as a whole is the element's own rating; each species goes by
 * its permeability against sodium chloride's in the same slices, and the product is made neutral.
 * @param slices noted by `solveWith`
 */
export function speciesPassage(
  feed: Composition,
  p: Permeability,
  temperatureC: number,
  slices: readonly Slice[],
): SpeciesPassage {
  const passage: Partial<Record<SpeciesKey, number>> = {};
  const molL: Partial<Record<SpeciesKey, number>> = {};
  for (const k of SPECIES_KEYS) {
    const c = feed.molL[k];
    if (c === undefined) continue;
    const share = passageOf(RELATIVE_PERMEABILITY[k], p, temperatureC, slices);
    passage[k] = share;
    molL[k] = c * share;
  }
  const { cations, anions } = charges(molL);
  // the faster ion waits for its partner: what is too much of one sign is carried by more of the commonest other
  if (cations < anions) molL.Na = (molL.Na ?? 0) + anions - cations;
  else molL.Cl = (molL.Cl ?? 0) + cations - anions;
  return { passage, product: composition(molL) };
}
