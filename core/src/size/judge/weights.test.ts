import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf, usual } from '../../testing/fixtures.ts';
import {
  evaluate,
  EVEN,
  HouseRulesSchema,
  moneyOf,
  partOf,
  pointsOf,
  siteFrom,
  sumOf,
  warmOpen,
  weightsOf,
  type HouseRules,
  type Known,
} from '../../index.ts';
import { decided } from '../../testing/decided.ts';

const found = siteFrom(house, rules);
if (!found.ok) throw new Error('the house is known');
const { site } = found;
const chosen = (worth: HouseRules['worth'], change: Known = {}) => {
  const d = decided({ known: { ...house, ...change }, catalogue: shelf, rules: { ...rules, worth } });
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  return d.chosen;
};

describe('what things are worth', () => {
  test('each design’s points by what they are for make up its score', () => {
    const e = evaluate(usual, shelf, site, rules);
    const points = pointsOf(usual, shelf, e.worst, warmOpen(usual, shelf, site), site, rules, e.year);
    expect(sumOf(points)).toBeCloseTo(e.score, 9);
    expect(points.devices).toBe(EVEN.permeatePump);
    expect(points.room).toBe(8 * EVEN.perTankLitre);
    expect(points.drain).toBeCloseTo(EVEN.perWasteLitre * (e.year?.wasteRatio ?? 0), 9);
    expect(points.spare).toBeLessThan(0);
  });
  test('rules of before there were presets lean to nothing', () => {
    const { worth: _w, indifference: _i, ...before } = rules;
    expect([_w, _i]).toEqual(['even', 2]);
    const read = HouseRulesSchema.parse(before);
    expect([read.worth, read.indifference]).toEqual(['even', 2]);
    expect(weightsOf(read)).toEqual(EVEN);
  });
  test('a preset moves what it leans to and nothing else', () => {
    expect(weightsOf({ worth: 'sparing' })).toEqual({ ...EVEN, perWasteLitre: 2.5 * EVEN.perWasteLitre });
    expect(weightsOf({ worth: 'plain' })).toEqual({ ...EVEN, pump: 50, permeatePump: 24, furtherElement: 24 });
  });
  test('and the recommendation goes its way', () => {
    const waste = (worth: HouseRules['worth']): number => chosen(worth).year?.wasteRatio ?? Infinity;
    expect(waste('sparing')).toBeLessThanOrEqual(waste('even'));
    const devices = (worth: HouseRules['worth']): number => {
      const { design: d } = chosen(worth);
      return [d.pumpId, d.permeatePumpId].filter((p) => p !== null).length + d.elementCount - 1;
    };
    expect(devices('plain')).toBeLessThan(devices('sparing'));
    const big: Known = { largestDrawL: 6, litresADay: 20 };
    const litres = (worth: HouseRules['worth']): number => {
      const { tankId } = chosen(worth, big).design;
      return tankId === null ? 0 : partOf(shelf, 'tank', tankId).volumeL;
    };
    expect(litres('small')).toBeLessThanOrEqual(litres('even'));
    expect(chosen('quick').worst.fill.minutes).toBeLessThanOrEqual(chosen('even').worst.fill.minutes);
  });
  test('is told in money a year', () => {
    expect(moneyOf(EVEN.pump, EVEN)).toBeCloseTo(250, 9);
  });
});
