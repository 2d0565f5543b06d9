import { describe, expect, test } from '@jest/globals';
import { mains, rating } from '../testing/fixtures.ts';
import {
  charges,
  composition,
  fitPermeability,
  osmoticBarPerMgL,
  RELATIVE_PERMEABILITY,
  solveElement,
  speciesPassage,
  SPECIES_KEYS,
  sodiumChloride,
  tdsAfterStand,
  type Composition,
  type Slice,
} from '../index.ts';

const p = fitPermeability(rating);
function passed(feed: Composition, feedPressureBar = 3.4) {
  const slices: Slice[] = [];
  const out = solveElement(
    p,
    {
      feedPressureBar,
      permeatePressureBar: 0,
      temperatureC: 12,
      tdsMgL: feed.tdsMgL,
      osmoticBarPerMgL: osmoticBarPerMgL(feed, 12),
      concentrateLDay: 300,
    },
    undefined,
    slices,
  );
  return { out, slices, ...speciesPassage(feed, p, 12, slices) };
}

describe('what passes of each species', () => {
  test('sodium chloride passes as the salt of the rating does', () => {
    const { out, passage } = passed(sodiumChloride(500));
    expect((passage.Na ?? 0) * 500).toBeCloseTo(out.permeateTdsMgL, 6);
    expect(passage.Cl).toBeCloseTo(passage.Na ?? 0, 12);
  });
  test('the slices add up to the product and to the whole area', () => {
    const { out, slices } = passed(mains(480, 300));
    expect(slices.reduce((s, x) => s + x.flux * x.share, 0)).toBeCloseTo(out.permeateLDay, 6);
    expect(slices.reduce((s, x) => s + x.share, 0)).toBeCloseTo(1, 9);
  });
  test('hard water is held back better than salt, nitrate and boron worse, and the product is neutral', () => {
    const feed = composition({ ...mains(480, 300).molL, B: 1e-5, F: 2e-5, Pb: 1e-8 });
    const { passage, product } = passed(feed);
    expect(passage.Ca).toBeLessThan(0.3 * (passage.Na ?? 0));
    expect(passage.SO4).toBeLessThan(passage.Ca ?? 0);
    expect(passage.NO3).toBeGreaterThan(1.8 * (passage.Na ?? 0));
    expect(passage.B).toBeGreaterThan(0.3);
    const { cations, anions } = charges(product.molL);
    expect(cations).toBeCloseTo(anions, 12);
    expect(product.tdsMgL).toBeLessThan(0.1 * feed.tdsMgL);
  });
  test('every species of an analysis has its figure, none passes more than there is', () => {
    expect(SPECIES_KEYS.length).toBeGreaterThanOrEqual(14);
    const { passage } = passed(composition(Object.fromEntries(SPECIES_KEYS.map((k) => [k, 1e-4]))));
    for (const k of SPECIES_KEYS) {
      expect(RELATIVE_PERMEABILITY[k]).toBeGreaterThan(0);
      expect(passage[k]).toBeGreaterThan(0);
      // uncharged ones thicken along the channel, so their product may come near the feed
      expect(passage[k]).toBeLessThan(1.1);
    }
  });
  test('more pressure holds more back', () => {
    const at = (bar: number) => passed(mains(480, 300), bar).passage.NO3 ?? 0;
    expect(at(5)).toBeLessThan(at(2.5));
  });
  test('an element that stands lets salt through by the same permeability', () => {
    const s = { productL: 0.1, feedL: 0.4, productTdsMgL: 15, feedTdsMgL: 480, saltLDay: p.saltLDay };
    expect(tdsAfterStand(s, 8)).toBeGreaterThan(100);
  });
});
