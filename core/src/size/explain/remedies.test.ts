import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../../testing/fixtures.ts';
import { remembered } from '../../testing/remembered.ts';
import {
  chooseFor,
  decide,
  mayBeTaken,
  provisionalFor,
  remediesFor,
  type Known,
  type RemedyCode,
} from '../../index.ts';

const input = (change: Known) => ({ known: { ...house, ...change }, catalogue: shelf, rules });
const told = remembered((change: Known) => {
  const d = decide(input(change));
  if (d.kind !== 'nothing-fits') throw new Error(d.sentence);
  return { d, remedies: remediesFor(input(change), d.because) };
});
const codes = (change: Known): RemedyCode[] => told(change).remedies.map((r) => r.code);
const figure = (words: string, after: string): number =>
  Number(new RegExp(`${after} (\\d+(?:\\.\\d+)?)`).exec(words)?.[1]);

describe('where nothing fits', () => {
  const hard: Known = { hardnessMgL: 600, alkalinityMgL: 380, feedTdsMgL: 800, pH: 7.8 };
  test('hard water: it says how soft it must come, and so soft something does', () => {
    const { remedies } = told(hard);
    const soften = remedies.find((r) => r.code === 'soften');
    const to = figure(soften?.change ?? '', 'to');
    expect(to).toBeGreaterThan(10);
    expect(to).toBeLessThan(600);
    expect(chooseFor(input({ ...hard, hardnessMgL: to })).kind).toBe('chosen');
    // and the step before it does not: the change is the smallest of those tried
    expect(chooseFor(input({ ...hard, hardnessMgL: to * 1.6 })).kind).toBe('nothing-fits');
    expect(soften?.becomes).toMatch(/^Put in /);
  });
  test('no tank wanted, at weak pressure: a tank, and where there is none a socket', () => {
    const weak: Known = { staticPressureBar: 2.4, runningPressureBar: 2, storeWish: 'none', socket: 'no' };
    const found = codes(weak);
    expect(found).toContain('store');
    const without = told(weak).remedies.find((r) => r.code === 'store');
    expect(without?.becomes).toContain('tank');
  });
  test('no room: with how much more of it something goes in, the least first, against what there is', () => {
    const { d, remedies } = told({ cupboardHeightMm: 400 });
    expect(d.reasons.join(' ')).toMatch(/no place for .*frame/);
    const room = remedies.find((r) => r.code === 'room');
    expect(room?.change).toMatch(/a cupboard of 1,?000 × 550 × 500 mm; this one has 1,?000 × 550 × 400/);
    expect(room?.change).toContain('next cupboard');
  });
  test('a draw larger than any tank gives: in parts', () => {
    expect(codes({ largestDrawL: 60, storeWish: 'tank' })).toContain('smaller-draw');
  });
  test('direct under chloramine: the tank, or more carbon', () => {
    const found = codes({ disinfectant: 'chloramine', chlorineMgL: 2, storeWish: 'none', socket: 'yes' });
    expect(found).toEqual(expect.arrayContaining(['store', 'carbon']));
  });
  test('two changes together where one alone does not', () => {
    const both: Known = { ...hard, storeWish: 'none', staticPressureBar: 2.4, runningPressureBar: 2, socket: 'no' };
    const { remedies } = told(both);
    expect(remedies).toHaveLength(1);
    expect(remedies[0]?.change).toContain(' And: ');
  });
  test('of pairs, first those that ask the household for nothing, and no further than they must', () => {
    const salty: Known = { feedTdsMgL: 4000, hardnessMgL: 900, alkalinityMgL: 400 };
    const { remedies } = told(salty);
    expect(remedies).toHaveLength(1);
    const change = remedies[0]?.change ?? '';
    expect(change).toMatch(/Soften the feed before it to \d+ mg\/L of hardness; it has 900\./);
    expect(change).not.toContain('L a day in place');
    // softened only as far as it must be
    expect(Number(/to (\d+) mg\/L of hardness/.exec(change)?.[1])).toBeGreaterThan(100);
  });
  test('water too warm for a part: cooler water, by how much', () => {
    const { remedies } = told({ warmestC: 43 });
    expect(remedies.map((r) => r.code)).toContain('cooler');
    expect(remedies.find((r) => r.code === 'cooler')?.change).toMatch(/below 35 °C in summer.*it comes with 43 °C/);
  });
  test('the nearest may be taken against the advice, unless it is a danger or cannot run', () => {
    expect(mayBeTaken([{ code: 'store-too-small', text: '' }])).toBe(true);
    expect(
      mayBeTaken([
        { code: 'store-too-small', text: '' },
        { code: 'pressure-too-high', text: '' },
      ]),
    ).toBe(false);
    expect(mayBeTaken([{ code: 'no-socket', text: '' }])).toBe(false);
  });
  test('each says what would be put in, in a whole sentence', () => {
    for (const change of [{ largestDrawL: 60, storeWish: 'tank' }, { cupboardHeightMm: 400 }] as const)
      for (const r of told(change).remedies) expect(r.becomes).toMatch(/^Put in .*\.$/);
  });
});

describe('a referral', () => {
  const well: Known = {
    source: 'well',
    disinfectant: 'none',
    chlorineMgL: 0,
    laboratory: 'none',
    switchLowBar: 2.5,
    switchHighBar: 4,
  };
  test('lists what the laboratory is asked for, with what they fear', () => {
    const d = decide(input({ ...well, worry: 'lead' }));
    if (d.kind !== 'referral') throw new Error(d.kind);
    expect(d.wanted.join(' ')).toMatch(/E\. coli.*nitrate.*lead, which they fear/);
    const both = decide(input({ ...well, worry: 'lead,pfas' }));
    if (both.kind !== 'referral') throw new Error(both.kind);
    expect(both.wanted.slice(-2)).toEqual(['lead, which they fear', 'PFAS, which they fear']);
    const mains = decide(input({ ironMgL: 9 }));
    if (mains.kind !== 'referral') throw new Error(mains.kind);
    expect(mains.wanted.join(' ')).not.toContain('E. coli');
  });
  test('says what would do if the report is clean, as provisional', () => {
    const p = provisionalFor(input(well));
    expect(p?.sentence).toMatch(/^Provisional: Put in /);
    expect(p?.if.join(' ')).toContain('no microbes');
    const clean = decide(input({ ...well, laboratory: 'clean' }));
    if (clean.kind !== 'recommendation') throw new Error(clean.sentence);
    expect(p?.sentence).toBe(`Provisional: ${clean.sentence}`);
  });
  test('where the water itself is too salty for any element, nothing is promised', () => {
    expect(provisionalFor(input({ feedTdsMgL: 9000 }))).toBeNull();
    expect(provisionalFor(input({}))).toBeNull();
  });
});
