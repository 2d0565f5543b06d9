import { describe, expect, test } from '@jest/globals';
import { shelf } from '../testing/fixtures.ts';
import {
  billOf,
  handsMinutes,
  partOf,
  readJob,
  type Component,
  type Fact,
  type FactOf,
  type NewFact,
} from '../index.ts';

const T0 = Date.parse('2026-03-02T09:00:00.000Z');
const id = (n: number): string => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
let n = 10;
const fact = <F extends NewFact>(minutes: number, f: F): Fact & F =>
  ({ ...f, v: 2, id: id(n++), jobId: id(1), by: id(2), at: new Date(T0 + minutes * 60_000).toISOString() }) as Fact & F;
const component = (name: string, kind: string, part: string): Component => ({ id: name, kind, slot: name, part: shelf.find((p) => p.id === part) }) as unknown as Component; // oxfmt-ignore
const system = [
  component('sediment', 'sediment', 'sediment-5'),
  component('carbon', 'carbon', 'carbon-block'),
  component('carbon-2', 'carbon', 'carbon-block'),
  component('membrane', 'membrane', 'element-285'),
  component('vented', 'vented-tank', 'tank-vented-20'),
];
const visitOf = (...changed: string[]): FactOf<'visit'> => fact(60, { kind: 'visit', reason: 'Change', changed });
const bill = (visit: FactOf<'visit'>, facts: readonly Fact[] = [], hourPrice = 60, minutes = 45, travel = 20) =>
  billOf(visit, readJob(facts), system, { hourPrice }, minutes, travel);

describe('the bill of a visit', () => {
  test('adds up by hand: a 6 and two 14s, three quarters of an hour and twenty minutes of driving', () => {
    const carbon = partOf(shelf, 'carbon', 'carbon-block').price ?? 0;
    const b = bill(visitOf('sediment', 'carbon', 'carbon-2'));
    expect(b.lines.map((l) => [l.of, l.amount, l.sum])).toEqual([['part', 1, 6], ['part', 2, 2 * carbon], ['work', 45, 45], ['travel', 20, 20]]); // oxfmt-ignore
    expect(b.total).toBe(6 + 2 * carbon + 65);
    expect(b.unpriced).toBe(false);
  });
  test('names what really went in, by the label of that day and none before', () => {
    const part = { ...partOf(shelf, 'element', 'element-190'), price: 41 };
    const old = fact(-400 * 1440, { kind: 'fitted', design: id(3), component: 'membrane', part: partOf(shelf, 'element', 'element-285'), serial: 'E-1/4' }); // oxfmt-ignore
    const now = fact(40, { kind: 'fitted', design: id(3), component: 'membrane', part, serial: 'E-9/2' });
    const b = bill(visitOf('membrane'), [old, now]);
    expect(b.lines[0]).toMatchObject({ what: `${part.name}, E-9/2`, each: 41 });
    expect(bill(visitOf('membrane'), [old]).lines[0]?.what).toBe('Element 285');
  });
  test('what is cleaned is no part, no time is no line, and without a price it says so', () => {
    expect(bill(visitOf('vented'), [], 60, 0, 0).lines).toEqual([]);
    const free = bill(visitOf('sediment'), [], 0);
    expect(free.lines.filter((l) => l.of !== 'part').map((l) => l.sum)).toEqual([null, null]);
    expect([free.total, free.unpriced]).toEqual([6, true]);
  });
  test('the time it takes by its run sheet is what hands do', () => {
    const step = { phase: 'Change' as const, detail: '', wets: [], of: [] };
    const sheet = [
      { ...step, key: 'change:x:a', kind: 'do' as const, title: 'a', minutes: 12 },
      { ...step, key: 'change:x:b', kind: 'wait' as const, title: 'b', minutes: 300 },
      { ...step, key: 'change:x:c', kind: 'look' as const, title: 'c', minutes: 6 },
    ];
    const change = fact(0, { kind: 'change', design: id(3), reason: 'Change', components: ['carbon'], sheet });
    const visit = fact(60, { kind: 'visit', reason: 'Change', changed: ['carbon'], change: change.id });
    expect(handsMinutes(visit, readJob([change]))).toBe(20);
    expect(handsMinutes(visitOf('carbon'), readJob([change]))).toBeNull();
  });
});
