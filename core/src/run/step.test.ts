import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf, systemOf, usual } from '../testing/fixtures.ts';
import {
  drawsOfDay,
  engineOf,
  feedWaterAt,
  fillTank,
  simulateMonths,
  simulateDay,
  momentOf,
  monthTable,
  operatingMap,
  systemInHouse,
  pressureForFlowBar,
  reopenShare,
  seeded,
  siteFrom,
  standingBeside,
  step,
  supplyOf,
  usualDay,
  waterAtPressureL,
  type Design,
  type Draw,
  type Engine,
  type HouseNow,
  type Moment,
} from '../index.ts';
import { GLASS_L } from './openTap.ts';

const found = siteFrom(house, rules);
if (!found.ok) throw new Error('the house is known');
const { site } = found;
const base: Design = usual;
const here: HouseNow = { supply: supplyOf(site, 'today'), water: feedWaterAt(site, 12), airBar: site.airBar };
const system = systemOf(base, site);
const shut = { outlets: {} };
const tapOpen = { outlets: { tap: 1 } };

/** Draws of a day, each as a hand does it: the tap opened until the litres are there. */
function dayByStep(e: Engine, draws: readonly Draw[], from: Moment): Moment {
  let m = from;
  for (const draw of draws) {
    const wait = draw.minute * 60 - (m.seconds % 86400);
    if (wait > 0) m = step(e, m, shut, wait);
    const upTo = m.made.drawnL + draw.litres;
    for (let s = 0; s < 36000 && m.made.drawnL < upTo - 1e-6; s++) m = step(e, m, tapOpen, 0.1);
  }
  return step(e, m, shut, 86400 - (m.seconds % 86400));
}

describe('a system stepped through time', () => {
  const e = engineOf(system, here);
  test('fills as the integration of its map does, within 0.5 %', () => {
    for (const design of [base, { ...base, pumpId: 'pump-small', tankId: 'tank-15' }, { ...base, elementCount: 2 }]) {
      const s = systemOf(design, site);
      const plant = systemInHouse(s, site, 'today');
      if (!plant?.tank) throw new Error('no tank');
      const fill = fillTank(operatingMap(plant.train, here.water), plant.tank, 0, plant.airBar);
      const own = engineOf(s, here);
      let m = momentOf(own);
      while (m.making && m.seconds < 86400) m = step(own, m, shut, 10);
      expect(fill.shuts).toBe(true);
      expect(Math.abs(m.seconds / 60 / fill.minutes - 1)).toBeLessThan(0.005 + 10 / 60 / fill.minutes);
      expect(Math.abs(m.tankL / fill.waterL - 1)).toBeLessThan(0.005);
      expect(Math.abs(m.made.wasteL / fill.wasteL - 1)).toBeLessThan(0.005);
      expect(Math.abs(m.tankSaltMg / m.tankL / fill.tankTdsMgL - 1)).toBeLessThan(0.02);
    }
  });
  test('lives a day as the table of days does, within 1 %', () => {
    const draws = usualDay({ litresADay: 14, largestDrawL: 3 });
    const fast = simulateDay(base, shelf, site, draws, 12);
    const m = dayByStep(e, draws, momentOf(e, e.closeL));
    const drunk = fast.draws.reduce((s, x) => s + x.litres - x.shortL, 0);
    expect(Math.abs(m.made.drawnL / drunk - 1)).toBeLessThan(0.01);
    expect(Math.abs(m.made.productL / fast.madeL - 1)).toBeLessThan(0.01);
    expect(Math.abs(m.made.wasteL / fast.wasteL - 1)).toBeLessThan(0.01);
    expect(m.made.starts).toBe(fast.starts);
  });
  test('lives three weeks of a year as the table of months does, within 1 %', () => {
    const habits = { litresADay: 14, largestDrawL: 3 };
    const plant = systemInHouse(system, site, 'today');
    if (!plant?.tank) throw new Error('no tank');
    const map = operatingMap(plant.train, here.water);
    const standing = standingBeside(map, plant.train, here.water, plant.holdUp);
    const table = monthTable(map, plant.tank, 21, reopenShare(plant.train), plant.airBar, standing);
    const emptyL = waterAtPressureL(
      plant.tank,
      pressureForFlowBar(plant.outlet, site.wantedTapFlowLMin, 12),
      plant.airBar,
    );
    const [fast] = simulateMonths([table], habits, emptyL, 4);
    const random = seeded(4);
    let m = momentOf(e, e.closeL);
    for (let day = 0; day < 21; day++) m = dayByStep(e, drawsOfDay(habits, random), m);
    if (!fast) throw new Error('no month');
    expect(Math.abs(m.made.drawnL / fast.drunkL - 1)).toBeLessThan(0.01);
    expect(Math.abs(m.made.productL / fast.madeL - 1)).toBeLessThan(0.01);
    expect(Math.abs(m.made.wasteL / fast.wasteL - 1)).toBeLessThan(0.01);
    expect(Math.abs(m.made.makingS / 60 / fast.runMinutes - 1)).toBeLessThan(0.01);
    // with what crept through at every stand
    expect(Math.abs(m.made.drawnMg / m.made.drawnL / fast.tdsMgL - 1)).toBeLessThan(0.03);
  });
  test('closes at its pressure and reopens at its share of it, wherever the steps fall', () => {
    const share = e.train ? reopenShare(e.train) : 0;
    for (const dt of [1, 7, 61]) {
      let m = momentOf(e, e.closeL);
      expect(m.making).toBe(false);
      while (!m.making) m = step(e, m, tapOpen, dt);
      const reopenL = e.tank ? waterAtPressureL(e.tank, share * (e.map?.closeBar ?? 0), site.airBar) : 0;
      expect(m.tankL).toBeLessThanOrEqual(reopenL + 1e-6);
      expect(m.made.starts).toBe(1);
      while (m.making) m = step(e, m, shut, dt);
      expect(m.tankL).toBeCloseTo(e.closeL, 4);
    }
  });
  test('the same hour in steps of a second and of a minute comes to the same', () => {
    const hour = (dt: number): Moment => {
      let m = momentOf(e, e.reopenL);
      for (let t = 0; t < 3600; t += dt) m = step(e, m, shut, dt);
      return m;
    };
    const [fine, coarse] = [hour(1), hour(60)];
    expect(Math.abs(fine.tankL / coarse.tankL - 1)).toBeLessThan(1e-3);
    expect(Math.abs(fine.made.wasteL / coarse.made.wasteL - 1)).toBeLessThan(2e-3);
  });
  test('water and salt are neither made nor lost', () => {
    let m = momentOf(e, 2);
    const start = m;
    for (let i = 0; i < 300; i++) m = step(e, m, i % 7 === 0 ? tapOpen : shut, 13);
    expect(m.tankL - start.tankL).toBeCloseTo(m.made.productL - m.made.drawnL, 6);
    expect(m.tankSaltMg).toBeGreaterThan(0);
    expect(m.made.drawnMg).toBeGreaterThan(0);
  });
  test('shut, the pressure before the membrane falls through the restrictor, and salt creeps to the product side', () => {
    let m = momentOf(e);
    while (m.making) m = step(e, m, shut, 20);
    const full = m;
    m = step(e, m, shut, 5);
    expect(m.feedSideBar).toBeLessThan(full.feedSideBar);
    expect(step(e, m, shut, 600).feedSideBar).toBeLessThan(0.01);
    const night = step(e, full, shut, 8 * 3600);
    expect(night.productSideMgL).toBeGreaterThan(2 * full.productSideMgL);
    expect(night.feedSideMgL).toBeLessThan(full.feedSideMgL);
    // and leaves first when it starts again
    let woken = night;
    while (!woken.making) woken = step(e, woken, tapOpen, 5);
    expect(woken.heldL).toBeCloseTo(e.holdUp.productL, 2);
  });
  test('a tank drawn dry gives what is made, no more', () => {
    let m = momentOf(e, 0.2);
    for (let i = 0; i < 200; i++) m = step(e, m, tapOpen, 5);
    expect(m.tankL).toBeLessThan(0.5);
    const before = m.made.drawnL;
    m = step(e, m, tapOpen, 60);
    expect(m.made.drawnL - before).toBeLessThan(0.2);
  });
});

describe('with a pump', () => {
  const pumped = systemOf({ ...base, pumpId: 'pump-small' }, site);
  test('no power, no water; power again, and it goes on', () => {
    const e = engineOf(pumped, here);
    let m = step(e, momentOf(e), { ...shut, power: false }, 600);
    expect([m.made.productL, m.making]).toEqual([0, true]);
    m = step(e, m, shut, 600);
    expect(m.made.productL).toBeGreaterThan(0.3);
  });
  test('starved of inlet pressure it trips, waits and tries again', () => {
    const thin = { ...here, supply: { staticBar: 0.5, resistance: 2.5 } };
    const e = engineOf(systemOf({ ...base, pumpId: 'pump-small', restrictorId: 'restrictor-1250' }, site), thin);
    let m = step(e, momentOf(e), shut, 1);
    expect(m.trippedS).toBeGreaterThan(20);
    const before = m.made.makingS;
    m = step(e, m, shut, 600);
    expect(m.made.makingS - before).toBeLessThan(60);
  });
});

describe('without a tank', () => {
  const e = engineOf(systemOf({ ...base, elementId: 'element-2300-open', restrictorId: 'restrictor-3200', tankId: null, pumpId: 'pump-open', tubeId: 'tube-10' }, site), here); // oxfmt-ignore
  test('a glass after a night begins with what stood, and the next does not', () => {
    let m = step(e, momentOf(e), tapOpen, 60);
    m = step(e, m, shut, 8 * 3600);
    const glass = (from: Moment): { tds: number; after: Moment } => {
      let g = from;
      while (g.made.drawnL < from.made.drawnL + GLASS_L) g = step(e, g, tapOpen, 0.5);
      return { tds: (g.made.drawnMg - from.made.drawnMg) / (g.made.drawnL - from.made.drawnL), after: g };
    };
    const first = glass(m);
    const second = glass(first.after);
    expect(first.tds).toBeGreaterThan(1.5 * second.tds);
    expect(first.after.made.starts).toBe(2);
  });
});
