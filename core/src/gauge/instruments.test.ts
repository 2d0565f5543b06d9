import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../testing/fixtures.ts';
import {
  bandsOf,
  canRead,
  checkState,
  errorsOf,
  instrumentError,
  InstrumentSchema,
  studyDesign,
  type Instrument,
} from '../index.ts';
import { decided } from '../testing/decided.ts';

const ID = '5f0c4b1e-7777-4777-a777-000000000001';
const pen: Instrument = {
  id: ID,
  name: 'Pen A',
  what: 'pen',
  reads: [
    { kind: 'concentration', unit: 'mg/L', min: 0, max: 5000, errorFixed: 2, errorShare: 0.02 },
    { kind: 'temperature', unit: '°C', min: 0, max: 60, errorFixed: 0.5, errorShare: 0 },
  ],
  checkEveryDays: 90,
  checks: [],
  address: null,
};
const at = (day: number): string => new Date(Date.UTC(2026, 0, 1) + day * 86400000).toISOString();
const checked = (day: number, read: number): Instrument => ({
  ...pen,
  checks: [{ at: at(day), by: ID, kind: 'concentration', reference: 1000, read }],
});
const ms = (day: number): number => Date.parse(at(day));

describe('an instrument', () => {
  test('is off by a fixed part and a share of what it reads, and knows nothing of other kinds', () => {
    expect(instrumentError(pen, 'concentration', 500)).toBe(12);
    expect(instrumentError(pen, 'temperature', 10)).toBe(0.5);
    expect(instrumentError(pen, 'pressure', 3)).toBeNull();
  });
  test('never checked, good, overdue and off are told apart, at both sides of each limit', () => {
    expect(checkState(pen, ms(0)).state).toBe('never');
    expect(checkState(checked(0, 1010), ms(89.9)).state).toBe('good');
    expect(checkState(checked(0, 1010), ms(90.1)).state).toBe('overdue');
    expect(checkState(checked(0, 1022), ms(1)).state).toBe('good');
    expect(checkState(checked(0, 1023), ms(1)).state).toBe('off');
    expect(checkState(checked(0, 1023), ms(1)).off).toBeCloseTo(0.023, 9);
    expect(checkState({ ...pen, checkEveryDays: null }, ms(1e4)).state).toBe('not-needed');
  });
  test('the newest check counts, in whatever order they are kept', () => {
    const [old] = checked(0, 1200).checks;
    const [recent] = checked(30, 1001).checks;
    if (!old || !recent) throw new Error('no checks');
    expect(checkState({ ...pen, checks: [recent, old] }, ms(40)).state).toBe('good');
  });
  test('without a name or anything it reads it is refused', () => {
    expect(InstrumentSchema.safeParse({ ...pen, name: ' ' }).success).toBe(false);
    expect(InstrumentSchema.safeParse({ ...pen, reads: [] }).success).toBe(false);
  });
  test('whose range ends where it begins, or whose unit is of another kind, is refused at its place', () => {
    const paths = (change: object): string[] =>
      InstrumentSchema.safeParse({ ...pen, reads: [{ ...pen.reads[0], ...change }] }).error?.issues.map((i) =>
        i.path.join('.'),
      ) ?? [];
    expect(paths({})).toEqual([]);
    expect(paths({ min: 10, max: 10 })).toEqual(['reads.0.max']);
    expect(paths({ unit: 'bar' })).toEqual(['reads.0.unit']);
    expect(paths({ errorShare: 0.6 })).toEqual(['reads.0.errorShare']);
  });
  test('reads what it can: a pen what is dissolved and no chlorine, a strip the other way about', () => {
    const strip: Instrument = { ...pen, what: 'strip' };
    const conductivity: Instrument = {
      ...pen,
      reads: [{ kind: 'conductivity', unit: 'µS/cm', min: 0, max: 9000, errorFixed: 2, errorShare: 0.02 }],
    };
    expect((['feedTdsMgL', 'chlorineMgL', 'temperatureC', 'hardnessMgL', 'socket'] as const).map((f) => canRead(pen, f))).toEqual([true, false, true, false, false]); // oxfmt-ignore
    expect((['feedTdsMgL', 'chlorineMgL', 'nitrateMgL'] as const).map((f) => canRead(strip, f))).toEqual([false, true, true]); // oxfmt-ignore
    expect((['feedTdsMgL', 'temperatureC'] as const).map((f) => canRead(conductivity, f))).toEqual([true, false]);
    expect(canRead({ ...pen, what: 'other' }, 'chlorineMgL')).toBe(true);
    expect(errorsOf([{ field: 'chlorineMgL', value: 0.4, instrument: 'Pen A' }], [pen])).toEqual({});
  });
});

describe('a reading’s own error', () => {
  const readings = [
    { field: 'coldestC', value: 8, instrument: 'pen a' },
    { field: 'feedTdsMgL', value: 320, instrument: 'Pen A' },
    { field: 'runningPressureBar', value: 3.5, instrument: 'gauge nobody listed' },
  ] as const;
  const errors = errorsOf(readings, [pen]);
  test('is its instrument’s, found by name; unknown instruments say nothing', () => {
    expect(errors).toEqual({ coldestC: 0.5, feedTdsMgL: 2 + 0.02 * 320 });
  });
  test('narrows the bands and stands on the flip scales', () => {
    const input = { known: house, catalogue: shelf, rules };
    const d = decided(input);
    if (d.kind !== 'recommendation') throw new Error(d.sentence);
    const design = d.chosen.design;
    const sharp = {
      ...input,
      errors: { coldestC: 0.1, runningPressureBar: 0.01, feedTdsMgL: 1, staticPressureBar: 0.01 },
    };
    const width = (i: typeof input): number => {
      const b = bandsOf(i, design, 600)?.litresADay;
      return (b?.high ?? 0) - (b?.low ?? 0);
    };
    expect(width(sharp)).toBeLessThan(width(input));
    const flip = studyDesign(sharp, design)?.flips.find((f) => f.field === 'coldestC');
    expect(flip?.error).toBe(0.1);
  });
});
