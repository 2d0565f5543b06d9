import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf, usual } from '../../testing/fixtures.ts';
import { drawsOfDay } from '../../demand/draws.ts';
import { seeded } from '../../demand/random.ts';
import {
  decide,
  designFigures,
  evaluate,
  partsOf,
  siteFrom,
  formatMinutes,
  formatNumber,
  standsIn,
  wearsOut,
  type DesignFigures,
  type Known,
} from '../../index.ts';
import { decided } from '../../testing/decided.ts';

const at = (known: Known) => {
  const found = siteFrom(known, rules);
  const d = decided({ known, catalogue: shelf, rules });
  if (!found.ok || d.kind !== 'recommendation') throw new Error(d.sentence);
  return { site: found.site, d };
};

describe('what a household feels of a design', () => {
  const { site, d } = at(house);
  const f = designFigures(d.chosen, shelf, site);
  test('agrees with the design it is of', () => {
    expect(f.wasteRatio).toBe(d.chosen.year?.wasteRatio);
    expect(f.costYear).toBe(d.chosen.year?.cost);
    expect(f.glassS).toBeCloseTo(15 / d.chosen.worst.tapFlowLMin, 9);
    expect(f.refillMin).toBe(d.chosen.worst.fill.minutes);
    expect(f.roomMm).toEqual(standsIn(d.chosen.design, shelf));
    expect(f.powerW).toBe(0);
    expect(f.firstGlassMgL).toBeNull();
  });
  test('a pump, a lamp and a second element show where they are felt', () => {
    const [pump] = partsOf(shelf, 'pump');
    if (!pump) throw new Error('no pump on the shelf');
    const pumped = designFigures(evaluate({ ...d.chosen.design, pumpId: pump.id }, shelf, site, rules), shelf, site);
    expect(pumped.powerW).toBe(pump.powerW);
    expect(pumped.roomMm?.widthMm).toBeGreaterThan(f.roomMm?.widthMm ?? Infinity);
    // without a tank, which is the deepest thing there
    const depth = (elementCount: number) =>
      standsIn({ ...d.chosen.design, tankId: null, elementCount }, shelf)?.depthMm;
    expect(depth(2)).toBeGreaterThan(depth(1) ?? Infinity);
  });
  test('changes a year are the sum of what wears out, more often where more goes to the drain', () => {
    const wears = wearsOut(d.chosen.design, shelf, site, f.wasteRatio);
    expect(wears.length).toBeGreaterThanOrEqual(4);
    expect(f.changesYear).toBeCloseTo(
      wears.reduce((s, w) => s + (w.count * 365) / w.days, 0),
      9,
    );
    const more = wearsOut(d.chosen.design, shelf, { ...site, litresADay: 200 }, 8);
    expect(Math.min(...more.map((w) => w.days))).toBeLessThan(Math.min(...wears.map((w) => w.days)));
    expect(wears.every((w) => w.days > 0 && w.days <= 30.44 * (w.part.life?.months ?? Infinity))).toBe(true);
  });
  test('without a tank there is no store and no refill, but a first glass', () => {
    const open = at({ ...house, storeWish: 'none', patience: 'patient' });
    const g = designFigures(open.d.chosen, shelf, open.site);
    expect([g.storeL, g.refillMin]).toEqual([0, 0]);
    expect(g.firstGlassMgL).toBeGreaterThan(g.tdsMgL);
  });
});

describe('what an alternative is said to win on', () => {
  test.each([
    ['an ordinary house', house],
    [
      'a hard, low supply',
      { ...house, staticPressureBar: 2.6, runningPressureBar: 2, hardnessMgL: 320, alkalinityMgL: 230 },
    ],
    ['a household without a socket', { ...house, socket: 'no', feedTdsMgL: 900 }],
  ] as const)('is the figure that stands in the comparison: %s', (_, known) => {
    const { site, d } = at(known);
    const mine = designFigures(d.chosen, shelf, site);
    const figure: Readonly<Record<string, (f: DesignFigures) => string>> = {
      'Least to the drain': (f) => formatNumber(f.wasteRatio, 2),
      'Quickest refill': (f) => formatMinutes(f.refillMin),
      'Most in store': (f) => formatNumber(f.storeL, 2),
      'Purest water': (f) => formatNumber(f.tdsMgL, 2),
      'Lowest running cost': (f) => formatNumber(f.costYear ?? 0, 2),
      'Least electricity': (f) => (f.powerW === 0 ? 'none' : `${formatNumber(f.powerW, 2)} W`),
    };
    expect(d.alternatives.length).toBeGreaterThanOrEqual(2);
    let told = 0;
    for (const a of d.alternatives) {
      const of = figure[a.title];
      if (!of) continue;
      told++;
      const [theirs = '', own = ''] = a.winsOn.split(', against ');
      expect(theirs.startsWith(of(designFigures(a.evaluation, shelf, site)))).toBe(true);
      expect(own.startsWith(of(mine))).toBe(true);
    }
    expect(told).toBeGreaterThanOrEqual(1);
  });
});

describe('a pump on a supply too weak for it', () => {
  // 1.2 bar at rest through a pipe that loses it all at 1.4 L/min
  const weak: Known = {
    ...house,
    staticPressureBar: 1.2,
    runningPressureBar: 0.9,
    runningFlowLMin: 0.7,
    highestPressureBar: 1.4,
  };
  test('is set aside for taking more than the supply brings, never recommended at its edge', () => {
    const found = siteFrom(weak, rules);
    if (!found.ok) throw new Error('the house is known');
    const d = decide({ known: weak, catalogue: shelf, rules });
    if (d.kind !== 'recommendation') throw new Error(d.sentence);
    expect(d.chosen.worst.middle.starved).toBe(false);
    expect(d.chosen.worst.map.points.every((p) => !p.starved)).toBe(true);
    const thirsty = {
      ...at(house).d.chosen.design,
      pumpId: 'pump-open',
      elementId: 'element-2300-open',
      restrictorId: 'restrictor-3200',
    };
    const e = evaluate(thirsty, shelf, found.site, rules);
    expect(e.failures.map((x) => x.code)).toContain('pump-starves');
    expect(e.failures.find((x) => x.code === 'pump-starves')?.text).toMatch(/takes less/);
  });
});

describe('what a household feels of where it stands and when', () => {
  test('a system said to stand elsewhere is not held to the cupboard alone, and its tubes are asked for', () => {
    const tight = { ...house, cupboardHeightMm: 400 };
    expect(decide({ known: tight, catalogue: shelf, rules }).kind).toBe('nothing-fits');
    const d = decide({ known: { ...tight, standsWhere: 'elsewhere' }, catalogue: shelf, rules });
    if (d.kind !== 'recommendation') throw new Error(d.sentence);
    expect(d.reasons.join(' ')).toMatch(/does not all stand in the cupboard \(basement or utility room/);
  });
  test('changes that fall due together are one visit, and a firm comes once a year at the least', () => {
    const found = siteFrom(house, rules);
    if (!found.ok) throw new Error(found.missing.join());
    const f = designFigures(evaluate(usual, shelf, found.site, rules), shelf, found.site);
    expect(f.visitsYear).toBeLessThan(f.changesYear);
    expect(f.visitsYear).toBeGreaterThanOrEqual(1);
  });
  test('nobody puts the stock pot on before breakfast', () => {
    const random = seeded(3);
    const days = Array.from({ length: 200 }, () => drawsOfDay({ litresADay: 20, largestDrawL: 6 }, random)).flat();
    const pots = days.filter((d) => d.litres === 6);
    expect(pots.length).toBeGreaterThan(20);
    expect(Math.min(...pots.map((d) => d.minute))).toBeGreaterThan(600);
  });
});
