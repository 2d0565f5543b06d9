import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  fillsFor,
  leftAfterFills,
  leftAfterRun,
  minutesFor,
  rinseOf,
  siteFrom,
  tubeLitres,
  viewOf,
  type Design,
} from '../index.ts';
import { house, rules, systemOf, usual } from '../testing/fixtures.ts';

const found = siteFrom(house, rules);
if (!found.ok) throw new Error('the house is known');
const rinseIn = (design: Design) => {
  const system = systemOf(design);
  return rinseOf(system, viewOf(system, found.site, found.assumed, rules).today);
};

describe('thinning what is dissolved', () => {
  test('by emptying and filling: each time what is left is mixed into the whole', () => {
    expect(leftAfterFills(0.5, 9.5, 2)).toBeCloseTo(0.0025, 12);
    expect(leftAfterFills(0.5, 9.5, 0)).toBe(1);
    // 20-fold each time: two for a hundred, three for a thousand
    expect([fillsFor(100, 0.5, 9.5), fillsFor(1000, 0.5, 9.5)]).toEqual([2, 3]);
    // exactly ten-fold each time: two are a hundred-fold, not three
    expect(fillsFor(100, 1, 9)).toBe(2);
    expect(fillsFor(100, 0, 9)).toBe(1);
    expect(fillsFor(100, 1, 0)).toBe(Infinity);
  });
  test('by running: as the analytic case of one mixed volume, and no slower than stepping it through', () => {
    // 2.7 L at 1 L/min: 4.6 times its volume for a hundred-fold
    expect(minutesFor(100, 2.7, 1)).toBeCloseTo(2.7 * Math.log(100), 9);
    let c = 1;
    const dt = 0.001;
    for (let t = 0; t < 5; t += dt) c -= (c * 1.4 * dt) / 2.7;
    expect(leftAfterRun(2.7, 1.4, 5)).toBeCloseTo(c, 3);
    expect(minutesFor(100, 2.7, 0)).toBe(Infinity);
  });
  test('housings one after the other thin faster than one of their sum', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.3, max: 2, noNaN: true }),
        fc.double({ min: 0.2, max: 4, noNaN: true }),
        (litres, flow) => {
          const minutes = minutesFor(100, 3 * litres, flow);
          const cells = [1, 1, 1];
          const dt = Math.min(0.002, (0.01 * litres) / flow);
          for (let t = 0; t < minutes; t += dt) {
            let before = 0;
            for (let i = 0; i < 3; i++) {
              const now = cells[i] ?? 0;
              cells[i] = now + ((before - now) * flow * dt) / litres;
              before = now;
            }
          }
          expect(cells[2] ?? 1).toBeLessThan(0.0105);
        },
      ),
      { numRuns: 20 },
    );
  });
  test('fills and what is left after them say the same', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 3, noNaN: true }),
        fc.double({ min: 1, max: 40, noNaN: true }),
        fc.integer({ min: 2, max: 5000 }),
        (r, f, fold) => {
          const n = fillsFor(fold, r, f);
          expect(leftAfterFills(r, f, n)).toBeLessThanOrEqual((1 / fold) * (1 + 1e-6));
          if (n > 1) expect(leftAfterFills(r, f, n - 1)).toBeGreaterThan(1 / fold);
        },
      ),
    );
  });
});

describe('the volumes of a system', () => {
  const stored = rinseIn(usual);
  test('are its housings and tubes on either side of the membrane, and what a tank keeps back', () => {
    // three housings of 0.9 L and a membrane of 0.5 L before it, a polishing cartridge of 0.3 L after it
    expect(stored.feedL).toBeGreaterThan(3.2);
    expect(stored.feedL).toBeLessThan(3.4);
    expect(stored.productL).toBeGreaterThan(0.3);
    expect(stored.productL).toBeLessThan(0.45);
    expect(stored.remainderL).toBeGreaterThan(stored.productL);
    expect(stored.fillL).toBeGreaterThan(2);
  });
  test('grow with a longer tube, a further filter, a larger tank; without a store nothing is kept back', () => {
    const direct = rinseIn({ ...usual, tankId: null, permeatePumpId: null, pumpId: 'pump-open', elementId: 'element-1500-open', restrictorId: 'restrictor-2400' }); // oxfmt-ignore
    expect([direct.remainderL, direct.fillL]).toEqual([0, 0]);
    expect(rinseIn({ ...usual, ironId: 'iron-cartridge' }).feedL).toBeCloseTo(
      stored.feedL + 0.9 + tubeLitres(4.3, 0.25),
      6,
    );
    expect(rinseIn({ ...usual, mineralId: 'mineral-large' }).productL).toBeGreaterThan(stored.productL);
    expect(rinseIn({ ...usual, tankId: 'tank-15' }).fillL).toBeGreaterThan(stored.fillL);
  });
});

test('the run sheet says what the firm’s discards achieve here, beside a hundred- and a thousand-fold', () => {
  const sheetWith = (discards: number) => viewOf(systemOf(usual), found.site, found.assumed, { ...rules, discards }).sheet;
  const said = (discards: number): string => sheetWith(discards).find((s) => s.key === 'drain-1')?.detail ?? '';
  const { remainderL, fillL } = rinseIn(usual);
  const fold = (fillL + remainderL) / remainderL;
  const told = Number(/dissolved ([\d.,]+)-fold/.exec(said(1))?.[1]);
  expect(Math.abs(told / fold - 1)).toBeLessThan(0.06);
  expect(said(1)).toContain(`100-fold takes ${String(fillsFor(100, remainderL, fillL))}, 1000-fold ${String(fillsFor(1000, remainderL, fillL))}`);
  expect(said(2)).toContain('2 tanks poured away');
}); // oxfmt-ignore
