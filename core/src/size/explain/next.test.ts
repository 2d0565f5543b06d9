import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../../testing/fixtures.ts';
import { remembered } from '../../testing/remembered.ts';
import {
  decide,
  nextReading,
  sameDesign,
  siteFrom,
  studyDesign,
  turnsOf,
  weightOf,
  type Turns,
  type FlipPoint,
  type Known,
} from '../../index.ts';
import { decided } from '../../testing/decided.ts';

const ask = remembered((known: Known) => {
  const input = { known, catalogue: shelf, rules };
  const d = decided(input);
  const sized = d.kind === 'recommendation';
  const study = sized ? studyDesign(input, d.chosen.design, d.contenders) : null;
  const turns = sized ? turnsOf(input, d.chosen.design, d.contenders, d.risk) : null;
  return { d, study, next: nextReading(d, study, turns, (f) => known[f] !== undefined) };
});
const flip = (change: Partial<FlipPoint>): FlipPoint => ({
  field: 'hardnessMgL', label: 'hardness', unit: 'mg/L', reading: 150, error: 40, assumed: true, min: 0, max: 700,
  holdsFrom: null, holdsTo: 170, below: null, above: 'scale', sentence: 'holds up to 170 mg/L; assumed 150 ± 40', near: true, ...change,
}); // oxfmt-ignore

const NONE: Turns = { looked: [], turns: [] };

describe('the next reading', () => {
  test('is what nothing can be sized without, in the order it is taken', () => {
    expect(ask({}).next).toMatchObject({ kind: 'needed', field: 'source' });
    expect(ask({ source: 'mains' }).next).toMatchObject({ kind: 'needed', field: 'feedTdsMgL' });
  });
  test('is an assumed figure that could turn the decision before one that was read', () => {
    const { d } = ask(house);
    const flips = [flip({ field: 'coldestC', assumed: false }), flip({})];
    expect(nextReading(d, { flips }, NONE, () => true)).toMatchObject({ kind: 'decides', field: 'hardnessMgL' });
    expect(nextReading(d, { flips: flips.slice(0, 1) }, NONE, () => true)).toMatchObject({
      kind: 'again',
      field: 'coldestC',
    });
  });
  test('is not known while what would turn the decision is not', () => {
    const { d } = ask(house);
    expect(nextReading(d, null, NONE, () => true)).toBeNull();
    expect(nextReading(d, { flips: [] }, null, () => true)).toBeNull();
    expect(nextReading(d, { flips: [flip({})] }, null, () => true)).toMatchObject({ field: 'hardnessMgL' });
  });
  test('is a question nobody asked whose answer turns the parts, before a figure is read again', () => {
    const { d } = ask(house);
    const flips = [flip({ assumed: false, field: 'coldestC' })];
    const turns: Turns = {
      looked: ['socket'],
      turns: [{ field: 'socket', answer: 'none', becomes: 'booster pump: none' }],
    };
    expect(nextReading(d, { flips }, turns, () => false)).toEqual({
      kind: 'decides',
      field: 'socket',
      why: 'It decides. If "none": booster pump: none.',
    });
    expect(nextReading(d, { flips }, turns, () => true)).toMatchObject({ kind: 'again', field: 'coldestC' });
  });
  test('is asked of every house when no figure decides, and then the decision is settled', () => {
    const { d } = ask(house);
    const far = { flips: [flip({ near: false })] };
    expect(nextReading(d, far, NONE, (f) => f !== 'coldLine')).toMatchObject({ kind: 'asked', field: 'coldLine' });
    expect(nextReading(d, far, NONE, () => true)?.kind).toBe('settled');
  });
  test('a house as it is on paper comes to an end: each reading taken, another named, at last none', () => {
    const known: Known = { source: 'mains', feedTdsMgL: 320, temperatureC: 14, staticPressureBar: 4, people: 3 };
    const named: string[] = [];
    for (let i = 0; i < 24; i++) {
      const { next } = ask(known);
      if (!next || next.kind === 'settled' || next.kind === 'again') break;
      named.push(next.field);
      known[next.field] = house[next.field] ?? 'yes';
    }
    expect(new Set(named).size).toBe(named.length);
    expect(named.length).toBeGreaterThanOrEqual(2);
    expect(named.length).toBeLessThan(24);
  });
  test('a referral has nothing to read but what it says', () => {
    const { d } = ask({ ...house, source: 'well', laboratory: 'none' });
    expect(nextReading(d, null, null, () => true)).toMatchObject({
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
    expect(weightOf(hardness, [flip({})], NONE)).toEqual({
      words: 'it decides: measure it',
      decides: true,
    });
    const draw = { field: 'largestDrawL' as const, value: 4, why: 'a stock pot' };
    expect(weightOf(draw, [flip({ field: 'largestDrawL' })], NONE)?.words).toBe('it decides: ask');
    expect(weightOf(hardness, [flip({ near: false })], NONE)?.words).toBe('the design stays below 170 mg/L');
    expect(weightOf(hardness, [flip({ near: false, holdsTo: null })], NONE)?.words).toMatch(/whatever it is/);
    expect(weightOf(hardness, null, NONE)).toBeNull();
  });
});

describe('a question nobody asked', () => {
  const without = (...fields: (keyof Known)[]): Known =>
    Object.fromEntries(Object.entries(house).filter(([k]) => !fields.includes(k as keyof Known)));
  const turns = (known: Known, theirRules = rules) => {
    const input = { known, catalogue: shelf, rules: theirRules };
    const d = decided(input);
    if (d.kind !== 'recommendation') throw new Error(d.sentence);
    return { d, input, ...turnsOf(input, d.chosen.design, d.contenders, d.risk) };
  };
  test('is told with what each other answer would change, as deciding anew does', () => {
    const { d, input, turns: all } = turns(without('disinfectant'));
    const one = all.find((t) => t.field === 'disinfectant');
    expect(one?.answer).toBe('chloramine');
    expect(one?.becomes).toMatch(/carbon: Catalytic/);
    const other = decide({ ...input, known: { ...input.known, disinfectant: 'chloramine' } });
    if (other.kind !== 'recommendation') throw new Error(other.sentence);
    expect(sameDesign(other.chosen.design, d.chosen.design)).toBe(false);
    expect(all.filter((t) => t.field === 'disinfectant')).toHaveLength(1);
  });
  test.each([
    ['an ordinary house', {}],
    [
      'a crowded house with little pressure',
      { staticPressureBar: 2.2, runningPressureBar: 1.8, people: 6, litresADay: 16 },
    ],
  ])('turns the same beside what stood next in line as where all is decided anew: %s', (_, change) => {
    const { d, input, turns: beside, looked } = turns({ ...without('fridge', 'metalAfter', 'nitrateMgL', 'socket'), ...change }); // oxfmt-ignore
    expect({ turns: beside, looked }).toEqual(turnsOf(input, d.chosen.design));
    expect(beside.length).toBeGreaterThan(2);
  });
  test('whose answer changes nothing is looked at and not told', () => {
    const { looked, turns: all } = turns(without('socket', 'nitrateMgL'));
    expect(looked).toEqual(expect.arrayContaining(['socket', 'nitrateMgL']));
    expect(all.filter((t) => t.field === 'socket' || t.field === 'nitrateMgL')).toEqual([]);
  });
  test('decides where pressure is low: without a socket there is no pump', () => {
    const low = { ...without('socket'), staticPressureBar: 1.6, runningPressureBar: 1.2, highestPressureBar: 2 };
    const socket = turns(low).turns.find((t) => t.field === 'socket');
    expect(socket?.answer).toBe('yes, always on');
    expect(socket?.becomes).toMatch(/booster pump: Booster/);
  });
  test('may be all that stands between a refusal and a system', () => {
    const poor = {
      ...without('socket'),
      staticPressureBar: 1.2,
      runningPressureBar: 0.9,
      highestPressureBar: 1.6,
      feedTdsMgL: 900,
    };
    const input = { known: poor, catalogue: shelf, rules };
    const d = decided(input);
    expect(d.kind).toBe('nothing-fits');
    const found = turnsOf(input, null);
    expect(found.turns.find((t) => t.field === 'socket')?.becomes).toMatch(/^Put in .*booster pump/);
    expect(nextReading(d, null, null, (f) => f in poor)).toBeNull();
    expect(nextReading(d, null, found, (f) => f in poor)).toMatchObject({ kind: 'decides' });
    expect(turnsOf({ ...input, known: { ...poor, socket: 'no' } }, null).looked).not.toContain('socket');
  });
  test('that leads away from reverse osmosis says so in its own words', () => {
    const { turns: all } = turns(without('aim'));
    expect(all.find((t) => t.field === 'aim')?.becomes).toMatch(/^No reverse osmosis needed/);
  });
  test('that has been answered is not looked at; a house that cannot be sized has none', () => {
    const answers: Known = { aim: 'dissolved', storeWish: 'either', patience: 'ordinary', mineralsWanted: 'no' };
    const { looked } = turns({ ...house, ...answers });
    expect(looked).toEqual([]);
    const { d } = turns(house);
    expect(turnsOf({ known: {}, catalogue: shelf, rules }, d.chosen.design)).toEqual({ looked: [], turns: [] });
  });
  test('says how much hangs on what was taken for it', () => {
    const taken = { field: 'disinfectant' as const, value: 'chlorine', why: 'usual' };
    const found: Turns = {
      looked: ['disinfectant', 'fridge'],
      turns: [{ field: 'disinfectant', answer: 'chloramine', becomes: 'carbon: another' }],
    };
    expect(weightOf(taken, null, found)).toEqual({
      words: 'it decides: ask. If "chloramine": carbon: another.',
      decides: true,
    });
    expect(weightOf({ ...taken, field: 'fridge' }, null, found)?.words).toMatch(/whatever it is/);
    expect(weightOf(taken, [], null)).toEqual({ words: '', decides: false });
  });
});
