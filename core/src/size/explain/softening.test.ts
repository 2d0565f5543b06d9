import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../../testing/fixtures.ts';
import { softeningFor, type Known, type SofteningAdvice } from '../../index.ts';
import { decided } from '../../testing/decided.ts';

const advised = (change: Known, preset: Partial<typeof rules> = {}): SofteningAdvice | null => {
  const known: Known = { ...house, ...change };
  delete known.alkalinityMgL;
  const input = { known, catalogue: shelf, rules: { ...rules, ...preset } };
  const d = decided(input);
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  return softeningFor(input, d.chosen.design);
};
const drains = (a: SofteningAdvice | null): number[] =>
  (a?.sentence.match(/[\d.]+ L to the drain|as it is, [\d.]+/g) ?? []).map((s) => Number(/[\d.]+/.exec(s)?.[0]));

describe('softening before the membrane', () => {
  test('is not spoken of where the water is soft, or softened already', () => {
    expect(advised({ hardnessMgL: 60 })).toBeNull();
    expect(advised({ hardnessMgL: 130, source: 'softened-mains' })).toBeNull();
  });
  test('does not pay where the membrane is not held back by scale', () => {
    const a = advised({ hardnessMgL: 120, feedTdsMgL: 320 });
    expect(a?.pays).toBe(false);
    expect(a?.sentence).toMatch(/does not pay/);
  });
  test('pays in hard water: far less goes to the drain, and the salt it takes is told', () => {
    const a = advised({ hardnessMgL: 350, feedTdsMgL: 630 });
    expect(a?.pays).toBe(true);
    const [before = 0, after = 0] = drains(a);
    expect(after).toBeLessThan(before / 2);
    const said = a?.reasons.join(' ') ?? '';
    // 0.13 kg for each of 330/50 equivalents in a thousand litres of feed
    const kg = (0.13 * 365 * Number(house.litresADay ?? 10) * (1 + after) * 330) / 50.04 / 1000;
    expect(Number(/about ([\d.]+) kg/.exec(said)?.[1]) / kg).toBeCloseTo(1, 1);
    expect(said).toMatch(/local code/);
  });
  test('weighs more where the firm leans to sparing water', () => {
    const worth = (a: SofteningAdvice | null): number => Number(/Worth ([\d.]+)/.exec(a?.reasons[1] ?? '')?.[1]);
    const hard: Known = { hardnessMgL: 300, feedTdsMgL: 540 };
    expect(worth(advised(hard, { worth: 'sparing' }))).toBeGreaterThan(worth(advised(hard)));
  });
});
