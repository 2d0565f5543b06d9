import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../../testing/fixtures.ts';
import { decide, designInWords, glanceAt, type Glance, type Known } from '../../index.ts';
import { decided } from '../../testing/decided.ts';

const input = (change: Known = {}) => ({ known: { ...house, ...change }, catalogue: shelf, rules });
const first = decided(input());
if (first.kind !== 'recommendation') throw new Error(first.sentence);
const { chosen, contenders, risk } = first;
const glance = (change: Known): Glance | null => glanceAt(input(change), chosen.design, contenders, risk);
const words = designInWords(chosen.design, shelf);

describe('a glance at moved readings', () => {
  test('says what the decision says where the same parts stand', () => {
    expect(glance({})).toEqual({ stands: true, sentence: first.sentence });
    const colder: Known = { coldestC: Number(house.coldestC) - 0.5 };
    const then = decide(input(colder));
    expect(then.sentence).not.toBe(first.sentence);
    expect(glance(colder)).toEqual({ stands: true, sentence: then.sentence });
  });
  test('says why the same parts no longer do', () => {
    const g = glance({ litresADay: 150 });
    expect(g?.stands).toBe(false);
    expect(g?.sentence).toContain(words);
    expect(g?.sentence).toMatch(/150 L.*Looking for what does\.$/);
  });
  test('says when another kind that stood next in line is ahead', () => {
    const falls = [1.2, 1.5, 5, 6, 7, 8]
      .map((bar) => glance({ runningPressureBar: bar, staticPressureBar: bar + 0.3 }))
      .filter((g) => g !== null && !g.stands);
    expect(falls.length).toBeGreaterThan(0);
    for (const g of falls) expect(g?.sentence.startsWith(`${words}: `)).toBe(true);
  });
  test('says nothing where no design is the answer: too little known, another way, a referral', () => {
    const rest: Known = { ...house };
    delete rest.staticPressureBar;
    delete rest.runningPressureBar;
    expect(glanceAt({ ...input(), known: rest }, chosen.design, contenders, risk)).toBeNull();
    expect(glance({ aim: 'taste' })).toBeNull();
    expect(decide(input({ aim: 'taste' })).kind).toBe('other-way');
    expect(glance({ feedTdsMgL: 20000 })).toBeNull();
    expect(decide(input({ feedTdsMgL: 20000 })).kind).toBe('referral');
  });
});
