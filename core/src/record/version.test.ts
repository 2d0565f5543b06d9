import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules, shelf } from '../testing/fixtures.ts';
import {
  asBuilt,
  changeOf,
  ApprovedVersionSchema,
  DesignVersionSchema,
  FactSchema,
  judgedSite,
  knownWith,
  jointsOf,
  livesAsBuilt,
  makeVersion,
  openFacts,
  openJobDocuments,
  partIn,
  readingsMoved,
  siteFrom,
  viewOf,
  type Design,
  type DesignVersion,
  type Fact,
  type Known,
  jointStep,
  isDone,
  type NewFact,
  readJob,
  scheduleOf,
  workBefore,
  type Part,
} from '../index.ts';
import { decided } from '../testing/decided.ts';

const JOB = '5f0c4b1e-1111-4111-a111-000000000001';
const WHO = '5f0c4b1e-2222-4222-a222-000000000002';
const T0 = Date.parse('2026-03-02T08:00:00.000Z');
const DAY = 86400000;
const iso = (ms: number): string => new Date(ms).toISOString();
let serial = 0;
const uuid = (): string => `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`;
const fact = (atMs: number, f: NewFact): Fact =>
  FactSchema.parse({ v: 2, ...f, id: uuid(), jobId: JOB, by: WHO, at: iso(atMs) });

const d = decided({ known: house, catalogue: shelf, rules });
if (d.kind !== 'recommendation') throw new Error(d.sentence);
const { design } = d.chosen;
interface More {
  readonly catalogue?: readonly Part[];
  readonly against?: string;
  readonly facts?: readonly Fact[];
}
const approve = (of: Design, before: DesignVersion | null, atMs: number, { catalogue = shelf, against = '', facts }: More = {}) =>
  makeVersion({ known: house, catalogue, rules }, { design: of }, {
    id: uuid(), at: iso(atMs), by: WHO, reason: against === '' ? '' : 'they want it so', against, before, facts, newId: uuid,
  }); // oxfmt-ignore
const tickAll = (v: DesignVersion, fromMs: number): Fact[] =>
  v.sheet.map((s, i) => fact(fromMs + i * 60000, { kind: 'tick', design: v.id, step: s.key, done: true }));
const one = approve(design, null, T0);

const rounded = (_: string, v: unknown): unknown => (typeof v === 'number' ? Number(v.toPrecision(9)) : v);
describe('a design as it enters', () => {
  test('has in each place a part of the kind it wants, and says which has not', () => {
    const tube = shelf.find((p) => p.kind === 'tube') ?? null;
    for (const [i, c] of one.system.components.entries()) {
      const components = one.system.components.map((x, j) => (j === i ? { ...x, part: tube } : x));
      const read = DesignVersionSchema.safeParse({ ...one, system: { ...one.system, components } });
      expect(read.error?.issues.map((x) => x.message).join()).toContain(`(${c.id}) stands another kind of part`);
    }
    const bare = one.system.components.map((x) => (x.kind === 'tank' ? { ...x, part: null } : x));
    const read = DesignVersionSchema.safeParse({ ...one, system: { ...one.system, components: bare } });
    expect(read.error?.issues.map((x) => x.message).join()).toContain('has no part');
  });
});

test('a system without a lamp is not approved where microbes were found; one that is stored still opens', () => {
  const known = { ...one.judged.known, source: 'well', laboratory: 'unsafe' } as const;
  const bare = { ...one, judged: { ...one.judged, known } };
  expect(
    ApprovedVersionSchema.safeParse(bare)
      .error?.issues.map((i) => i.message)
      .join(),
  ).toMatch(/Microbes were found/);
  expect(DesignVersionSchema.safeParse(bare).error).toBeUndefined();
  expect(ApprovedVersionSchema.safeParse(one).error).toBeUndefined();
});

describe('tubes that run otherwise than planned', () => {
  test('are what the system is worked out with, and leave what was approved as it was', () => {
    const [toTap] = one.system.links.filter(
      (l) => one.system.components.find((c) => c.id === l.to.component)?.kind === 'tap',
    );
    if (!toTap) throw new Error('no tube to the tap');
    const run = fact(T0 + 1000, { kind: 'tube-run', design: one.id, link: toTap.id, lengthM: 9, riseM: toTap.riseM });
    const built = asBuilt([one], [run]);
    const site = judgedSite(one.judged);
    if (!built || !site) throw new Error('nothing is built');
    const flow = (s: typeof built.system): number => viewOf(s, site, [], rules).worst.tapFlowLMin;
    expect(flow(built.system)).toBeLessThan(0.8 * flow(one.system));
    expect(flow(one.system)).toBeCloseTo(one.judged.figures.tapFlowLMin, 9);
    const back = fact(T0 + 2000, { kind: 'taken-back', corrects: run.id, reason: 'measured wrong' });
    expect(asBuilt([one], [run, back])?.system).toEqual(one.system);
  });
});

describe('where parts stand', () => {
  const id = (kind: string): string => one.system.components.find((c) => c.kind === kind)?.id ?? '';
  const stands = (kind: string, spot: { xMm: number; yMm: number; zMm: number } | null, atMs: number): Fact =>
    fact(atMs, { kind: 'stands', design: one.id, component: id(kind), spot });
  const frame = stands('frame', { xMm: 200, yMm: 75, zMm: 100 }, T0 + 1000);
  // a tall press beside the basin
  const measured = Object.entries({ cupboardWidthMm: 1200, cupboardDepthMm: 600, cupboardHeightMm: 2400 }).map(
    ([field, value]) => fact(T0, { kind: 'reading', field: field as keyof Known, value, typed: String(value) }),
  );
  const build = (facts: Fact[]) => asBuilt([one], [...measured, ...facts]);
  const tankOf = (facts: Fact[]) => build(facts)?.system.links.find((l) => l.to.component === id('tank'));
  const low = stands('tank', { xMm: 800, yMm: 200, zMm: 0 }, T0 + 2000);

  test('is kept with the version and moved without another approval; what was approved stays as it was', () => {
    const high = stands('tank', { xMm: 800, yMm: 200, zMm: 1500 }, T0 + 3000);
    const [before, after] = [tankOf([frame, low]), tankOf([frame, low, high])];
    expect((after?.riseM ?? 0) - (before?.riseM ?? 0)).toBeCloseTo(1.5, 9);
    const site = judgedSite(one.judged);
    const built = build([frame, low, high]);
    if (!built || !site) throw new Error('nothing is built');
    const worst = (s: typeof built.system) => viewOf(s, site, [], rules).worst;
    // a tank upstairs fills more slowly
    expect(worst(built.system).litresADay).toBeLessThan(worst(one.system).litresADay);
    expect(worst(one.system).litresADay).toBeCloseTo(one.judged.figures.litresADay, 9);
    expect(built.version).toBe(one);
  });
  test('a tube as it was cut counts before what the places make of it; what is taken off has its planned tube again', () => {
    const link = one.system.links.find((l) => l.to.component === id('tank'));
    const cut = fact(T0 + 2500, { kind: 'tube-run', design: one.id, link: link?.id ?? '', lengthM: 3, riseM: 0 });
    expect(tankOf([frame, low, cut])).toMatchObject({ lengthM: 3, riseM: 0 });
    expect(tankOf([frame, low, stands('tank', null, T0 + 4000)])).toEqual(link);
  });
});

test('a joint that was made stays made in the next version; what goes into the van is loaded anew', () => {
  const two = approve({ ...design, limiterId: 'limiter-4' }, one, T0 + DAY);
  const made = fact(T0 + 1000, { kind: 'tick', design: one.id, step: jointStep('sediment.in'), done: true });
  const loaded = fact(T0 + 2000, { kind: 'tick', design: one.id, step: 'pick:tape', done: true });
  const { record } = asBuilt([one, two], [made, loaded]) ?? {};
  if (!record) throw new Error('nothing is built');
  expect(isDone(record, jointStep('sediment.in'))).toBe(true);
  expect(isDone(record, 'pick:tape')).toBe(false);
});

describe('a design changed in the middle of the work', () => {
  const other = { ...design, limiterId: 'limiter-4' };
  const half = one.sheet.slice(0, Math.ceil(one.sheet.length / 2));
  const ticked = half.map((s, i) => fact(T0 + i * 60000, { kind: 'tick', design: one.id, step: s.key, done: true }));
  const recordOf = (versions: DesignVersion[], facts: Fact[]) => asBuilt(versions, facts)?.record ?? readJob([]);

  test('that was not begun asks for the whole of the new sheet', () => {
    const two = approve(other, one, T0 + DAY, { facts: [] });
    expect(two.sheet.length).toBeGreaterThanOrEqual(one.sheet.length);
    expect(two.sheet.map((s) => s.key)).toEqual(expect.arrayContaining(one.sheet.map((s) => s.key)));
    expect(workBefore([one, two], [])).toEqual([]);
  });
  test('keeps what was done and still stands, asks for the rest and for what is new', () => {
    const two = approve(other, one, T0 + DAY, { facts: ticked });
    const record = recordOf([one, two], ticked);
    const open = scheduleOf(two.sheet, record, T0 + DAY).open.map((s) => s.key);
    for (const s of one.sheet.slice(half.length)) expect(open).toContain(s.key);
    const stands = half.filter((s) => isDone(record, s.key)).map((s) => s.key);
    expect(stands.length).toBeGreaterThan(2);
    expect(open).not.toContain(stands[0]);
    // what goes along with any change is done once more, and said to have been done
    const again = workBefore([one, two], ticked);
    expect(again.map((w) => w.step.key).sort()).toEqual(half.map((s) => s.key).filter((k) => !stands.includes(k)).sort());
    expect(again.length).toBeGreaterThan(0);
    const looks = two.sheet.filter((s) => s.kind === 'look').map((s) => s.key);
    expect(open).toEqual(expect.arrayContaining(looks));
    for (const w of again) expect(open.includes(w.step.key)).toBe(w.now === 'again');
  });
  test('loses no clock, and takes a late tick of a device that had not heard of it', () => {
    const wait = one.sheet.find((s) => s.kind === 'wait' && !half.includes(s));
    if (!wait) throw new Error('the sheet has a wait');
    const facts = [...ticked, fact(T0 + DAY / 2, { kind: 'timer', design: one.id, step: wait.key, action: 'start', minutes: 60 })];
    const two = approve(other, one, T0 + DAY, { facts });
    expect(recordOf([one, two], facts).timers[wait.key]?.dueAt).toBe(iso(T0 + DAY / 2 + 3600000));
    const late = fact(T0 + DAY + 1000, { kind: 'tick', design: one.id, step: wait.key, done: true });
    expect(isDone(recordOf([one, two], [...facts, late]), wait.key)).toBe(true);
    // and so a third, approved in the middle of the second
    const three = approve(design, two, T0 + 2 * DAY, { facts });
    expect(recordOf([one, two, three], facts).timers[wait.key]).toBeDefined();
    expect(three.sheet.map((s) => s.key).sort()).toEqual(one.sheet.map((s) => s.key).sort());
  });
  test('asks for nothing again where no part is another, and for the rest of what was open', () => {
    const two = approve(design, one, T0 + DAY, { facts: ticked });
    const record = recordOf([one, two], ticked);
    expect(scheduleOf(two.sheet, record, T0 + DAY).open.map((s) => s.key)).toEqual(one.sheet.slice(half.length).map((s) => s.key));
    const rest = two.sheet.filter((s) => !isDone(record, s.key)).map((s, i) => fact(T0 + DAY + i * 1000, { kind: 'tick', design: two.id, step: s.key, done: true }));
    expect(asBuilt([one, two], [...ticked, ...rest])?.inService).toBe(true);
    // once done, another version asks only for what is new
    const all = [...ticked, ...rest];
    expect(approve(design, two, T0 + 3 * DAY, { facts: all }).sheet).toEqual([]);
    expect(approve(other, two, T0 + 3 * DAY, { facts: all }).goesOn).toBeUndefined();
  });
}); // oxfmt-ignore

describe('the house a version was judged in', () => {
  const fields = Object.keys(house) as (keyof Known)[];
  const needed: readonly (keyof Known)[] = ['source', 'feedTdsMgL', 'temperatureC', 'staticPressureBar', 'people'];
  test('is the same when it is opened again, whatever of it had to be assumed', () => {
    fc.assert(
      fc.property(fc.subarray(fields), (read) => {
        const known = Object.fromEntries([...needed, ...read].map((k) => [k, house[k]])) as Known;
        const first = siteFrom(known, rules);
        if (!first.ok) throw new Error(first.missing.join());
        const again = judgedSite({ known: knownWith(known, first.assumed), assumed: first.assumed, rules });
        expect(JSON.stringify(again, rounded)).toBe(JSON.stringify(first.site, rounded));
      }),
      { numRuns: 60, seed: 9 },
    );
  });
  test('has a supply though the flow beside its running pressure was read as none', () => {
    const still = siteFrom({ ...house, runningFlowLMin: 0 }, rules);
    if (!still.ok) throw new Error(still.missing.join());
    expect(still.site.resistance).toBeCloseTo(0.012, 9);
  });
});

describe('an approved design', () => {
  test('is a document that holds everything, and enters only whole', () => {
    expect(DesignVersionSchema.safeParse(JSON.parse(JSON.stringify(one))).error).toBeUndefined();
    const broken = { ...one, system: { ...one.system, links: one.system.links.slice(4) } };
    expect(DesignVersionSchema.safeParse(broken).success).toBe(false);
    const wrong = {
      ...one,
      system: { ...one.system, components: one.system.components.map((c) => ({ ...c, kind: 'x' })) },
    };
    expect(DesignVersionSchema.safeParse(wrong).error?.issues[0]?.message).toContain('no such kind');
  });
  test('stays what it was whatever becomes of shelf and rules', () => {
    const site = judgedSite(one.judged);
    if (!site) throw new Error('no house');
    const before = viewOf(one.system, site, [], one.judged.rules);
    // its element is rated anew, the rules want more discards: the document has its own
    const edited = shelf.map((p) => (p.kind === 'element' ? { ...p, rating: { ...p.rating, permeateLDay: 900 } } : p));
    const other = approve(design, null, T0, { catalogue: edited });
    expect(other.judged.figures.litresADay).toBeGreaterThan(1.3 * one.judged.figures.litresADay);
    expect(viewOf(one.system, site, [], one.judged.rules).worst.litresADay).toBe(before.worst.litresADay);
    expect(before.worst.litresADay).toBe(one.judged.figures.litresADay);
    expect(before.sheet.map((s) => s.key)).toEqual(one.sheet.map((s) => s.key));
  });
  test('taken against the advice speaks of its own parts', () => {
    const element = shelf.find((p) => p.kind === 'element' && p.id !== design.elementId && p.madeFor === undefined);
    const taken = approve({ ...design, elementId: element?.id ?? '' }, null, T0, { against: d.sentence });
    expect(taken.judged.sentence).not.toBe(d.sentence);
    expect(taken.judged.against).toBe(d.sentence);
    expect(taken.judged.sentence.toLowerCase()).toContain((element?.name ?? '?').split(',')[0]?.toLowerCase());
  });
  test('says which readings have moved since, and holds what was assumed', () => {
    expect(readingsMoved(one.judged, house)).toEqual([]);
    expect(readingsMoved(one.judged, { ...house, feedTdsMgL: 500 })).toEqual(['feedTdsMgL']);
    expect(one.judged.assumed.length).toBeGreaterThan(0);
    for (const a of one.judged.assumed) expect(one.judged.known[a.field as 'pH']).toBe(a.value);
  });
});

describe('a later version', () => {
  const wider = approve({ ...design, limiterId: 'limiter-4' }, one, T0 + DAY);
  test('keeps the ids of what stays, and gives new ones to what is new', () => {
    const change = changeOf(one.system, wider.system);
    expect(change.added.map((c) => c.kind)).toEqual(['limiter']);
    expect(change.gone).toEqual([]);
    const names = jointsOf(one.system).map((j) => j.id);
    expect(jointsOf(wider.system).map((j) => j.id)).toEqual(expect.arrayContaining(names));
  });
  test('asks for what its new parts ask for, and for nothing where no part is new', () => {
    const element = shelf.find((p) => p.kind === 'element' && p.id !== design.elementId && p.madeFor === undefined);
    const other = approve({ ...design, elementId: element?.id ?? '' }, one, T0 + DAY);
    const keys = other.sheet.map((s) => s.key);
    expect(keys).toEqual(expect.arrayContaining(['feed-off', 'membrane-in', 'fill-1', 'look-pressure', 'leave']));
    expect(keys.some((k) => k.startsWith('flush-'))).toBe(false);
    expect(approve(design, one, T0 + DAY).sheet).toEqual([]);
  });
  test('is in service once its own sheet is done; lives of what stayed go on', () => {
    const ticks = tickAll(one, T0 + 3600000);
    const after = asBuilt([one, wider], ticks);
    expect(after?.inService).toBe(false);
    expect(asBuilt([one], ticks)?.inService).toBe(true);
    const done = asBuilt([one, wider], [...ticks, ...tickAll(wider, T0 + 2 * DAY)]);
    expect(done?.inService).toBe(true);
    const [carbon] = wider.system.components.filter((c) => c.kind === 'carbon');
    const since = (b: typeof done): number | undefined =>
      b ? livesAsBuilt(b, T0 + 40 * DAY).find((l) => l.componentId === carbon?.id)?.sinceMs : undefined;
    expect(since(done)).toBeGreaterThan(T0 - DAY);
    expect(since(done)).toBeLessThan(T0 + DAY);
    expect(since(done)).toBe(since(asBuilt([one], ticks)));
  });
  test('one that changes nothing leaves the system in service', () => {
    const same = approve(design, one, T0 + DAY);
    expect(asBuilt([one, same], tickAll(one, T0))?.inService).toBe(true);
  });
});

describe('what was really put in', () => {
  const membrane = one.system.components.find((c) => c.kind === 'membrane');
  const other = shelf.find((p) => p.kind === 'element' && p.id !== membrane?.part?.id);
  if (!membrane || !other) throw new Error('no membrane');
  const fitted = fact(T0 + DAY, {
    kind: 'fitted',
    design: one.id,
    component: membrane.id,
    part: other,
    serial: 'B-77',
  });
  test('stands in the system as built, with its serial', () => {
    const built = asBuilt([one], [fitted]);
    expect(built && partIn(built.system, 'element')?.id).toBe(other.id);
    expect(built?.system.components.find((c) => c.id === membrane.id)?.unit?.serial).toBe('B-77');
    expect(partIn(one.system, 'element')?.id).toBe(membrane.part?.id);
  });
  test('is taken back like any fact', () => {
    const back = fact(T0 + 2 * DAY, { kind: 'taken-back', corrects: fitted.id, reason: 'wrong house' });
    const built = asBuilt([one], [fitted, back]);
    expect(built && partIn(built.system, 'element')?.id).toBe(membrane.part?.id);
  });
});

describe('documents of the first kind', () => {
  const first = { id: uuid(), number: 1, design, sentence: 'As it was said.', reason: '', coreVersion: '0.1.0', at: iso(T0), by: WHO };
  const second = { ...first, id: uuid(), number: 2, design: { ...design, limiterId: 'limiter-4' }, at: iso(T0 + 10 * DAY) };
  const old = (atMs: number, f: object): object => ({ id: uuid(), jobId: JOB, by: WHO, at: iso(atMs), ...f });
  const readings = Object.entries(house).map(([field, value]) => old(T0 - DAY, { kind: 'reading', field, value, typed: String(value) }));
  const facts = [
    ...readings,
    old(T0 + DAY, { kind: 'look', round: 'look-ten', joint: 7, result: 'drip' }),
    old(T0 + 11 * DAY, { kind: 'look', round: 'look-ten', joint: 7, result: 'dry' }),
    old(T0 + 2 * DAY, { kind: 'tick', step: 'flush-carbon-2', done: true }),
    old(T0 + 3 * DAY, { kind: 'visit', reason: 'change', changed: ['carbon-2'] }),
    old(T0 + 4 * DAY, { kind: 'proof', grade: 'good', readings: { feedTdsMgL: { value: 300, typed: '300' } } }),
  ];
  const opened = openJobDocuments([first, second], facts, { catalogue: shelf, rules });

  test('open with all they hold, kept as the shelf at the change of version', () => {
    expect(opened.unreadable).toEqual([]);
    expect(opened.facts).toHaveLength(facts.length);
    expect(opened.designs.map((x) => [x.v, x.number, x.judged.shelf])).toEqual([
      [2, 1, 'as at the change of version'],
      [2, 2, 'as at the change of version'],
    ]);
    expect(opened.designs[0]?.judged.sentence).toBe('As it was said.');
    expect(opened.designs[0]?.judged.known.feedTdsMgL).toBe(house.feedTdsMgL);
  });
  test('a joint’s number is read against the version it was recorded under', () => {
    const [a, b] = opened.facts.filter((f) => f.kind === 'look');
    const named = (v: DesignVersion | undefined, n: number) => jointsOf(v?.system ?? one.system).find((j) => j.number === n)?.id;
    expect([a?.joint, b?.joint]).toEqual([named(opened.designs[0], 7), named(opened.designs[1], 7)]);
    expect(a?.joint).toBe('carbon-2.in');
    // the limiting valve put in since pushed every number on by two
    expect(b?.joint).toBe('carbon.in');
  });
  test('steps and changed parts are found again by the names they had', () => {
    const [version] = opened.designs;
    const tick = opened.facts.find((f) => f.kind === 'tick');
    expect(version?.sheet.some((s) => s.key === tick?.step)).toBe(true);
    const visit = opened.facts.find((f) => f.kind === 'visit');
    expect(version?.system.components.some((c) => c.id === visit?.changed[0])).toBe(true);
    expect(opened.designs[1]?.system.components.some((c) => c.id === visit?.changed[0])).toBe(true);
  });
  test('one that cannot be read is told, and harms nothing else', () => {
    const odd = [old(T0, { kind: 'dream', text: 'x' }), { id: 7 }, 'text', null];
    const o = openJobDocuments([first, { ...second, design: { ...design, tankId: 'gone' } }], [...facts, ...odd], { catalogue: shelf, rules });
    expect(o.facts).toHaveLength(facts.length);
    expect(o.designs).toHaveLength(1);
    expect(o.unreadable.map((u) => u.what).sort()).toEqual(['design', 'fact', 'fact', 'fact', 'fact']);
    expect(o.unreadable.some((u) => u.said.includes('dream'))).toBe(true);
  });
  test('a range narrowed since leaves what was stored readable', () => {
    const stored = { v: 2, ...old(T0, { kind: 'timer', step: 'x', action: 'start', minutes: 9999 }) };
    expect(FactSchema.safeParse(stored).success).toBe(false);
    expect(openFacts([stored], []).facts).toHaveLength(1);
  });
}); // oxfmt-ignore
