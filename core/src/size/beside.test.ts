import { describe, expect, test } from '@jest/globals';
import type { Known } from '../gauge/fields.ts';
import { house, rules, shelf } from '../testing/fixtures.ts';
import { tellBeside } from './beside.ts';
import { decided } from '../testing/decided.ts';

const inHouse = (known: Known) => {
  const input = { known, catalogue: shelf, rules };
  const d = decided(input);
  return { kind: d.kind, tell: (errors = {}) => tellBeside(input, d, errors) };
};

describe('what is told beside a decision', () => {
  test.each([
    ['recommendation', { ...house, hardnessMgL: 260 }, ['study', 'turns', 'bands', 'softening', 'vented']],
    ['nothing-fits', { ...house, cupboardHeightMm: 400 }, ['turns', 'remedies']],
    ['referral', { ...house, source: 'well', laboratory: 'none' }, ['provisional']],
    ['needs', { source: 'mains' }, []],
  ] as const satisfies readonly (readonly [string, Known, readonly string[]])[])(
    'is what its kind asks, and comes whole over a wire: %s',
    (kind, known, names) => {
      const of = inHouse(known);
      expect(of.kind).toBe(kind);
      const told = of.tell();
      expect(Object.keys(told)).toEqual(names);
      expect(told).toEqual(JSON.parse(JSON.stringify(told)));
    },
  );

  test('an instrument that is known to err far makes its reading near a flip, and changes nothing nobody read', () => {
    const { tell } = inHouse({ ...house, runningPressureBar: 2.6, staticPressureBar: 3 });
    const nearOf = (told: ReturnType<typeof tell>) =>
      told.study?.flips.find((f) => f.field === 'runningPressureBar')?.near;
    const sure = tell({ runningPressureBar: 0.01 });
    const unsure = tell({ runningPressureBar: 1.2 });
    expect([nearOf(sure), nearOf(unsure)]).toEqual([false, true]);
    expect(unsure.bands).not.toEqual(sure.bands);
    expect(unsure.turns).toEqual(sure.turns);
    expect(unsure.softening).toEqual(sure.softening);
  });
});
