import { describe, expect, test } from '@jest/globals';
import { house, rules } from '../testing/fixtures.ts';
import {
  choicesIn,
  choicesTogether,
  choiceWords,
  doubtsOf,
  fieldAccepts,
  GAUGE_FIELDS,
  holdsApproval,
  readJob,
  siteFrom,
  soilWater,
  type Fact,
  type Known,
} from '../index.ts';

const codes = (known: Known): string[] => doubtsOf(known).map((d) => d.code);

describe('doubts', () => {
  test('an ordinary house raises none', () => {
    expect(codes(house)).toEqual([]);
  });
  test.each([
    ['hardness-above-tds', { hardnessMgL: 400 }],
    ['hardness-units', { hardnessMgL: 12 }],
    ['coldest-above-today', { coldestC: 18 }],
    ['warmest-below-today', { warmestC: 12 }],
    ['people-in-parts', { people: 4.5 }],
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
    ['pressure-beyond-pipework', { highestPressureBar: 10.5 }],
    ['pressure-beyond-pipework', { staticPressureBar: 11, highestPressureBar: 10.5 }],
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
  test('a pressure beyond what house pipes bear holds the approval back, one at their limit does not', () => {
    const at = (highestPressureBar: number) =>
      doubtsOf({ ...house, highestPressureBar }).find((d) => d.code === 'pressure-beyond-pipework');
    expect(at(10)).toBeUndefined();
    const d = at(10.1);
    expect(d && holdsApproval(d)).toBe(true);
    expect(d?.text).toMatch(/10.1 bar .* reducing valve at the entry/);
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
    // what they wish for was not asked; everything else was read
    expect(r.ok && r.assumed.map((a) => a.field)).toEqual([
      'patience',
      'aim',
      'storeWish',
      'mineralsWanted',
      'caresMost',
    ]);
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

describe('the coldest water where nobody knows it', () => {
  const at = (change: Known) => siteFrom({ source: 'mains', feedTdsMgL: 320, temperatureC: 14, staticPressureBar: 4, people: 3, ...change }, rules); // oxfmt-ignore
  test('follows the soil: the air’s mean and three degrees, with half its swing', () => {
    expect(soilWater(0, 20)).toEqual({ coldestC: 8, warmestC: 18 });
    expect(soilWater(-20, 10)).toEqual({ coldestC: 1, warmestC: 5.5 });
    expect([soilWater(undefined, 20), soilWater(20, 0)]).toEqual([null, null]);
    const r = at({ airColdestC: -2, airWarmestC: 16 });
    expect(r.ok && [r.site.coldestC, r.site.warmestC]).toEqual([5.5, 14.5]);
    expect(r.assumed.find((a) => a.field === 'coldestC')?.why).toMatch(/estimated from the air/);
  });
  test('a reading wins over it', () => {
    const r = at({ airColdestC: -2, airWarmestC: 16, coldestC: 4 });
    expect(r.ok && r.site.coldestC).toBe(4);
  });
});

describe('several readings of one kind', () => {
  const ids = ['5f0c4b1e-3333-4333-a333-0000000000a1', '5f0c4b1e-3333-4333-a333-0000000000a2', '5f0c4b1e-3333-4333-a333-0000000000a3'] as const; // oxfmt-ignore
  const common = { v: 2, jobId: '5f0c4b1e-1111-4111-a111-000000000001', by: '5f0c4b1e-2222-4222-a222-000000000002' } as const; // oxfmt-ignore
  const at = (minute: number): string => `2026-05-01T08:${String(minute).padStart(2, '0')}:00.000Z`;
  const reading = (i: 0 | 1, value: number, place: string): Fact => ({ ...common, id: ids[i], at: at(i), kind: 'reading', field: 'staticPressureBar', value, typed: `${String(value)} bar`, place }); // oxfmt-ignore
  const use = (i: 0 | 1 | null, minute: number): Fact => ({ ...common, id: `5f0c4b1e-3333-4333-a333-0000000000b${String(minute)}`, at: at(minute), kind: 'use', field: 'staticPressureBar', reading: i === null ? null : ids[i], reason: 'the tap next to it was open' }); // oxfmt-ignore
  const both = [reading(0, 3.2, 'kitchen tap'), reading(1, 4, 'garden tap')];
  test('the newest is in use until one is chosen, and all are kept', () => {
    expect(readJob(both).known.staticPressureBar).toBe(4);
    const chosen = readJob([...both, use(0, 5)]);
    expect(chosen.known.staticPressureBar).toBe(3.2);
    expect(chosen.taken.staticPressureBar).toHaveLength(2);
    expect(chosen.uses.staticPressureBar?.reason).toBe('the tap next to it was open');
    expect(readJob([...both, use(0, 5), use(null, 6)]).known.staticPressureBar).toBe(4);
  });
  test('a chosen one that is corrected gives way', () => {
    const corrected: Fact = { ...reading(0, 3.3, 'kitchen tap'), id: ids[2], at: at(9), corrects: ids[0] };
    expect(readJob([...both, use(0, 5), corrected]).known.staticPressureBar).toBe(3.3);
  });
  test('a doubt is set aside with its reason, and raised again', () => {
    const dismiss = (reason: string, minute: number): Fact => ({ ...common, id: `5f0c4b1e-3333-4333-a333-0000000000c${String(minute)}`, at: at(minute), kind: 'dismiss', doubt: 'tds-very-low', reason }); // oxfmt-ignore
    expect(readJob([dismiss('rain fed', 1)]).dismissed['tds-very-low']?.reason).toBe('rain fed');
    expect(readJob([dismiss('rain fed', 1), dismiss('', 2)]).dismissed['tds-very-low']).toBeUndefined();
  });
});

describe('a question with several answers', () => {
  const { worry, socket } = GAUGE_FIELDS;
  test('holds them in the field’s own order, or the one that stands alone', () => {
    expect(choicesTogether(worry, ['nitrate', 'lead'])).toBe('lead,nitrate');
    expect(choicesTogether(worry, ['none', 'lead'])).toBe('lead');
    expect(choicesTogether(worry, [])).toBe('none');
    expect(choicesIn('lead,nitrate')).toEqual(['lead', 'nitrate']);
    expect(choiceWords(worry, 'lead,pfas')).toBe('lead, PFAS');
    expect(choiceWords(socket, 'yes')).toBe(socket.options.yes);
  });
  test('accepts nothing else', () => {
    for (const good of ['none', 'lead', 'lead,nitrate', 'lead,arsenic,nitrate,fluoride,pfas,microbes'])
      expect([good, fieldAccepts('worry', good)]).toEqual([good, true]);
    for (const bad of ['', 'nitrate,lead', 'none,lead', 'lead,lead', 'lead,', 'lead,gold', 'constructor'])
      expect([bad, fieldAccepts('worry', bad)]).toEqual([bad, false]);
    expect(fieldAccepts('socket', 'yes,no')).toBe(false);
  });
});
