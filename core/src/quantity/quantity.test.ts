import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  formatMinutes,
  formatNumber,
  formatReading,
  fromBase,
  inSentence,
  parseQuantity,
  quantityMessage,
  toBase,
  UNITS,
  type QuantityKind,
} from '../index.ts';
import { rootOfFalling } from './root.ts';

const value = (text: string, kind: QuantityKind, unit?: string): number => {
  const r = parseQuantity(text, kind, unit);
  if (!r.ok) throw new Error(quantityMessage(r.problem));
  return r.value;
};

describe('what people type', () => {
  test('any unit of the kind is understood', () => {
    expect(value('45 psi', 'pressure')).toBeCloseTo(3.1026, 3);
    expect(value('43psi', 'pressure')).toBeCloseTo(2.9647, 3);
    expect(value('310 kPa', 'pressure')).toBeCloseTo(3.1, 10);
    expect(value('50 °F', 'temperature')).toBeCloseTo(10, 9);
    expect(value('283.15 K', 'temperature')).toBeCloseTo(10, 9);
    expect(value('11 dH', 'hardness')).toBeCloseTo(196.3, 1);
    expect(value('12 gpg', 'hardness')).toBeCloseTo(205.4, 1);
    expect(value('75 gpd', 'dailyVolume')).toBeCloseTo(283.9, 1);
    expect(value('250 mL/min', 'flow')).toBeCloseTo(0.25, 12);
    expect(value('3/8 in', 'length')).toBeCloseTo(9.525, 9);
    expect(value('1 1/2 in', 'length')).toBeCloseTo(38.1, 9);
    expect(value('5 US gal'.replace('US ', ''), 'volume')).toBeCloseTo(18.927, 3);
  });
  test('a decimal comma is a decimal comma, and a bare number takes the unit of its field', () => {
    expect(value('3,2', 'pressure')).toBeCloseTo(3.2, 12);
    expect(value('0,125', 'pressure')).toBeCloseTo(0.125, 12);
    expect(value('250', 'flow', 'mL/min')).toBeCloseTo(0.25, 12);
  });
  test('a flow is read off a jug and a watch; a bare number by a time is not guessed', () => {
    const flow = (text: string): number => {
      const r = parseQuantity(text, 'flow');
      return r.ok ? r.value : Number.NaN;
    };
    expect(flow('250 mL in 42 s')).toBeCloseTo(0.25 / (42 / 60), 9);
    expect(flow('0,5 L / 1.5 min')).toBeCloseTo(1 / 3, 9);
    expect(flow('1 L in 1 min')).toBe(1);
    for (const bad of ['250 in 42 s', '250 mL in 0 s', 'a jug in 3 s', '250 mL in 42']) expect(flow(bad)).toBeNaN();
    expect(flow('380 mL/min')).toBeCloseTo(0.38, 9);
    expect(parseQuantity('250 mL in 42 s', 'pressure').ok).toBe(false);
    expect(parseQuantity('300 L in 1 min', 'flow', 'L/min', { min: 0, max: 20 })).toMatchObject({ ok: false, problem: { code: 'out-of-range' } });
  }); // oxfmt-ignore
  test('a comma before three digits is asked about, not guessed', () => {
    const r = parseQuantity('1,250 mg/L', 'concentration');
    expect(r.ok ? '' : quantityMessage(r.problem)).toBe('"1,250" could mean 1250 or 1.250. Write one of these.');
  });
  test.each([
    ['', 'pressure', 'Nothing typed yet.'],
    ['lots', 'pressure', '"lots" does not read as a number. Write it like 3.2 or 3,2 or 3/8, then the unit.'],
    ['3/0 in', 'length', '"3/0 in" does not read as a number. Write it like 3.2 or 3,2 or 3/8, then the unit.'],
    ['1.2.3', 'pressure', '"1.2.3" does not read as a number. Write it like 3.2 or 3,2 or 3/8, then the unit.'],
    ['3 furlong', 'run', '"furlong" is not a unit of length. Use m, cm, mm, ft or in.'],
    ['3 bar', 'temperature', '"bar" measures a pressure; this field wants a temperature in °C, °F or K.'],
  ] as const)('"%s" in a %s field is told what is wrong', (text, kind, message) => {
    const r = parseQuantity(text, kind);
    expect(r.ok ? 'taken' : quantityMessage(r.problem)).toBe(message);
  });
  test('a value outside the physical range is refused with the range, both ends taken', () => {
    const range = { min: 0, max: 25 };
    expect(parseQuantity('25', 'pressure', 'bar', range).ok).toBe(true);
    expect(parseQuantity('25.001', 'pressure', 'bar', range).ok).toBe(false);
    expect(parseQuantity('-0.001', 'pressure', 'bar', range).ok).toBe(false);
  });
  test('every unit converts there and back', () => {
    for (const kind of Object.keys(UNITS) as QuantityKind[])
      for (const u of UNITS[kind])
        fc.assert(
          fc.property(fc.double({ min: -50, max: 5000, noNaN: true }), (x) => {
            const back = toBase(fromBase(x, kind, u.symbol), kind, u.symbol);
            return Math.abs(back - x) <= 1e-9 * (1 + Math.abs(x));
          }),
        );
  });
  test('no text makes the parser throw', () => {
    fc.assert(fc.property(fc.string(), (s) => typeof parseQuantity(s, 'pressure').ok === 'boolean'));
  });
  test('a unit nobody has is a programming fault', () => {
    expect(() => fromBase(1, 'pressure', 'stone')).toThrow(RangeError);
  });
});

describe('what people read', () => {
  test('figures keep about three digits and no exponent', () => {
    expect([
      formatNumber(0),
      formatNumber(3.14159),
      formatNumber(1234.5),
      formatNumber(0.0004),
      formatNumber(Infinity),
    ]).toEqual(['0', '3.14', '1235', '0.000', 'none']);
    expect(formatReading(4)).toBe('4');
  });
  test('a hair below a round figure reads as that figure does', () => {
    for (const round of [0.1, 1, 10, 100])
      expect(formatNumber(round * (1 - 1e-9), 2)).toBe(formatNumber(round * (1 + 1e-9), 2));
    expect([formatNumber(9.996), formatNumber(0.99999, 2), formatNumber(-9.996)]).toEqual(['10.0', '1.0', '-10.0']);
  });
  test('minutes read as people say them', () => {
    expect([0.5, 40, 125, 120, 4000, Infinity].map(formatMinutes)).toEqual([
      '30 s',
      '40 min',
      '2 h 05 min',
      '2 h',
      '3 days',
      'never',
    ]);
  });
});

test('a label in a sentence keeps its initials', () => {
  expect(['Feed TDS', 'pH', 'Water today', 'TDS', 'Highest, at night'].map(inSentence)).toEqual([
    'feed TDS',
    'pH',
    'water today',
    'TDS',
    'highest, at night',
  ]);
});

test.each([
  ['60 PSI', 'pressure', 4.137],
  ['4 BAR', 'pressure', 4],
  ['12 dGH', 'hardness', 214.2],
  ['15 Clark', 'hardness', 213.8],
  ['8 l/m', 'flow', 8],
  ['12 degrees', 'temperature', 12],
  ['54 Fahrenheit', 'temperature', 12.22],
] as const)('%s is understood', (text, kind, value) => {
  const read = parseQuantity(text, kind);
  expect(read.ok && read.value).toBeCloseTo(value, 1);
});

describe('the root of what never rises', () => {
  const found = (f: (x: number) => number, low = 0, high = 30): { readonly x: number; readonly asked: number } => {
    let asked = 0;
    const x = rootOfFalling(
      (at) => {
        asked++;
        return f(at);
      },
      low,
      high,
      1e-9,
    );
    return { x, asked };
  };
  test('is found wherever it lies, from a dozen values where the function is smooth', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 29.9, noNaN: true }),
        fc.double({ min: 1, max: 2, noNaN: true }),
        (root, power) => {
          const { x, asked } = found((at) => root ** power - at ** power);
          expect(Math.abs(x - root)).toBeLessThan(1e-9);
          expect(asked).toBeLessThan(30);
        },
      ),
    );
  });
  test('is found where the function jumps, lies flat, or stands nearly upright, in no more than twice the halvings', () => {
    const hard: [(x: number) => number, number][] = [
      [(x) => (x < 7.3 ? 1 : -1), 7.3],
      [(x) => (x < 7.3 ? 1e-9 : -1e9), 7.3],
      [(x) => Math.max(0, 5 - x) - 1e-12, 5],
      [(x) => -Math.sign(x - 3) * Math.abs(x - 3) ** 0.2, 3],
    ];
    for (const [f, root] of hard) {
      const { x, asked } = found(f);
      expect(Math.abs(x - root)).toBeLessThan(2e-9);
      expect(asked).toBeLessThan(72);
    }
  });
  test('is an end of the bracket where the function does not cross zero inside it', () => {
    expect([found((x) => -1 - x).x, found((x) => 40 - x).x, found((x) => -x).x, found((x) => 30 - x).x]).toEqual([
      0, 30, 0, 30,
    ]);
  });
});
