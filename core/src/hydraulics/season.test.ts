import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules, shelf, usual } from '../testing/fixtures.ts';
import {
  closingBar,
  densityKgM3,
  edgeOf,
  feedPressures,
  feedWaterAt,
  kindsOf,
  operate,
  permeabilityOf,
  designInHouse,
  seasonTemperatureC,
  siteFrom,
  supplyOf,
  wettedLitres,
  viewSystem,
  type Design,
  type Site,
} from '../index.ts';
import { rating } from '../testing/fixtures.ts';

const site: Site = (() => {
  const r = siteFrom(house, rules);
  if (!r.ok) throw new Error('site');
  return r.site;
})();
const design: Design = { ...usual, permeatePumpId: null };
const worst = designInHouse(design, shelf, site, 'worst');

describe('the seasons of a house', () => {
  test('the worst is the coldest water at the running pressure, today is today’s at the static one', () => {
    expect([seasonTemperatureC(site, 'worst'), seasonTemperatureC(site, 'today')]).toEqual([8, 14]);
    expect([supplyOf(site, 'worst').staticBar, supplyOf(site, 'today').staticBar]).toEqual([3.5, 4]);
  });
  test('water presses harder when warm: osmotic pressure goes with absolute temperature', () => {
    const ratio = feedWaterAt(site, 25).osmoticBarPerMgL / feedWaterAt(site, 5).osmoticBarPerMgL;
    expect(ratio).toBeCloseTo(298.15 / 278.15, 6);
  });
  test('water is densest about 4 C', () => {
    expect(densityKgM3(4)).toBe(1000);
    expect(densityKgM3(25)).toBeCloseTo(997.5, 0);
  });
});

describe('pressures on the way in', () => {
  test('fall with the flow and never below zero', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.double({ min: 0.01, max: 5, noNaN: true }),
        (flow, more) => {
          const a = feedPressures(worst.train, flow, 8);
          const b = feedPressures(worst.train, flow + more, 8);
          return (
            b.supplyBar <= a.supplyBar && b.inletBar <= a.inletBar && b.inletBar >= 0 && a.filteredBar <= a.supplyBar
          );
        },
      ),
    );
  });
  test('the four-port valve closes at its share of the inlet’s pressure, the pump at its switch', () => {
    const water = feedWaterAt(site, 8);
    const close = closingBar(worst.train, water);
    expect(close / 3.5).toBeGreaterThan(0.6);
    expect(close / 3.5).toBeLessThanOrEqual(0.65);
    const pumped = designInHouse({ ...design, pumpId: 'pump-small' }, shelf, site, 'worst');
    expect(closingBar(pumped.train, water)).toBe(2.8);
  });
});

describe('a day of fills', () => {
  test('made and wasted add up to what was fed, and recovery says so', () => {
    const { fill, wasteRatio } = operate(worst, site, 'worst', rules.wantedTapFlowLMin);
    expect(fill.fillRecovery).toBeCloseTo(fill.madeL / (fill.madeL + fill.wasteL), 12);
    expect(wasteRatio).toBeCloseTo(fill.wasteL / fill.madeL, 12);
    expect(fill.curve.at(-1)?.waterL).toBeCloseTo(fill.waterL, 9);
  });
  test('the tank’s curve rises in content and pressure and falls in flow', () => {
    const { curve } = operate(worst, site, 'worst', rules.wantedTapFlowLMin).fill;
    curve.slice(1).forEach((p, i) => {
      const before = curve[i];
      expect(p.waterL).toBeGreaterThan(before?.waterL ?? 0);
      expect(p.tankBar).toBeGreaterThan(before?.tankBar ?? 0);
      expect(p.permeateLDay).toBeLessThanOrEqual((before?.permeateLDay ?? 0) + 1e-9);
    });
  });
  test('more pressure at the worst hour never makes less', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1.5, max: 4.5, noNaN: true }),
        fc.double({ min: 0.1, max: 1, noNaN: true }),
        (bar, more) => {
          const at = (worstBar: number) => {
            const s = { ...site, worstBar };
            return operate(designInHouse(design, shelf, s, 'worst'), s, 'worst', 0.8).litresADay;
          };
          return at(bar + more) >= at(bar) * 0.999;
        },
      ),
      { numRuns: 20 },
    );
  });
  test('a rating is fitted once: the same constants come back for it', () => {
    expect(permeabilityOf(rating)).toBe(permeabilityOf(rating));
  });
});

describe('small things others lean on', () => {
  test('wetted litres count housings, tubes and tank', () => {
    const v = viewSystem({ known: house, catalogue: shelf, rules }, { design });
    if (!v.ok) throw new Error(v.reason);
    const dry = wettedLitres(v.view.system, 0);
    expect(dry).toBeGreaterThan(3 * 0.9);
    expect(dry).toBeLessThan(4);
    expect(wettedLitres(v.view.system, 5)).toBeCloseTo(dry + 5, 9);
  });
  test('a unit knows the kinds it measures', () => {
    expect(kindsOf('psi')).toEqual(['pressure']);
    expect(kindsOf('mm')).toEqual(expect.arrayContaining(['length', 'run']));
    expect(kindsOf('stone')).toEqual([]);
  });
  test('an edge is found on either side of where it holds', () => {
    const inside = (v: number): boolean => v > 2 && v < 6;
    expect(edgeOf(inside, 4, 0)).toBeCloseTo(2, 2);
    expect(edgeOf(inside, 4, 10)).toBeCloseTo(6, 2);
  });
});
