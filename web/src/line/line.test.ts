import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf, systemOf } from '@katharos/core/testing';
import { flowWidth, salinityColour } from '../ui/salinity.ts';
import { numbersInWords } from '../job/lensStates.ts';
import { curveY, layoutLine } from './layout.ts';
import { SKELETON } from './skeleton.ts';
import { elementWords } from './words.ts';
import { decided } from '@katharos/core/testing/decided';

describe('the drawing', () => {
  test('more flow is never drawn thinner, and no flow is still a line', () => {
    const widths = [0, 0.05, 0.2, 1, 2, 50].map(flowWidth);
    expect([...widths].sort((a, b) => a - b)).toEqual(widths);
    expect(widths[0]).toBe(1);
  });
  test('salt goes from blue-green to brown, and holds at both ends', () => {
    expect(salinityColour(5, 'light')).toBe(salinityColour(10, 'light'));
    expect(salinityColour(9000, 'dark')).toBe(salinityColour(2000, 'dark'));
    const red = (c: string): number => Number(/\d+/.exec(c)?.[0]);
    expect(red(salinityColour(1500, 'light'))).toBeGreaterThan(red(salinityColour(15, 'light')));
  });
  test('every element of a Line has a place inside the band, in flow order', () => {
    const l = layoutLine(SKELETON, null, 1280);
    expect(l.all.map((p) => p.element.id)).toEqual(SKELETON.components.map((e) => e.id));
    for (const p of l.all) {
      expect(p.x).toBeGreaterThan(20);
      expect(p.x).toBeLessThan(1240);
    }
    const xs = l.main.map((p) => p.x);
    expect([...xs].sort((a, b) => a - b)).toEqual(xs);
  });
  test('what hangs on several branches stands beside each other, each drawn from what comes before it', () => {
    const known = { ...house, fridge: 'yes', fridgeMinBar: 2.8, dispenser: 'yes' };
    const d = decided({ known, catalogue: shelf, rules });
    if (d.kind !== 'recommendation') throw new Error(d.sentence);
    const l = layoutLine(systemOf(d.chosen.design), null, 1280);
    expect(l.branch.map((p) => [p.element.kind, p.from])).toEqual([
      ['delivery-pump', 'branch'],
      ['fridge', 'delivery-pump'],
      ['dispenser', 'branch-2'],
    ]);
    const xs = l.branch.map((p) => p.x);
    const gaps = xs.slice(1).map((x, i) => x - (xs[i] ?? 0));
    expect(Math.min(...gaps)).toBeGreaterThan(50);
  });
  test('joint numbers that follow each other are a range, others a list', () => {
    expect([[3], [3, 4], [13, 25], [18, 19, 20, 23]].map(numbersInWords)).toEqual(['3', '3–4', '13, 25', '18–20, 23']);
  });
  test('a higher pressure stands higher', () => {
    expect(curveY(4, 6)).toBeLessThan(curveY(1, 6));
    expect(curveY(9, 6)).toBe(curveY(6, 6));
  });
  test('a screen reader hears name, side, figures and mark', () => {
    const membrane = SKELETON.components.find((e) => e.kind === 'membrane');
    if (!membrane) throw new Error('no membrane');
    expect(elementWords(membrane, { id: 'membrane', pressureBar: 3.5, flowLMin: 0.4, tdsMgL: 430 }, 'wet')).toBe(
      'membrane on the feed, 3.5 bar, 0.40 litres a minute, 430 milligrams a litre, wet',
    );
    expect(elementWords(membrane, undefined, undefined)).toBe('membrane on the feed');
  });
});
