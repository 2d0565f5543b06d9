import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  analysisFrom,
  carbonWork,
  concentrated,
  lampPreconditions,
  lampWork,
  meanLight,
  membraneExposure,
  metalAfter,
  monthsPerRefill,
  bedTransfer,
  remineralise,
  safeRecovery,
  SCALING_LIMITS,
  scalingFeed,
  wallPolarisation,
  type Lamp,
} from '../index.ts';

const soft = { temperatureC: 15, pH: 6, alkalinityMgL: 8, calciumMgL: 2, tdsMgL: 20 };
const hard = scalingFeed(
  analysisFrom({ source: 'mains', tdsMgL: 480, hardnessMgL: 300, temperatureC: 12, silicaMgL: 15 }).analysis,
);

describe('minerals', () => {
  test('an approach of 1 ends at saturation, of 0 changes nothing', () => {
    expect(remineralise(soft, { approach: 1 }).calciteSaturationIndex).toBeCloseTo(0, 6);
    expect(remineralise(soft, { approach: 0 })).toMatchObject({ pH: 6, dissolvedMgL: 0, tdsMgL: 20 });
  });
  test('pure water takes up about 12 mg/L and ends near pH 9.9', () => {
    const r = remineralise({ temperatureC: 25, pH: 7, alkalinityMgL: 0, calciumMgL: 0, tdsMgL: 0 }, { approach: 1 });
    expect(r.dissolvedMgL).toBeGreaterThan(11);
    expect(r.dissolvedMgL).toBeLessThan(13);
    expect(r.pH).toBeCloseTo(9.9, 1);
  });
  test('alkalinity rises by what dissolves, calcium by 0.4 and TDS by 1.62 of it', () => {
    const r = remineralise(soft, { approach: 0.5 });
    expect(r.alkalinityMgL - 8).toBeCloseTo(r.dissolvedMgL, 9);
    expect((r.calciumMgL - 2) / r.dissolvedMgL).toBeCloseTo(0.4004, 4);
    expect((r.tdsMgL - 20) / r.dissolvedMgL).toBeCloseTo(1.6197, 3);
  });
  test('saturated water dissolves nothing', () => {
    const r = remineralise(
      { temperatureC: 15, pH: 8.2, alkalinityMgL: 250, calciumMgL: 100, tdsMgL: 500 },
      { approach: 1 },
    );
    expect(r).toMatchObject({ dissolvedMgL: 0, pH: 8.2 });
    expect(r.calciumMgL).toBeCloseTo(100, 9);
  });
  test('seconds at the tap reach about a tenth, a minute most of the half and more, an hour all', () => {
    const share = (minutes: number): number => {
      const r = remineralise(soft, { contact: { minutes, grainMm: 1.5, voidage: 0.4 } });
      return r.dissolvedMgL / r.equilibriumMgL;
    };
    expect(share(6 / 60)).toBeGreaterThan(0.02);
    expect(share(6 / 60)).toBeLessThan(0.15);
    expect(share(1)).toBeGreaterThan(0.4);
    expect(share(1)).toBeLessThan(0.8);
    expect(share(60)).toBeGreaterThan(0.99);
  });
  test('at tap flow the water moves well past the grains: Peclet number near 13,000, Sherwood 35 to 70; standing it ends at 4', () => {
    // a quarter litre of 1.5 mm grains, a litre a minute
    const tap = bedTransfer({ minutes: 0.105, grainMm: 1.5, voidage: 0.42, bedLengthMm: 120 }, 12);
    expect(tap.peclet).toBeGreaterThan(8000);
    expect(tap.peclet).toBeLessThan(20000);
    expect(tap.sherwood).toBeGreaterThan(35);
    expect(tap.sherwood).toBeLessThan(70);
    expect(bedTransfer({ minutes: 600, grainMm: 1.5, voidage: 0.42, bedLengthMm: 120 }, 12).sherwood).toBe(4);
    // a longer bed in the same time runs faster, and takes up more
    const of = (bedLengthMm: number) =>
      remineralise(soft, { contact: { minutes: 0.2, grainMm: 1.5, voidage: 0.4, bedLengthMm } }).dissolvedMgL;
    expect(of(400)).toBeGreaterThan(of(100));
  });
  test('longer contact and finer grain never take up less', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 20, noNaN: true }),
        fc.double({ min: 0.3, max: 4, noNaN: true }),
        fc.double({ min: 2, max: 35, noNaN: true }),
        (minutes, grainMm, temperatureC) => {
          const of = (m: number, g: number) =>
            remineralise({ ...soft, temperatureC }, { contact: { minutes: m, grainMm: g, voidage: 0.4 } }).dissolvedMgL;
          return (
            of(minutes * 1.3, grainMm) >= of(minutes, grainMm) && of(minutes, grainMm / 1.3) >= of(minutes, grainMm)
          );
        },
      ),
      { numRuns: 40 },
    );
  });
  test('against the rate integrated finely in time', () => {
    // a second method: the same chemistry stepped forward by small doses in time instead of shares of the way
    const contact = { minutes: 0.5, grainMm: 1, voidage: 0.4, bedLengthMm: 120 };
    const whole = remineralise(soft, { contact }).dissolvedMgL;
    let water = { ...soft };
    let sum = 0;
    for (let i = 0; i < 400; i++) {
      const step = remineralise(water, {
        contact: { ...contact, minutes: contact.minutes / 400, bedLengthMm: contact.bedLengthMm / 400 },
      });
      sum += step.dissolvedMgL;
      water = {
        ...water,
        pH: step.pH,
        alkalinityMgL: step.alkalinityMgL,
        calciumMgL: step.calciumMgL,
        tdsMgL: step.tdsMgL,
      };
    }
    expect(sum / whole).toBeCloseTo(1, 1);
  });
  test('metal may follow only buffered water above pH 7', () => {
    expect(metalAfter(remineralise(soft, { approach: 0.1 })).acceptable).toBe(false);
    expect(metalAfter({ pH: 7.8, alkalinityMgL: 40, calciteSaturationIndex: -0.5 })).toMatchObject({
      code: 'unbuffered',
      alkalinityMgL: 40,
    });
    expect(metalAfter({ pH: 7.8, alkalinityMgL: 80, calciteSaturationIndex: -1.5 })).toMatchObject({
      code: 'no-film',
      calciteSaturationIndex: -1.5,
    });
    expect(metalAfter({ pH: 7.8, alkalinityMgL: 80, calciteSaturationIndex: -0.4 }).acceptable).toBe(true);
  });
  test('300 g of which four fifths count, at 20 mg/L and 10 L a day, last 39 months', () => {
    expect(monthsPerRefill(300, 0.8, 20, 10)).toBeCloseTo(39.4, 1);
    expect(monthsPerRefill(300, 0.8, 0, 10)).toBe(Infinity);
  });
});

describe('scaling', () => {
  test('nothing kept is the feed itself', () => {
    const s = concentrated(hard, 0, 0.04, 1, 12);
    expect(s.calciteSaturationIndex).toBeCloseTo(hard.calciteSaturationIndex ?? 9, 2);
    expect(s.pH).toBeCloseTo(hard.carbonate.pH, 2);
    expect(s.silicaSaturation).toBeCloseTo(15 / silica12, 3);
  });
  const silica12 = 10 ** (4.52 - 731 / 285.15);
  test('the safe recovery is where the wall just reaches its limit, and a scan finds the same', () => {
    const safe = safeRecovery(hard, 0.04, 20);
    expect(safe.limitedBy).toBe('calcite');
    const index = (r: number): number =>
      concentrated(hard, r, 0.04, wallPolarisation(r), 20).calciteSaturationIndex ?? 0;
    expect(index(safe.recovery)).toBeCloseTo(SCALING_LIMITS.calciteIndexMax, 4);
    let scanned = 0;
    for (let r = 0; r < 0.9; r += 0.001) if (index(r) <= SCALING_LIMITS.calciteIndexMax) scanned = r;
    expect(Math.abs(scanned - safe.recovery)).toBeLessThan(0.0011);
  });
  test('softened water is not limited by calcite, silica-rich water by silica', () => {
    const feed = (silicaMgL: number) =>
      scalingFeed(
        analysisFrom({ source: 'softened-mains', tdsMgL: 480, hardnessMgL: 8, temperatureC: 12, silicaMgL }).analysis,
      );
    expect(safeRecovery(feed(40), 0.04, 12).limitedBy).toBe('silica');
    expect(safeRecovery(feed(40), 0.04, 12).recovery).toBeGreaterThan(safeRecovery(hard, 0.04, 12).recovery);
  });
  test('more recovery never scales less', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 0.85, noNaN: true }),
        fc.double({ min: 3, max: 30, noNaN: true }),
        (r, t) => {
          const a = concentrated(hard, r, 0.04, wallPolarisation(r), t);
          const b = concentrated(hard, r + 0.04, 0.04, wallPolarisation(r + 0.04), t);
          return (
            (b.calciteSaturationIndex ?? 0) >= (a.calciteSaturationIndex ?? 0) &&
            b.gypsumSaturation >= a.gypsumSaturation &&
            b.silicaSaturation >= a.silicaSaturation
          );
        },
      ),
    );
  });
});

describe('carbon', () => {
  test('contact is bed over flow: 0.6 L at 0.6 L/min is a minute', () => {
    expect(carbonWork({ bedVolumeL: 0.6, kind: 'block' }, 0.6, 'chlorine', 0.5, 30).contactSeconds).toBeCloseTo(60, 9);
  });
  test('chloramine tells storage and direct apart: catalytic carbon is enough for the slow one only', () => {
    const at = (flow: number) => carbonWork({ bedVolumeL: 1.2, kind: 'catalytic' }, flow, 'chloramine', 1.5, 40);
    expect([at(0.5).enough, at(3).enough]).toEqual([true, false]);
    expect(at(3).litresLife).toBeLessThan(at(0.5).litresLife ?? 0);
  });
  test('without disinfectant nothing wears it', () => {
    expect(carbonWork({ bedVolumeL: 1, kind: 'granular' }, 2, 'none', 0, 40)).toMatchObject({
      litresLife: null,
      enough: true,
    });
  });
  test('0.5 mg/L for four hours a day reaches the low end in 100 days', () => {
    expect(membraneExposure(0.5, 4)).toMatchObject({ perDay: 2, daysToLow: 100, daysToHigh: 500 });
    expect(membraneExposure(0, 4).daysToLow).toBeNull();
  });
});

describe('a lamp', () => {
  const lamp: Lamp = {
    ratedDoseMJcm2: 40,
    ratedFlowLMin: 4,
    ratedTransmittancePercent: 95,
    gapCm: 2,
    lifeHours: 9000,
    endOfLifeShare: 0.8,
  };
  test('gives its rating at its rating, at the end of its life', () => {
    expect(lampWork(lamp, 4, 95, 9000).doseMJcm2).toBeCloseTo(40, 9);
    expect(lampWork(lamp, 4, 95, 9000).hoursLeft).toBe(0);
    expect(lampWork(lamp, 4, 95, 0).doseMJcm2).toBeCloseTo(50, 9);
  });
  test('half the flow doubles the dose; the largest flow just meets it', () => {
    const w = lampWork(lamp, 2, 80, 4000);
    expect(lampWork(lamp, 1, 80, 4000).doseMJcm2).toBeCloseTo(2 * w.doseMJcm2, 9);
    expect(lampWork(lamp, w.maxFlowLMin, 80, 4000).doseMJcm2).toBeCloseTo(40, 9);
  });
  test('murky water takes light: 2 cm of 80 % let 81 % of the mean through', () => {
    expect(meanLight(100, 2)).toBe(1);
    expect(meanLight(80, 2)).toBeCloseTo(0.807, 3);
  });
  test('what must be right first is named', () => {
    expect(lampPreconditions({ ironMgL: 0.5, hardnessMgL: 200, turbidityNTU: 3, transmittancePercent: 60 })).toEqual([
      { code: 'iron', value: 0.5 },
      { code: 'hardness', value: 200 },
      { code: 'turbidity', value: 3 },
      { code: 'transmittance', value: 60 },
    ]);
    expect(lampPreconditions({ ironMgL: 0, hardnessMgL: 20, turbidityNTU: 0.2, transmittancePercent: 97 })).toEqual([]);
  });
});
