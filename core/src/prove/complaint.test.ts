import { describe, expect, test } from '@jest/globals';
import { house, rules, systemOf, usual } from '../testing/fixtures.ts';
import {
  callTold,
  COMPLAINT_KEYS,
  FactSchema,
  openCalls,
  readJob,
  siteFrom,
  summarise,
  type Complaint,
  type Fact,
  type NewFact,
} from '../index.ts';

const found = siteFrom(house, rules);
if (!found.ok) throw new Error('the house is known');
const { site } = found;
const system = systemOf(usual, site);
const told = (of: Complaint, days?: number) => callTold(system, site, of, days);
const codes = (of: Complaint, days?: number): string[] => told(of, days).mayBe.map((m) => m.code);
const share = (of: Complaint, code: string, days?: number): number =>
  told(of, days).mayBe.find((m) => m.code === code)?.likelihood ?? 0;

describe('what a call may come from', () => {
  test('makes one of all, the likeliest first, and says what to ask for each', () => {
    for (const of of COMPLAINT_KEYS) {
      const { mayBe, ask } = told(of, 800);
      expect(ask.length).toBeGreaterThan(0);
      if (mayBe.length === 0) continue;
      expect(mayBe.reduce((s, m) => s + m.likelihood, 0)).toBeCloseTo(1, 9);
      expect(mayBe.map((m) => m.likelihood)).toEqual(mayBe.map((m) => m.likelihood).sort((a, b) => b - a));
      for (const m of mayBe) for (const c of m.brings) expect(c.part).not.toBeNull();
    }
  });
  test('is what the house would notice so: a drain that runs on is no clogged filter, a slow tap no leaking valve', () => {
    expect(codes('drain-runs', 800)).toEqual(expect.arrayContaining(['shut-off', 'non-return']));
    expect(codes('drain-runs', 800)).not.toContain('pre-filter-clogged');
    expect(codes('slow', 800)).toContain('pre-filter-clogged');
    expect(codes('slow', 800)).not.toContain('non-return');
    expect(codes('tastes', 800)).toEqual(expect.arrayContaining(['torn', 'carbon-spent', 'bypass']));
  });
  test('weighs by age: new work fails by what was done, old work by wear', () => {
    expect(share('slow', 'half-shut', 3)).toBeGreaterThan(3 * share('slow', 'half-shut', 800));
    expect(share('slow', 'pre-filter-clogged', 800)).toBeGreaterThan(3 * share('slow', 'pre-filter-clogged', 3));
    expect(codes('slow', 800)[0]).toBe('pre-filter-clogged');
  });
  test('brings the part it lies in; no model tells what is heard or where it drips', () => {
    const clogged = told('slow', 800).mayBe.find((m) => m.code === 'pre-filter-clogged');
    expect(clogged?.brings.map((c) => c.kind)).toEqual(['sediment']);
    expect(told('leak').mayBe).toEqual([]);
    expect(told('leak').now.join(' ')).toMatch(/Shut .* valve.*plugs/);
  });
});

describe('a call on record', () => {
  const T0 = Date.parse('2026-03-02T08:00:00.000Z');
  let n = 0;
  const fact = (atMs: number, f: NewFact): Fact =>
    FactSchema.parse({ v: 2, ...f, id: `5f0c4b1e-3333-4333-a333-${String(++n).padStart(12, '0')}`, jobId: '5f0c4b1e-1111-4111-a111-000000000001', by: '5f0c4b1e-2222-4222-a222-000000000002', at: new Date(T0 + atMs).toISOString() });
  const call = fact(1000, { kind: 'call', complaint: 'slow', words: 'a thread of water since Monday' });
  test('is open until a proof is read after it', () => {
    const earlier = fact(0, { kind: 'proof', readings: {} });
    expect(openCalls(readJob([earlier, call])).map((c) => c.id)).toEqual([call.id]);
    expect(openCalls(readJob([earlier, call, fact(2000, { kind: 'proof', readings: {} })]))).toEqual([]);
    expect(openCalls(readJob([call, fact(2000, { kind: 'taken-back', corrects: call.id, reason: 'wrong house' })]))).toEqual([]);
    expect(summarise([call], [], [], rules, T0).lens).toBe('gauge');
  });
}); // oxfmt-ignore
