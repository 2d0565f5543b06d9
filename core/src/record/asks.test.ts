import { describe, expect, test } from '@jest/globals';
import {
  FactSchema,
  sampleProblem,
  samplesOf,
  readJob,
  uncleanSamples,
  uncleanWords,
  type Fact,
  type Sought,
} from '../index.ts';
import { house } from '../testing/fixtures.ts';
import { lived } from '../testing/lived.ts';

const T0 = Date.parse('2026-03-02T08:00:00.000Z');
const DAY = 86_400_000;
/** day of each ask, by what it is */
const asked = (s: {
  readonly asks: readonly { readonly of: string; readonly from: string }[];
}): Record<string, number> =>
  Object.fromEntries(s.asks.map((a) => [a.of, Math.round((Date.parse(a.from) - T0) / DAY)]));

describe('what a house waits for beside its lives', () => {
  const { fact, flushed, proof, at, version } = lived(house, T0);
  test('the looks of the first week and the baseline, once; whoever was there since has looked', () => {
    const first = [...flushed, proof(1)];
    expect(asked(at(first, 2))).toEqual({ 'first-looks': 8, baseline: 8 });
    expect(at(first, 9)).toMatchObject({
      lens: 'prove',
      next: expect.stringMatching(/^Read the baseline.*Look at its joints/) as unknown,
    });
    const look = fact(8, { kind: 'look', design: version.id, round: 'look-first-week', joint: 'a:in', result: 'dry' });
    expect(asked(at([...first, look], 9))).toEqual({ baseline: 8 });
    const visit = fact(5, { kind: 'visit', reason: 'Look', changed: [] });
    expect(asked(at([...first, visit], 9))).toEqual({ baseline: 8 });
    expect(asked(at([...first, proof(8)], 9))).toEqual({});
    // nor is what somebody else put in looked at as if it were new
    const adopted = [fact(0, { kind: 'happened', event: 'adopted', words: '' }), proof(1)];
    expect(asked(at(adopted, 9))).toEqual({ baseline: 8 });
    // one that is only planned has looked at nothing
    const planned = fact(5, {
      kind: 'visit',
      reason: 'Look',
      changed: [],
      toChange: [],
      on: new Date(T0 + 8 * DAY).toISOString(),
    });
    expect(asked(at([...first, planned], 9))).toEqual({ 'first-looks': 8, baseline: 8 });
  });
  test('a membrane whose readings go towards a limit is read before it is met; a steady one is not', () => {
    const read = (passage: (years: number) => number): Fact[] =>
      [1, 9, 180, 360, 540].map((d) => proof(d, { flowAgainstNew: 1, passageAgainstNew: passage(d / 365.25) }));
    expect(asked(at([...flushed, ...read(() => 1.05)], 541))).toEqual({});
    const drifts = at([...flushed, ...read((y) => 1.02 * Math.exp(0.45 * y))], 541);
    const { drift } = asked(drifts);
    // 2.5 times is met after two years; its band begins before, and it is not read again at once
    expect(drift).toBeGreaterThanOrEqual(630);
    expect(drift).toBeLessThan(730);
    expect(drifts.asks[0]?.words).toMatch(
      /salt passage meets 2.5 times a new element’s about (January|February|March|April) 2028/,
    );
    // another element begins anew
    const membrane = version.system.components.find((c) => c.kind === 'membrane')?.id ?? '';
    const renewed = fact(545, { kind: 'visit', reason: 'New membrane', changed: [membrane] });
    expect(
      asked(at([...flushed, ...read((y) => 1.02 * Math.exp(0.45 * y)), renewed, proof(546), proof(554)], 560)),
    ).toEqual({});
  });
  test('a sample is waited for until it is answered, and asked after by its time', () => {
    const sampled = fact(30, { kind: 'sampled', water: 'raw', sought: 'minerals', words: 'No. 12' });
    const before = [...flushed, proof(1), proof(9), sampled];
    expect(asked(at(before, 31))).toEqual({ laboratory: 44 });
    expect(at(before, 40).next).toBe('Nothing due.');
    expect(at(before, 45)).toMatchObject({ lens: 'keep', next: 'Ask the laboratory: its answer has not come.' });
    // two that have not come are said once
    const second = fact(30, { kind: 'sampled', water: 'product', sought: 'minerals', words: '' });
    expect(at([...before, second], 45).next).toBe('Ask the laboratory: its answer has not come.');
    const answer = (finding: 'clean' | 'not-clean', days = 46) =>
      fact(days, { kind: 'answered', sample: sampled.id, finding, words: 'Lead 31 µg/L' });
    expect(asked(at([...before, answer('clean')], 47))).toEqual({});
    const bad = [...before, answer('not-clean')];
    expect(at(bad, 47).next).toBe('The laboratory found it not clean: lead, nitrate, minerals in the raw water.');
    // one of the other water says nothing of it; a later clean one of the same closes it
    const other = (water: 'raw' | 'product', days: number): Fact[] => {
      const s = fact(days, { kind: 'sampled', water, sought: 'minerals', words: '' });
      return [s, fact(days + 5, { kind: 'answered', sample: s.id, finding: 'clean', words: '' })];
    };
    expect(at([...bad, ...other('product', 50)], 60).next).toMatch(/not clean/);
    expect(at([...bad, ...other('raw', 50)], 60).next).toBe('Nothing due.');
    // what is taken back is not waited for
    const back = fact(32, { kind: 'taken-back', corrects: sampled.id, reason: '' });
    expect(asked(at([...before, back], 47))).toEqual({});
  });
  test('a job without a design waits for its laboratory too', () => {
    const sampled = fact(-5, { kind: 'sampled', water: 'raw', sought: 'microbes', words: '' });
    expect(asked(lived(house, T0).at([sampled], 0)).laboratory).toBe(2);
  });
});

test('a lamp is sampled when it is new and once a year; the step that takes it is waited for like any sample', () => {
  const well = {
    ...house,
    source: 'well',
    aim: 'microbes',
    laboratory: 'unsafe',
    disinfectant: 'none',
    chlorineMgL: 0,
    ironMgL: 0.05,
    manganeseMgL: 0.01,
    turbidityNTU: 0.3,
    switchLowBar: 3,
    switchHighBar: 4.4,
    hardnessMgL: 60,
  };
  const { version, fact, flushed, proof, at } = lived(well, T0);
  const lamp = version.system.components.find((c) => c.kind === 'lamp')?.id ?? '';
  expect(lamp).not.toBe('');
  const step = flushed.find((f) => f.kind === 'tick' && f.step.endsWith('lamp-sample'));
  const facts = [...flushed, proof(1), proof(9)];
  expect(asked(at(facts, 10))).toEqual({ laboratory: 7, 'lamp-sample': 365 });
  const answered = fact(6, { kind: 'answered', sample: step?.id ?? '', finding: 'clean', words: 'None in 100 mL' });
  expect(asked(at([...facts, answered], 10))).toEqual({ 'lamp-sample': 365 });
  // what it found stands, whatever is approved meanwhile
  const bad = fact(6, { kind: 'answered', sample: step?.id ?? '', finding: 'not-clean', words: 'E. coli' });
  const second = { ...version, id: '00000000-0000-4000-8000-000000000009', number: 2 };
  expect(uncleanSamples(readJob([...facts, bad], second))).toHaveLength(1);
  expect(
    uncleanSamples(
      readJob([...facts, bad, fact(7, { kind: 'tick', design: version.id, step: 'lamp-sample', done: false })]),
    ),
  ).toEqual([]);
  // a new lamp wants its own sample, on its day
  const renewed = [...facts, answered, fact(300, { kind: 'visit', reason: 'Lamp', changed: [lamp] })];
  expect(asked(at(renewed, 301))).toEqual({ 'lamp-sample': 300 });
  const sampled = fact(300, { kind: 'sampled', water: 'product', sought: 'microbes', words: '' });
  expect(asked(at([...renewed, sampled], 301))).toEqual({ laboratory: 307, 'lamp-sample': 665 });
  // whose answer never came is not asked after once a later one has
  expect(
    asked(
      at([...renewed, sampled, fact(306, { kind: 'answered', sample: sampled.id, finding: 'clean', words: '' })], 310),
    ),
  ).toEqual({ 'lamp-sample': 665 });
});

describe('a sample', () => {
  const { version, fact } = lived(house, T0);
  test('is of the day it was taken on, and never of one to come', () => {
    const f = fact(10, {
      kind: 'sampled',
      water: 'product',
      sought: 'organics',
      words: '',
      on: new Date(T0 + 8 * DAY).toISOString(),
    });
    const [s] = samplesOf(readJob([FactSchema.parse(f)]));
    expect([s?.atMs, s?.dueMs]).toEqual([T0 + 8 * DAY, T0 + 29 * DAY]);
    expect([sampleProblem(T0 + DAY, T0), sampleProblem(T0, T0), sampleProblem(NaN, T0)].map((p) => p === null)).toEqual(
      [false, true, false],
    );
  });
  test('that is not clean says what is drunk meanwhile, and never that a water is safe', () => {
    const said = (water: 'raw' | 'product', sought: Sought) =>
      uncleanWords({ water, sought }, version.system).join(' ');
    expect(said('product', 'microbes')).toMatch(/boil.*sampled again a week later/);
    expect(said('raw', 'microbes')).toMatch(/Nothing here disinfects/);
    for (const sought of ['minerals', 'organics'] as const) {
      expect(said('raw', sought)).toMatch(/bottled water.*Boiling makes it worse.*Gauge/);
      expect(said('product', sought)).toMatch(/not drunk.*proved anew/);
    }
    for (const water of ['raw', 'product'] as const)
      for (const sought of ['microbes', 'minerals', 'organics'] as const)
        expect(said(water, sought)).not.toMatch(/\bsafe\b/);
  });
});
