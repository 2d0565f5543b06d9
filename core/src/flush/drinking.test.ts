import { describe, expect, test } from '@jest/globals';
import { rules, systemOf, usual } from '../testing/fixtures.ts';
import { firstGlassNeeds, leftOvernight, lookRound, jointSheets, readProblem, type RunStep } from '../index.ts';

const plain = systemOf(usual);
const full = systemOf({ ...usual, lampId: 'lamp-small', fridge: true });

describe('before the first glass', () => {
  test('what must be done is told by what stands there, and never that water is safe', () => {
    const told = firstGlassNeeds(full, { ...rules, sanitise: true }).join(' ');
    expect(told).toMatch(/strip at the tap.*lamp is lit.*tanks are poured away.*three fillings of ice/);
    expect(told).not.toMatch(/safe/);
    expect(firstGlassNeeds(plain, rules).join(' ')).not.toMatch(/lamp|strip|ice/);
  });
  test('a lamp stands because microbes were found: the first flush is sanitised whatever the house rule says', () => {
    expect(firstGlassNeeds(full, { ...rules, sanitise: false }).join(' ')).toMatch(/the bleach is out/);
  });
  test('overnight the feed is shut first, and what draws power is unplugged', () => {
    const told = leftOvernight(full);
    expect(told[0]).toMatch(/^Feed shut/);
    expect(told.join(' ')).toMatch(/Tank valve shut.*Lamp unplugged.*note on the tap/);
    expect(leftOvernight(plain).join(' ')).not.toMatch(/Lamp|Pump unplugged/);
  });
});

describe('a round of looks', () => {
  const joints = jointSheets(full, rules);
  const look = (joint: string, result: 'dry' | 'drip') => ({ [joint]: { result, joint } });
  const record = (looks: object) => ({ looks: { round: looks } }) as unknown as Parameters<typeof lookRound>[2];
  const [first, ...rest] = joints.map((j) => j.joint.id);
  test('closes once every joint is dry: a drip, or one nobody looked at, holds it', () => {
    const of = (looks: object) => lookRound({ key: 'round', of: [] }, joints, record(looks));
    const others = Object.assign({}, ...rest.map((id) => look(id, 'dry'))) as object;
    expect(of({}).open).toHaveLength(joints.length);
    expect(of(others)).toMatchObject({ closes: false, drips: [] });
    const drips = of({ ...others, ...look(first ?? '', 'drip') });
    expect([drips.closes, drips.drips.map((d) => d.sheet.joint.id)]).toEqual([false, [first]]);
    expect(of({ ...others, ...look(first ?? '', 'dry') }).closes).toBe(true);
  });
  test('of a branch looks at that branch alone', () => {
    const branch = joints.filter((j) => j.joint.component.kind === 'fridge').map((j) => j.joint.component.id);
    const round = lookRound({ key: 'round', of: branch }, joints, record({}));
    expect(round.joints.length).toBeGreaterThan(0);
    expect(round.joints.length).toBeLessThan(joints.length);
  });
});

describe('what a step reads', () => {
  const step = (reads: RunStep['reads']): RunStep =>
    ({ key: 's', phase: 'Before water', kind: 'do', title: 's', detail: '', minutes: 1, wets: [], of: [], reads });
  const ticks = (read?: number) => ({ ticks: read === undefined ? {} : { feed: { done: true, read } } }) as unknown as Parameters<typeof readProblem>[2];
  test('decides whether it is done: a limit of its own, or what the feed itself read', () => {
    const own = step({ label: 'strip', unit: 'mg/L', most: 0.1 });
    expect(readProblem(own, undefined, ticks())).toMatch(/Write down/);
    expect(readProblem(own, 0.1, ticks())).toBeNull();
    expect(readProblem(own, 0.2, ticks())).toMatch(/rinse on/);
    const by = step({ label: 'strip', unit: 'mg/L', mostOf: 'feed' });
    expect(readProblem(by, 0.3, ticks())).toMatch(/feed first/);
    expect(readProblem(by, 0.3, ticks(0.3))).toBeNull();
    expect(readProblem(by, 0.5, ticks(0.3))).toMatch(/at most 0\.30/);
    expect(readProblem(step(undefined), undefined, ticks())).toBeNull();
  });
}); // oxfmt-ignore
