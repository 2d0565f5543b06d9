import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../../testing/fixtures.ts';
import {
  bandsOf,
  designInWords,
  evaluate,
  productWater,
  readingError,
  sameKind,
  searchDesigns,
  siteFrom,
  studyDesign,
  type Design,
  type Known,
} from '../../index.ts';
import { decided } from '../../testing/decided.ts';

const input = (change: Known = {}) => ({ known: { ...house, ...change }, catalogue: shelf, rules });
const sized = (change: Known = {}) => {
  const d = decided(input(change));
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  return d;
};
const d = sized();

describe('bands', () => {
  const b = bandsOf(input(), d.chosen.design, 300, 4);
  if (!b) throw new Error('no bands');
  test('hold the worked-out figure in their middle, low below high', () => {
    for (const band of [b.litresADay, b.fillMinutes, b.tankTdsMgL, b.wasteRatio, b.usableL]) {
      expect(band.low).toBeLessThan(band.middle);
      expect(band.middle).toBeLessThan(band.high);
    }
    expect(Math.abs(b.litresADay.middle / d.chosen.worst.litresADay - 1)).toBeLessThan(0.04);
  });
  test('are the same for the same seed, and wider where readings were only assumed', () => {
    expect(bandsOf(input(), d.chosen.design, 300, 4)).toEqual(b);
    const rest = { ...house };
    delete rest.runningPressureBar;
    delete rest.coldestC;
    const loose = bandsOf({ ...input(), known: rest }, d.chosen.design, 300, 4);
    const width = (x: { low: number; high: number }): number => x.high - x.low;
    expect(width(loose?.litresADay ?? b.litresADay)).toBeGreaterThan(width(b.litresADay));
  });
  test('a house not known is not drawn', () => {
    expect(bandsOf({ ...input(), known: { source: 'mains' } }, d.chosen.design)).toBeNull();
  });
});

describe('the whole catalogue', () => {
  const found = siteFrom(house, rules);
  if (!found.ok) throw new Error('the house is known');
  const search = searchDesigns(input(), found.site);
  test('has at least 5000 combinations, every working one with its year', () => {
    expect(search.looked).toBeGreaterThanOrEqual(5000);
    expect(search.working.length).toBeGreaterThan(100);
    expect(search.working.every((e) => e.year !== null && e.year.wasteL > 0 && e.year.cost > 0)).toBe(true);
  });
  test('compared coarsely, the best agree with themselves worked out finely', () => {
    for (const e of search.working.slice(0, 15)) {
      const fine = evaluate(e.design, shelf, found.site, rules);
      expect(Math.abs(fine.worst.litresADay / e.worst.litresADay - 1)).toBeLessThan(0.02);
      expect(Math.abs(fine.score - e.score)).toBeLessThan(1.5);
    }
  });
  test('what the household cares for moves the choice its way', () => {
    const waste = sized({ caresMost: 'waste' }).chosen;
    const room = sized({ caresMost: 'room' }).chosen;
    expect(waste.year?.wasteRatio).toBeLessThanOrEqual(d.chosen.year?.wasteRatio ?? 0);
    const volume = (e: typeof room): number => {
      const p = shelf.find((x) => x.id === e.design.tankId);
      return p?.kind === 'tank' ? p.volumeL : 0;
    };
    expect(volume(room)).toBeLessThanOrEqual(volume(d.chosen));
  });
  test('several elements in a row waste less than one at the same restrictor, and are named', () => {
    const one = { ...d.chosen.design, elementCount: 1 };
    const two = { ...one, elementCount: 2 };
    const at = (x: typeof one) => evaluate(x, shelf, found.site, rules).worst.wasteRatio;
    expect(at(two)).toBeLessThan(at(one));
    expect(designInWords(two, shelf)).toMatch(/^2 × Element/);
  });
  test('a permeate pump fills sooner and fuller with less waste', () => {
    const plain = { ...d.chosen.design, permeatePumpId: null, pumpId: null };
    const lifted = { ...plain, permeatePumpId: 'permeate-pump' };
    const at = (x: Design) => evaluate(x, shelf, found.site, rules).worst;
    expect(at(lifted).wasteRatio).toBeLessThan(at(plain).wasteRatio);
    expect(at(lifted).fill.waterL).toBeGreaterThan(at(plain).fill.waterL);
  });
});

describe('the water at the tap', () => {
  const found = siteFrom({ ...house, metalAfter: 'copper' }, rules);
  if (!found.ok) throw new Error('the house is known');
  const { design, worst } = sized({ metalAfter: 'copper' }).chosen;
  const at = (tapFlowLMin: number, x: Design = design) =>
    productWater(x, shelf, found.site, worst.temperatureC, worst.fill.tankTdsMgL, tapFlowLMin);
  test('is acid and without buffer, and a small bed hardly helps while the tap runs', () => {
    const p = at(worst.tapFlowLMin);
    expect(p.pH).toBeLessThan(6.6);
    expect(p.alkalinityMgL).toBeLessThan(15);
    expect(p.after?.contactSeconds).toBeLessThan(15);
    expect(p.after?.pH).toBeGreaterThan(p.pH);
    expect(p.metal.acceptable).toBe(false);
  });
  test('a trickle through the bed brings it near saturation', () => {
    const slow = at(0.02);
    expect(slow.after?.calciteSaturationIndex).toBeGreaterThan(-1);
    expect(slow.after?.pH).toBeGreaterThan(at(1).after?.pH ?? 9);
  });
  test('without minerals there is no after, and the sheet says what copper would bear', () => {
    expect(at(1, { ...design, mineralId: null }).after).toBeNull();
    expect(sized({ metalAfter: 'copper' }).reasons.join(' ')).toMatch(
      /s in the minerals bring it to pH .* would not bear it/,
    );
    expect(d.reasons.join(' ')).toMatch(/stands near pH \d/);
  });
});

describe('flip points of every reading', () => {
  const study = studyDesign(input(), d.chosen.design, d.contenders);
  if (!study) throw new Error('no study');
  test('are worked out for pressure, water, use and room, the nearest first', () => {
    const fields = study.flips.map((f) => f.field);
    for (const f of [
      'runningPressureBar',
      'coldestC',
      'feedTdsMgL',
      'hardnessMgL',
      'pH',
      'litresADay',
      'cupboardWidthMm',
    ])
      expect(fields).toContain(f);
    const distance = study.flips.map((f) => {
      const edges = [f.holdsFrom, f.holdsTo].filter((e) => e !== null);
      return edges.length ? Math.min(...edges.map((e) => Math.abs(e - f.reading))) / f.error : Infinity;
    });
    expect([...distance].sort((a, b) => a - b)).toEqual(distance);
  });
  test('inside a reading’s edges deciding anew leads to the same kind of system, beyond them the design fails', () => {
    const flip = study.flips.find((f) => f.field === 'hardnessMgL');
    if (flip?.holdsTo == null) throw new Error('no edge');
    const fails = (hardnessMgL: number): boolean => {
      const at = siteFrom({ ...house, hardnessMgL }, rules);
      if (!at.ok) throw new Error('the house is known');
      return evaluate(d.chosen.design, shelf, at.site, rules).failures.length > 0;
    };
    const trims = new Set<string>();
    for (let h = flip.reading; h < flip.holdsTo; h += 25) {
      const now = sized({ hardnessMgL: h });
      expect([h, sameKind(now.chosen.design, d.chosen.design)]).toEqual([h, true]);
      trims.add(designInWords(now.chosen.design, shelf));
      expect(fails(h)).toBe(false);
    }
    // another size of the same kind is no flip
    expect(trims.size).toBeGreaterThan(1);
    expect(fails(flip.holdsTo + 5)).toBe(true);
  });
  test('another kind that comes ahead by more than the band flips the decision, and is named', () => {
    // without pressure to spare a booster comes ahead: the same house, its running pressure scrubbed down
    const edge = study.flips.find((f) => f.field === 'runningPressureBar');
    if (edge?.holdsFrom == null) throw new Error('no edge');
    const low = sized({ runningPressureBar: edge.holdsFrom - 0.3 });
    expect(sameKind(low.chosen.design, d.chosen.design)).toBe(false);
    expect(edge.below).toMatch(/^(A tank|No tank) with(out)? a .* does better: |stroke|L a day|shut/);
  });
  test('each edge says what comes of it beyond', () => {
    const said = study.flips.flatMap((f) => [
      ...(f.holdsFrom === null ? [] : [f.below]),
      ...(f.holdsTo === null ? [] : [f.above]),
    ]);
    expect(said.length).toBeGreaterThan(3);
    for (const words of said) expect(words).toMatch(/.{10}/);
  });
  test('a well’s switch that was read is as sure as a gauge, not as a guess', () => {
    const well: Known = { ...house, source: 'well', laboratory: 'clean', switchLowBar: 2.6, switchHighBar: 4.2 };
    delete well.runningPressureBar;
    delete well.staticPressureBar;
    delete well.highestPressureBar;
    const w = sized(well);
    const flips = studyDesign({ ...input(), known: well }, w.chosen.design, w.contenders)?.flips ?? [];
    const errors = Object.fromEntries(flips.map((f) => [f.field, [f.error, f.assumed]]));
    expect(errors.switchLowBar).toEqual([0.1, false]);
    expect(errors.staticPressureBar).toEqual([0.1, false]);
    const width = (known: Known): number => {
      const b = bandsOf({ ...input(), known }, w.chosen.design, 200, 3)?.litresADay;
      return b ? b.high - b.low : NaN;
    };
    // as wide as with the same pressures read on mains, where nothing of them is a guess
    const mains: Known = { ...house, staticPressureBar: 4.2, runningPressureBar: 2.6, highestPressureBar: 4.2 };
    expect(width(well) / width(mains)).toBeLessThan(1.15);
  });
  test('a figure nobody read is less sure than one that was', () => {
    expect(readingError('coldestC', 8, true)).toBeGreaterThan(readingError('coldestC', 8, false));
  });
});
