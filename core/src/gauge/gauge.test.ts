import { describe, expect, test } from '@jest/globals';
import { house, rules } from '../testing/fixtures.ts';
import { doubtsOf, fieldAccepts, siteFrom, type Known } from '../index.ts';

const codes = (known: Known): string[] => doubtsOf(known).map((d) => d.code);

describe('doubts', () => {
  test('an ordinary house raises none', () => {
    expect(codes(house)).toEqual([]);
  });
  test.each([
    ['hardness-above-tds', { hardnessMgL: 400 }],
    ['hardness-units', { hardnessMgL: 12 }],
    ['coldest-above-today', { coldestC: 18 }],
    ['warm-feed', { temperatureC: 33 }],
    ['running-above-static', { runningPressureBar: 4.4 }],
    ['static-high', { staticPressureBar: 8.5, highestPressureBar: 9 }],
    ['night-below-static', { highestPressureBar: 3 }],
    ['litres-per-person', { litresADay: 60 }],
    ['chloramine', { disinfectant: 'chloramine' }],
    ['chlorine-without-agent', { disinfectant: 'none' }],
    ['cold-not-told', { coldLine: 'no' }],
    ['stop-valve', { stopValveHolds: 'no' }],
    ['socket-switched', { socket: 'switched' }],
    ['private-without-laboratory', { source: 'well', laboratory: 'none' }],
    ['softened-but-hard', { source: 'softened-mains' }],
    ['mains-without-chlorine', { chlorineMgL: 0 }],
    ['iron', { ironMgL: 0.5 }],
    ['switch-order', { switchLowBar: 3, switchHighBar: 2 }],
    ['tds-very-low', { feedTdsMgL: 12, hardnessMgL: 5 }],
  ] as const)('%s is raised at its field', (code, change) => {
    const found = doubtsOf({ ...house, ...change }).find((d) => d.code === code);
    expect(found?.text.length).toBeGreaterThan(20);
    expect(found?.fields.some((f) => f in change)).toBe(true);
  });
  test('a running pressure without its flow is a doubt: no source resistance follows', () => {
    const noFlow = { ...house };
    delete noFlow.runningFlowLMin;
    expect(codes(noFlow)).toContain('flow-missing');
  });
  test('hot feed is a safety matter above 38 C and a doubt below', () => {
    const weight = (t: number): string | undefined =>
      doubtsOf({ ...house, temperatureC: t }).find((d) => d.code === 'warm-feed')?.weight;
    expect([weight(30), weight(31), weight(38), weight(38.1)]).toEqual([undefined, 'doubt', 'doubt', 'safety']);
  });
});

describe('the house that follows', () => {
  test('names what cannot be assumed', () => {
    const r = siteFrom({}, rules);
    expect(r.ok ? [] : r.missing).toEqual(['source', 'feedTdsMgL', 'temperatureC', 'staticPressureBar', 'people']);
  });
  test('assumes the rest in the open, each with its reason', () => {
    const r = siteFrom({ source: 'mains', feedTdsMgL: 300, temperatureC: 12, staticPressureBar: 3, people: 2 }, rules);
    if (!r.ok) throw new Error('should do');
    expect(r.assumed.map((a) => a.field)).toEqual(
      expect.arrayContaining(['hardnessMgL', 'coldestC', 'runningPressureBar', 'litresADay', 'socket']),
    );
    expect(r.assumed.every((a) => a.why.length > 5)).toBe(true);
    expect(r.site.coldestC).toBe(7);
    expect(r.site.litresADay).toBe(2 * rules.litresPerPersonDay);
    expect(r.site.socket).toBe('no');
  });
  test('a reading is never overruled by an assumption', () => {
    const r = siteFrom(house, rules);
    expect(r.ok && r.assumed).toEqual([]);
  });
  test('static and running pressure with their flow give the source’s resistance', () => {
    const r = siteFrom(house, rules);
    expect(r.ok && r.site.resistance).toBeCloseTo(0.5 / 64, 9);
  });
  test('on a well the switch settings are the pressures, the low one the worst', () => {
    const r = siteFrom(
      {
        source: 'well',
        laboratory: 'clean',
        feedTdsMgL: 300,
        temperatureC: 10,
        switchLowBar: 1.8,
        switchHighBar: 3.2,
        people: 3,
      },
      rules,
    );
    expect(r.ok && [r.site.worstBar, r.site.staticBar, r.site.highestBar]).toEqual([1.8, 3.2, 3.2]);
  });
  test('fields take what they can hold and nothing else', () => {
    expect(fieldAccepts('source', 'mains')).toBe(true);
    expect(fieldAccepts('source', 'toString')).toBe(false);
    expect(fieldAccepts('source', 3)).toBe(false);
    expect(fieldAccepts('staticPressureBar', 25)).toBe(true);
    expect(fieldAccepts('staticPressureBar', 25.1)).toBe(false);
    expect(fieldAccepts('staticPressureBar', Number.NaN)).toBe(false);
  });
});
