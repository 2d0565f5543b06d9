import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf, systemOf } from '../testing/fixtures.ts';
import {
  alongTheWater,
  bleachMl,
  changeSheet,
  commissionedAt,
  expectedAt,
  FactSchema,
  livesOf,
  makeVersion,
  minutesToContent,
  prove,
  readJob,
  runSheet,
  scheduleOf,
  summarise,
  throughputLDay,
  viewSystem,
  wetElements,
  type Design,
  type DesignVersion,
  type Fact,
  type NewFact,
  type ProofReadings,
  type SystemView,
} from '../index.ts';
import { decided } from '../testing/decided.ts';

const JOB = '5f0c4b1e-1111-4111-a111-000000000001';
const WHO = '5f0c4b1e-2222-4222-a222-000000000002';
let serial = 0;
const T0 = Date.parse('2026-03-02T08:00:00.000Z');
const fact = (minutes: number, f: NewFact): Fact =>
  FactSchema.parse({
    v: 2,
    ...f,
    id: `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`,
    jobId: JOB,
    by: WHO,
    at: new Date(T0 + minutes * 60000).toISOString(),
  });

function system(change = {}, house_ = house, rules_ = rules): SystemView {
  const input = { known: { ...house_, ...change }, catalogue: shelf, rules: rules_ };
  const d = decided(input);
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  const v = viewSystem(input, { design: d.chosen.design });
  if (!v.ok) throw new Error(v.reason);
  return v.view;
}
const view = system();
const design = ((): Design => {
  const d = decided({ known: house, catalogue: shelf, rules });
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  return d.chosen.design;
})();
const fridge = system({ fridge: 'yes', metalAfter: 'copper' });

let born = 0;
/** The house's design approved, with lasting ids. */
function approvedAt(minutes: number, of: Design = design, before: DesignVersion | null = null, known = house): DesignVersion {
  return makeVersion({ known, catalogue: shelf, rules }, { design: of }, {
    id: `5f0c4b1e-4444-4444-a444-${String(++born).padStart(12, '0')}`,
    at: new Date(T0 + minutes * 60000).toISOString(),
    by: WHO,
    reason: '',
    against: '',
    before,
    newId: () => `thing ${String(++born)}`,
  });
} // oxfmt-ignore
const tickAll = (v: DesignVersion, from = 100): Fact[] =>
  v.sheet.map((x, i) => fact(from + i, { kind: 'tick', design: v.id, step: x.key, done: true }));

describe('facts', () => {
  test('the last reading of a field is in use, whatever order they arrive in; the earlier one stays on record', () => {
    const a = fact(0, { kind: 'reading', field: 'feedTdsMgL', value: 300, typed: '300' });
    const b = fact(5, { kind: 'reading', field: 'feedTdsMgL', value: 320, typed: '320', corrects: a.id });
    expect(readJob([b, a]).known.feedTdsMgL).toBe(320);
    expect(readJob([a]).known.feedTdsMgL).toBe(300);
  });
  test('a reading taken back is gone until it is put again', () => {
    const a = fact(0, { kind: 'reading', field: 'people', value: 3, typed: '3' });
    const gone = fact(1, { kind: 'reading', field: 'people', value: null, typed: '', corrects: a.id });
    expect(readJob([a, gone]).known).toEqual({});
    expect(readJob([a, gone, fact(2, { kind: 'reading', field: 'people', value: 3, typed: '3' })]).known.people).toBe(
      3,
    );
  });
  test('a value its field cannot have is no fact', () => {
    const bad = {
      v: 2,
      id: JOB,
      jobId: JOB,
      by: WHO,
      at: new Date(T0).toISOString(),
      kind: 'reading',
      field: 'staticPressureBar',
      value: 90,
      typed: '90',
    };
    expect(FactSchema.safeParse(bad).error?.issues[0]?.path).toEqual(['value']);
    expect(FactSchema.safeParse({ ...bad, value: 3 }).success).toBe(true);
    expect(FactSchema.safeParse({ ...bad, value: 3, at: 'yesterday' }).success).toBe(false);
  });
  test('a stopped clock is gone, a restarted one counts from its start', () => {
    const facts = [
      fact(0, { kind: 'timer', step: 'fill-1', action: 'start', minutes: 60 }),
      fact(5, { kind: 'timer', step: 'fill-1', action: 'stop', minutes: 0 }),
    ];
    expect(readJob(facts).timers).toEqual({});
    const again = readJob([...facts, fact(10, { kind: 'timer', step: 'fill-1', action: 'start', minutes: 60 })]);
    expect(Date.parse(again.timers['fill-1']?.dueAt ?? '')).toBe(T0 + 70 * 60000);
  });
});

describe('the run sheet', () => {
  const keys = (v: SystemView): string[] => v.sheet.map((s) => s.key);
  test('wets pre-filters before the membrane, and opens the fridge only after the discards', () => {
    const k = keys(fridge);
    expect(k.indexOf('flush-carbon-2')).toBeLessThan(k.indexOf('membrane-in'));
    expect(k.indexOf('fridge-open')).toBeGreaterThan(k.indexOf(`drain-${String(rules.discards)}`));
    expect(keys(view)).not.toContain('fridge-open');
    expect(new Set(k).size).toBe(k.length);
  });
  test('fill times come from today’s water, not winter’s', () => {
    const fill = view.sheet.find((s) => s.key === 'fill-1');
    expect(fill?.minutes).toBe(Math.ceil(view.today.fill.minutes));
    expect(view.today.fill.minutes).toBeLessThan(view.worst.fill.minutes);
  });
  test('follows the firm’s rules: discards, overnight, sanitising, together', () => {
    const input = {
      known: house,
      catalogue: shelf,
      rules: { ...rules, discards: 3, overnightStand: true, sanitise: true, flushPreFilters: 'together' as const },
    };
    const v = viewSystem(input, { design });
    if (!v.ok) throw new Error(v.reason);
    expect(keys(v.view)).toEqual(expect.arrayContaining(['drain-3', 'overnight', 'sanitise', 'flush-pre']));
    expect(keys(view).filter((x) => x.startsWith('drain-') && x !== 'drain-stops')).toHaveLength(rules.discards);
  });
  test('every element of the Line is wet at the end', () => {
    const ticked = readJob(fridge.sheet.map((s, i) => fact(i, { kind: 'tick', step: s.key, done: true })));
    expect([...wetElements(fridge.sheet, ticked)]).toEqual(
      expect.arrayContaining(alongTheWater(fridge.system).map((e) => e.id)),
    );
  });
  test('bleach by dose: 10 L at 50 mg/L with 5 % is 10 mL', () => {
    expect(bleachMl(10, 50, 5)).toBe(10);
  });
  test('part of a fill takes part of its time', () => {
    expect(minutesToContent(view.today, view.today.fill.waterL)).toBeCloseTo(view.today.fill.minutes, 6);
    expect(minutesToContent(view.today, 1)).toBeLessThan(view.today.fill.minutes / 2);
    expect(minutesToContent(view.today, 0)).toBe(0);
  });
});

describe('the clock of the day', () => {
  test('they may drink once every open step before it has had its time', () => {
    const s = scheduleOf(view.sheet, readJob([]), T0);
    const upTo = view.sheet.findIndex((x) => x.key === 'first-drink');
    const minutes = view.sheet.slice(0, upTo + 1).reduce((sum, x) => sum + x.minutes, 0);
    expect(s.open.find((o) => o.key === 'first-drink')?.endMs).toBe(T0 + minutes * 60000);
    expect(s.next?.key).toBe(view.sheet[0]?.key);
  });
  test('a running clock ends when it is due, however often the page asks', () => {
    const before = view.sheet.slice(
      0,
      view.sheet.findIndex((x) => x.key === 'fill-1'),
    );
    const facts = [
      ...before.map((x) => fact(0, { kind: 'tick', step: x.key, done: true })),
      fact(10, { kind: 'timer', step: 'fill-1', action: 'start', minutes: 50 }),
    ];
    const at = (m: number) => scheduleOf(view.sheet, readJob(facts), T0 + m * 60000).open[0];
    expect(at(20)).toMatchObject({ key: 'fill-1', running: true, endMs: T0 + 60 * 60000 });
    expect(at(40)?.endMs).toBe(T0 + 60 * 60000);
    expect(at(90)?.endMs).toBe(T0 + 90 * 60000);
  });
  test('is done when all is ticked, and not when one is unticked again', () => {
    const facts = view.sheet.map((x, i) => fact(i, { kind: 'tick', step: x.key, done: true }));
    expect(commissionedAt(view.sheet, readJob(facts))).toBe(facts.at(-1)?.at);
    const undone = [...facts, fact(999, { kind: 'tick', step: 'leave', done: false })];
    expect(commissionedAt(view.sheet, readJob(undone))).toBeNull();
  });
});

describe('proving', () => {
  const moment = { bar: 3.6, temperatureC: 12, feedTds: 320, concentrateLMin: 0.3 };
  const ask = (change: ProofReadings = {}) => {
    const system = systemOf({ ...design, restrictorId: 'restrictor-430' });
    const e = expectedAt(system, view.site, { ...moment, concentrateLMin: 0.2 });
    const good: ProofReadings = {
      feedTdsMgL: 320,
      productTdsMgL: e.permeateTdsMgL,
      temperatureC: 12,
      membranePressureBar: 3.6,
      productFlowLMin: e.permeateLDay / 1440,
      concentrateFlowLMin: 0.2,
    };
    return { good, result: prove({ ...good, ...change }, system, view.site, 0.03) };
  };
  const verdict = (change: ProofReadings) => {
    const { result } = ask(change);
    if (!result.ok) throw new Error('incomplete');
    return result.verdict;
  };
  test('a new element read as expected is good on every count', () => {
    const v = verdict({});
    expect([v.grade, ...v.compared.map((c) => c.grade)]).toEqual(['good', 'good', 'good', 'good']);
    // within what its own flow presses back on the way to the tap
    expect(Math.abs(v.flowAgainstNew - 1)).toBeLessThan(0.01);
    expect(Math.abs(v.passageAgainstNew - 1)).toBeLessThan(0.01);
  });
  test('good flow and salt do not cover for what else was read', () => {
    const of = (change: ProofReadings): [string, string] => {
      const v = verdict(change);
      return [v.grade, v.reasons.join(' ')];
    };
    expect(of({ drainWhenFullLMin: 0.25 })).toEqual(['act', expect.stringContaining('360 L a day go to waste')]);
    expect(of({ drainWhenFullLMin: 0.015 })[0]).toBe('watch');
    expect(of({ tankAirBar: 0.05 })).toEqual(['act', expect.stringContaining('of air where')]);
    expect(of({ tankAirBar: 0.48, drainWhenFullLMin: 0 })[0]).toBe('good');
    const own = systemOf({ ...design, restrictorId: 'restrictor-430' });
    // a flow that suits the pressure read, and a pressure that does not suit the house
    const weak = expectedAt(own, view.site, { bar: 1, temperatureC: 12, feedTds: 320, concentrateLMin: 0.1 });
    expect(
      of({
        membranePressureBar: 1,
        productFlowLMin: weak.permeateLDay / 1440,
        productTdsMgL: weak.permeateTdsMgL,
        concentrateFlowLMin: 0.1,
      }),
    ).toEqual(['act', expect.stringMatching(/Only 1\.0 bar at the membrane; .* should see about [23]/)]);
    const hot = expectedAt(own, view.site, { bar: 3.6, temperatureC: 45, feedTds: 320, concentrateLMin: 0.2 });
    expect(
      of({ temperatureC: 48, productFlowLMin: hot.permeateLDay / 1440, productTdsMgL: hot.permeateTdsMgL }),
    ).toEqual(['act', expect.stringContaining('hot line')]);
  });
  test('rejection, recovery and waste ratio are what their names say', () => {
    const v = verdict({ feedTdsMgL: 320, productTdsMgL: 16, productFlowLMin: 0.1, concentrateFlowLMin: 0.3 });
    expect([v.rejection, v.momentaryRecovery, v.wasteRatio].map((x) => Number(x.toFixed(6)))).toEqual([0.95, 0.25, 3]);
  });
  test('missing readings are named, none is guessed', () => {
    expect(prove({ feedTdsMgL: 300 }, view.system, view.site, 0.03)).toEqual({
      ok: false,
      missing: ['productTdsMgL', 'temperatureC', 'membranePressureBar', 'productFlowLMin', 'concentrateFlowLMin'],
    });
  });
  test('salt and flow both high point to a way past the membrane', () => {
    const { good } = ask();
    const v = verdict({
      productTdsMgL: 5 * (good.productTdsMgL ?? 0),
      productFlowLMin: 1.5 * (good.productFlowLMin ?? 0),
    });
    expect(v.grade).toBe('act');
    expect(v.reasons[0]).toContain('finds a way past the membrane');
  });
  test('salt high with flow low points to scale, flow low alone to pressure or pre-filters', () => {
    const { good } = ask();
    expect(
      verdict({ productTdsMgL: 5 * (good.productTdsMgL ?? 0), productFlowLMin: 0.5 * (good.productFlowLMin ?? 0) })
        .reasons[0],
    ).toContain('scale');
    expect(verdict({ productFlowLMin: 0.5 * (good.productFlowLMin ?? 0) }).reasons[0]).toContain('clogged pre-filters');
  });
  test('a shut drain and passed chlorine want doing at once', () => {
    expect(verdict({ concentrateFlowLMin: 0 })).toMatchObject({ grade: 'act' });
    expect(verdict({ chlorineMgL: 0.1 }).grade).toBe('act');
    expect(verdict({ chlorineMgL: 0.09 }).grade).toBe('good');
  });
  test('cold water is not a fault: the expected flow falls with it', () => {
    const cold = expectedAt(view.system, view.site, { ...moment, temperatureC: 4 });
    const warm = expectedAt(view.system, view.site, { ...moment, temperatureC: 20 });
    expect(cold.permeateLDay / warm.permeateLDay).toBeLessThan(0.65);
  });
  test('swapped samples and a changed supply are doubted', () => {
    expect(verdict({ productTdsMgL: 330 }).doubts.join(' ')).toContain('swapped');
    expect(verdict({ feedTdsMgL: 600 }).doubts.join(' ')).toContain('30 %');
  });
});

describe('keeping', () => {
  const day = 86400000;
  const lives = (days: number, litres: number, visits: Fact[] = []) =>
    livesOf(view.system, readJob(visits), T0, T0 + days * day, {
      productLDay: litres,
      said: true,
      wasteRatio: 3,
      carries: null,
      dissolvedMgL: null,
    });
  test('whichever is first decides: the calendar for a small household, litres for a large one', () => {
    expect(lives(10, 5).find((l) => l.componentId === 'sediment')?.by).toBe('calendar');
    const big = lives(10, 60).find((l) => l.componentId === 'sediment');
    expect(big?.by).toBe('litres');
    expect(((big?.dueMs ?? 0) - T0) / day).toBeCloseTo(20000 / 240, 6);
  });
  test('pre-filters see the drain’s water too, the polishing filter does not', () => {
    const at = (role: string): number => {
      const e = alongTheWater(view.system).find((x) => x.kind === role);
      return e ? throughputLDay(e.kind, 10, 3) : 0;
    };
    expect([at('sediment'), at('carbon'), at('polish'), at('membrane')]).toEqual([40, 40, 10, 10]);
  });
  test('good, soon and overdue change at their days', () => {
    const state = (days: number) => lives(days, 1).find((l) => l.componentId === 'sediment')?.state;
    const life = 6 * 30.44;
    expect([state(life - 31), state(life - 29), state(life - 0.1), state(life + 0.1)]).toEqual([
      'good',
      'soon',
      'soon',
      'overdue',
    ]);
  });
  test('a change begins a new life for what was changed only', () => {
    const changed = lives(200, 1, [fact(190 * 1440, { kind: 'visit', reason: 'change', changed: ['sediment'] })]);
    expect(changed.find((l) => l.componentId === 'sediment')?.state).toBe('good');
    expect(changed.find((l) => l.componentId === 'carbon')?.used).toBeGreaterThan(0.5);
  });
});

describe('where a job stands', () => {
  const readings = Object.entries(house).map(([field, value], i) =>
    fact(i, { kind: 'reading', field, value, typed: String(value) } as NewFact),
  );
  const first = approvedAt(0);
  const stand = (facts: Fact[], of: DesignVersion[] = [first]) => summarise(facts, of, shelf, rules, T0);
  const ticks = tickAll(first);
  test('from the first visit to years of keeping', () => {
    expect(summarise([], [], shelf, rules, T0)).toMatchObject({
      lens: 'gauge',
      next: 'First visit: gauge the house.',
    });
    expect(summarise(readings, [], shelf, rules, T0).lens).toBe('size');
    expect(stand(readings).lens).toBe('plumb');
    expect(stand([...readings, ...ticks.slice(0, 3)])).toMatchObject({ lens: 'flush' });
    expect(stand([...readings, ...ticks])).toMatchObject({ lens: 'prove', inService: true });
    const proof = fact(999, {
      kind: 'proof',
      design: first.id,
      readings: { feedTdsMgL: { value: 300, typed: '300' } },
    });
    expect(stand([...readings, ...ticks, proof])).toMatchObject({ lens: 'keep', next: 'Nothing due.' });
    // once, after its first days, what later years are held against
    const later = (days: number, ...more: Fact[]) =>
      summarise([...readings, ...ticks, proof, ...more], [first], shelf, rules, Date.parse(proof.at) + days * 86400000);
    expect(later(6).lens).toBe('keep');
    expect(later(6).asks.map((a) => a.of)).toEqual(['baseline', 'first-looks']);
    expect(later(8)).toMatchObject({ lens: 'prove', next: expect.stringMatching(/^Read the baseline/) as unknown });
    const again = {
      ...proof,
      id: '5f0c4b1e-3333-4333-a333-0000000000aa',
      at: new Date(Date.parse(proof.at) + 7 * 86400000).toISOString(),
    };
    expect(later(8, again).lens).toBe('keep');
    expect(summarise([...readings, ...ticks, proof], [first], shelf, rules, T0 + 400 * 86400000).next).toMatch(
      /^Overdue: sediment/,
    );
  });
  test('a change in hand says what is next and runs its clocks; a new membrane is proved again', () => {
    const proof = fact(999, { kind: 'proof', design: first.id, readings: {} });
    const membrane = first.system.components.find((c) => c.kind === 'membrane')?.id ?? '';
    const day = 1440 * 60000;
    const at = (f: Fact, days: number): Fact => ({
      ...f,
      at: new Date(Date.parse(proof.at) + days * day).toISOString(),
    });
    const again = at(fact(1, { kind: 'proof', design: first.id, readings: {} }), 8);
    const ofChange = changeSheet('y', { components: [membrane], sanitise: false }, first.system, rules, view.today);
    const begun = at(
      fact(2, { kind: 'change', design: first.id, reason: 'Membrane', components: [membrane], sheet: ofChange }),
      20,
    );
    const done = ofChange
      .slice(0, 1)
      .map((s) => at(fact(3, { kind: 'tick', design: first.id, step: s.key, done: true }), 20));
    const inHand = stand([...readings, ...ticks, proof, again, begun, ...done]);
    expect(inHand).toMatchObject({
      lens: 'keep',
      next: `Change in hand: ${ofChange[1]?.title ?? ''}`,
      inService: true,
    });
    expect(inHand.drinking).toMatchObject({ answer: 'not-yet' });
    expect(inHand.drinking?.atMs).toBeGreaterThan(T0);
    const closed = at(fact(4, { kind: 'visit', reason: 'Membrane', changed: [membrane], change: begun.id }), 20.1);
    expect(stand([...readings, ...ticks, proof, again, begun, ...done, closed])).toMatchObject({
      lens: 'prove',
      next: 'Prove it again: the membrane was changed.',
    });
    const proved = at(fact(5, { kind: 'proof', design: first.id, readings: {} }), 20.2);
    expect(stand([...readings, ...ticks, proof, again, begun, ...done, closed, proved]).lens).toBe('keep');
  });
  test('a visit that is only planned puts nothing into service; one that was made does', () => {
    const day = 86400000;
    const planned = fact(5, {
      kind: 'visit',
      reason: 'Put it in',
      changed: [],
      on: new Date(T0 + 2 * day).toISOString(),
    });
    expect(stand([...readings, planned])).toMatchObject({ lens: 'plumb', inService: false });
    const made = fact(6, {
      kind: 'visit',
      reason: 'Half-year change',
      changed: [],
      on: new Date(T0 - 2 * day).toISOString(),
    });
    expect(stand([...readings, made]).inService).toBe(true);
  });
  test('a referral is told on the round', () => {
    const well = [
      fact(1, { kind: 'reading', field: 'source', value: 'well', typed: 'well' }),
      fact(2, { kind: 'reading', field: 'laboratory', value: 'none', typed: 'none' }),
    ];
    expect(
      summarise(
        [...readings, ...well.map((f) => ({ ...f, at: new Date(T0 + 9e6).toISOString() }))],
        [],
        shelf,
        rules,
        T0,
      ).next,
    ).toMatch(/^Referred: Private water/);
  });
  test('a house that needs no membrane is told so on the round', () => {
    const taste = fact(1, { kind: 'reading', field: 'aim', value: 'taste', typed: 'taste' });
    expect(
      summarise([...readings, { ...taste, at: new Date(T0 + 9e6).toISOString() }], [], shelf, rules, T0),
    ).toMatchObject({
      lens: 'size',
      next: expect.stringMatching(/^No reverse osmosis needed/),
    });
  });
  test('its own run sheet is what a system is flushed by', () => {
    expect(runSheet(view.system, rules, view.today)).toEqual(view.sheet);
  });
});
