import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../testing/fixtures.ts';
import { decide, nextReading, siteFrom, studyDesign, weightOf, type FlipPoint, type Known } from '../index.ts';

const ask = (known: Known) => {
  const input = { known, catalogue: shelf, rules };
  const d = decide(input);
  const study = d.kind === 'recommendation' ? studyDesign(input, d.chosen.design, d.contenders) : null;
  return { d, study, next: nextReading(d, study, (f) => known[f] !== undefined) };
};
const flip = (change: Partial<FlipPoint>): FlipPoint => ({
  field: 'hardnessMgL', label: 'hardness', unit: 'mg/L', reading: 150, error: 40, assumed: true, min: 0, max: 700,
  holdsFrom: null, holdsTo: 170, below: null, above: 'scale', sentence: 'holds up to 170 mg/L; assumed 150 ± 40', near: true, ...change,
}); // prettier-ignore

describe('the next reading', () => {
  test('is what nothing can be sized without, in the order it is taken', () => {
    expect(ask({}).next).toMatchObject({ kind: 'needed', field: 'source' });
    expect(ask({ source: 'mains' }).next).toMatchObject({ kind: 'needed', field: 'feedTdsMgL' });
  });
  test('is an assumed figure that could turn the decision before one that was read', () => {
    const { d } = ask(house);
    const flips = [flip({ field: 'coldestC', assumed: false }), flip({})];
    expect(nextReading(d, { flips }, () => true)).toMatchObject({ kind: 'decides', field: 'hardnessMgL' });
    expect(nextReading(d, { flips: flips.slice(0, 1) }, () => true)).toMatchObject({
      kind: 'again',
      field: 'coldestC',
    });
  });
  test('is asked of every house when no figure decides, and then the decision is settled', () => {
    const { d } = ask(house);
    const far = { flips: [flip({ near: false })] };
    expect(nextReading(d, far, (f) => f !== 'coldLine')).toMatchObject({ kind: 'asked', field: 'coldLine' });
    expect(nextReading(d, far, () => true).kind).toBe('settled');
  });
  test('a house as it is on paper comes to an end: each reading taken, another named, at last none', () => {
    const known: Known = { source: 'mains', feedTdsMgL: 320, temperatureC: 14, staticPressureBar: 4, people: 3 };
    const named: string[] = [];
    for (let i = 0; i < 14; i++) {
      const { next } = ask(known);
      if (next.kind === 'settled' || next.kind === 'again') break;
      named.push(next.field);
      known[next.field] = house[next.field] ?? 'yes';
    }
    expect(new Set(named).size).toBe(named.length);
    expect(named.length).toBeGreaterThan(2);
    expect(named.length).toBeLessThan(14);
  });
  test('a referral has nothing to read but what it says', () => {
    const { d } = ask({ ...house, source: 'well', laboratory: 'none' });
    expect(nextReading(d, null, () => true)).toMatchObject({
      kind: 'settled',
      why: expect.stringContaining('referred'),
    });
  });
});

describe('the weight of what is assumed', () => {
  const r = siteFrom({ source: 'mains', feedTdsMgL: 320, temperatureC: 14, staticPressureBar: 4, people: 3 }, rules);
  const hardness = r.assumed.find((a) => a.field === 'hardnessMgL');
  if (!hardness) throw new Error('hardness was not assumed');
  test('says that it decides, between which values it does not, or that it does not matter', () => {
    expect(weightOf(hardness, [flip({})])).toEqual({
      words: 'it decides: measure it',
      decides: true,
    });
    expect(weightOf(hardness, [flip({ near: false })])?.words).toBe('the design stays below 170 mg/L');
    expect(weightOf(hardness, [flip({ near: false, holdsTo: null })])?.words).toMatch(/whatever it is/);
    expect(weightOf(hardness, null)).toBeNull();
  });
});
