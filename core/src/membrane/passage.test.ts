import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
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
    expect(passage.Ca).toBeLessThan(0.4 * (passage.Na ?? 0));
    expect(passage.SO4).toBeLessThan(passage.Ca ?? 0);
    expect(passage.NO3).toBeGreaterThan(passage.Cl ?? 1);
    expect(passage.B).toBeGreaterThan(0.3);
    const { cations, anions } = charges(product.molL);
    expect(cations).toBeCloseTo(anions, 12);
    expect(product.tdsMgL).toBeLessThan(0.1 * feed.tdsMgL);
  });
  test('every species of an analysis has its figure', () => {
    expect(SPECIES_KEYS.length).toBeGreaterThanOrEqual(14);
    const { passage } = passed(composition(Object.fromEntries(SPECIES_KEYS.map((k) => [k, 1e-4]))));
    for (const k of SPECIES_KEYS) {
      expect(RELATIVE_PERMEABILITY[k]).toBeGreaterThan(0);
      expect(passage[k]).toBeGreaterThan(0);
    }
  });
  test('no species leaves in greater amount than it came, in any water, and the product is neutral', () => {
    const mmol = fc.double({ min: 0, max: 6, noNaN: true });
    fc.assert(
      fc.property(
        mmol,
        mmol,
        mmol,
        mmol,
        mmol,
        fc.double({ min: 2, max: 7, noNaN: true }),
        (Ca, Mg, Na, HCO3, SO4, bar) => {
          const molL = { Ca: Ca / 1e3, Mg: Mg / 1e3, Na: Na / 1e3, HCO3: HCO3 / 1e3, SO4: SO4 / 1e3 };
          // closed with chloride or sodium, as an analysis is
          const lack = 2 * (molL.Ca + molL.Mg - molL.SO4) + molL.Na - molL.HCO3;
          const feed = composition(lack > 0 ? { ...molL, Cl: lack } : { ...molL, Na: molL.Na - lack });
          fc.pre(feed.tdsMgL > 5);
          const { out, passage, product } = passed(feed, bar);
          for (const share of Object.values(passage)) expect(share * out.recovery).toBeLessThanOrEqual(1 + 1e-9);
          const { cations, anions } = charges(product.molL);
          expect(Math.abs(cations - anions)).toBeLessThan(1e-9 * Math.max(1e-6, cations + anions) + 1e-12);
        },
      ),
      { numRuns: 200, seed: 7 },
    );
  });
  test('in hard water with little sodium the sodium is not made more of: bicarbonate waits for calcium instead', () => {
    const feed = composition({ Ca: 2.5e-3, Na: 1e-4, HCO3: 5.1e-3 });
    const { passage, out } = passed(feed);
    expect((passage.Na ?? 0) * out.recovery).toBeLessThan(1);
    expect(passage.HCO3).toBeLessThan(0.6 * (passed(sodiumChloride(feed.tdsMgL)).passage.Cl ?? 0));
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
