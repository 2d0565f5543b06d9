import { describe, expect, test } from '@jest/globals';
import {
  decimalSignOf,
  guessColumns,
  guessField,
  guessLimitColumn,
  headingLine,
  labFindings,
  labNumber,
  labReadings,
  readLab,
  type LabRow,
} from '../index.ts';

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
    ['Chlorid', null],
    ['Chloride', null],
    ['Nitrate as N', null],
    ['Nitrate (N)', null],
    ['Nitrat-Stickstoff', null],
    ['Ironstone', null],
    ['Iron, dissolved', 'ironMgL'],
    ['Chlor, frei', 'chlorineMgL'],
    ['Freies Chlor', 'chlorineMgL'],
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
    expect(labNumber(text)).toMatchObject({ value, below });
  });
  test('nonsense is no number', () => {
    expect([labNumber('high'), labNumber(''), labNumber('1-2')]).toEqual([null, null, null]);
  });
});

describe('the sign before the decimals', () => {
  test.each([
    [['7,4', '0,05', '1.380'], ','],
    [['7.4', '0.05', '1,380'], '.'],
    [['1.234.567'], ','],
    [['0.050'], '.'],
    [['1.380', '2.500', '12'], null],
    [['7,4', '7.4'], null],
  ] as const)('of a sheet with %j is %j', (texts, sign) => {
    expect(decimalSignOf(texts)).toBe(sign);
  });
  const columns = { name: 'Stoff', value: 'Wert', unit: 'Einheit' };
  const rows = (...all: [string, string, string][]): LabRow[] => all.map(([Stoff, Wert, Einheit]) => ({ Stoff, Wert, Einheit }));
  test('is the whole sheet’s: 1.380 µS/cm beside 7,4 is 1380', () => {
    const v = readLab(rows(['pH-Wert', '7,4', ''], ['Leitfähigkeit', '1.380', 'µS/cm']), columns, {}, 0.5);
    expect(v[1]).toMatchObject({ field: 'feedTdsMgL', value: 690, fault: null });
  });
  test('is asked for where the sheet does not tell, and nothing is taken over until it is said', () => {
    const sheet = rows(['Total dissolved solids', '1.380', 'mg/L'], ['Hardness', '250', 'mg/L']);
    const [open] = readLab(sheet, columns);
    expect(open).toMatchObject({ value: null, either: [1.38, 1380] });
    expect(open?.fault).toMatch(/may be 1.38 or 1380/);
    expect(labReadings(readLab(sheet, columns)).map((r) => r.field)).toEqual(['hardnessMgL']);
    expect(readLab(sheet, columns, {}, 0.5, ',')[0]).toMatchObject({ value: 1380, fault: null });
  });
}); // oxfmt-ignore

test('a guess beyond what is usual is asked about; what a person said is taken', () => {
  const columns = { name: 'Stoff', value: 'Wert', unit: 'Einheit' };
  const rows = [{ Stoff: 'Chlor', Wert: '12', Einheit: 'mg/l' }];
  expect(readLab(rows, columns)[0]).toMatchObject({ guessed: true, value: null, fault: expect.stringMatching(/unusual.*choose/) });
  expect(readLab(rows, columns, { 1: 'chlorineMgL' })[0]).toMatchObject({ guessed: false, value: 12, fault: null });
}); // oxfmt-ignore

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

describe('what laboratories write in their own ways', () => {
  const columns = { name: 'Stoff', value: 'Wert', unit: 'Einheit' };
  const row = (Stoff: string, Wert: string, Einheit = ''): LabRow => ({ Stoff, Wert, Einheit });
  const read = (...rows: LabRow[]) => readLab(rows, columns);
  test('acid capacity in mmol/L is fifty times as much alkalinity; hardness in mmol/L is a hundred times', () => {
    const [acid, sum] = read(
      row('Säurekapazität bis pH 4,3', '3,2', 'mmol/l'),
      row('Summe Erdalkalien', '2,5', 'mmol/l'),
    );
    expect([acid?.field, sum?.field]).toEqual(['alkalinityMgL', 'hardnessMgL']);
    expect(acid?.value).toBeCloseTo(160.1, 1);
    expect(sum?.value).toBeCloseTo(250.2, 1);
  });
  test('a unit behind the figure, and counts in a volume', () => {
    const [nitrate, coli, clean] = read(
      row('Nitrat', '23 mg/l'),
      row('E. coli', '4/100 ml'),
      row('Enterokokken', '0/100 ml'),
    );
    expect(nitrate).toMatchObject({ field: 'nitrateMgL', value: 23, fault: null });
    expect(coli?.value).toBe('unsafe');
    expect(clean?.value).toBe('clean');
    expect(labNumber('5 - 10')).toBeNull();
    expect(labNumber("1'250")).toMatchObject({ value: 1250 });
  });
  test('a conductivity becomes dissolved solids by the water’s own factor, unless these are given too', () => {
    const [v] = readLab([row('Leitfähigkeit bei 25 °C', '640', 'µS/cm')], columns, {}, 0.5);
    expect(v).toMatchObject({ field: 'feedTdsMgL', value: 320, turned: true });
    expect(readLab([row('Conductivity', '64', 'mS/m')], columns, {}, 0.5)[0]?.value).toBe(320);
    const both = readLab([row('TDS', '300', 'mg/l'), row('Conductivity', '640', 'µS/cm')], columns);
    expect(labReadings(both)).toMatchObject([{ field: 'feedTdsMgL', value: 300 }]);
    expect(readLab([row('Conductivity', '640', 'bar')], columns)[0]?.fault).toContain('bar');
  });
  test('the line that names the columns is found under titles', () => {
    const lines = [
      ['Laboratory of the district'],
      ['Sample', '14'],
      ['', ''],
      ['Parameter', 'Result', 'Unit'],
      ['pH', '7.4', ''],
    ];
    expect(headingLine(lines)).toBe(3);
    expect(
      headingLine([
        ['a', 'b'],
        ['1', '2'],
      ]),
    ).toBe(0);
    expect(headingLine([['only a title'], ['x', 'y']])).toBe(1);
  });
});

describe('against guideline values', () => {
  const columns = { name: 'Stoff', value: 'Wert', unit: 'Einheit' };
  const row = (Stoff: string, Wert: string, Einheit: string, Grenzwert = ''): LabRow => ({
    Stoff,
    Wert,
    Einheit,
    Grenzwert,
  });
  const found = (r: LabRow, limit: string | null = null) => labFindings([r], columns, limit)[0];
  test('what lies above is named, with what a membrane does with it', () => {
    expect(found(row('Arsen', '18', 'µg/l'))).toMatchObject({
      name: 'Arsenic',
      above: true,
      limitMgL: 0.01,
      of: 'health',
    });
    expect(found(row('Arsen', '18', 'µg/l'))?.held).toContain('arsenite');
    expect(found(row('Blei, gesamt', '4', 'µg/l'))).toMatchObject({ name: 'Lead', above: false });
    expect(found(row('Nitrate (as NO3)', '62', 'mg/L'))).toMatchObject({ above: true, limitMgL: 50 });
    expect(found(row('Chloride', '300', 'mg/l'))).toMatchObject({ above: true, of: 'taste' });
  });
  test('the report’s own limit goes first', () => {
    expect(guessLimitColumn(['Stoff', 'Wert', 'Einheit', 'Grenzwert'])).toBe('Grenzwert');
    expect(guessLimitColumn(['Parameter', 'Result'])).toBeNull();
    expect(found(row('Uran', '12', 'µg/l', '10'), 'Grenzwert')).toMatchObject({
      above: true,
      limitMgL: 0.01,
      source: 'the report’s own limit',
    });
    expect(found(row('Uran', '12', 'µg/l', ''), 'Grenzwert')).toMatchObject({ above: false, limitMgL: 0.03 });
  });
  test('a laboratory that cannot see as little as the limit says nothing', () => {
    expect(found(row('Cadmium', '<5', 'µg/l'))).toMatchObject({ above: false, blind: true });
    expect(found(row('Cadmium', '<1', 'µg/l'))).toMatchObject({ above: false, blind: false });
  });
  test('what it does not know, and what it cannot read, it leaves out', () => {
    expect([
      found(row('Phosphat', '1', 'mg/l')),
      found(row('Blei', 'viel', 'mg/l')),
      found(row('Blei', '1', 'Bq/l')),
    ]).toEqual([undefined, undefined, undefined]);
  });
});

describe('hardness from calcium and magnesium', () => {
  const columns = { name: 'n', value: 'v', unit: 'u' };
  const taken = (...rows: [string, string, string][]) =>
    labReadings(readLab(rows.map(([n, v, u]) => ({ n, v, u })), columns)); // oxfmt-ignore
  test('is their sum where the report gives no other', () => {
    const [h] = taken(['Calcium (Ca)', '80,2', 'mg/L'], ['Magnesium', '12', 'mg/l']);
    expect(h?.field).toBe('hardnessMgL');
    // 80.2 x 2.497 + 12 x 4.117
    expect(h?.value).toBeCloseTo(249.7, 1);
    expect(h?.typed).toBe('250 mg/L, of Calcium (Ca) 80,2 and Magnesium 12');
    expect(taken(['Ca2+', '2.0', 'mmol/L'], ['Mg', '0.5', 'mmol/L'])[0]?.value).toBeCloseTo(250.2, 1);
  });
  test('is not made up from one of them, from other units, or beside a hardness that stands', () => {
    expect(taken(['Calcium', '80', 'mg/L'])).toEqual([]);
    expect(taken(['Calcium', '80', 'ppb'], ['Magnesium', '12', 'mg/L'])).toEqual([]);
    expect(
      taken(['Calcium', '80', 'mg/L'], ['Magnesium', '12', 'mg/L'], ['Total hardness', '14', '°dH']).map(
        (r) => r.typed,
      ),
    ).toEqual(['14 °dH']);
  });
});
