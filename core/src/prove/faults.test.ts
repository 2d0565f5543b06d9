import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf, systemOf } from '../testing/fixtures.ts';
import { decide, plainReadings, PROOF_KEYS, prove, rankFaults, siteFrom, type ProofReadings } from '../index.ts';

const found = siteFrom(house, rules);
if (!found.ok) throw new Error('the house is known');
const { site } = found;
const d = decide({ known: house, catalogue: shelf, rules });
if (d.kind !== 'recommendation') throw new Error(d.sentence);
const { design } = d.chosen;
const system = systemOf(design, site);
const rank = (r: ProofReadings) => rankFaults(r, system, site, rules.meterError);

/** What a healthy system shows, from the model itself. */
const base: ProofReadings = {
  feedTdsMgL: 320,
  productTdsMgL: 10,
  temperatureC: 12,
  membranePressureBar: 3.7,
  productFlowLMin: 0.08,
  concentrateFlowLMin: 0.15,
};
const right = rank(base).find((f) => f.code === 'none')?.predicted ?? {};
const healthy: ProofReadings = {
  ...base,
  productTdsMgL: right.productTdsMgL ?? 0,
  productFlowLMin: right.productFlowLMin ?? 0,
  concentrateFlowLMin: right.concentrateFlowLMin ?? 0,
  membranePressureBar: right.membranePressureBar ?? 0,
  drainWhenFullLMin: 0,
  tankAirBar: right.tankAirBar ?? 0,
  tankEmptiedL: right.tankEmptiedL ?? 0,
  chlorineMgL: 0.02,
};
const flow = healthy.productFlowLMin ?? 0;
const tds = healthy.productTdsMgL ?? 0;
const drain = healthy.concentrateFlowLMin ?? 0;

describe('faults, each simulated and compared with all readings', () => {
  test('a healthy system is healthy, and the likelihoods make one', () => {
    const ranked = rank(healthy);
    expect(ranked[0]?.code).toBe('none');
    expect(ranked.reduce((s, f) => s + f.likelihood, 0)).toBeCloseTo(1, 9);
  });
  test.each([
    ['torn', { productTdsMgL: 8 * tds, productFlowLMin: 1.5 * flow }, ['torn', 'bypass']],
    ['scaled', { productTdsMgL: 2.2 * tds, productFlowLMin: 0.45 * flow }, ['scaled']],
    ['a blocked restrictor', { concentrateFlowLMin: 0.2 * drain, productTdsMgL: 1.6 * tds }, ['restrictor-blocked']],
    ['an open restrictor', { concentrateFlowLMin: 3 * drain }, ['restrictor-open']],
    [
      'clogged pre-filters',
      { membranePressureBar: 2, productFlowLMin: 0.5 * flow, concentrateFlowLMin: 0.54 * drain },
      ['pre-filter-clogged'],
    ],
    ['a shut-off that does not close', { drainWhenFullLMin: drain }, ['shut-off']],
    ['a leaking non-return valve', { drainWhenFullLMin: 0.02 }, ['non-return']],
    ['lost air', { tankAirBar: 0.1, tankEmptiedL: 0.4 * (healthy.tankEmptiedL ?? 0) }, ['air-charge']],
    ['crossed tubes', { productFlowLMin: drain, concentrateFlowLMin: flow, productTdsMgL: 470 }, ['crossed']],
    ['a hot feed', { temperatureC: 45 }, ['hot-feed']],
    ['spent carbon', { chlorineMgL: 0.5 }, ['carbon-spent']],
  ] as const)('%s comes first', (_, change, codes) => {
    const ranked = rank({ ...healthy, ...change });
    expect(codes as readonly string[]).toContain(ranked[0]?.code);
    expect(ranked[0]?.likelihood).toBeGreaterThan(0.4);
    expect(ranked[0]?.check.length).toBeGreaterThan(15);
  });
  test('without the needed readings nothing is guessed', () => {
    expect(rank({ feedTdsMgL: 320 })).toEqual([]);
  });
  test('the verdict gives flow and passage at the rating’s own conditions', () => {
    const r = prove(healthy, system, site, rules.meterError);
    if (!r.ok) throw new Error('incomplete');
    const rating = shelf.find((p) => p.id === design.elementId);
    if (rating?.kind !== 'element') throw new Error('no element');
    expect(r.verdict.normalisedFlowLDay / rating.rating.permeateLDay).toBeCloseTo(r.verdict.flowAgainstNew, 9);
    expect(r.verdict.normalisedPassage / (1 - rating.rating.rejection)).toBeCloseTo(r.verdict.passageAgainstNew, 9);
  });
  test('every reading of a proof can be kept and read back plainly', () => {
    const kept = Object.fromEntries(PROOF_KEYS.map((k) => [k, { value: healthy[k] ?? 0 }]));
    expect(plainReadings(kept)).toEqual(healthy);
  });
});
