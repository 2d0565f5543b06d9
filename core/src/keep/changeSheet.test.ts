import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules, shelf } from '../testing/fixtures.ts';
import {
  allBefore,
  beforeDrinking,
  CHANGE_STEP,
  changeSheet,
  drinkableAt,
  drinkStepIn,
  FactSchema,
  isDone,
  kindRow,
  ofKind,
  ofWork,
  openChange,
  partIn,
  proposalOf,
  readJob,
  scheduleOf,
  StepSchema,
  swapSaid,
  viewSystem,
  type Fact,
  type Known,
  type NewFact,
  type Part,
  type RunStep,
  type SystemView,
} from '../index.ts';
import { decided } from '../testing/decided.ts';

const JOB = '5f0c4b1e-1111-4111-a111-000000000001';
const WHO = '5f0c4b1e-2222-4222-a222-000000000002';
const DESIGN = '5f0c4b1e-4444-4444-a444-000000000001';
const T0 = Date.parse('2026-03-02T08:00:00.000Z');
let serial = 0;
const fact = (atMs: number, f: NewFact): Fact =>
  FactSchema.parse({
    v: 2,
    ...f,
    id: `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`,
    jobId: JOB,
    by: WHO,
    at: new Date(T0 + atMs).toISOString(),
  });

function viewIn(known: Known, ruled = rules): SystemView {
  const d = decided({ known, catalogue: shelf, rules: ruled });
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  const v = viewSystem({ known, catalogue: shelf, rules: ruled }, { design: d.chosen.design });
  if (!v.ok) throw new Error(v.reason);
  return v.view;
}
const view = viewIn(house);
const { system, today } = view;
const id = (kind: string): string => ofKind(system, kind)[0]?.id ?? '';
const sheetOf = (components: readonly string[], sanitise = false, of = view): RunStep[] =>
  changeSheet('x', { components, sanitise }, of.system, rules, of.today);
const at = (sheet: readonly RunStep[], key: string): number =>
  sheet.findIndex((s) => s.key === `${CHANGE_STEP}x:${key}`);
const comes = (sheet: readonly RunStep[], key: string): ReadonlySet<string> =>
  allBefore(sheet, `${CHANGE_STEP}x:${key}`);

describe('the run sheet of a change', () => {
  const worn = system.components.filter((c) => kindRow(c.kind).wear !== undefined).map((c) => c.id);
  const lamped = viewIn({ ...house, source: 'well', laboratory: 'unsafe', disinfectant: 'none', chlorineMgL: 0, ironMgL: 0.05, manganeseMgL: 0.01, turbidityNTU: 0.3, switchLowBar: 3, switchHighBar: 4.4, hardnessMgL: 60, cupboardWidthMm: 600 }); // oxfmt-ignore

  test('of whatever is changed has no dead end, says all it changes, and is a sheet as it is stored', () => {
    fc.assert(
      fc.property(fc.subarray(worn, { minLength: 1 }), fc.boolean(), (components, sanitise) => {
        const sheet = sheetOf(components, sanitise);
        for (const s of sheet) StepSchema.parse(s);
        const keys = sheet.map((s) => s.key);
        expect(new Set(keys).size).toBe(keys.length);
        for (const s of sheet) {
          for (const k of [...(s.needs ?? []), ...(s.bars ?? []), ...(s.reads?.mostOf ? [s.reads.mostOf] : [])])
            expect(keys).toContain(k);
          expect(allBefore(sheet, s.key).has(s.key)).toBe(false);
        }
        for (const c of components) expect(sheet.some((s) => s.key.endsWith(`:in-${c}`))).toBe(true);
        // every order of ticks that the needs allow ends with all done
        let facts: Fact[] = [];
        for (let i = 0; i <= sheet.length; i++) {
          const { next } = scheduleOf(sheet, readJob(facts), T0);
          if (!next) break;
          facts = [...facts, fact(i, { kind: 'tick', design: DESIGN, step: next.key, done: true })];
        }
        expect(sheet.every((s) => isDone(readJob(facts), s.key))).toBe(true);
      }),
      { numRuns: 25 },
    );
  });
  test('of filters without a membrane tells of none, and bars the first glass until a strip read none', () => {
    const d = decided({ known: { ...house, aim: 'taste' }, catalogue: shelf, rules });
    const proposal = proposalOf(d);
    const v = proposal && viewSystem({ known: { ...house, aim: 'taste' }, catalogue: shelf, rules }, proposal);
    if (!v?.ok) throw new Error('carbon alone');
    expect(ofWork(v.view.system, 'separates')).toEqual([]);
    const carbon = ofKind(v.view.system, 'carbon')[0]?.id ?? '';
    for (const sanitise of [false, true]) {
      const sheet = sheetOf([carbon], sanitise, v.view);
      const keys = sheet.map((s) => s.key);
      for (const s of sheet) for (const k of [...(s.needs ?? []), ...(s.bars ?? [])]) expect(keys).toContain(k);
      expect(
        sheet.map((s) => `${s.title} ${s.detail}`).filter((t) => t.includes('membrane') && !t.includes('Sanitise')),
      ).toEqual([]);
    }
    const strip = sheetOf([carbon], true, v.view).find((s) => s.key.endsWith(':strip-carbon'));
    expect(strip?.bars).toEqual([`${CHANGE_STEP}x:open`]);
  });
  test('opens nothing before the pressure was seen to die, and the tank before the flush was clear', () => {
    const sheet = sheetOf([id('sediment'), id('carbon')]);
    for (const kind of ['sediment', 'carbon'])
      expect([...comes(sheet, `out-${id(kind)}`)]).toEqual(
        expect.arrayContaining([`${CHANGE_STEP}x:die`, `${CHANGE_STEP}x:feed-off`]),
      );
    expect(comes(sheet, 'tank-open').has(`${CHANGE_STEP}x:flush`)).toBe(true);
    expect(sheet[at(sheet, 'flush')]?.minutes).toBe(rules.changeFlushMinutes);
    expect(sheet[at(sheet, 'die')]?.caution).toMatch(/does not hold/);
  });
  test('opens one bowl at a time, and the membrane once the new carbon has run clear; with bleach all are out together', () => {
    const all = [id('sediment'), id('carbon'), id('membrane')];
    const order = (sheet: readonly RunStep[]): string[] =>
      sheet.map((s) => s.key.slice(`${CHANGE_STEP}x:`.length)).filter((k) => /^(out|in)-|^flush$|^sanitise$/.test(k));
    const [s, c, m] = all;
    expect(order(sheetOf(all))).toEqual([`out-${s}`, `in-${s}`, `out-${c}`, `in-${c}`, 'flush', `out-${m}`, `in-${m}`]);
    expect(order(sheetOf(all, true))).toEqual([
      `out-${s}`,
      `out-${c}`,
      `out-${m}`,
      'out-kept',
      'sanitise',
      `in-${s}`,
      `in-${c}`,
      'flush',
      `in-${m}`,
    ]);
  });
  test('with bleach takes all that it harms out before, each in once after the strip, and looks at every joint of it', () => {
    fc.assert(
      fc.property(fc.subarray(worn), (components) => {
        const sheet = sheetOf(components, true);
        const bleach = at(sheet, 'sanitise');
        const strip = at(sheet, 'strip-carbon');
        const look = sheet[at(sheet, 'look')];
        const keys = (c: string, way: RegExp): number[] =>
          sheet.flatMap((s, i) => (s.of.includes(c) && s.phase === 'Change' && way.test(s.key) ? [i] : []));
        for (const c of system.components.filter((x) =>
          ['sediment', 'carbon', 'membrane', 'polish', 'mineral'].includes(x.kind),
        )) {
          const out = keys(c.id, /:out-/);
          const back = keys(c.id, /:(in-|bowls-back|membrane-in|back-in)/);
          expect([out.length, back.length]).toEqual([1, 1]);
          expect(out[0]).toBeLessThan(bleach);
          expect(back[0]).toBeGreaterThan(c.kind === 'sediment' || c.kind === 'carbon' ? bleach : strip);
          expect(look?.of).toContain(c.id);
        }
      }),
      { numRuns: 30 },
    );
  });
  test('is read again before they are told whether they may drink', () => {
    const sheet = sheetOf([id('carbon'), id('membrane')]);
    for (const key of ['read-after', 'chlorine-after', 'look'])
      expect(comes(sheet, 'first-drink').has(`${CHANGE_STEP}x:${key}`)).toBe(true);
  });
  test('tightens a bowl as its own sheet says, the same as on the pick list', () => {
    const sheet = sheetOf([id('carbon')]);
    const [carbon] = ofKind(system, 'carbon');
    expect(carbon?.housing?.fitting).toMatch(/an eighth of a turn/);
    expect(sheet[at(sheet, `in-${id('carbon')}`)]?.detail).toContain(carbon?.housing?.fitting);
    expect(sheet[at(sheet, `in-${id('carbon')}`)]?.detail).not.toMatch(/quarter turn/);
  });
  test('reads before and after, and takes no strip that reads more than a membrane bears', () => {
    const sheet = sheetOf([id('carbon')]);
    expect(sheet.slice(0, 2).map((s) => s.reads?.label)).toEqual([
      'Product TDS',
      'Total chlorine behind the old carbon',
    ]);
    expect(sheet[at(sheet, 'chlorine-after')]?.reads?.most).toBe(0.1);
  });
  test('of a membrane pours its first tanks away, as many as the firm does; of cartridges none', () => {
    const fills = (components: string[]): number => sheetOf(components).filter((s) => s.fillsToL !== undefined).length;
    expect(fills([id('membrane')])).toBe(rules.discards);
    expect(fills([id('carbon')])).toBe(0);
    const drink = drinkStepIn(sheetOf([id('membrane')]));
    expect(drinkableAt(beforeDrinking(sheetOf([id('membrane')]), readJob([])), T0)).toBeGreaterThan(
      T0 + rules.discards * today.fill.minutes * 60000,
    );
    expect(drink?.title).toBe('Tell them whether they may drink');
  });
  test('with bleach bars the membrane, old or new, until a strip read none', () => {
    for (const [components, membrane] of [
      [[id('carbon')], 'membrane-in'],
      [[id('membrane')], `in-${id('membrane')}`],
    ] as const) {
      const sheet = sheetOf(components, true);
      const strip = sheet[at(sheet, 'strip-carbon')];
      expect(strip?.bars).toEqual([`${CHANGE_STEP}x:${membrane}`]);
      expect(comes(sheet, membrane).has(strip?.key ?? '')).toBe(true);
    }
  });
  test('of a lamp tells of mercury and of its sleeve, unplugs it first and warms it before anybody drinks', () => {
    const [lamp] = ofKind(lamped.system, 'lamp');
    const sheet = sheetOf([lamp?.id ?? ''], false, lamped);
    const out = sheet[at(sheet, `out-${lamp?.id ?? ''}`)];
    expect(`${out?.detail ?? ''} ${out?.caution ?? ''}`).toMatch(/sleeve.*citric[\s\S]*mercury/);
    expect(comes(sheet, `out-${lamp?.id ?? ''}`).has(`${CHANGE_STEP}x:unplug`)).toBe(true);
    expect(comes(sheet, 'first-drink').has(`${CHANGE_STEP}x:lamp-on`)).toBe(true);
    expect(sheet[at(sheet, 'lamp-on')]).toMatchObject({ kind: 'wait', minutes: 5 });
    expect(at(sheet, 'lamp-sample')).toBeGreaterThan(0);
  });
  test('without a tank runs as long as the membrane’s sheet asks, its electric valve powered before water is wanted of it', () => {
    const known = {
      ...house,
      litresADay: 60,
      largestDrawL: 20,
      people: 9,
      staticPressureBar: 5,
      nightPressureBar: 5.4,
    };
    const direct = viewIn(known, { ...rules, store: 'direct' });
    const [membrane] = ofWork(direct.system, 'separates');
    const sheet = sheetOf([membrane?.id ?? '', ofKind(direct.system, 'carbon')[0]?.id ?? ''], false, direct);
    const firstRun = direct.sheet.find((s) => s.key === 'long-run')?.minutes;
    expect(sheet[at(sheet, 'run-ten')]?.minutes).toBe(firstRun);
    expect(comes(sheet, 'open').has(`${CHANGE_STEP}x:plug`)).toBe(true);
    // the flush goes into the bucket before that valve, which has no power then
    expect(comes(sheet, 'plug').has(`${CHANGE_STEP}x:flush`)).toBe(true);
    expect(sheet[at(sheet, 'flush')]?.detail).toMatch(/before pump and electric valve/);
    expect(sheet.some((s) => s.fillsToL !== undefined)).toBe(false);
  });
  test('is refused for what is not there, and for nothing', () => {
    expect(() => sheetOf(['gone'])).toThrow(RangeError);
    expect(() => sheetOf([])).toThrow(RangeError);
  });
});

describe('a change on record', () => {
  const sheet = sheetOf([id('carbon')]);
  const begun = fact(0, {
    kind: 'change',
    design: DESIGN,
    reason: 'Half-year change',
    components: [id('carbon')],
    sheet,
  });
  test('is open until a visit closes it, whatever version is approved beside it', () => {
    const tick = fact(1, { kind: 'tick', design: DESIGN, step: sheet[0]?.key ?? '', done: true, read: 14 });
    const other = { id: '5f0c4b1e-4444-4444-a444-000000000002' };
    expect(openChange(readJob([begun, tick], other))?.id).toBe(begun.id);
    expect(isDone(readJob([begun, tick], other), sheet[0]?.key ?? '')).toBe(true);
    const visit = fact(2, { kind: 'visit', reason: 'Half-year change', changed: [id('carbon')], change: begun.id });
    expect(openChange(readJob([begun, tick, visit]))).toBeNull();
    const back = fact(3, { kind: 'taken-back', corrects: visit.id, reason: 'too early' });
    expect(openChange(readJob([begun, tick, visit, back]))?.id).toBe(begun.id);
  });
});

describe('a part in the hand', () => {
  const carbon = ofKind(system, 'carbon')[0];
  const sediment = partIn(system, 'sediment');
  const membrane = ofWork(system, 'separates')[0];
  if (!carbon || !sediment || membrane?.part?.kind !== 'element') throw new Error('the usual system');
  const stands = membrane.part;
  const partOf = ({ part }: { part: Part | null }): Part => {
    if (!part) throw new Error('has a part');
    return part;
  };
  test('for another stage is barred, with where it belongs', () => {
    expect(swapSaid(view, carbon, sediment, rules)).toEqual([
      { barred: true, text: expect.stringMatching(/does not go where carbon 1 stands: its place is sediment.*mixed up/) },
    ]);
  });
  test('that stood there before needs no word', () => {
    expect(swapSaid(view, membrane, stands, rules)).toEqual([]);
  });
  test('another element says what is expected of it, and a restrictor too tight for it', () => {
    const big = shelf.filter((p): p is Part & { kind: 'element' } => p.kind === 'element').sort((a, b) => b.rating.permeateLDay - a.rating.permeateLDay)[0];
    if (!big) throw new Error('the shelf has elements');
    const said = swapSaid(view, membrane, big, rules);
    expect(said.map((s) => s.barred)).not.toContain(true);
    expect(said[0]?.text).toMatch(/makes [\d,.]+ L a day running instead of/);
    expect(said.map((s) => s.text).join()).toMatch(/restrictor that stands there is too tight/);
  });
  test('that bears less than the supply brings is barred', () => {
    const weak = { ...partOf(carbon), id: 'weak', name: 'Weak carbon', maxPressureBar: 1 };
    expect(swapSaid(view, carbon, weak, rules)).toMatchObject([{ barred: true, text: expect.stringMatching(/bears 1 bar/) }]);
  });
}); // oxfmt-ignore
