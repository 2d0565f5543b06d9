import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules, shelf } from '../testing/fixtures.ts';
import { lived, type Lived } from '../testing/lived.ts';
import {
  asBuilt,
  changeSheet,
  DRINK_CAUSE_CODES,
  drinkBasis,
  drinkHeadline,
  judgedSite,
  mayDrink,
  MEANWHILE_WORDS,
  ofKind,
  operateIn,
  summarise,
  takeOutSheet,
  type DesignVersion,
  type DrinkCause,
  type Fact,
  type KeptVerdict,
  type Known,
  type MayDrink,
} from '../index.ts';

const DAY = 86_400_000;
const T0 = Date.parse('2026-03-02T08:00:00.000Z');
const well: Known = { ...house, source: 'well', laboratory: 'unsafe', disinfectant: 'none', chlorineMgL: 0, ironMgL: 0.05, manganeseMgL: 0.01, turbidityNTU: 0.3, switchLowBar: 3, switchHighBar: 4.4, hardnessMgL: 60, cupboardWidthMm: 600 }; // oxfmt-ignore
const city = lived(house, T0);
const coliform = lived(well, T0);

const judge = (
  of: Lived,
  facts: readonly Fact[],
  days: number,
  versions: readonly DesignVersion[] = [of.version],
): MayDrink => mayDrink(drinkBasis(versions, facts), T0 + days * DAY);
const codes = (m: MayDrink): DrinkCause[] => m.causes.map((c) => c.code);

/** A first flush ticked to its end, each limited reading written down as good. */
const wet = ({ version, fact }: Lived): Fact[] =>
  version.sheet.map((s, i) =>
    fact(0.2 + i * 0.001, {
      kind: 'tick',
      design: version.id,
      step: s.key,
      done: true,
      ...(s.reads ? { read: 0 } : {}),
    }),
  );

const compared = (key: string, grade: 'good' | 'act') => ({ key, label: key, unit: '', measured: 1, expected: 1, low: 0, high: 2, grade, limits: '' }); // oxfmt-ignore
const verdict = (bad?: string): KeptVerdict => ({
  coreVersion: 'x',
  grade: bad === undefined ? 'good' : 'act',
  sentence: 'x',
  rejection: 0.9,
  momentaryRecovery: 0.2,
  wasteRatio: 3,
  compared: ['productFlow', 'productTds', 'concentrateFlow'].map((k) => compared(k, k === bad ? 'act' : 'good')) as KeptVerdict['compared'],
  flowAgainstNew: 1,
  passageAgainstNew: 1,
  reasons: [],
  next: [],
  doubts: [],
}); // oxfmt-ignore
const proof = (of: Lived, days: number, more: { bad?: string; chlorine?: number; lamp?: 'works' | 'fails'; hot?: number } = {}): Fact =>
  of.fact(days, {
    kind: 'proof',
    design: of.version.id,
    readings: {
      ...(more.chlorine === undefined ? {} : { chlorineMgL: { value: more.chlorine, typed: String(more.chlorine) } }),
      ...(more.hot === undefined ? {} : { temperatureC: { value: more.hot, typed: String(more.hot) } }),
    },
    judged: verdict(more.bad),
    ...(more.lamp === undefined ? {} : { checks: { lamp: more.lamp } }),
  }); // oxfmt-ignore
const happened = (
  of: Lived,
  days: number,
  event: 'boil-notice' | 'notice-lifted' | 'frost' | 'lamp-dark' | 'new-owner',
): Fact => of.fact(days, { kind: 'happened', event, words: '' });
const visit = (of: Lived, days: number): Fact =>
  of.fact(days, { kind: 'visit', design: of.version.id, reason: 'there', changed: [] });
const call = (of: Lived, days: number, complaint: 'tastes' | 'leak' | 'slow'): Fact =>
  of.fact(days, { kind: 'call', design: of.version.id, complaint, words: '' });
const sample = (
  of: Lived,
  days: number,
  sought: 'microbes' | 'minerals' = 'microbes',
  water: 'raw' | 'product' = 'product',
) => of.fact(days, { kind: 'sampled', water, sought, words: '' });
const answer = (of: Lived, days: number, to: Fact, finding: 'clean' | 'not-clean'): Fact =>
  of.fact(days, { kind: 'answered', sample: to.id, finding, words: '' });
const last = (of: Lived): Fact => {
  const step = of.version.sheet.findLast((s) => s.key === 'lamp-sample')?.key;
  const tick = wet(of).find((f) => f.kind === 'tick' && f.step === step);
  if (!tick) throw new Error('the sheet takes no sample');
  return tick;
};

describe('a well with coliforms, flushed and with its lamp lit', () => {
  const flushed = wet(coliform);
  const lampTick = flushed.find((f) => f.kind === 'tick' && f.step === 'lamp-sample') ?? last(coliform);
  test('is not drunk minutes after the sample was taken, nor while the answer is awaited', () => {
    const soon = judge(coliform, flushed, 0.25);
    expect([soon.answer, codes(soon), soon.meanwhile]).toEqual(['not-yet', ['lamp-awaited'], 'boil']);
    expect(soon.causes[0]?.expectedMs).toBe(Date.parse(lampTick.at) + 7 * DAY);
    expect(soon.atMs).toBe(soon.causes[0]?.expectedMs);
    // late is not clean
    expect(judge(coliform, flushed, 30).answer).toBe('not-yet');
  });
  test('is drunk once the laboratory has found it clean, and not once it has found it unclean', () => {
    const clean = [...flushed, answer(coliform, 5, lampTick, 'clean')];
    expect(judge(coliform, clean, 6)).toMatchObject({ answer: 'yes', causes: [] });
    expect(judge(coliform, clean, 6).heed.join(' ')).toMatch(/While the lamp is off nobody drinks/);
    const unclean = judge(coliform, [...flushed, answer(coliform, 5, lampTick, 'not-clean')], 6);
    expect([unclean.answer, codes(unclean), unclean.meanwhile]).toEqual(['no', ['microbes-found'], 'boil']);
  });
  test('loses the permission with the lamp: dark, past its hours, or its sample more than a quarter late', () => {
    const clean = [...flushed, answer(coliform, 5, lampTick, 'clean')];
    const dark = [...clean, happened(coliform, 50, 'lamp-dark')];
    expect(codes(judge(coliform, dark, 51))).toEqual(['lamp-dark']);
    expect(judge(coliform, [...dark, visit(coliform, 52)], 53).answer).toBe('yes');
    expect(codes(judge(coliform, [...clean, proof(coliform, 60, { lamp: 'fails' })], 61))).toEqual(['lamp-dark']);
    expect(codes(judge(coliform, clean, 6 + 365 + 92))).toEqual(expect.arrayContaining(['sample-old', 'lamp-spent']));
  });
  test('is sanitised in its first flush, and a strip without its figure proves nothing', () => {
    const keys = coliform.version.sheet.map((s) => s.key);
    expect(keys).toEqual(expect.arrayContaining(['strip-feed', 'sanitise', 'sanitise-rinse']));
    expect(keys.indexOf('sanitise-rinse')).toBeLessThan(keys.indexOf('membrane-in'));
    const unread = flushed.map((f) =>
      f.kind === 'tick' && f.step === 'sanitise-rinse' ? { ...f, read: undefined } : f,
    );
    expect(codes(judge(coliform, [...unread, answer(coliform, 5, lampTick, 'clean')], 6))).toContain('bleach');
  });
});

describe('a city house', () => {
  const flushed = wet(city);
  test('is not drunk before it is put in, nor while fills run; the clock names the moment', () => {
    expect(codes(judge(city, [], 0))).toEqual(['not-put-in']);
    const half = judge(city, flushed.slice(0, 5), 0.3);
    expect([half.answer, codes(half)]).toEqual(['not-yet', ['work']]);
    expect(half.atMs).toBeGreaterThan(T0 + 0.3 * DAY);
    expect(half.causes[0]?.first.join(' ')).toMatch(/tanks are poured away/);
    expect(judge(city, flushed, 0.4).answer).toBe('yes');
  });
  test.each([
    ['too much salt', proof(city, 10, { bad: 'productTds' }), 'proof-failed'],
    ['chlorine 0.30 behind the carbon', proof(city, 10, { chlorine: 0.3 }), 'proof-failed'],
    ['hot feed', proof(city, 10, { hot: 45 }), 'proof-failed'],
    ['a call about taste', call(city, 10, 'tastes'), 'tastes-call'],
    ['a leak', call(city, 10, 'leak'), 'leak-call'],
    ['frost', happened(city, 10, 'frost'), 'frost'],
  ] as const)('loses the permission with %s until it is read again', (_, fact, code) => {
    const facts = [...flushed, proof(city, 1, { chlorine: 0 }), fact];
    expect(codes(judge(city, facts, 11))).toEqual([code]);
    expect(judge(city, [...facts, proof(city, 12, { chlorine: 0, hot: 14 })], 13).answer).toBe('yes');
  });
  test('keeps it where only water is wasted or it runs slow', () => {
    for (const fact of [proof(city, 10, { bad: 'productFlow' }), proof(city, 10, { bad: 'concentrateFlow' }), call(city, 10, 'slow'), happened(city, 10, 'new-owner')])
      expect(judge(city, [...flushed, fact], 11).answer).toBe('yes');
  }); // oxfmt-ignore
  test('a good proof without a chlorine reading does not lift chlorine that was read', () => {
    const facts = [...flushed, proof(city, 10, { chlorine: 0.3 }), proof(city, 11)];
    expect(codes(judge(city, facts, 12))).toEqual(['proof-failed']);
  });
  test('a notice to boil holds until it is lifted and somebody was there', () => {
    const noticed = [...flushed, happened(city, 20, 'boil-notice')];
    expect(judge(city, noticed, 21)).toMatchObject({ answer: 'no', meanwhile: 'boil' });
    const lifted = [...noticed, happened(city, 22, 'notice-lifted')];
    expect(codes(judge(city, lifted, 23))).toEqual(['notice-lifted']);
    expect(judge(city, [...lifted, visit(city, 24)], 25).answer).toBe('yes');
  });
  test('a stand of weeks is against it from the fourth week on, and a visit after it ends that', () => {
    const span = (days: number) => ({ from: new Date(T0 + 10 * DAY).toISOString(), until: new Date(T0 + (10 + days) * DAY).toISOString() });
    const away = (days: number): Fact => city.fact(9, { kind: 'happened', event: 'away', words: '', ...span(days) });
    expect(judge(city, [...flushed, away(40)], 12).answer).toBe('yes');
    expect(codes(judge(city, [...flushed, away(40)], 60))).toEqual(['stood']);
    expect(judge(city, [...flushed, away(40), visit(city, 51)], 60).answer).toBe('yes');
    expect(judge(city, [...flushed, away(10)], 60).answer).toBe('yes');
  }); // oxfmt-ignore
  test('what a laboratory found too much of is not boiled away; a clean sample at the tap lifts it', () => {
    const raw = sample(city, 10, 'minerals', 'raw');
    const found = [...flushed, raw, answer(city, 12, raw, 'not-clean')];
    expect(judge(city, found, 13)).toMatchObject({ answer: 'no', meanwhile: 'bottled' });
    const tap = sample(city, 14, 'minerals');
    expect(judge(city, [...found, tap], 15).answer).toBe('no');
    expect(judge(city, [...found, tap, answer(city, 16, tap, 'clean')], 17).answer).toBe('yes');
  });
  test('lead in the pipe, a source nobody sampled and microbes without a lamp stand against it whatever was read', () => {
    const reading = (field: 'pipeMaterial' | 'source' | 'laboratory', value: string): Fact => city.fact(5, { kind: 'reading', field, value, typed: value });
    expect(judge(city, [...flushed, reading('pipeMaterial', 'lead')], 6)).toMatchObject({ answer: 'no', meanwhile: 'bottled' });
    expect(judge(city, [...flushed, reading('source', 'well')], 6)).toMatchObject({ answer: 'unknown', meanwhile: 'bottled' });
    expect(codes(judge(city, [...flushed, reading('source', 'well'), reading('laboratory', 'unsafe')], 6))).toEqual(['not-disinfected']);
  }); // oxfmt-ignore
  test('an infant, a diet and a medical use that were told of are named', () => {
    const told = city.fact(5, { kind: 'reading', field: 'care', value: 'infant,medical', typed: 'infant,medical' });
    expect(judge(city, [...flushed, told], 6).heed.join(' ')).toMatch(/Infants.*doctor.*dialysis/);
  });
  test('what somebody else put in is unknown until it is proved', () => {
    const adopted = city.fact(1, { kind: 'happened', event: 'adopted', words: '' });
    expect(judge(city, [adopted], 2)).toMatchObject({ answer: 'unknown' });
    expect(judge(city, [adopted, proof(city, 3)], 4).answer).toBe('yes');
  });
  test('a version that is only approved changes nothing; once its work is begun it is waited for', () => {
    const second: DesignVersion = { ...city.version, id: '00000000-0000-4000-8000-000000000777', number: 2, at: new Date(T0 + 100 * DAY).toISOString(), sheet: city.version.sheet.filter((s) => !s.key.endsWith('first-drink')) };
    const both = [city.version, second];
    const facts = [...flushed, proof(city, 1)];
    const waits = judge(city, facts, 101, both);
    expect(waits.answer).toBe('yes');
    expect(waits.heed.join(' ')).toMatch(/Version 2 is approved and not put in/);
    const tick = city.fact(102, { kind: 'tick', design: second.id, step: second.sheet[0]?.key ?? '', done: true });
    expect(codes(judge(city, [...facts, tick], 102.1, both))).toEqual(['work']);
  }); // oxfmt-ignore
});

describe('bleach in service', () => {
  const flushed = [...wet(city), proof(city, 1)];
  const built = asBuilt([city.version], flushed);
  const site = judgedSite(city.version.judged);
  if (!built || !site) throw new Error('a built system');
  const [carbon] = ofKind(built.system, 'carbon');
  const CHANGE = '00000000-0000-4000-8000-000000000555';
  const sheet = changeSheet(CHANGE, { components: [carbon?.id ?? ''], sanitise: true }, built.system, rules, operateIn(built.system, site, 'today'));
  const begun: Fact = { ...city.fact(30, { kind: 'change', design: city.version.id, reason: 'Sanitise', components: [carbon?.id ?? ''], sheet }), id: CHANGE };
  const tick = (i: number, read = 0): Fact => {
    const s = sheet[i];
    return city.fact(30.1 + i * 0.001, { kind: 'tick', design: city.version.id, step: s?.key ?? '', done: true, ...(s?.reads ? { read } : {}) });
  };
  const ticks = sheet.map((_, i) => tick(i));
  const at = (end: string): number => sheet.findIndex((s) => s.key.endsWith(`:${end}`));
  test('empties the tank of its rinse water and pours a fill away before anybody drinks', () => {
    expect(at('sanitise-rinse')).toBeLessThan(at('rinse-emptied'));
    expect(at('rinse-emptied')).toBeLessThan(at('membrane-in'));
    expect(at('drain-1')).toBeGreaterThan(at('tank-open'));
    expect(at('first-drink')).toBeGreaterThan(at('drain-1'));
  });
  test('is not drunk from the moment the visit is begun until the last step before the first glass is over', () => {
    for (let i = 0; i < at('first-drink'); i++)
      expect(judge(city, [...flushed, begun, ...ticks.slice(0, i)], 31).answer).toBe('not-yet');
    const done = [...flushed, begun, ...ticks];
    expect(judge(city, done, 31).answer).toBe('yes');
  });
  test('closed too early it stays forbidden, until chlorine is read and is gone', () => {
    const closed = city.fact(30.5, { kind: 'visit', design: city.version.id, reason: 'Sanitise', changed: [], change: CHANGE });
    const early = [...flushed, begun, ...ticks.slice(0, at('sanitise') + 1), closed];
    expect(codes(judge(city, early, 40))).toEqual(['bleach']);
    expect(codes(judge(city, [...early, proof(city, 41)], 42))).toEqual(['bleach']);
    expect(judge(city, [...early, proof(city, 41, { chlorine: 0 })], 42).answer).toBe('yes');
    const nothing = [...flushed, begun, ...ticks.slice(0, 2), closed];
    expect(judge(city, nothing, 40).answer).toBe('yes');
  });
}); // oxfmt-ignore

test('a system that is being taken out names no first glass', () => {
  const flushed = [...wet(city), proof(city, 1)];
  const built = asBuilt([city.version], flushed);
  const site = judgedSite(city.version.judged);
  if (!built || !site) throw new Error('a built system');
  const CHANGE = '00000000-0000-4000-8000-000000000556';
  const sheet = takeOutSheet(CHANGE, built.system, rules, operateIn(built.system, site, 'today'));
  const begun: Fact = { ...city.fact(30, { kind: 'change', design: city.version.id, reason: 'Out', components: [], sheet, takesOut: true }), id: CHANGE };
  expect(judge(city, [...flushed, begun], 30.1).answer).toBe('yes');
  const shut = city.fact(30.2, { kind: 'tick', design: city.version.id, step: sheet[0]?.key ?? '', done: true });
  expect(judge(city, [...flushed, begun, shut], 30.3)).toMatchObject({ answer: 'no', atMs: null, causes: [{ code: 'taken-out' }] });
}); // oxfmt-ignore

/** What may happen in a life, each with the causes that must not be passed over afterwards. Written apart from the judgement. */
interface Event {
  readonly name: string;
  readonly of: (l: Lived, day: number) => Fact[];
}
const EVENTS: readonly Event[] = [
  { name: 'good proof', of: (l, d) => [proof(l, d, { chlorine: 0, hot: 14, lamp: 'works' })] },
  { name: 'salt', of: (l, d) => [proof(l, d, { bad: 'productTds' })] },
  { name: 'chlorine', of: (l, d) => [proof(l, d, { chlorine: 0.4 })] },
  { name: 'notice', of: (l, d) => [happened(l, d, 'boil-notice')] },
  { name: 'lifted', of: (l, d) => [happened(l, d, 'notice-lifted')] },
  { name: 'frost', of: (l, d) => [happened(l, d, 'frost')] },
  { name: 'dark', of: (l, d) => [happened(l, d, 'lamp-dark')] },
  { name: 'visit', of: (l, d) => [visit(l, d)] },
  { name: 'tastes', of: (l, d) => [call(l, d, 'tastes')] },
  { name: 'leak', of: (l, d) => [call(l, d, 'leak')] },
  { name: 'clean', of: (l, d) => { const s = sample(l, d); return [s, answer(l, d + 0.4, s, 'clean')]; } },
  { name: 'unclean', of: (l, d) => { const s = sample(l, d); return [s, answer(l, d + 0.4, s, 'not-clean')]; } },
  { name: 'taken', of: (l, d) => [sample(l, d)] },
]; // oxfmt-ignore

/** What stands against drinking after a life, read off its events alone. */
function standsAgainst(names: readonly string[], lit: boolean): string[] {
  const lastOf = (...of: string[]): number => Math.max(...of.map((n) => names.lastIndexOf(n)));
  const after = (what: string, ...ends: string[]): boolean => names.includes(what) && lastOf(...ends) < lastOf(what);
  const PROOFS = ['good proof', 'salt', 'chlorine'];
  return [
    ...(after('salt', 'good proof', 'chlorine') ? ['salt'] : []),
    ...(after('chlorine', 'good proof') ? ['chlorine'] : []),
    ...(after('notice', 'lifted') ? ['notice'] : []),
    ...(after('lifted', 'visit') ? ['lifted'] : []),
    ...(after('frost', ...PROOFS) ? ['frost'] : []),
    ...(after('tastes', ...PROOFS) || after('leak', ...PROOFS) ? ['call'] : []),
    ...(after('dark', 'visit') ? ['dark'] : []),
    ...(after('unclean', 'clean') ? ['unclean'] : []),
    ...(lit && !names.includes('clean') ? ['never clean'] : []),
  ];
}

describe('random lives', () => {
  test.each([['a city house', city, false], ['a well with a lamp', coliform, true]] as const)('%s: no yes with anything against it, and no no with nothing', (_, of, lit) => {
    fc.assert(
      fc.property(fc.array(fc.nat(EVENTS.length - 1), { maxLength: 12 }), (picks) => {
        const events = picks.flatMap((i) => EVENTS[i] ?? []);
        const facts = [...wet(of), ...events.flatMap((e, i) => e.of(of, 2 + i))];
        const m = judge(of, facts, 3 + events.length);
        expect([events.map((e) => e.name), m.answer === 'yes']).toEqual([events.map((e) => e.name), standsAgainst(events.map((e) => e.name), lit).length === 0]);
        expect(m.answer === 'yes').toBe(m.causes.length === 0);
        expect(m.meanwhile === null).toBe(m.answer === 'yes');
        // the list of the round says the same
        expect(summarise(facts, [of.version], shelf, rules, T0 + (3 + events.length) * DAY).drinking).toEqual(m);
      }),
      { numRuns: 60 },
    );
  });
  test('a first flush in any order of ticks: no yes before every step before the first glass is over', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray([...city.version.sheet.keys()]), (order) => {
        const facts = order.map((k, i) => city.fact(0.1 + i * 0.001, { kind: 'tick', design: city.version.id, step: city.version.sheet[k]?.key ?? '', done: true }));
        const drink = city.version.sheet.findIndex((s) => s.key === 'first-drink');
        const all = [...city.version.sheet.keys()].slice(0, drink + 1).every((k) => order.includes(k));
        expect(judge(city, facts, 1).answer === 'yes').toBe(all);
      }),
      { numRuns: 60 },
    );
  });
}); // oxfmt-ignore

test('no sentence of the judgement calls water safe, and each is a sentence', () => {
  const every = DRINK_CAUSE_CODES.map((code) => mayDrink({ against: [{ code, about: 'water' }], before: null, workFirst: [], own: 'own', heed: [] }, T0));
  const said = [
    ...every.flatMap((m) => m.causes.flatMap((c) => [c.is, ...c.first])),
    ...Object.values(MEANWHILE_WORDS),
    ...every.flatMap((m) => (['firm', 'household'] as const).map((r) => `${drinkHeadline(m, r, () => '12:00')}.`)),
  ];
  for (const s of said) {
    expect(s).not.toMatch(/\bsafe\b/i);
    expect(s).toMatch(/^[A-Z].*\.$/);
  }
  expect(every.every((m) => m.answer !== 'yes')).toBe(true);
}); // oxfmt-ignore
