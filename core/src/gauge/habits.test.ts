import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules } from '../testing/fixtures.ts';
import {
  BOTTLE_L,
  dayTotals,
  drawsOfDay,
  extraLADay,
  householdDay,
  readJob,
  scaledDay,
  seeded,
  siteFrom,
  usualDay,
  type Draw,
  type Fact,
  type Habits,
  type Known,
} from '../index.ts';

const plain: Habits = { litresADay: 12, largestDrawL: 3 };
const mean = (h: Habits, days = 2000): number => {
  const random = seeded(5);
  let sum = 0;
  for (let i = 0; i < days; i++) sum += dayTotals(drawsOfDay(h, random)).litresADay;
  return sum / days;
};
const litresFor = (known: Known) => {
  const rest: Known = { ...house, ...known };
  delete rest.litresADay;
  const r = siteFrom(rest, rules);
  if (!r.ok) throw new Error('the house is known');
  return { site: r.site, why: r.assumed.find((a) => a.field === 'litresADay')?.why ?? '' };
};

describe('habits as draws', () => {
  test.each([
    [{}],
    [{ mealsADay: 0 }],
    [{ mealsADay: 5 }],
    [{ bottlesADay: 4 }],
    [{ iceLADay: 2, secondTapLADay: 3 }],
    [{ bottlesADay: 40 }],
  ])('whatever they are, the mean day holds the household’s own litres: %j', (more) => {
    expect(mean({ ...plain, ...more })).toBeGreaterThan(0.97 * plain.litresADay);
    expect(mean({ ...plain, ...more })).toBeLessThan(1.03 * plain.litresADay);
  });
  test('bottles are filled before people leave, ice also at night, cooking at meals', () => {
    const count = (h: Habits, of: (d: Draw) => boolean): number => {
      const random = seeded(9);
      return Array.from({ length: 300 }, () => drawsOfDay(h, random))
        .flat()
        .filter(of).length;
    };
    const bottle = (d: Draw): boolean => d.litres === BOTTLE_L && d.minute >= 390 && d.minute <= 490;
    expect(count({ ...plain, bottlesADay: 4 }, bottle)).toBeGreaterThan(1000);
    expect(count(plain, bottle)).toBe(0);
    const night = (d: Draw): boolean => d.minute < 300;
    expect(count({ ...plain, iceLADay: 3 }, night)).toBeGreaterThan(500);
    expect(count(plain, night)).toBe(0);
    const cooking = (d: Draw): boolean => d.litres === 1.2;
    expect(count({ ...plain, mealsADay: 4 }, cooking)).toBeGreaterThan(1.4 * count(plain, cooking));
    expect(count({ ...plain, mealsADay: 0 }, cooking)).toBe(0);
  });
  test('where nobody said the litres they follow from the habits, and say so', () => {
    const each = 3 * rules.litresPerPersonDay;
    expect(litresFor({}).site.litresADay).toBeCloseTo(each, 9);
    const more = litresFor({ bottlesADay: 4, iceLADay: 1, secondTapLADay: 2 });
    expect(more.site.litresADay).toBeCloseTo(each + 6, 2);
    expect(more.why).toContain('6 L for bottles, ice and a second tap');
    const fewer = litresFor({ mealsADay: 1 });
    expect(fewer.site.litresADay).toBeCloseTo(each * 0.875, 2);
    expect(fewer.why).toContain('with 1 meal cooked a day instead of 2');
    expect(extraLADay({})).toBe(0);
  });
});

describe('a day somebody looks at', () => {
  test('the usual one has the household’s litres and its largest draw at its size', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 3, max: 60, noNaN: true }),
        fc.double({ min: 0.5, max: 3, noNaN: true }),
        (l, big) => {
          const day = usualDay({ litresADay: l, largestDrawL: big });
          expect(day.reduce((s, d) => s + d.litres, 0)).toBeCloseTo(l, 1);
          expect(day.every((d) => d.litres > 0 && d.minute >= 0 && d.minute <= 1439)).toBe(true);
          expect(day.some((d) => d.litres === big)).toBe(true);
        },
      ),
      // once two stock pots, more than the day holds
      { numRuns: 40, examples: [[3, 2.995]] },
    );
  });
  test.each([
    [3, 3, 1],
    [3, 4, 0],
    [0.4, 0.4, 1],
    [0.3, 0.25, 1],
  ])('of %f L a day with a largest of %f L', (l, big, larges) => {
    const day = usualDay({ litresADay: l, largestDrawL: big });
    expect(day.reduce((s, d) => s + d.litres, 0)).toBeCloseTo(l, 2);
    expect(day.filter((d) => d.litres === big)).toHaveLength(larges);
  });
  test('a drawn one keeps its shape and takes the litres of now', () => {
    const drawn = [
      { minute: 900, litres: 2 },
      { minute: 400, litres: 1 },
    ];
    expect(householdDay(drawn, { litresADay: 6, largestDrawL: 1 })).toEqual([
      { minute: 400, litres: 2 },
      { minute: 900, litres: 4 },
    ]);
    expect(scaledDay(drawn, 3)).toEqual([drawn[1], drawn[0]]);
    expect(householdDay(null, plain)).toEqual(usualDay(plain));
  });
});

describe('a drawn day among the readings', () => {
  const JOB = '5f0c4b1e-1111-4111-a111-000000000001';
  let n = 0;
  const at = (hour: number, f: object): Fact =>
    ({
      id: `5f0c4b1e-3333-4333-a333-${String(++n).padStart(12, '0')}`,
      jobId: JOB,
      by: JOB,
      at: `2026-03-01T${String(hour).padStart(2, '0')}:00:00.000Z`,
      ...f,
    }) as Fact;
  const litres = (hour: number, value: number): Fact =>
    at(hour, { kind: 'reading', field: 'litresADay', value, typed: `${String(value)} L/day` });
  const day = at(10, {
    kind: 'habits',
    draws: [
      { minute: 400, litres: 1.25 },
      { minute: 900, litres: 4 },
    ],
  });
  test('says litres and largest draw over readings before it, not over those after it', () => {
    const earlier = readJob([litres(9, 12), day]);
    expect(earlier.known).toMatchObject({ litresADay: 5.25, largestDrawL: 4 });
    expect(earlier.readings.litresADay).toBeUndefined();
    expect(earlier.ofTheDay).toEqual({ litresADay: 5.25, largestDrawL: 4 });
    const later = readJob([day, litres(11, 12)]);
    expect(later.known).toMatchObject({ litresADay: 12, largestDrawL: 4 });
    expect(later.ofTheDay).toEqual({ largestDrawL: 4 });
  });
  test('a reading chosen after it counts as said after it', () => {
    const [a, b] = [litres(7, 12), litres(8, 14)];
    const use = at(11, { kind: 'use', field: 'litresADay', reading: a.id, reason: 'asked twice' });
    expect(readJob([a, b, day, use]).known.litresADay).toBe(12);
  });
  test('taken back, the readings stand again', () => {
    const back = at(11, { kind: 'habits', draws: [] });
    const r = readJob([litres(9, 12), day, back]);
    expect([r.known.litresADay, r.known.largestDrawL, r.habits]).toEqual([12, undefined, null]);
  });
});
