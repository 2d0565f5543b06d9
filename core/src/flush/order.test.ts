import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules, shelf, systemOf, usual } from '../testing/fixtures.ts';
import {
  askedBefore,
  beforeDrinking,
  commissionedAt,
  DRINK_STEP,
  drinkableAt,
  FactSchema,
  keptSteps,
  passedOver,
  readJob,
  readySteps,
  scheduleOf,
  siteFrom,
  skippedBy,
  ventedBeside,
  viewOf,
  viewSystem,
  worthOf,
  type Design,
  type Fact,
  type HouseRules,
  type Known,
  type NewFact,
  type RunStep,
} from '../index.ts';
import { decided } from '../testing/decided.ts';

const T0 = Date.parse('2026-03-02T08:00:00.000Z');
const MINUTE = 60000;
let serial = 0;
const fact = (minute: number, f: NewFact): Fact =>
  FactSchema.parse({
    v: 2, ...f, id: `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`, jobId: '5f0c4b1e-1111-4111-a111-000000000001',
    by: '5f0c4b1e-2222-4222-a222-000000000002', at: new Date(T0 + minute * MINUTE).toISOString(),
  }); // oxfmt-ignore
const tick = (minute: number, step: string, done = true): Fact => fact(minute, { kind: 'tick', step, done });

const found = siteFrom(house, rules);
if (!found.ok) throw new Error('the house is not known');
const sheetOf = (design: Partial<Design>, ruled: Partial<HouseRules> = {}): readonly RunStep[] =>
  viewOf(systemOf({ ...usual, ...design }), found.site, found.assumed, { ...rules, ...ruled }).sheet;
/** Sheets of what is no plain choice of parts: a vented tank beside what is recommended, filters alone. */
function sheetsBeside(known: Known, ruled: Partial<HouseRules>): readonly RunStep[][] {
  const input = { known, catalogue: shelf, rules: { ...rules, ...ruled } };
  const d = decided(input);
  const assemblies =
    d.kind === 'recommendation'
      ? [ventedBeside(input, d.chosen.design, worthOf(d))].filter((v) => v !== null)
      : d.kind === 'other-way' && d.system
        ? [d.system]
        : [];
  return assemblies.flatMap((assembly) => {
    const v = viewSystem(input, { assembly });
    return v.ok ? [[...v.view.sheet]] : [];
  });
}

const DESIGNS: readonly Partial<Design>[] = [
  {},
  { lampId: 'lamp-small', leakValve: true, fridge: true },
  { ironId: 'iron-cartridge', mineralId: 'mineral-large' },
  { tankId: null, permeatePumpId: null, pumpId: 'pump-open', elementId: 'element-1500-open', restrictorId: 'restrictor-2400' },
]; // oxfmt-ignore
const SCHOOLS: readonly Partial<HouseRules>[] = [
  {},
  { sanitise: true, overnightStand: true, flushPreFilters: 'together' },
];
const sheets = SCHOOLS.flatMap((r) => [
  ...DESIGNS.map((d) => sheetOf(d, r)),
  ...sheetsBeside(house, r),
  ...sheetsBeside({ ...house, aim: 'taste' }, r),
]);
const anySheet = fc.constantFrom(...sheets);
const keys = (steps: readonly RunStep[]): string[] => steps.map((s) => s.key);

describe('any system’s sheet', () => {
  test('is asked for tanks, open taps, a vented tank and filters alone, by both schools', () => {
    expect(sheets.length).toBeGreaterThanOrEqual(2 * (DESIGNS.length + 2));
  });
  test('has no dead end: whichever ready step is taken, all of it comes to be done', () => {
    fc.assert(
      fc.property(anySheet, fc.infiniteStream(fc.nat()), (sheet, picks) => {
        const facts: Fact[] = [];
        for (let i = 0; i < sheet.length; i++) {
          const ready = readySteps(sheet, readJob(facts));
          expect(ready.length).toBeGreaterThan(0);
          const next = ready[(picks.next().value ?? 0) % ready.length];
          facts.push(tick(i, next?.key ?? ''));
        }
        expect(commissionedAt(sheet, readJob(facts))).not.toBeNull();
        expect(keys(sheet).at(-1)).toBe('leave');
      }),
      { numRuns: 60 },
    );
  });
  test('loses no tick in whatever order they come: what was passed over stays open and is named', () => {
    fc.assert(
      fc.property(anySheet, fc.array(fc.tuple(fc.nat(), fc.boolean()), { maxLength: 40 }), (sheet, moves) => {
        const want = new Map<string, boolean>();
        const facts = moves.map(([n, done], i) => {
          const key = sheet[n % sheet.length]?.key ?? '';
          want.set(key, done);
          return tick(i, key, done);
        });
        const record = readJob(facts);
        for (const s of sheet) expect(record.ticks[s.key]?.done ?? false).toBe(want.get(s.key) ?? false);
        const over = passedOver(sheet, record);
        for (const s of over) expect(record.ticks[s.key]?.done ?? false).toBe(false);
        // every open step is ready, or waits for one that is open
        for (const s of sheet.filter((x) => want.get(x.key) !== true))
          expect(skippedBy(sheet, record, s.key).every((x) => want.get(x.key) !== true)).toBe(true);
      }),
      { numRuns: 80 },
    );
  });
  test('out of order a tick never brings the first glass forward; the sheet and the round of the day say the same time', () => {
    fc.assert(
      fc.property(anySheet, fc.array(fc.nat(), { maxLength: 25 }), (sheet, moves) => {
        const facts: Fact[] = [];
        for (const n of moves) {
          const step = sheet[n % sheet.length];
          if (!step) continue;
          const before = readJob(facts);
          const at = drinkableAt(beforeDrinking(sheet, before), T0);
          const wasReady = keys(readySteps(sheet, before)).includes(step.key);
          facts.push(tick(facts.length, step.key));
          const after = readJob(facts);
          const moved = drinkableAt(beforeDrinking(sheet, after), T0);
          if (!wasReady && at !== null) expect(moved).toBe(at);
          const laid = scheduleOf(sheet, after, T0).open.find((o) => o.key === DRINK_STEP)?.endMs;
          expect(moved).toBe(laid ?? moved);
        }
      }),
      { numRuns: 60 },
    );
  });
  test('keeps its order where only some of it is done again', () => {
    for (const sheet of sheets) {
      const some = keptSteps(sheet, (s) => s.kind !== 'wait');
      expect(keys(some)).toEqual(keys(sheet.filter((s) => s.kind !== 'wait')));
      for (const s of some) {
        const whole = keys(skippedBy(sheet, readJob([]), s.key)).filter((k) => keys(some).includes(k));
        expect(keys(skippedBy(some, readJob([]), s.key))).toEqual(whole);
      }
    }
  });
});

describe('side by side', () => {
  const withLamp = sheetOf({ lampId: 'lamp-small', leakValve: true });
  const upTo = (sheet: readonly RunStep[], key: string): Fact[] =>
    keys(sheet).slice(0, keys(sheet).indexOf(key)).map((k) => tick(0, k)); // oxfmt-ignore
  test('the leak stop is tried while the tank fills; the fill’s end and the drinking time stay', () => {
    const facts = [
      ...upTo(withLamp, 'fill-1'),
      fact(0, { kind: 'timer', step: 'fill-1', action: 'start', minutes: 90 }),
    ];
    const s = scheduleOf(withLamp, readJob(facts), T0 + 10 * MINUTE);
    expect(s.next?.key).toBe('leak-try');
    expect(s.open.find((o) => o.key === 'leak-try')).toMatchObject({ startMs: T0 + 10 * MINUTE });
    const done = scheduleOf(withLamp, readJob([...facts, tick(12, 'leak-try')]), T0 + 12 * MINUTE);
    const drinkAt = (of: typeof s): number | undefined => of.open.find((o) => o.key === DRINK_STEP)?.endMs;
    expect([done.next?.key, drinkAt(done)]).toEqual(['fill-1', drinkAt(s)]);
    expect(drinkAt(s)).toBeGreaterThan(T0);
    // a clock that is over comes before what may be done beside it
    expect(scheduleOf(withLamp, readJob(facts), T0 + 91 * MINUTE).next?.key).toBe('fill-1');
  });
  test('a lamp is lit and warm before anything is drawn to drink; its sample wants no drinking first', () => {
    const order = keys(withLamp);
    expect(order.indexOf('lamp-on')).toBeLessThan(order.indexOf('first-drink'));
    expect(keys(skippedBy(withLamp, readJob([]), 'first-drink'))).toContain('lamp-on');
    expect(keys(skippedBy(withLamp, readJob([]), 'lamp-sample'))).not.toContain('first-drink');
  });
});

describe('what is asked before a tick', () => {
  const sheet = sheetOf({});
  const step = (key: string): RunStep => sheet.find((s) => s.key === key) ?? fail(key);
  const fail = (key: string): never => {
    throw new Error(`no step ${key}`);
  };
  test('in its order and in its time nothing; over others, what it skips; before its time, how long it had', () => {
    const first = sheet[0] ?? fail('first');
    expect(askedBefore(sheet, readJob([]), first, T0)).toBeNull();
    const over = askedBefore(sheet, readJob([tick(0, first.key)]), step('look-pressure'), T0);
    expect(keys(over?.skips ?? [])).toContain('open-part');
    expect(keys(over?.skips ?? [])).not.toContain(first.key);
    const before = keys(sheet).slice(0, keys(sheet).indexOf('run-ten')).map((k) => tick(0, k)); // oxfmt-ignore
    const run = [...before, fact(0, { kind: 'timer', step: 'run-ten', action: 'start', minutes: 10 })];
    expect(askedBefore(sheet, readJob(run), step('run-ten'), T0 + 4 * MINUTE)).toMatchObject({
      earlyMin: 6,
      skips: [],
    });
    expect(askedBefore(sheet, readJob(run), step('run-ten'), T0 + 9.5 * MINUTE)).toBeNull();
    // a hold that is ticked early keeps what follows where it was
    const at = drinkableAt(beforeDrinking(sheet, readJob(run)), T0 + 4 * MINUTE);
    expect(drinkableAt(beforeDrinking(sheet, readJob([...run, tick(4, 'run-ten')])), T0 + 4 * MINUTE)).toBe(at);
  });
  test('after bleach the membrane is barred until a strip behind the carbon reads none', () => {
    const bleached = sheetOf({}, { sanitise: true });
    const membrane = bleached.find((s) => s.key === 'membrane-in') ?? fail('membrane-in');
    const upToStrip = keys(bleached).slice(0, keys(bleached).indexOf('strip-carbon')).map((k) => tick(0, k)); // oxfmt-ignore
    expect(askedBefore(bleached, readJob(upToStrip), membrane, T0)?.barred).toBe(true);
    expect(
      askedBefore(bleached, readJob([...upToStrip, tick(1, 'strip-carbon'), tick(1, 'back-in')]), membrane, T0),
    ).toBeNull();
    const order = ['strip-feed', 'sanitise', 'sanitise-rinse', 'strip-carbon', 'membrane-in'].map((k) => keys(bleached).indexOf(k));
    expect(order).toEqual([...order].sort((a, b) => a - b));
    expect(bleached.find((s) => s.key === 'sanitise')?.detail).toMatch(/Out are every cartridge, the membrane and the polishing carbon/);
    // without the rule there is none of it
    expect(keys(sheet).some((k) => k.startsWith('strip') || k.startsWith('sanitise'))).toBe(false);
  }); // oxfmt-ignore
  test('what was kept out of the bleach comes back, and a night’s stand is one of a full tank that is poured away', () => {
    const order = keys(sheetOf({ mineralId: 'mineral-large' }, { sanitise: true, overnightStand: true, discards: 2 }));
    const at = (key: string): number => order.indexOf(key);
    expect(at('back-in')).toBeGreaterThan(at('strip-carbon'));
    expect(at('back-in')).toBeLessThan(at('membrane-in'));
    expect(order.slice(at('fill-2'), at('fill-2') + 3)).toEqual(['fill-2', 'overnight', 'drain-2']);
    const one = sheetOf({}, { overnightStand: true, discards: 1 });
    expect(one.find((s) => s.key === 'drain-1')?.needs).toEqual(['overnight']);
    expect(keys(sheet)).not.toContain('back-in');
  });
  test('on a sheet made before needs were told each step needs the one before it', () => {
    const old = sheet.map((s): RunStep => ({ ...s, needs: undefined }));
    expect(keys(skippedBy(old, readJob([]), 'leave'))).toEqual(keys(old).slice(0, -1));
    expect(keys(readySteps(old, readJob([])))).toEqual([old[0]?.key]);
  });
});
