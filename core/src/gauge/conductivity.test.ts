import { describe, expect, test } from '@jest/globals';
import {
  analysisFrom,
  InstrumentSchema,
  instrumentError,
  parseQuantity,
  quantityMessage,
  tdsFactorFrom,
  tdsPerUSCm,
  waterState,
  type Known,
} from '../index.ts';

const parse = (text: string, unit = 'mg/L', per: number | undefined = 0.66) =>
  parseQuantity(text, 'concentration', unit, { min: 1, max: 45000 }, per);
const value = (text: string, unit?: string, per?: number): number => {
  const r = parse(text, unit, per);
  if (!r.ok) throw new Error(quantityMessage(r.problem));
  return r.value;
};
const message = (text: string, per?: number): string => {
  const r = parseQuantity(text, 'concentration', 'mg/L', { min: 1, max: 45000 }, per);
  return r.ok ? '' : quantityMessage(r.problem);
};

describe('a conductivity typed for what is dissolved', () => {
  test('takes the factor of the water or the meter, or the one written beside it', () => {
    expect(value('640 µS/cm')).toBeCloseTo(422.4, 9);
    expect(value('640 uS/cm at 0.5')).toBe(320);
    expect(value('640 µS/cm x 0,5')).toBe(320);
    expect(value('1,2 mS/cm')).toBeCloseTo(792, 9);
    expect(parse('640 µS at 0.7')).toMatchObject({ ok: true, unit: 'µS/cm', written: 640, perUSCm: 0.7 });
  });
  test('a bare number is a conductivity where the meter shows one, and mg/L stay mg/L', () => {
    expect(value('640', 'µS/cm', 0.5)).toBe(320);
    expect(value('640 mg/L', 'µS/cm', 0.5)).toBe(640);
    expect(value('640')).toBe(640);
  });
  test('a factor no meter has, a field that takes none, and a figure out of range are told', () => {
    expect(message('640 µS/cm at 2', 0.6)).toContain('factors lie between 0.3 and 1.1');
    expect(message('640 µS/cm')).toContain('measures a conductivity; this field wants a concentration');
    expect(message('900 mS/cm', 0.6)).toContain('Outside 1 to 45000 mg/L');
  });
});

describe('the factor of a water', () => {
  test.each([
    ['mains', 150, 0.62, 0.76],
    ['mains', 20, 0.5, 0.62],
    ['rain', 10, 0.48, 0.6],
    ['well', 300, 0.72, 0.88],
  ] as const)('%s with %d mg/L hardness lies where published tables have it', (source, hardnessMgL, low, high) => {
    const f = tdsPerUSCm({ source, hardnessMgL });
    expect(f).toBeGreaterThan(low);
    expect(f).toBeLessThan(high);
  });
  test('brings the conductivity of an analysis back to its TDS, within what one make-up for all strengths leaves', () => {
    for (const tdsMgL of [150, 320, 700]) {
      const known: Known = { source: 'mains', hardnessMgL: 0.45 * tdsMgL };
      const { analysis } = analysisFrom({ source: 'mains', tdsMgL, hardnessMgL: 0.45 * tdsMgL, temperatureC: 25 });
      const uS = waterState(analysis).conductivityUSCm;
      expect(tdsPerUSCm(known, uS) * uS).toBeGreaterThan(0.95 * tdsMgL);
      expect(tdsPerUSCm(known, uS) * uS).toBeLessThan(1.05 * tdsMgL);
    }
  });
});

describe('a meter that shows conductivity', () => {
  const meter = InstrumentSchema.parse({
    id: '5f0c4b1e-1111-4111-a111-000000000001',
    name: 'bridge',
    what: 'pen',
    reads: [{ kind: 'conductivity', unit: 'µS/cm', min: 0, max: 20000, errorFixed: 4, errorShare: 0.01 }],
    tdsFactor: 0.5,
    checkEveryDays: 90,
    checks: [],
    address: null,
  });
  test('its error reaches the mg/L by its factor', () => {
    expect(instrumentError(meter, 'concentration', 400)).toBeCloseTo(4 * 0.5 + 4, 9);
    expect(instrumentError(meter, 'conductivity', 800)).toBeCloseTo(12, 9);
    expect(instrumentError(meter, 'pressure', 3)).toBeNull();
  });
  test('a factor beyond what meters have is refused', () => {
    expect(InstrumentSchema.safeParse({ ...meter, tdsFactor: 2 }).success).toBe(false);
  });
});

describe('where a factor comes from', () => {
  test('is said, so that one that moves by itself is no riddle', () => {
    expect(tdsFactorFrom({ source: 'mains' })).toMatch(/usual for such a source.*moves once hardness/);
    expect(tdsFactorFrom({ source: 'mains', hardnessMgL: 300, pH: 7.4 })).toBe(
      'by this water’s make-up (hardness at this tap, pH as read)',
    );
    // and it really does move by what it names
    expect(tdsPerUSCm({ source: 'mains', hardnessMgL: 300 })).not.toBe(tdsPerUSCm({ source: 'mains' }));
  });
});
