import { describe, expect, test } from '@jest/globals';
import { guessColumns, guessField, labNumber, labReadings, readLab, type LabRow } from '../index.ts';

describe('a laboratory’s file', () => {
  test.each([
    [['Parameter', 'Result', 'Unit'], { name: 'Parameter', value: 'Result', unit: 'Unit' }],
    [['Nr', 'Messgröße', 'Messwert', 'Einheit'], { name: 'Messgröße', value: 'Messwert', unit: 'Einheit' }],
    [['Paramètre', 'Valeur', 'Unité'], { name: 'Paramètre', value: 'Valeur', unit: 'Unité' }],
    [['a', 'b'], { name: null, value: null, unit: null }],
  ])('is understood by its headings: %j', (headings, columns) => {
    expect(guessColumns(headings)).toEqual(columns);
  });
  test.each([
    ['Eisen, gesamt', 'ironMgL'],
    ['Nitrate (as NO3)', 'nitrateMgL'],
    ['Gesamthärte', 'hardnessMgL'],
    ['pH-Wert', 'pH'],
    ['Escherichia coli', 'laboratory'],
    ['Total dissolved solids', 'feedTdsMgL'],
    ['Cadmium', null],
    ['Phosphate', null],
  ] as const)('%s is %s', (name, field) => {
    expect(guessField(name)).toBe(field);
  });
  test.each([
    ['0,05', 0.05, false],
    ['<0.05', 0.05, true],
    ['< 0,05', 0.05, true],
    ['1.250,5', 1250.5, false],
    ['1,250.5', 1250.5, false],
    ['n.d.', 0, false],
  ])('%s is read', (text, value, below) => {
    expect(labNumber(text)).toEqual({ value, below });
  });
  test('nonsense is no number', () => {
    expect([labNumber('high'), labNumber(''), labNumber('1-2')]).toEqual([null, null, null]);
  });
});

describe('its values', () => {
  const columns = { name: 'Stoff', value: 'Wert', unit: 'Einheit' };
  const row = (Stoff: string, Wert: string, Einheit: string): LabRow => ({ Stoff, Wert, Einheit });
  test('are brought to base units, below-detection kept as such and taken at its limit', () => {
    const v = readLab([row('Eisen', '<50', 'µg/l'), row('Härte', '14,2', '°dH'), row('Nitrat', '23', 'mg/l')], columns);
    expect(v.map((x) => [x.field, x.below, x.fault])).toEqual([
      ['ironMgL', true, null],
      ['hardnessMgL', false, null],
      ['nitrateMgL', false, null],
    ]);
    expect(v[0]?.value).toBeCloseTo(0.05, 9);
    expect(v[1]?.value).toBeCloseTo(14.2 * 17.848, 6);
    expect(labReadings(v)[0]).toMatchObject({ field: 'ironMgL', typed: '<50 µg/l' });
  });
  test('that do not read, or are out of range, or in another unit, are faults at their row', () => {
    const v = readLab([row('Eisen', 'viel', 'mg/l'), row('pH', '71', ''), row('Nitrat', '5', 'bar')], columns);
    expect(v.map((x) => x.value)).toEqual([null, null, null]);
    expect(v.map((x) => x.fault)).toEqual([
      expect.stringContaining('viel'),
      expect.stringContaining('outside'),
      expect.stringContaining('bar'),
    ]);
    expect(labReadings(v)).toEqual([]);
  });
  test('a person may say what a row is, or that it is nothing here', () => {
    const rows = [row('Kennwert 7', '120', 'mg/l'), row('Eisen', '0,1', 'mg/l')];
    const v = readLab(rows, columns, { 1: 'alkalinityMgL', 2: null });
    expect(v.map((x) => [x.field, x.value])).toEqual([
      ['alkalinityMgL', 120],
      [null, null],
    ]);
  });
  test('bacteria make the report clean only where none grew, and the worst count decides', () => {
    const report = (...counts: string[]) =>
      labReadings(
        readLab(
          counts.map((c) => row('E. coli', c, '/100 mL')),
          columns,
        ),
      )[0]?.value;
    expect(report('0')).toBe('clean');
    expect(report('<1')).toBe('clean');
    expect(report('0', '3', '0')).toBe('unsafe');
  });
});
