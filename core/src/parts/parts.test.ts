import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { rules, shelf } from '../testing/fixtures.ts';
import {
  partDoubts,
  findPart,
  HouseRulesSchema,
  partFromRow,
  partOf,
  PartSchema,
  partRow,
  partsTable,
  reviewTable,
  ruleRange,
  RULE_TEXTS,
  type HouseRules,
  type Part,
  type PartRow,
} from '../index.ts';

const isDeepEqual = (a: PartRow, b: PartRow): boolean =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].every((k) => a[k] === b[k]);

describe('an element', () => {
  test('tested below the osmotic pressure of its own test water is no element', () => {
    const element = partOf(shelf, 'element', 'element-135');
    const test = { ...element.rating.test, pressureBar: 2, tdsMgL: 4000 };
    const read = PartSchema.safeParse({ ...element, rating: { ...element.rating, test } });
    expect(read.error?.issues).toMatchObject([
      { path: ['rating', 'test', 'pressureBar'], message: expect.stringMatching(/osmotic/) },
    ]);
  });
});

describe('the shelf as a table', () => {
  const { columns, rows } = partsTable(shelf);
  test('goes out and in exactly, every part', () => {
    expect(columns.slice(0, 3)).toEqual(['id', 'kind', 'name']);
    rows.forEach((row, i) => {
      expect(partFromRow(row)).toEqual({ part: shelf[i] });
    });
    expect(reviewTable(rows, shelf)).toMatchObject({ added: [], changed: [], same: shelf.length, faults: [] });
  });
  test('a text that a spreadsheet would run is read back without the mark that keeps it from it', () => {
    for (const name of ['=1+1', '+4 L', '-tank', '@part']) {
      const row = { ...partRow(partOf(shelf, 'tank', 'tank-8')), name: `'${name}` };
      expect(partFromRow(row)).toMatchObject({ part: { name } });
    }
    expect(partFromRow({ ...partRow(partOf(shelf, 'tank', 'tank-8')), name: "'t Hof" })).toMatchObject({
      part: { name: "'t Hof" },
    });
  });
  test('any part goes out and in exactly', () => {
    fc.assert(
      fc.property(fc.constantFrom(...shelf), fc.double({ min: 0.01, max: 900, noNaN: true }), (p, price) => {
        const part: Part = { ...p, price };
        const back = partFromRow(partRow(part));
        return 'part' in back && isDeepEqual(partRow(back.part), partRow(part));
      }),
      { numRuns: 40 },
    );
  });
  const row = (id: string, change: PartRow): PartRow => {
    const part = findPart(shelf, id);
    if (!part) throw new Error(id);
    return { ...partRow(part), ...change };
  };
  test('says what would change, column by column, what is new and what stays', () => {
    const r = reviewTable(
      [row('tank-8', { price: '39' }), row('tank-8', { id: 'tank-9', name: 'Tank 9 L' }), row('tank-12', {})],
      shelf,
    );
    expect(r.changed.map((c) => c.columns)).toEqual([[{ column: 'price', from: '42', to: '39' }]]);
    expect(r.added.map((p) => p.id)).toEqual(['tank-9']);
    expect(r.same).toBe(1);
  });
  test('takes a decimal comma, and an empty cell as a figure the part has not', () => {
    const r = partFromRow(row('tank-8', { volumeL: '8,5', price: '' }));
    expect(r).toMatchObject({ part: { volumeL: 8.5 } });
    expect('part' in r && r.part.price).toBeUndefined();
  });
  test.each([
    ['nonsense in a figure', { volumeL: 'eight' }, 'volumeL'],
    ['a figure out of range', { volumeL: '-3' }, 'volumeL'],
    ['a kind nobody knows', { kind: 'barrel' }, 'kind'],
    ['another kind than the part has', { kind: 'drain' }, 'kind'],
  ])('%s is a fault at its row and column', (_, change, column) => {
    const r = reviewTable([row('tank-12', {}), row('tank-8', change)], shelf);
    expect(r.faults.some((f) => f.row === 2 && f.column === column)).toBe(true);
  });
  test('the same id twice is a fault', () => {
    expect(reviewTable([row('tank-8', {}), row('tank-8', {})], shelf).faults).toMatchObject([{ row: 2, column: 'id' }]);
  });
});

describe('ratings are asked whether they make sense', () => {
  test('the shelf as it ships raises no doubt', () => {
    expect(shelf.flatMap((p) => partDoubts(p).map((t) => `${p.id}: ${t}`))).toEqual([]);
  });
  test.each([
    [
      'a rejection of a half',
      {
        ...partOf(shelf, 'element', 'element-135'),
        rating: { ...partOf(shelf, 'element', 'element-135').rating, rejection: 0.6 },
      },
      /holds back only 60 %/,
    ],
    ['a tank larger than its measures', { ...partOf(shelf, 'tank', 'tank-8'), volumeL: 80 }, /its own measures/],
    ['a switch the wrong way round', { ...partOf(shelf, 'pump', 'pump-small'), reopenBar: 3 }, /swapped/],
    ['a valve the wrong way round', { ...partOf(shelf, 'shut-off', 'shut-off-valve'), reopenRatio: 0.8 }, /swapped/],
    [
      'a restrictor in another unit',
      { ...partOf(shelf, 'restrictor', 'restrictor-430'), flow: { kind: 'capillary', flowLDay: 5, atBar: 4, atC: 25 } },
      /unit slip/,
    ],
    [
      'a filter with two inlets',
      {
        ...partOf(shelf, 'tank-tee', 'tank-tee'),
        ports: partOf(shelf, 'tank-tee', 'tank-tee').ports.map((p) => ({ ...p, name: 'in' as const })),
      },
      /two ports called in/,
    ],
  ] as [string, Part, RegExp][])('%s is doubted', (_, part, words) => {
    expect(partDoubts(part).join(' ')).toMatch(words);
  });
});

describe('a capillary restrictor', () => {
  const of = (more: object): object => ({
    ...partOf(shelf, 'restrictor', 'restrictor-430'),
    flow: { kind: 'capillary', flowLDay: 430, atBar: 4, atC: 25, ...more },
  });
  const told = (part: object): string[] =>
    PartSchema.safeParse(part).error?.issues.map((i) => `${i.path.join('.')}: ${i.message}`) ?? [];
  test('may state bore and length, which then give its stated flow', () => {
    expect(told(of({ boreMm: 0.7 }))).toEqual([]);
    expect(told(of({ boreMm: 0.7, lengthMm: 73 }))).toEqual([]);
    expect(told(of({ boreMm: 0.7, lengthMm: 300 }))).toEqual([
      expect.stringMatching(/^flow.lengthMm: with that bore its flow asks for about 7\d mm/),
    ]);
    expect(told(of({ boreMm: 0.4 }))).toEqual(['flow.boreMm: too narrow for its flow at that pressure']);
  });
});

describe('the house rules as they are shown', () => {
  test('each has its words, its reason, and a choice’s options are those it may have', () => {
    const keys = Object.keys(HouseRulesSchema.shape) as (keyof HouseRules)[];
    expect(Object.keys(RULE_TEXTS).sort()).toEqual([...keys].sort());
    for (const k of keys) {
      expect(RULE_TEXTS[k].why.length).toBeGreaterThan(8);
      for (const option of Object.keys(RULE_TEXTS[k].options ?? {}))
        expect(HouseRulesSchema.safeParse({ ...rules, [k]: option }).success).toBe(true);
    }
  });
  test('their ranges are the schema’s: taken at both ends, refused beyond', () => {
    expect(ruleRange('spareCapacity')).toEqual({ min: 1, max: 5 });
    expect(ruleRange('meterError')).toEqual({ min: 0.005, max: 0.2 });
    expect(ruleRange('store')).toBeNull();
    expect(ruleRange('currency')).toBeNull();
  });
});
