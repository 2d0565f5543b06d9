import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { shelf } from '../testing/fixtures.ts';
import {
  lifeAt,
  lifeSaid,
  lifeSpans,
  litreLimits,
  MONTH_DAYS,
  partOf,
  readJob,
  type Fact,
  type NewFact,
  type System,
  type Wearing,
} from '../index.ts';

const DAY = 86_400_000;
const T0 = Date.parse('2025-03-02T08:00:00.000Z');
const JOB = '00000000-0000-4000-8000-000000000001';
const BY = '00000000-0000-4000-8000-000000000002';
const DESIGN = '00000000-0000-4000-8000-000000000003';
let n = 0;
const fact = (days: number, f: NewFact): Fact => {
  const id = `00000000-0000-4000-8000-${String(1000 + n++).padStart(12, '0')}`;
  return { ...f, v: 2, id, jobId: JOB, by: BY, at: new Date(T0 + days * DAY).toISOString() };
};
const changed = (days: number, ...ids: string[]): Fact => fact(days, { kind: 'visit', reason: 'Change', changed: ids });
const cameOut = (days: number, component: string, state: 'fresh' | 'as-due' | 'spent'): Fact =>
  fact(days, { kind: 'came-out', design: DESIGN, component, state });
const gauges = (days: number, before: number, behind: number): Fact => {
  const r = (value: number) => ({ value, typed: `${String(value)} bar` });
  return fact(days, { kind: 'proof', readings: { feedPressureBar: r(before), membranePressureBar: r(behind) } });
};
const of = (id: string, kind: string, part: string): unknown => ({
  id,
  kind,
  slot: id,
  part: shelf.find((p) => p.id === part),
});
const system = {
  components: [
    of('sediment', 'sediment', 'sediment-5'),
    of('iron', 'iron', 'iron-cartridge'),
    of('carbon', 'carbon', 'carbon-block'),
    of('membrane', 'membrane', 'element-285'),
    of('mineral', 'mineral', 'mineral-small'),
    of('lamp', 'lamp', 'lamp-small'),
    of('leak', 'leak-valve', 'leak-valve'),
  ],
  links: [],
} as unknown as System;
const wearing: Wearing = {
  productLDay: 10,
  said: true,
  wasteRatio: 3,
  carries: { ironMgL: 0, disinfectant: 'chlorine', chlorineMgL: 0.4 },
  dissolvedMgL: 45,
};
const lives = (facts: readonly Fact[] = [], w: Partial<Wearing> = {}, days = 1, built: System = system) =>
  Object.fromEntries(
    lifeSpans(built, readJob(facts), T0, { ...wearing, ...w }).map((s) => [s.componentId, lifeAt(s, T0 + days * DAY)]),
  );
const days = (l: { dueMs: number; sinceMs: number } | undefined): number =>
  ((l?.dueMs ?? NaN) - (l?.sinceMs ?? NaN)) / DAY;

describe('what ends it first', () => {
  test('a small household by its calendar, a large one by litres, each with its band', () => {
    const [small, large] = [lives().sediment, lives([], { productLDay: 90 }).sediment];
    expect([small?.by, large?.by]).toEqual(['calendar', 'litres']);
    expect(days(small)).toBeCloseTo(6 * MONTH_DAYS, 6);
    expect(days(large)).toBeCloseTo(20000 / 360, 6);
    expect((large?.earlyMs ?? 0) < (large?.dueMs ?? 0) && (large?.dueMs ?? 0) < (large?.lateMs ?? 0)).toBe(true);
    // what ends by the calendar is never later than that
    expect(small?.lateMs).toBe(small?.dueMs);
  });
  test('by hand: iron 0.6 mg/L fills 9 g after 15,000 L, half a gram of chlorine a day empties carbon, calcite by the gram', () => {
    const [iron] = litreLimits(partOf(shelf, 'iron', 'iron-cartridge'), {
      ironMgL: 0.6,
      disinfectant: 'none',
      chlorineMgL: 0,
    });
    expect(iron).toMatchObject({ by: 'iron', litres: 15000, at: 0.6 });
    expect(
      days(lives([], { carries: { ironMgL: 0.6, disinfectant: 'none', chlorineMgL: 0 }, productLDay: 30 }).iron),
    ).toBeCloseTo(125, 6);
    const chloramine = lives([], { carries: { ironMgL: 0, disinfectant: 'chloramine', chlorineMgL: 2 } }).carbon;
    expect(chloramine?.by).toBe('disinfectant');
    // 0.25 L of grains, 42 % of it water: 393 g, of which 65 % may go at 0.045 g a litre
    const calcite = litreLimits(partOf(shelf, 'mineral', 'mineral-small'), null, 45).find((l) => l.by === 'calcite');
    expect(calcite?.litres).toBeCloseTo((0.25 * 0.58 * 2710 * 0.65) / 0.045, 0);
    expect([(calcite?.low ?? 0) / (calcite?.litres ?? 1), (calcite?.high ?? 0) / (calcite?.litres ?? 1)]).toEqual(
      [0.5 / 0.65, 0.8 / 0.65].map((x) => expect.closeTo(x, 9)),
    );
  });
  test('a lamp burns all day, a leak pad hardens, and each says why', () => {
    const { lamp, leak } = lives();
    expect(lamp?.limits.map((l) => l.by)).toEqual(['calendar', 'hours']);
    expect(lamp?.limits[1]?.days).toBe(375);
    expect(leak?.by).toBe('calendar');
    expect(lifeSaid(lives([], { productLDay: 90 }).sediment ?? { limits: [] })).toEqual({
      first: '20000 L by its sheet: 56 days, 41 days to 2.4 months',
      then: ['6 months by its sheet'],
    });
  });
  test('tells nothing that would end it only after ten years', () => {
    const { sediment } = lives([], { productLDay: 0.5 });
    expect(sediment?.limits.map((l) => l.by)).toEqual(['calendar', 'litres']);
    expect(lifeSaid(sediment ?? { limits: [] }).then).toEqual([]);
  });
  test('a household that never said how much it uses has the wider band', () => {
    const wide = (said: boolean) => {
      const l = lives([], { said, productLDay: 90 }).sediment;
      return (l?.lateMs ?? 0) - (l?.earlyMs ?? 0);
    };
    expect(wide(false)).toBeGreaterThan(wide(true));
  });
});

describe('a membrane past its date', () => {
  const proof = (days: number, grade: 'good' | 'act'): Fact => {
    const judged = {
      coreVersion: '1',
      grade,
      sentence: '',
      rejection: 0.95,
      momentaryRecovery: null,
      wasteRatio: null,
      compared: [],
      flowAgainstNew: 1,
      passageAgainstNew: 1,
      reasons: [],
      next: [],
      doubts: [],
    };
    return fact(days, { kind: 'proof', readings: {}, judged });
  };
  test('lives by its readings: half a year after each good proof it is read again, and a bad one puts nothing off', () => {
    const sheet = 36 * MONTH_DAYS;
    expect(days(lives([proof(300, 'good')], {}, 1200).membrane)).toBeCloseTo(sheet, 6);
    const read = lives([proof(300, 'good'), proof(1150, 'good')], {}, 1200).membrane;
    expect([read?.by, days(read)]).toEqual(['proof', expect.closeTo(1150 + 182, 6)]);
    expect(days(lives([proof(1150, 'act')], {}, 1200).membrane)).toBeCloseTo(sheet, 6);
    // a new one begins anew, whatever was read of the old one
    expect(days(lives([proof(1150, 'good'), changed(1160, 'membrane')], {}, 1200).membrane)).toBeCloseTo(sheet, 6);
  });
});

describe('a house’s own record corrects it', () => {
  test('brown at four months: from then on it goes out earlier, whenever it is put in', () => {
    const facts = [cameOut(120, 'sediment', 'spent'), changed(120.1, 'sediment')];
    const now = lives(facts, {}, 121).sediment;
    expect(now?.by).toBe('found');
    expect(days(now)).toBeCloseTo(96, 6);
    expect(lifeSaid(now ?? { limits: [] }).first).toMatch(
      /^as the last one here was found, after 120 days: 3\.2 months, 2\.0 months to 3\.9 months$/,
    );
  });
  test('the last one looked at counts: as it should be, or with much left, takes that back', () => {
    const spent = [cameOut(120, 'sediment', 'spent'), changed(120.1, 'sediment')];
    const asDue = lives([...spent, cameOut(216, 'sediment', 'as-due'), changed(216.1, 'sediment')], {}, 217).sediment;
    expect(days(asDue)).toBeCloseTo(216 - 120.1, 6);
    const fresh = lives([...spent, cameOut(216, 'sediment', 'fresh'), changed(216.1, 'sediment')], {}, 217).sediment;
    expect([fresh?.by, days(fresh)]).toEqual(['calendar', expect.closeTo(6 * MONTH_DAYS, 6)]);
  });
  test('what was found of one says nothing of another, and nothing lives past its sheet', () => {
    const late = lives([cameOut(400, 'carbon', 'as-due'), changed(400.1, 'carbon')], {}, 401);
    expect([late.carbon?.by, late.sediment?.by]).toEqual(['calendar', 'calendar']);
  });
  test('two gauges that draw apart tell when the filters are full; their own error tells nothing', () => {
    const facts = [gauges(2, 3.9, 3.8), gauges(90, 3.9, 3.45)];
    const l = lives(facts, {}, 91).sediment;
    expect(l?.by).toBe('pressure');
    // 0.35 bar in 88 days, 0.6 to go from clean
    expect(days(l)).toBeCloseTo(2 + (88 * 0.6) / 0.35, 3);
    expect(lives([gauges(2, 3.9, 3.8), gauges(90, 3.9, 3.7)], {}, 91).sediment?.by).toBe('calendar');
    // read before it was changed, it tells of the one that went out
    expect(lives([...facts, changed(95, 'sediment')], {}, 96).sediment?.by).toBe('calendar');
    const pump = of('pump', 'pump', shelf.find((p) => p.kind === 'pump')?.id ?? '');
    const pumped = { ...system, components: [...system.components, pump] } as System;
    expect(lives(facts, {}, 91, pumped).sediment?.by).toBe('calendar');
  });
});

test('no life grows by waiting, more use never lengthens one, and its band holds its day', () => {
  const kinds = fc.constantFrom('fresh', 'as-due', 'spent');
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 60, noNaN: true }),
      fc.double({ min: 0, max: 8, noNaN: true }),
      fc.double({ min: 0, max: 2, noNaN: true }),
      fc.array(fc.tuple(fc.integer({ min: 2, max: 900 }), kinds), { maxLength: 4 }),
      fc.array(fc.tuple(fc.integer({ min: 0, max: 900 }), fc.double({ min: 0, max: 1, noNaN: true })), { maxLength: 4 }),
      fc.integer({ min: 0, max: 900 }),
      (productLDay, wasteRatio, ironMgL, found, read, wait) => {
        const facts = [
          ...found.flatMap(([d, state]) => [cameOut(d, 'sediment', state), changed(d + 0.1, 'sediment')]),
          ...read.map(([d, bar]) => gauges(d, 4, 4 - bar)),
        ];
        const w = { productLDay, wasteRatio, carries: { ...(wearing.carries ?? { disinfectant: 'none', chlorineMgL: 0 }), ironMgL } };
        const spans = lifeSpans(system, readJob(facts), T0, { ...wearing, ...w });
        const more = lifeSpans(system, readJob(facts), T0, { ...wearing, ...w, productLDay: 1.5 * productLDay });
        for (const [i, s] of spans.entries()) {
          const [now, later] = [lifeAt(s, T0 + wait * DAY), lifeAt(s, T0 + (wait + 50) * DAY)];
          if (now.sinceMs === later.sinceMs) {
            expect(later.dueMs).toBe(now.dueMs);
            expect(later.used).toBeGreaterThanOrEqual(now.used);
          }
          expect(now.earlyMs).toBeLessThanOrEqual(now.dueMs);
          expect(now.dueMs).toBeLessThanOrEqual(now.lateMs);
          const [a, b] = [s, more[i]].map((x) => (x ? lifeAt(x, T0 + wait * DAY).dueMs : NaN));
          expect(b).toBeLessThanOrEqual((a ?? NaN) + 1);
        }
      },
    ),
    { numRuns: 60 },
  );
}); // oxfmt-ignore
