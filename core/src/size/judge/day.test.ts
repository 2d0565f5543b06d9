import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf, usual } from '../../testing/fixtures.ts';
import { evaluate, simulateDay, moved, leverRange, seasonsOf, siteFrom, usualDay, type Draw } from '../../index.ts';

const found = siteFrom(house, rules);
if (!found.ok) throw new Error('the house is known');
const { site } = found;
const design = usual;
const day = (draws: readonly Draw[], temperatureC = 8) => simulateDay(design, shelf, site, draws, temperatureC);
const direct = { ...design, elementId: 'element-2300-open', restrictorId: 'restrictor-3200', tankId: null, pumpId: 'pump-open', tubeId: 'tube-10' }; // oxfmt-ignore

describe('a usual day', () => {
  test('holds the household’s litres, in order, between waking and night', () => {
    const draws = usualDay({ litresADay: 10, largestDrawL: 3 });
    expect(draws.reduce((s, x) => s + x.litres, 0)).toBeCloseTo(10, 9);
    const minutes = draws.map((x) => x.minute);
    expect([...minutes].sort((a, b) => a - b)).toEqual(minutes);
    expect(usualDay({ litresADay: 10, largestDrawL: 3 })).toEqual(draws);
  });
});

describe('one day with a tank', () => {
  test('what was made is what was drunk and what the tank is fuller by, to a minute’s flow', () => {
    const l = day(usualDay({ litresADay: 12, largestDrawL: 3 }));
    const drunk = l.draws.reduce((s, x) => s + x.litres - x.shortL, 0);
    const end = l.points.at(-1)?.contentL ?? 0;
    expect(l.madeL - drunk).toBeCloseTo(end - l.fullL, 6);
    expect(l.points.every((p) => p.contentL <= l.fullL + 0.1 && p.contentL >= l.emptyL - 1e-9)).toBe(true);
  });
  test('a draw beyond what is usable waits for the refill, and what is not there in an hour is short', () => {
    const l = day([{ minute: 600, litres: 15 }]);
    const [draw] = l.draws;
    expect(draw?.atOnceL).toBeCloseTo(l.fullL - l.emptyL, 6);
    expect(draw?.waitMin).toBe(60);
    expect(draw?.shortL).toBeGreaterThan(5);
    const small = day([{ minute: 600, litres: 1 }]).draws[0];
    expect([small?.waitMin, small?.shortL]).toEqual([0, 0]);
  });
  test('cold water refills later in the day than warm', () => {
    const refilled = (t: number) => day([{ minute: 0, litres: 3.5 }], t).points.find((p) => p.minute > 5 && p.contentL > 0.999 * day([], t).fullL)?.minute ?? 1e9; // oxfmt-ignore
    expect(refilled(5)).toBeGreaterThan(refilled(20));
  });
  test('a house that draws nothing makes nothing', () => {
    expect(day([])).toMatchObject({ madeL: 0, wasteL: 0, starts: 0, draws: [] });
  });
});

describe('one day at an open tap', () => {
  test('has no content; each draw takes its time and begins with what stood', () => {
    const l = simulateDay(direct, shelf, site, [{ minute: 420, litres: 0.25 }, { minute: 425, litres: 0.25 }, { minute: 1100, litres: 3 }], 12); // oxfmt-ignore
    expect(l.points).toEqual([]);
    expect(l.starts).toBe(3);
    const [first, second, third] = l.draws;
    expect(first?.tdsMgL).toBeGreaterThan(second?.tdsMgL ?? 0);
    expect(third?.waitMin).toBeCloseTo(12 * (first?.waitMin ?? 0), 9);
    expect(third?.tdsMgL).toBeLessThan(first?.tdsMgL ?? 0);
  });
});

describe('the year by month', () => {
  test.each([
    ['with a tank', design],
    ['without', direct],
  ] as const)('%s makes least in February, inside its band', (_, x) => {
    const points = seasonsOf(x, shelf, site);
    expect(points).toHaveLength(12);
    const least = points.reduce((a, b) => (b.litresADay < a.litresADay ? b : a));
    expect(least.month).toBe('February');
    for (const p of points) {
      expect(p.lowLDay).toBeLessThan(p.litresADay);
      expect(p.highLDay).toBeGreaterThan(p.litresADay);
    }
  });
});

describe('a reading moved to see what follows', () => {
  test('takes along what cannot stay where it is', () => {
    expect(moved(house, site, 'runningPressureBar', 5)).toMatchObject({ staticPressureBar: 5, highestPressureBar: 5 });
    expect(moved(house, site, 'coldestC', 16)).toMatchObject({ temperatureC: 16 });
    expect(moved(house, site, 'people', 5)).toMatchObject({ people: 5 });
    expect(leverRange('coldestC')).toEqual({ min: 1, max: 25 });
    expect(leverRange('people')).toBeNull();
  });
  test('a design follows it: colder makes less', () => {
    const at = (v: number) => {
      const r = siteFrom(moved(house, site, 'coldestC', v), rules);
      return r.ok ? evaluate(design, shelf, r.site, rules).worst.litresADay : 0;
    };
    expect(at(3)).toBeLessThan(at(8));
  });
});
