import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  activity,
  analysisFrom,
  calciteIndex,
  carbonateAt,
  carbonateConstants,
  carbonateOf,
  charges,
  completeAnalysis,
  conductivityUSCm,
  debyeHueckelA,
  fromMgL,
  gypsumSaturation,
  langelierIndex,
  productCarbonate,
  silicaSolubilityMgL,
  sodiumChloride,
  tdsFromConductivity,
  toMgL,
  toMolL,
  waterState,
  type Amounts,
  type Analysis,
} from '../index.ts';

const base: Analysis = { temperatureC: 15, pH: 7.5, alkalinityMgL: 200, ionsMgL: { Ca: 90, Mg: 15, Na: 20, SO4: 40 } };
const codes = (a: Partial<Analysis>): string[] => waterState({ ...base, ...a }).doubts.map((d) => d.code);

describe('published constants', () => {
  test('the carbonate system at 25 C (Plummer & Busenberg)', () => {
    const k = carbonateConstants(25);
    expect([k.pK1, k.pK2, k.pKcalcite, k.pKH].map((v) => Number(v.toFixed(3)))).toEqual([6.352, 10.329, 8.48, 1.468]);
    expect(k.pKw).toBeCloseTo(14, 2);
  });
  test('and at 0 and 50 C', () => {
    expect([0, 50].map((t) => Number(carbonateConstants(t).pK1.toFixed(2)))).toEqual([6.58, 6.29]);
    expect([0, 50].map((t) => Number(carbonateConstants(t).pKcalcite.toFixed(2)))).toEqual([8.38, 8.66]);
  });
  test('Debye-Hueckel and Davies at 25 C', () => {
    expect(debyeHueckelA(25)).toBeCloseTo(0.509, 2);
    expect(activity(1, 0.01, 25)).toBeCloseTo(0.902, 2);
    expect(activity(0, 0.1, 25)).toBe(1);
  });
  test('silica 117, 96 and 78 mg/L at 25, 15 and 5 C (Fournier & Rowe)', () => {
    expect([25, 15, 5].map((t) => Math.round(silicaSolubilityMgL(t)))).toEqual([117, 96, 78]);
  });
  test('gypsum about 15.2 mmol/L in pure water at 25 C', () => {
    let low = 0.01;
    let high = 0.02;
    for (let n = 0; n < 40; n++) {
      const c = 0.5 * (low + high);
      if (gypsumSaturation(c, c, 25, 4 * c) < 1) low = c;
      else high = c;
    }
    expect(Math.abs(1000 * low - 15.2)).toBeLessThan(0.3);
  });
  test('the Langelier index in its Carrier form, -0.73', () => {
    expect(langelierIndex(7.5, 25, 320, 150, 34)).toBeCloseTo(-0.73, 2);
    expect(langelierIndex(7.5, 25, 320, 0, 34)).toBeNull();
  });
  test('potassium chloride 0.01 mol/L shows 1413 uS/cm, sodium chloride 1000 mg/L about 1990', () => {
    expect(Math.abs(conductivityUSCm(fromMgL({ K: 390.98, Cl: 354.5 })) / 1413 - 1)).toBeLessThan(0.005);
    expect(Math.abs(conductivityUSCm(sodiumChloride(1000)) / 1990 - 1)).toBeLessThan(0.01);
  });
});

describe('an analysis', () => {
  test('takes bicarbonate from the alkalinity, 1.219 times it, and chloride for the charge it lacks', () => {
    const { composition: c, assumed } = completeAnalysis({ ...base, alkalinityMgL: 100 });
    expect(assumed.map((a) => a.field)).toEqual(['HCO3', 'Cl']);
    expect(assumed[0]?.value).toBeCloseTo(121.9, 1);
    const { cations, anions } = charges(c.molL);
    expect(cations).toBeCloseTo(anions, 12);
  });
  test('takes sodium where the anions are too many', () => {
    const { assumed } = completeAnalysis({ ...base, ionsMgL: { Ca: 40, SO4: 100 } });
    expect(assumed.map((a) => a.field)).toEqual(['HCO3', 'Na']);
  });
  test('is never refused for its imbalance, and nothing measured is changed', () => {
    const ionsMgL = { Ca: 90, Na: 10, Cl: 200, HCO3: 100, SO4: 20 };
    const s = waterState({ ...base, ionsMgL });
    const kept = toMgL(s.composition.molL);
    for (const [k, v] of Object.entries(ionsMgL)) expect(kept[k as keyof Amounts]).toBeCloseTo(v, 9);
    expect(s.imbalancePercent).toBeLessThan(-5);
    expect(s.doubts.map((d) => d.code)).toContain('imbalance');
  });
  test('a measured TDS wins over the sum of ions, and is doubted where they differ', () => {
    const s = waterState({ ...base, tdsMgL: 700 });
    expect(s.tdsMgL).toBe(700);
    expect(s.doubts.map((d) => d.code)).toContain('tds-against-ions');
    expect(waterState(base).tdsMgL).toBeCloseTo(waterState(base).composition.tdsMgL, 12);
  });
  test.each([
    ['much-co2', { pH: 5.8 }],
    ['high-ph-hard', { pH: 9.8 }],
    ['alkalinity-against-bicarbonate', { ionsMgL: { ...base.ionsMgL, HCO3: 100 } }],
    ['soft-but-alkaline', { ionsMgL: { Ca: 6, Mg: 1, SO4: 5 } }],
  ] as const)('%s is doubted', (code, change) => {
    expect(codes(change)).toContain(code);
    expect(codes({})).not.toContain(code);
  });
  test('made up from few figures is neutral, keeps what was read and lists the rest', () => {
    fc.assert(
      fc.property(
        fc.record({
          source: fc.constantFrom('mains', 'softened-mains', 'well', 'surface', 'rain'),
          tdsMgL: fc.double({ min: 30, max: 2000, noNaN: true }),
          share: fc.double({ min: 0.02, max: 0.6, noNaN: true }),
          temperatureC: fc.double({ min: 1, max: 35, noNaN: true }),
        }),
        ({ source, tdsMgL, share, temperatureC }) => {
          const { analysis, assumed } = analysisFrom({ source, tdsMgL, hardnessMgL: share * tdsMgL, temperatureC });
          const s = waterState(analysis);
          const { cations, anions } = charges(s.composition.molL);
          return (
            Math.abs(cations - anions) < 1e-12 &&
            Math.abs(s.hardnessMgL - share * tdsMgL) < 1e-6 &&
            Math.abs(s.composition.tdsMgL / tdsMgL - 1) < 0.35 &&
            assumed.length >= 4 &&
            Number.isFinite(s.osmoticPressureBar + s.conductivityUSCm + s.co2MgL)
          );
        },
      ),
      { numRuns: 200 },
    );
  });
});

describe('round trips', () => {
  const amounts = fc.record({
    Ca: fc.double({ min: 0.1, max: 300, noNaN: true }),
    Na: fc.double({ min: 0.1, max: 3000, noNaN: true }),
    SO4: fc.double({ min: 0.1, max: 500, noNaN: true }),
    SiO2: fc.double({ min: 0, max: 60, noNaN: true }),
  });
  test('mg/L to mol/L and back', () => {
    fc.assert(
      fc.property(amounts, (a: Amounts) => {
        const back = toMgL(toMolL(a));
        return (Object.keys(a) as (keyof Amounts)[]).every((k) => Math.abs((back[k] ?? 0) - (a[k] ?? 0)) < 1e-9);
      }),
    );
  });
  test('TDS to conductivity and back, for any make-up', () => {
    fc.assert(
      fc.property(amounts, (a) => {
        const w = fromMgL(a);
        return Math.abs(tdsFromConductivity(w, conductivityUSCm(w)) / w.tdsMgL - 1) < 1e-9;
      }),
      { numRuns: 50 },
    );
  });
  test('pH and alkalinity to carbon, and carbon and alkalinity to pH', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 5.5, max: 9.8, noNaN: true }),
        fc.double({ min: 2e-4, max: 8e-3, noNaN: true }),
        fc.double({ min: 1, max: 45, noNaN: true }),
        (pH, alkalinity, t) => {
          const s = carbonateAt(pH, alkalinity, t, 0.01);
          return Math.abs(carbonateOf(s.total, s.alkalinity, t, 0.01).pH - pH) < 1e-6;
        },
      ),
    );
  });
});

describe('what passes a membrane', () => {
  test('CO2 does: the product of hard mains stands near pH 6', () => {
    const s = waterState(analysisFrom({ source: 'mains', tdsMgL: 480, hardnessMgL: 300, temperatureC: 12 }).analysis);
    const product = productCarbonate(s.carbonate, 0.04, 12, 5e-4);
    expect(product.pH).toBeGreaterThan(5.7);
    expect(product.pH).toBeLessThan(6.5);
    expect(product.co2).toBeCloseTo(s.carbonate.co2, 4);
  });
  test('calcite at saturation has index 0, warmer water more', () => {
    const s = carbonateAt(8, 4e-3, 25, 0.008);
    const at = (t: number) => calciteIndex(2e-3, carbonateAt(8, 4e-3, t, 0.008), t, 0.008) ?? 0;
    expect(at(40)).toBeGreaterThan(at(10));
    const saturated = 10 ** -8.47983 / (activity(2, 0.008, 25) * s.co3Activity);
    expect(calciteIndex(saturated, s, 25, 0.008)).toBeCloseTo(0, 3);
  });
});
