import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { batchOf, firmFigures, type ElementTold, type HouseTold, type Tally } from '../index.ts';

const NOW = Date.parse('2026-05-04T08:00:00.000Z');
const DAY = 86_400_000;
const ago = (days: number): string => new Date(NOW - days * DAY).toISOString();
const element = (batch: string, saltAYear: number | null, more: Partial<ElementTold> = {}): ElementTold => ({ part: 'Element 190', batch, inDays: 400, gone: false, saltAYear, ...more }); // oxfmt-ignore
let n = 0;
const houseOf = (tally: Partial<Tally>, states: readonly [string, 'overdue' | 'good'][] = []): HouseTold => ({
  jobId: `job-${String(n)}`,
  name: `House ${String(n++)}`,
  tally: {
    since: ago(500),
    out: false,
    visits: [],
    calls: [],
    callBacks: [],
    firstRight: null,
    elements: [],
    ...tally,
  },
  lives: states.map(([kind, state]) => ({ kind, state })),
});

describe('how the firm does', () => {
  test('counts what is in care and overdue: a membrane by its date is not, what was taken out neither', () => {
    const f = firmFigures([houseOf({}, [['carbon', 'overdue']]), houseOf({}, [['membrane', 'overdue']]), houseOf({ out: true }, [['carbon', 'overdue']]), houseOf({ since: null })], NOW); // oxfmt-ignore
    expect([f.inCare, f.takenOut, f.overdue]).toEqual([2, 1, 1]);
    expect(f.says).toEqual(['1 house is overdue: plan it from what is coming.']);
  });
  test('counts visits by week, the oldest first, and each once', () => {
    const f = firmFigures([houseOf({ visits: [ago(1), ago(6.9), ago(7.1), ago(90), ago(92), ago(400)] })], NOW);
    expect(f.visitsByWeek).toHaveLength(13);
    expect(f.visitsByWeek.slice(-2)).toEqual([1, 2]);
    expect(f.visitsByWeek[0]).toBe(1);
    expect(f.visitsYear).toBe(5);
  });
  test('tells of call-backs and of work that was not right, in numbers that say it', () => {
    const right = Array.from({ length: 6 }, (_, i) => houseOf({ since: ago(100), firstRight: i > 2, visits: [ago(40), ago(20)], callBacks: i < 2 ? [ago(15)] : [] })); // oxfmt-ignore
    const f = firmFigures(right, NOW);
    expect([f.rightYear, f.provedYear, f.callBacksYear, f.visitsYear]).toEqual([3, 6, 2, 12]);
    expect(f.says.join(' ')).toMatch(/after 2 of 12 visits.*Only 3 of 6 installations/);
  });
  test('a delivery that ages fast against its kind is told with where it still stands; two of it say nothing', () => {
    const fine = [0.1, 0.15, 0.12, 0.2].map((s) => houseOf({ elements: [element('E-1', s)] }));
    const bad = [0.8, 0.7, 0.9].map((s, i) => houseOf({ elements: [element('E-2', s, { gone: i > 0, inDays: 300 + 50 * i })] })); // oxfmt-ignore
    const f = firmFigures([...fine, ...bad], NOW);
    expect(f.batches[0]).toMatchObject({ batch: 'E-2', houses: 3, changed: 2, stoodDays: 375, fast: true });
    expect(f.batches[0]?.standsIn).toEqual([{ jobId: bad[0]?.jobId, name: bad[0]?.name }]);
    expect(f.says[0]).toMatch(
      /delivery E-2: salt passage grows by 123 % a year.*still stands in 1 house: read it next/,
    );
    expect(firmFigures([...fine, ...bad.slice(0, 2)], NOW).batches.some((b) => b.fast)).toBe(false);
    // what nobody wrote down is no delivery
    const unnamed = [0.8, 0.7, 0.9].map((s) => houseOf({ elements: [element('', s)] }));
    expect(firmFigures([...fine, ...unnamed], NOW).batches.some((b) => b.fast)).toBe(false);
  });
  test('adds up whatever there is: every element in one line, shares within their whole', () => {
    const tally = fc.record({
      visits: fc.array(fc.integer({ min: 0, max: 900 }).map(ago), { maxLength: 6 }),
      elements: fc.array(fc.tuple(fc.constantFrom('A', 'B', ''), fc.option(fc.double({ min: -0.2, max: 1.5, noNaN: true }))).map(([b, s]) => element(b, s)), { maxLength: 4 }),
      firstRight: fc.option(fc.boolean()),
      since: fc.integer({ min: 0, max: 900 }).map(ago),
    }); // oxfmt-ignore
    fc.assert(
      fc.property(fc.array(tally, { maxLength: 12 }), (tallies) => {
        const houses = tallies.map((t) => houseOf(t));
        const f = firmFigures(houses, NOW);
        const elements = houses.reduce((s, h) => s + h.tally.elements.length, 0);
        expect(f.batches.reduce((s, b) => s + b.changed + b.standsIn.length, 0)).toBe(elements);
        expect(f.rightYear).toBeLessThanOrEqual(f.provedYear);
        expect(f.visitsByWeek.reduce((s, w) => s + w, 0)).toBeLessThanOrEqual(f.visitsYear);
      }),
    );
  });
});

test('a delivery is what stands before the last stroke of a serial', () => {
  expect([batchOf('E-4417/22'), batchOf('B 41'), batchOf(''), batchOf('A/B/7')]).toEqual(['E-4417', 'B 41', '', 'A/B']);
});
