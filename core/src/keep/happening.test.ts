import { describe, expect, test } from '@jest/globals';
import { house, rules } from '../testing/fixtures.ts';
import { lived } from '../testing/lived.ts';
import {
  asBuilt,
  CHANGE_STEP,
  FactSchema,
  HAPPENINGS,
  happeningProblem,
  happeningRow,
  isAway,
  openHappenings,
  readJob,
  StepSchema,
  takeOutSheet,
  viewOf,
  judgedSite,
  type Fact,
  type Happening,
} from '../index.ts';

const DAY = 86_400_000;
const T0 = Date.parse('2026-03-02T08:00:00.000Z');
const id = (n: number): string => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const { version, fact, flushed, proof, at } = lived(house, T0);
const happened = (days: number, event: Happening, more: { from?: string; until?: string } = {}): Fact =>
  fact(days, { kind: 'happened', event, words: '', ...more });

describe('what happens to a system', () => {
  test('each stays in front until what closes it', () => {
    const kept = [...flushed, proof(1), proof(9)];
    expect(at(kept, 20).next).toBe('Nothing due.');
    const frost = [...kept, happened(30, 'frost')];
    expect(at(frost, 31)).toMatchObject({ lens: 'prove', next: happeningRow('frost').next });
    expect(at([...frost, proof(32)], 33).next).toBe('Nothing due.');
    const owner = [...kept, happened(40, 'new-owner')];
    expect(at([...owner, proof(41)], 42).next).toMatch(/^Visit the new household/);
    const planned = fact(41, {
      kind: 'visit',
      reason: 'Show it',
      changed: [],
      on: new Date(T0 + 60 * DAY).toISOString(),
    });
    expect(at([...owner, planned], 70).next).toMatch(/^Visit the new household/);
    expect(at([...owner, fact(43, { kind: 'visit', reason: 'Shown', changed: [] })], 44).next).toBe('Nothing due.');
  });
  test('a boil-water notice holds until it is lifted, and then wants a visit', () => {
    const kept = [...flushed, proof(1), proof(9), happened(20, 'boil-notice')];
    expect(at(kept, 21).next).toMatch(/nothing is changed until it is lifted/);
    const lifted = [...kept, happened(25, 'notice-lifted')];
    expect(at(lifted, 26).next).toMatch(/^The notice is lifted/);
    expect(openHappenings(readJob([...lifted, fact(27, { kind: 'visit', reason: 'Sanitised', changed: [] })]))).toEqual(
      [],
    );
  });
  test('what somebody else put in is in service when it is adopted, and all of it is due', () => {
    const facts = [happened(2, 'adopted')];
    expect(asBuilt([version], facts)?.inService).toBe(true);
    expect(at([], 3).lens).toBe('plumb');
    const s = at(facts, 4);
    expect([s.lens, s.inService]).toEqual(['prove', true]);
    expect(s.lives.length).toBeGreaterThan(4);
    expect(s.lives.every((l) => l.by === 'unknown' && l.state === 'overdue')).toBe(true);
    const sediment = version.system.components.find((c) => c.kind === 'sediment')?.id ?? '';
    const changed = at([...facts, fact(5, { kind: 'visit', reason: 'First', changed: [sediment] })], 6);
    expect(changed.lives.filter((l) => l.by !== 'unknown').map((l) => l.componentId)).toEqual([sediment]);
  });
  test('what was taken out is due nothing, until it stands again', () => {
    const out = [...flushed, proof(1), proof(9), happened(100, 'taken-out')];
    expect(at(out, 900)).toMatchObject({ next: 'Taken out.', lives: [], visits: [], inService: true });
    const again = { ...version, id: id(4), number: 2, at: new Date(T0 + 200 * DAY).toISOString() };
    expect(asBuilt([version, again], out)?.outMs).toBeNull();
  });
  test('a holiday: how long decides what is poured away, and the planner knows of it', () => {
    const away = (days: number) => ({
      from: new Date(T0).toISOString(),
      until: new Date(T0 + days * DAY).toISOString(),
    });
    const told = (days: number) => happeningRow('away').told(away(days), version.system).join(' ');
    expect(told(2)).toMatch(/let it run for a few seconds/);
    expect(told(10)).toMatch(/pour that away too|run for five minutes/);
    expect(told(10)).not.toMatch(/sanitised/);
    expect(told(40)).toMatch(/it is sanitised .* call us before you drink/);
    const s = at([...flushed, proof(1), proof(9), happened(12, 'away', away(30))], 13);
    expect(s.away).toEqual(away(30));
    expect([
      isAway(s.away, T0 + 5 * DAY),
      isAway(s.away, T0 + 30 * DAY),
      isAway(s.away, T0 - DAY),
      isAway(undefined, T0),
    ]).toEqual([true, false, false, false]);
  });
  test('says what is wrong with its days', () => {
    const problem = (what: Happening, from: number, until: number | null = null) =>
      happeningProblem(what, T0 + from * DAY, until === null ? null : T0 + until * DAY, T0 + 50 * DAY, T0);
    expect(problem('frost', 60)).toMatch(/to come/);
    expect(problem('frost', -5)).toMatch(/before the system was put in/);
    expect(problem('adopted', -5)).toBeNull();
    expect(problem('away', 5, 3)).toMatch(/come back after they go/);
    expect(problem('away', 60, 70)).toBeNull();
    expect(problem('frost', NaN)).toMatch(/A day/);
  });
  test('every one tells the household something, and is a fact', () => {
    for (const event of HAPPENINGS) {
      expect(happeningRow(event).told({}, version.system).length).toBeGreaterThan(1);
      expect(FactSchema.safeParse(happened(1, event)).success).toBe(true);
    }
  });
});

test('taking it out closes every hole it made, in an order that leaks nothing, and holds the lamp and the tank', () => {
  const site = judgedSite(version.judged);
  if (!site) throw new Error('a site');
  const view = viewOf(version.system, site, [], rules);
  const sheet = takeOutSheet('x', version.system, rules, view.today);
  for (const s of sheet) expect(StepSchema.safeParse(s).success).toBe(true);
  const keys = sheet.map((s) => s.key.replace(`${CHANGE_STEP}x:`, ''));
  for (const [a, b] of [['die', 'out'], ['out', 'feed'], ['feed', 'look'], ['drain', 'look'], ['tap', 'look']] as const)
    expect(keys.indexOf(a)).toBeLessThan(keys.indexOf(b));
  expect(keys.indexOf('die')).toBeGreaterThanOrEqual(0);
  expect(keys.includes('empty')).toBe(version.system.components.some((c) => c.kind === 'tank'));
  // each needs one before it, so that nothing is opened under pressure
  sheet.slice(1).forEach((s) => { expect(s.needs?.length).toBeGreaterThan(0); });
}); // oxfmt-ignore
