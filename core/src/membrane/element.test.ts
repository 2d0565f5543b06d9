import type { ElementSite } from './channel.ts';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mains, rating } from '../testing/fixtures.ts';
import {
  fitPermeability,
  osmoticBarPerMgL,
  osmoticCoefficient,
  osmoticPressureBar,
  sodiumChloride,
  solveElement,
  temperatureFactor,
} from '../index.ts';

const p = fitPermeability(rating);
const k25 = osmoticBarPerMgL(sodiumChloride(500), 25);
const site: ElementSite = {
  feedPressureBar: 3.45,
  permeatePressureBar: 0,
  temperatureC: 25,
  tdsMgL: 500,
  osmoticBarPerMgL: k25,
  concentrateLDay: 450,
};
const anySite = fc.record({
  feedPressureBar: fc.double({ min: 0, max: 9, noNaN: true }),
  permeatePressureBar: fc.double({ min: 0, max: 4, noNaN: true }),
  temperatureC: fc.double({ min: 0.5, max: 40, noNaN: true }),
  tdsMgL: fc.double({ min: 1, max: 5000, noNaN: true }),
  osmoticBarPerMgL: fc.constantFrom(0.0005, 0.0008),
  concentrateLDay: fc.double({ min: 50, max: 2500, noNaN: true }),
});

describe('published figures', () => {
  test.each([
    [5, 0.483],
    [10, 0.585],
    [15, 0.704],
    [25, 1],
    [30, 1.157],
  ])('temperature correction at %d C is %d', (t, f) => {
    expect(temperatureFactor(t)).toBeCloseTo(f, 3);
  });
  test('1000 mg/L of NaCl at 25 C presses with 0.815 bar, its coefficient 0.961 (Robinson & Stokes)', () => {
    const w = sodiumChloride(1000);
    expect(w.osmoticCoefficient).toBeCloseTo(0.961, 2);
    expect(osmoticPressureBar(w, 25)).toBeCloseTo(0.815, 2);
    expect(osmoticPressureBar(w, 25) / w.osmoticCoefficient).toBeCloseTo(0.848, 3);
  });
  test.each([
    [0.1, 0.9324],
    [0.5, 0.9209],
  ])('the osmotic coefficient of %d mol/L NaCl is %d within 0.002', (i, phi) => {
    expect(Math.abs(osmoticCoefficient(i, 1) - phi)).toBeLessThan(0.002);
  });
  test('hard mains presses about 0.0005 bar for each mg/L', () => {
    expect(osmoticBarPerMgL(mains(480, 300), 25)).toBeCloseTo(0.0005, 4);
  });
});

describe('an element', () => {
  test('gives its own rating at its own test conditions to 0.1 %', () => {
    const o = solveElement(p, { ...site, concentrateLDay: rating.permeateLDay / 0.15 - rating.permeateLDay });
    expect(o.permeateLDay / rating.permeateLDay).toBeCloseTo(1, 4);
    expect(o.rejection).toBeCloseTo(rating.rejection, 5);
    expect(o.recovery).toBeCloseTo(0.15, 5);
  });
  test('fitting any sensible rating and solving it returns the rating', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 80, max: 1500, noNaN: true }),
        fc.double({ min: 0.85, max: 0.99, noNaN: true }),
        fc.double({ min: 2, max: 8, noNaN: true }),
        (flow, rejection, bar) => {
          const r = {
            permeateLDay: flow,
            rejection,
            test: { pressureBar: bar, temperatureC: 25, tdsMgL: 500, recovery: 0.15 },
          };
          const o = solveElement(fitPermeability(r), {
            ...site,
            feedPressureBar: bar,
            concentrateLDay: flow / 0.15 - flow,
          });
          return (
            Math.abs(o.permeateLDay / flow - 1) < 1e-3 &&
            Math.abs(o.rejection - rejection) < 1e-3 * (1 - rejection) + 1e-5
          );
        },
      ),
      { numRuns: 60 },
    );
  });
  test('a rating below the osmotic pressure of its own test water is refused', () => {
    expect(() => fitPermeability({ ...rating, test: { ...rating.test, pressureBar: 0.3 } })).toThrow(RangeError);
  });
  test('water and salt in equal water and salt out', () => {
    fc.assert(
      fc.property(anySite, (s) => {
        const o = solveElement(p, s);
        const water = Math.abs(o.feedLDay - o.permeateLDay - o.concentrateLDay);
        const salt = Math.abs(
          o.feedLDay * s.tdsMgL - o.permeateLDay * o.permeateTdsMgL - o.concentrateLDay * o.concentrateTdsMgL,
        );
        return water <= 1e-9 * o.feedLDay && salt <= 1e-6 * o.feedLDay * s.tdsMgL;
      }),
    );
  });
  test('never gives NaN, infinity or a negative flow', () => {
    fc.assert(
      fc.property(anySite, (s) => {
        const o = solveElement(p, s);
        return (
          Object.values(o).every((v) => typeof v === 'number' && Number.isFinite(v)) &&
          o.permeateLDay >= 0 &&
          o.concentrateLDay >= 0
        );
      }),
    );
  });
  test('more pressure never gives less water, colder never more, a fuller tank never more', () => {
    fc.assert(
      fc.property(anySite, fc.double({ min: 0.01, max: 2, noNaN: true }), (s, more) => {
        const base = solveElement(p, s).permeateLDay;
        const slack = 1e-6 * (1 + base);
        return (
          solveElement(p, { ...s, feedPressureBar: s.feedPressureBar + more }).permeateLDay >= base - slack &&
          solveElement(p, { ...s, temperatureC: Math.max(0.1, s.temperatureC - more) }).permeateLDay <= base + slack &&
          solveElement(p, { ...s, permeatePressureBar: s.permeatePressureBar + more }).permeateLDay <= base + slack
        );
      }),
    );
  });
  test('a tighter restrictor never gives purer product', () => {
    fc.assert(
      fc.property(anySite, fc.double({ min: 0.2, max: 0.95, noNaN: true }), (s, share) => {
        const open = solveElement(p, s);
        const tight = solveElement(p, { ...s, concentrateLDay: s.concentrateLDay * share });
        return (
          open.permeateLDay < 1e-3 ||
          tight.permeateLDay < 1e-3 ||
          tight.permeateTdsMgL >= open.permeateTdsMgL * (1 - 1e-6)
        );
      }),
    );
  });
  test('twelve slices agree with a march of four thousand', () => {
    const fine = solveElement(p, site, 4000);
    const coarse = solveElement(p, site);
    expect(coarse.permeateLDay / fine.permeateLDay).toBeCloseTo(1, 2);
    expect(coarse.permeateTdsMgL / fine.permeateTdsMgL).toBeCloseTo(1, 1);
    expect(Math.abs(coarse.permeateLDay / fine.permeateLDay - 1)).toBeLessThan(0.001);
  });
  test('below the osmotic pressure only a salty trickle passes, and against the push nothing', () => {
    const trickle = solveElement(p, { ...site, feedPressureBar: 0.3, permeatePressureBar: 0.2 });
    expect(trickle.permeateLDay).toBeLessThan(0.01 * rating.permeateLDay);
    expect(trickle.permeateTdsMgL).toBeGreaterThan(0.6 * site.tdsMgL);
    expect(solveElement(p, { ...site, feedPressureBar: 0.2, permeatePressureBar: 0.2 }).permeateLDay).toBe(0);
  });
});
