import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../demand/random.ts';
import { house, rules, shelf } from '../testing/fixtures.ts';
import {
  feedWaterAt,
  GLASS_L,
  simulateDirect,
  operate,
  designInHouse,
  pressureForFlowBar,
  RINSE_L,
  runDirect,
  siteFrom,
  solveTrain,
  tdsAfterStand,
  type Design,
  type DirectRun,
  type Known,
} from '../index.ts';

const siteOf = (change: Known = {}) => {
  const r = siteFrom({ ...house, ...change }, rules);
  if (!r.ok) throw new Error('the house is known');
  return r.site;
};
const site = siteOf();
const design: Design = {
  elementId: 'element-1500-open', elementCount: 1, restrictorId: 'restrictor-2400', tankId: null, pumpId: 'pump-open',
  permeatePumpId: null, limiterId: null, mineralId: null, lampId: null, ironId: null, deliveryPumpId: null, dispenserId: null,
  sedimentId: 'sediment-5', carbonIds: ['carbon-block', 'carbon-block'], polishId: 'polish-inline',
  shutOffId: 'shut-off-valve', nonReturnId: 'non-return-valve', backflowId: null,
  feedId: 'feed-tee', drainId: 'drain-clamp',
  tapId: 'tap-plain', tubeId: 'tube-10', fridge: false, leakValve: false,
}; // oxfmt-ignore
const at = (temperatureC: number, change: Known = {}): DirectRun => {
  const plant = designInHouse(design, shelf, siteOf(change), 'worst');
  return runDirect(plant.train, feedWaterAt(site, temperatureC), plant.outlet, plant.holdUp);
};

describe('a system without a tank, its tap open', () => {
  test('runs where what the membrane makes is what the way to the tap lets through, found by a fine scan too', () => {
    const plant = designInHouse(design, shelf, site, 'worst');
    const water = feedWaterAt(site, 8);
    const run = runDirect(plant.train, water, plant.outlet, plant.holdUp);
    let scanned = 0;
    for (let flow = 0; flow < 3; flow += 0.0005) {
      const bar = Math.max(0, pressureForFlowBar(plant.outlet, flow, 8));
      if (solveTrain(plant.train, water, bar).out.permeateLDay / 1440 >= flow) scanned = flow;
    }
    expect(run.tapFlowLMin).toBeCloseTo(scanned, 3);
    expect(run.glassSeconds).toBeCloseTo((60 * GLASS_L) / run.tapFlowLMin, 9);
    const { out } = run.working;
    expect(out.feedLDay).toBeCloseTo(out.permeateLDay + out.concentrateLDay, 6);
  });
  test('gives more in warm water and at a higher pressure, and a far or high tap slows it', () => {
    expect(at(20).tapFlowLMin).toBeGreaterThan(at(8).tapFlowLMin);
    expect(at(8, { runningPressureBar: 2 }).tapFlowLMin).toBeLessThan(at(8).tapFlowLMin);
    expect(at(8, { tapLengthM: 25 }).tapFlowLMin).toBeLessThan(at(8).tapFlowLMin);
    expect(at(8, { tapRiseM: 5 }).tapFlowLMin).toBeLessThan(at(8).tapFlowLMin);
  });
  test('without power it does not rinse itself: its membrane stands in its concentrate, its first glass is the saltier', () => {
    const run = (pumpId: string | null): DirectRun => {
      const strong = siteOf({ staticPressureBar: 6, runningPressureBar: 5.5, highestPressureBar: 6.5 });
      const plant = designInHouse({ ...design, pumpId }, shelf, strong, 'worst');
      return runDirect(plant.train, feedWaterAt(strong, 8), plant.outlet, plant.holdUp);
    };
    const [powered, plain] = [run('pump-open'), run(null)];
    expect([powered.rinses, plain.rinses]).toEqual([true, false]);
    expect(powered.standing.feedTdsMgL).toBe(site.tdsMgL);
    expect(plain.standing.feedTdsMgL).toBeGreaterThan(1.05 * site.tdsMgL);
    const litres = (r: DirectRun) => simulateDirect([{ run: r, days: 5 }], site, seeded(2))[0];
    const [a, b] = [litres(powered), litres(plain)];
    // what a rinse costs at each stop is paid by the powered one only
    const rinsed = (a?.wasteL ?? 0) - (a?.runMinutes ?? 0) * (powered.working.out.concentrateLDay / 1440);
    expect(rinsed / (a?.starts ?? 1)).toBeCloseTo(RINSE_L, 6);
    const ownWaste = (b?.runMinutes ?? 0) * (plain.working.out.concentrateLDay / 1440);
    expect(b?.wasteL).toBeCloseTo(ownWaste, 6);
  });
  test('stands with salt creeping through: the first glass of the day is saltier than running water, thinned by it', () => {
    const run = at(8);
    expect(run.firstGlassTdsMgL).toBeGreaterThan(2 * run.working.out.permeateTdsMgL);
    expect(run.firstGlassTdsMgL).toBeLessThan(run.afterNightTdsMgL);
    expect(run.afterNightTdsMgL).toBeLessThan(site.tdsMgL);
    expect(run.afterNightTdsMgL).toBe(tdsAfterStand(run.standing, 8));
  });
  test('as an operation it has no content and no refill, and the tap’s flow all day', () => {
    const o = operate(designInHouse(design, shelf, site, 'worst'), site, 'worst', site.wantedTapFlowLMin);
    expect([o.usableL, o.fill.minutes, o.fill.waterL, o.middleL]).toEqual([0, 0, 0, 0]);
    expect(o.litresADay).toBeCloseTo(1440 * (o.direct?.tapFlowLMin ?? 0), 6);
    expect(o.fill.shuts).toBe(true);
  });
  test('a pressure it cannot lift the water with gives no flow, never a negative one or none at all', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 6, noNaN: true }),
        fc.double({ min: 2, max: 30, noNaN: true }),
        fc.double({ min: -2, max: 6, noNaN: true }),
        (bar, temperatureC, tapRiseM) => {
          const run = at(temperatureC, { runningPressureBar: bar, staticPressureBar: bar, tapRiseM });
          return Number.isFinite(run.tapFlowLMin) && run.tapFlowLMin >= 0 && run.firstGlassTdsMgL >= 0;
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('its days', () => {
  const run = at(12);
  const habits = { litresADay: 10, largestDrawL: 3 };
  const [month] = simulateDirect([{ run, days: 30 }], habits, seeded(3));
  if (!month) throw new Error('no month');
  test('every draw starts it, none is ever short, and the pump runs as long as the tap', () => {
    expect(month.starts).toBe(month.draws);
    expect(month.shortL).toBe(0);
    expect(month.runMinutes).toBeCloseTo(month.drunkL / run.tapFlowLMin, 6);
    expect(month.longestWaitMin).toBeGreaterThanOrEqual(3 / run.tapFlowLMin - 1e-9);
    expect(Math.abs(month.drunkL / 300 - 1)).toBeLessThan(0.1);
  });
  test('as drunk it is saltier than running and thinner than the first glass', () => {
    expect(month.tdsMgL).toBeGreaterThan(run.working.out.permeateTdsMgL);
    expect(month.tdsMgL).toBeLessThan(run.firstGlassTdsMgL);
  });
  test('who draws seldom and little drinks more of what stood', () => {
    const [small] = simulateDirect([{ run, days: 60 }], { litresADay: 1.5, largestDrawL: 0.5 }, seeded(3));
    expect(small?.tdsMgL).toBeGreaterThan(month.tdsMgL);
    expect((small?.wasteL ?? 0) / (small?.drunkL ?? 1)).toBeGreaterThan(month.wasteL / month.drunkL);
  });
  test('the same seed gives the same days', () => {
    expect(simulateDirect([{ run, days: 30 }], habits, seeded(3))).toEqual([month]);
  });
});
