import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules, shelf } from '../testing/fixtures.ts';
import {
  ageing,
  bell,
  designInHouse,
  drawsOfDay,
  feedWaterAt,
  fillTank,
  firstGlassTds,
  simulateMonths,
  simulateDays,
  monthsOf,
  monthTable,
  operatingMap,
  reopenShare,
  sampleDays,
  seeded,
  simulateYear,
  siteFrom,
  standingBeside,
  TankSource,
  tdsAfterStand,
  together,
  trainState,
  waterAtPressureL,
  yearFigures,
  yearMaps,
  type Lived,
  type MonthTable,
} from '../index.ts';
import { decided } from '../testing/decided.ts';

const habits = { litresADay: 10, largestDrawL: 3 };

describe('a day at the tap', () => {
  test('a seed gives the same numbers, and so the same day, on every machine', () => {
    const random = seeded(42);
    expect([random(), random(), random()].map((x) => Math.floor(x * 1e9))).toEqual([601103751, 448290558, 852465793]);
    expect(drawsOfDay(habits, seeded(7))).toEqual(drawsOfDay(habits, seeded(7)));
    expect(drawsOfDay(habits, seeded(7))).not.toEqual(drawsOfDay(habits, seeded(8)));
  });
  test('many days come to the litres the household says', () => {
    const random = seeded(3);
    let sum = 0;
    for (let i = 0; i < 3000; i++) sum += drawsOfDay(habits, random).reduce((s, d) => s + d.litres, 0);
    expect(sum / 3000).toBeGreaterThan(9.7);
    expect(sum / 3000).toBeLessThan(10.3);
  });
  test('draws come in order, within the day, none larger than the largest', () => {
    fc.assert(
      fc.property(
        fc.integer(),
        fc.double({ min: 0.5, max: 100, noNaN: true }),
        fc.double({ min: 1.2, max: 10, noNaN: true }),
        (seed, litresADay, largestDrawL) => {
          const draws = drawsOfDay({ litresADay, largestDrawL }, seeded(seed));
          return draws.every(
            (d, i) =>
              d.minute >= (draws[i - 1]?.minute ?? 0) &&
              d.minute <= 1439 &&
              Number.isInteger(d.minute) &&
              d.litres <= largestDrawL + 1e-9,
          );
        },
      ),
    );
  });
  test('the bell has a mean of 0 and a deviation of 1', () => {
    const random = seeded(9);
    const xs = Array.from({ length: 20000 }, () => bell(random));
    const mean = xs.reduce((s, x) => s + x, 0) / xs.length;
    expect(Math.abs(mean)).toBeLessThan(0.03);
    expect(Math.abs(xs.reduce((s, x) => s + (x - mean) ** 2, 0) / xs.length - 1)).toBeLessThan(0.03);
  });
});

describe('a year', () => {
  test('has 365 days between the coldest in February and the warmest in August', () => {
    const months = monthsOf(6, 20);
    expect(months.reduce((s, m) => s + m.days, 0)).toBe(365);
    expect([months[1]?.temperatureC, months[7]?.temperatureC]).toEqual([6, 20]);
    expect(months.reduce((s, m) => s + m.temperatureC, 0) / 12).toBeCloseTo(13, 9);
  });

  const found = siteFrom(house, rules);
  if (!found.ok) throw new Error('the house is known');
  const { site } = found;
  const d = decided({ known: house, catalogue: shelf, rules });
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  const plant = designInHouse(d.chosen.design, shelf, site, 'today');
  const { tank } = plant;
  if (!tank) throw new Error('the house has a tank');
  const table = (days: number, temperatureC: number): MonthTable =>
    monthTable(
      operatingMap(plant.train, feedWaterAt(site, temperatureC)),
      tank,
      days,
      reopenShare(plant.train),
      plant.airBar,
      null,
    );
  const closes = (l: Lived, m: MonthTable): number => l.madeL - l.drunkL + m.closeL;

  test('what is drunk was made, and what is left stands in the tank', () => {
    const m = table(30, 10);
    const [l] = simulateMonths([m], habits, 0.5, 5);
    if (!l) throw new Error('no month');
    // content at the end lies between empty and full
    expect(closes(l, m)).toBeGreaterThan(0);
    expect(closes(l, m)).toBeLessThanOrEqual(m.closeL + 0.2);
    expect(l.wasteL / l.madeL).toBeGreaterThan(1);
    expect(l.drunkL / 30).toBeGreaterThan(8);
  });
  test('a seed gives the same year; another gives another', () => {
    const months = [table(28, 8), table(31, 20)];
    expect(simulateMonths(months, habits, 0.5, 1)).toEqual(simulateMonths(months, habits, 0.5, 1));
    expect(simulateMonths(months, habits, 0.5, 2)).not.toEqual(simulateMonths(months, habits, 0.5, 1));
  });
  test('a thirstier household waits more often and keeps the system running longer', () => {
    const m = [table(31, 8)];
    const at = (litresADay: number) => together(simulateMonths(m, { litresADay, largestDrawL: 3 }, 0.5, 1));
    expect(at(40).runMinutes).toBeGreaterThan(at(8).runMinutes);
    expect(at(60).waits).toBeGreaterThan(at(8).waits);
    expect(at(60).tdsMgL).toBeLessThan(at(8).tdsMgL * 1.5);
  });
  test('days lived from draw to draw come to what they come to minute by minute', () => {
    for (const [temperatureC, litresADay, emptyL] of [
      [8, 10, 0.5],
      [14, 25, 0.5],
      [20, 60, 2],
    ] as const) {
      const water = feedWaterAt(site, temperatureC);
      const map = operatingMap(plant.train, water);
      const standing = standingBeside(map, plant.train, water, plant.holdUp);
      const m = monthTable(map, tank, 30, reopenShare(plant.train), plant.airBar, standing);
      const random = seeded(6);
      const draws = Array.from({ length: 30 }, () => drawsOfDay({ litresADay, largestDrawL: 3 }, random));
      const slow = simulateDays(new TankSource(m, emptyL), 30, (day) => draws[day] ?? []);
      const fast = sampleDays(m, emptyL, draws, 0);
      expect(Math.abs(fast.wasteL / fast.madeL / (slow.wasteL / slow.madeL) - 1)).toBeLessThan(0.005);
      expect(Math.abs(fast.madeL / slow.madeL - 1)).toBeLessThan(0.02);
      expect(Math.abs(fast.runMinutes / slow.runMinutes - 1)).toBeLessThan(0.03);
      expect(Math.abs(fast.tdsMgL / slow.tdsMgL - 1)).toBeLessThan(0.03);
      expect(Math.abs(fast.starts / slow.starts - 1)).toBeLessThan(0.03);
    }
  });
  test('a search’s year, lived at the mean temperature only, is the year lived at each within a hundredth', () => {
    const year = (lived: 'mean' | 'each') =>
      yearFigures(d.chosen.design, shelf, site, rules, tank, yearMaps(plant.train, site, undefined, lived));
    const [mean, each] = [year('mean'), year('each')];
    expect(Math.abs(mean.wasteRatio / each.wasteRatio - 1)).toBeLessThan(0.01);
    expect(Math.abs(mean.cost / each.cost - 1)).toBeLessThan(0.01);
    expect(Math.abs(mean.tdsMgL / each.tdsMgL - 1)).toBeLessThan(0.03);
  });
  test('lived by the minute comes to the figures the design was chosen by, above those of fills from empty', () => {
    const lived = simulateYear(d.chosen.design, shelf, site, 1);
    expect(lived.months).toHaveLength(12);
    expect(lived.worstMonth).toBe('February');
    const byMinute = lived.year.wasteL / lived.year.madeL;
    const { year } = d.chosen;
    if (!year) throw new Error('no year');
    expect(Math.abs(byMinute / year.wasteRatio - 1)).toBeLessThan(0.02);
    expect(Math.abs(lived.year.tdsMgL / year.tdsMgL - 1)).toBeLessThan(0.08);
    // a tank kept nearly full pushes back more than one filled from empty
    const mean = operatingMap(plant.train, feedWaterAt(site, (site.coldestC + site.warmestC) / 2));
    const fill = fillTank(mean, tank, 0, plant.airBar);
    expect(byMinute).toBeGreaterThan(1.03 * (fill.wasteL / fill.madeL));
    expect(year.tdsMgL).toBeGreaterThan(1.3 * fill.tankTdsMgL);
    expect(Math.abs(lived.year.drunkL / 365 / site.litresADay - 1)).toBeLessThan(0.05);
  });
  test('litres through the pre-filters are what was made and wasted, and a system without a pump takes no power', () => {
    const lived = simulateYear(d.chosen.design, shelf, site, 1);
    expect(lived.preFilterL).toBeCloseTo(lived.year.madeL + lived.year.wasteL, 9);
    expect(lived.productSideL).toBe(lived.year.drunkL);
    expect(lived.energyKWh).toBe(0);
    const pumped = simulateYear({ ...d.chosen.design, pumpId: 'pump-small' }, shelf, site, 1);
    expect(pumped.energyKWh).toBeCloseTo((24 * pumped.year.runMinutes) / 60000, 9);
  });
  test('an ageing element makes less and lets more by, year after year', () => {
    const points = ageing(d.chosen.design, shelf, site, rules);
    expect(points[0]?.litresADay).toBeCloseTo(d.chosen.worst.litresADay, 6);
    points.slice(1).forEach((p, i) => {
      expect(p.litresADay).toBeLessThan(points[i]?.litresADay ?? 0);
      expect(p.tankTdsMgL).toBeGreaterThan(points[i]?.tankTdsMgL ?? 0);
    });
    expect(points[3]?.meets).toBe(true);
  });
  test('states have their names', () => {
    expect(trainState(2.5, 2.4, 0.1, 0)).toBe('full and shut');
    expect(trainState(1, 2.4, 0.1, 0)).toBe('filling');
    expect(trainState(1, 2.4, 0.1, 1)).toBe('drawing while filling');
    expect(trainState(1, 2.4, 0, 0)).toBe('never shuts');
    expect(waterAtPressureL(tank, 0)).toBe(0);
  });
});

describe('a stand', () => {
  const s = { productL: 0.1, feedL: 0.4, productTdsMgL: 15, feedTdsMgL: 500, saltLDay: 5 };
  test('begins at the product’s TDS and ends at the common one', () => {
    expect(tdsAfterStand(s, 0)).toBe(15);
    expect(tdsAfterStand(s, 1e6)).toBeCloseTo((0.1 * 15 + 0.4 * 500) / 0.5, 9);
  });
  test('creeps as the equation of both sides does when stepped finely', () => {
    // a second method: salt moved step by step from one side to the other
    let p = s.productTdsMgL;
    let f = s.feedTdsMgL;
    const dt = 8 / 24 / 20000;
    for (let i = 0; i < 20000; i++) {
      const moved = s.saltLDay * (f - p) * dt;
      p += moved / s.productL;
      f -= moved / s.feedL;
    }
    expect(tdsAfterStand(s, 8)).toBeCloseTo(p, 1);
  });
  test('a large glass is thinned by what is made fresh', () => {
    expect(firstGlassTds(s, 8, 0.05)).toBeCloseTo(tdsAfterStand(s, 8), 9);
    expect(firstGlassTds(s, 8, 0.4)).toBeLessThan(tdsAfterStand(s, 8) / 2);
  });
});
