import { activated, type Permeability } from './permeability.ts';
import { composition, type Composition } from '../water/composition.ts';
import { rootOfFalling } from '../quantity/root.ts';
import { SPECIES, SPECIES_KEYS, type Amounts, type SpeciesKey } from '../water/species.ts';
import { type Slice } from './channel.ts';

const { exp, max } = Math;

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
  /** the product, electrically neutral */
  readonly product: Composition;
}

/** The potential is looked for within this many thermal voltages either way: a divalent ion then passes e^24 times more easily. */
const MOST_POTENTIAL = 12;

/**
 * Passage of each species through a solved element. The salt as a whole is the element's own rating; each species goes by
 * its permeability against sodium chloride's in the same slices. Ions of one sign cannot leave alone: one potential across
 * the membrane, over all of them, slows those that would run ahead and draws those that lag (the permeability of an ion of
 * charge z is taken e^(z psi) times its own; Nernst-Planck with a field that is the same for all), so that the product is
 * neutral. No species leaves in greater amount than it came.
 * @param feed neutral or nearly so: of one sign alone nothing could pass, and each then goes by itself
 * @param slices noted by `solveWith`
 */
export function speciesPassage(
  feed: Composition,
  p: Permeability,
  temperatureC: number,
  slices: readonly Slice[],
): SpeciesPassage {
  const there = SPECIES_KEYS.filter((k) => (feed.molL[k] ?? 0) > 0);
  const shareAt = (k: SpeciesKey, psi: number): number =>
    passageOf(RELATIVE_PERMEABILITY[k] * exp(SPECIES[k].charge * psi), p, temperatureC, slices);
  const charged = there.filter((k) => SPECIES[k].charge !== 0);
  // falls as the potential rises: it draws cations through and holds anions back
  const anionsAhead = (psi: number): number =>
    -charged.reduce((sum, k) => sum + SPECIES[k].charge * (feed.molL[k] ?? 0) * shareAt(k, psi), 0);
  const bothSigns = [1, -1].every((sign) => charged.some((k) => SPECIES[k].charge * sign > 0));
  const psi = bothSigns ? rootOfFalling(anionsAhead, -MOST_POTENTIAL, MOST_POTENTIAL, 1e-12) : 0;
  const passage: Partial<Record<SpeciesKey, number>> = {};
  const molL: Partial<Record<SpeciesKey, number>> = {};
  for (const k of there) {
    const share = shareAt(k, psi);
    passage[k] = share;
    molL[k] = (feed.molL[k] ?? 0) * share;
  }
  return { passage, product: composition(molL) };
}
