import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mains, rating } from '../testing/fixtures.ts';
import {
  atmosphereBar,
  fillTank,
  fitPermeability,
  frictionFactor,
  operatingMap,
  osmoticBarPerMgL,
  pressureAtWaterBar,
  capillaryOf,
  densityKgM3,
  restrictorFlowLDay,
  restrictorReynolds,
  type Restrictor,
  solveTrain,
  tapFlowLMin,
  pressureForFlowBar,
  tubeDropBar,
  viscosityPaS,
  waterAtPressureL,
  type FeedWater,
  NO_WAY,
  type Train,
  type Working,
} from '../index.ts';
import { COARSE_MAP } from '../run/fill.ts';

const water = (temperatureC: number, tdsMgL = 420): FeedWater => ({
  temperatureC,
  tdsMgL,
  osmoticBarPerMgL: osmoticBarPerMgL(mains(tdsMgL, 0.4 * tdsMgL), temperatureC),
});
const train: Train = {
  supply: { staticBar: 3.5, resistance: 0.02 },
  feed: [{ way: { ...NO_WAY, barPerLMin: 0.4 }, limitBar: null, pump: null }],
  permeability: fitPermeability(rating),
  restrictor: { kind: 'capillary', flowLDay: 430, atBar: 4, atC: 25 },
  shutOff: { kind: 'four-port', closeRatio: 0.65, reopenRatio: 0.45, closeOffsetBar: 0 },
  nonReturnBar: 0.05,
  permeatePump: null,
};
const pump = { maxBoostBar: 4.2, maxFlowLMin: 1.5, minInletBar: 0.3 };
/** The same filters, then a pump. */
const pumped = (curve: typeof pump | null, barPerLMin = 0.4): Train['feed'] => [
  { way: { ...NO_WAY, barPerLMin }, limitBar: null, pump: curve },
];

describe('water and tubes', () => {
  test('viscosity is 1.138 at 15 C and 0.890 mPa s at 25 C (IAPWS)', () => {
    expect(viscosityPaS(15) * 1000).toBeCloseTo(1.138, 2);
    expect(viscosityPaS(25) * 1000).toBeCloseTo(0.89, 3);
  });
  test('5 m of 6.35 mm bore at 3 L/min and 15 C lose 0.32 bar', () => {
    expect(Math.abs(tubeDropBar({ boreMm: 6.35, lengthM: 5, riseM: 0 }, 3, 15) - 0.32)).toBeLessThan(0.01);
  });
  test('laminar flow follows 64/Re, and a rise counts even with nothing flowing', () => {
    expect(frictionFactor(800)).toBeCloseTo(64 / 800, 4);
    expect(tubeDropBar({ boreMm: 6, lengthM: 1, riseM: 2 }, 0, 15)).toBeCloseTo(0.196, 3);
  });
  test('the tap flow a pressure gives asks for that pressure', () => {
    const outlet = { barPerLMin: 0.14, tubes: [{ boreMm: 4.3, lengthM: 2, riseM: 0.6 }], barPerLMin2: 0.03, bar: 0 };
    expect(pressureForFlowBar(outlet, tapFlowLMin(outlet, 1.2, 10), 10)).toBeCloseTo(1.2, 6);
    expect(tapFlowLMin(outlet, 0.05, 10)).toBe(0);
  });
});

describe('a restrictor', () => {
  test('gives its stated flow at its stated conditions', () => {
    for (const kind of ['orifice', 'capillary'] as const)
      expect(restrictorFlowLDay({ kind, flowLDay: 400, atBar: 4, atC: 25 }, 4, 25)).toBeCloseTo(400, 9);
  });
  const capillary = (flowLDay: number, boreMm?: number): Restrictor => ({
    kind: 'capillary', flowLDay, atBar: 4, atC: 25, ...(boreMm === undefined ? {} : { boreMm }),
  }); // oxfmt-ignore
  test('a capillary of domestic size runs turbulent: little less in cold water, two thirds at half the pressure', () => {
    for (const flow of [240, 430, 650, 1000]) {
      const r = capillary(flow);
      const { boreMm, lengthMm } = capillaryOf(r);
      expect(boreMm).toBeGreaterThan(0.5);
      expect(boreMm).toBeLessThan(1.1);
      expect(lengthMm).toBeGreaterThan(30);
      expect(lengthMm).toBeLessThan(150);
      const reynolds = restrictorReynolds(r, 4, 25) ?? 0;
      expect(reynolds).toBeGreaterThan(5000);
      expect(reynolds).toBeLessThan(16000);
      const cold = restrictorFlowLDay(r, 4, 5) / flow;
      expect(cold).toBeGreaterThan(0.91);
      expect(cold).toBeLessThan(0.97);
      const half = restrictorFlowLDay(r, 2, 25) / flow;
      expect(half).toBeGreaterThan(0.66);
      expect(half).toBeLessThan(0.69);
    }
  });
  test('a bore its sheet states counts; a long narrow one runs laminar and loses with the viscosity', () => {
    expect(capillaryOf(capillary(430, 0.9)).lengthMm).toBeGreaterThan(4 * capillaryOf(capillary(430)).lengthMm);
    const long = capillary(40, 0.8);
    expect(restrictorReynolds(long, 4, 25)).toBeLessThan(1200);
    expect(restrictorFlowLDay(long, 4, 4) / 40).toBeCloseTo(viscosityPaS(25) / viscosityPaS(4), 2);
    // one too narrow keeps its stated flow, its ends holding all of it back
    expect(capillaryOf(capillary(430, 0.4)).lengthMm).toBe(0);
    expect(restrictorFlowLDay(capillary(430, 0.4), 4, 25)).toBeCloseTo(430, 4);
  });
  test('what it lets through costs the pressure it stands at: friction along it, and its two ends', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 60, max: 1700, noNaN: true }),
        fc.double({ min: 0.2, max: 12, noNaN: true }),
        fc.double({ min: 1, max: 40, noNaN: true }),
        (flow, bar, c) => {
          const r = capillary(flow);
          const { boreMm, lengthMm, endLoss } = capillaryOf(r);
          const lMin = restrictorFlowLDay(r, bar, c) / 1440;
          const along = tubeDropBar({ boreMm, lengthM: lengthMm / 1000, riseM: 0 }, lMin, c);
          const speed = lMin / 60000 / ((Math.PI * (boreMm / 1000) ** 2) / 4);
          const ends = (endLoss * 0.5 * densityKgM3(c) * speed * speed) / 1e5;
          expect((along + ends) / bar).toBeCloseTo(1, 5);
          // and it rises with the pressure, through the transition too
          expect(restrictorFlowLDay(r, bar * 1.01, c) / 1440).toBeGreaterThan(lMin);
        },
      ),
      { numRuns: 500, seed: 5 },
    );
  });
  test('an orifice goes by the square root of the pressure and does not feel the cold', () => {
    const at = { flowLDay: 400, atBar: 4, atC: 25 };
    expect(restrictorFlowLDay({ kind: 'orifice', ...at }, 4, 4)).toBe(400);
    expect(restrictorFlowLDay({ kind: 'orifice', ...at }, 1, 4)).toBe(200);
    expect(restrictorFlowLDay({ kind: 'orifice', ...at }, -1, 4)).toBe(0);
  });
});

describe('an air-charged tank', () => {
  test('15.1 L charged to 0.48 bar holds 9.12 L at 2.76 bar (Boyle)', () => {
    expect(waterAtPressureL({ volumeL: 15.1, airChargeBar: 0.48 }, 2.76)).toBeCloseTo(9.12, 2);
  });
  test('holds 5 % more at 1500 m', () => {
    const t = { volumeL: 15.1, airChargeBar: 0.48 };
    expect(waterAtPressureL(t, 2.76, atmosphereBar(1500)) / waterAtPressureL(t, 2.76)).toBeCloseTo(1.05, 1);
  });
  test('pressure and content are each other’s inverse', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.5, max: 6, noNaN: true }), (bar) => {
        const t = { volumeL: 12, airChargeBar: 0.5 };
        return Math.abs(pressureAtWaterBar(t, waterAtPressureL(t, bar)) - bar) < 1e-9;
      }),
    );
  });
  test('holds nothing below its air charge', () => {
    expect(waterAtPressureL({ volumeL: 12, airChargeBar: 0.5 }, 0.5)).toBe(0);
  });
});

describe('the train', () => {
  test('brings to the element exactly the flow that it and the restrictor take', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.7, max: 8, noNaN: true }),
        fc.double({ min: 1, max: 30, noNaN: true }),
        fc.boolean(),
        (bar, t, hasPump) => {
          const tr = { ...train, supply: { staticBar: bar, resistance: 0.02 }, feed: pumped(hasPump ? pump : null) };
          const w = solveTrain(tr, water(t), 0.8);
          const flow = w.out.feedLDay / 1440;
          const lost = bar - tr.supply.resistance * flow ** 2 - 0.4 * flow;
          const boost =
            hasPump && w.filteredBar >= pump.minInletBar ? pump.maxBoostBar * (1 - flow / pump.maxFlowLMin) : 0;
          return Math.abs(w.inletBar - Math.max(0, lost) - Math.max(0, boost)) < 1e-4;
        },
      ),
    );
  });
  test('gives the same answer from any start, that of another pressure or another restrictor', () => {
    const made = (near?: Working, slices?: number): number =>
      solveTrain(train, water(8), 0.5, near, slices).out.permeateLDay;
    const other = { ...train, restrictor: { ...train.restrictor, flowLDay: 900 } };
    for (const near of [solveTrain(train, water(8), 2), solveTrain(other, water(8), 0.5)]) {
      expect(Math.abs(made(near) / made() - 1)).toBeLessThan(1e-6);
      expect(Math.abs(made(near, 5) / made(undefined, 5) - 1)).toBeLessThan(1e-5);
    }
  });
  test('a map costs few looks at the supply: each of its points begins near another', () => {
    let looks = 0;
    const watched = {
      resistance: 0.02,
      get staticBar() {
        looks++;
        return 3.5;
      },
    };
    const map = operatingMap({ ...train, supply: watched }, water(8), COARSE_MAP);
    // two for where it closes, and each of its four points; one of each at rest
    expect(looks).toBeLessThanOrEqual(22);
    expect(map.points.map((w) => w.out.permeateLDay)).toEqual(
      map.pressuresBar.map((bar): unknown =>
        expect.closeTo(solveTrain(train, water(8), bar, undefined, COARSE_MAP.slices).out.permeateLDay, 2),
      ),
    );
  });
  test('a limiting valve holds the pressure down and a pump lifts it', () => {
    const high = {
      ...train,
      supply: { staticBar: 8, resistance: 0.02 },
      feed: [{ way: NO_WAY, limitBar: 4, pump: null }, ...train.feed],
    };
    expect(solveTrain(high, water(8), 0.5).inletBar).toBeLessThanOrEqual(4);
    expect(solveTrain({ ...train, feed: pumped(pump) }, water(8), 0.5).inletBar).toBeGreaterThan(5);
  });
  test('a pump that would take more than the supply brings is told, at the flow where it cuts out', () => {
    // 2 bar at rest, 0.3 bar left at 1 L/min
    const thin = {
      ...train,
      supply: { staticBar: 2, resistance: 1.3 },
      feed: pumped(pump),
      restrictor: { ...train.restrictor, flowLDay: 9000 },
    };
    const w = solveTrain(thin, water(8), 0);
    expect(w.starved).toBe(true);
    expect(w.filteredBar).toBeCloseTo(pump.minInletBar, 6);
    expect(w.filteredBar).toBeGreaterThanOrEqual(pump.minInletBar);
    const { feedLDay, permeateLDay, concentrateLDay } = w.out;
    expect(permeateLDay + concentrateLDay).toBeCloseTo(feedLDay, 9);
    // from any start, and whatever the flow where the search began
    for (const bar of [0, 1.5]) {
      const near = solveTrain({ ...thin, supply: { staticBar: 3, resistance: 1.3 } }, water(8), bar);
      expect(solveTrain(thin, water(8), 0, near).out.feedLDay).toBeCloseTo(feedLDay, 3);
    }
    const tight = solveTrain({ ...thin, restrictor: { ...train.restrictor, flowLDay: 300 } }, water(8), 0);
    expect(tight.starved).toBe(false);
    expect(tight.filteredBar).toBeGreaterThan(pump.minInletBar);
  });
  test('with a pump that runs at rest there is a steady state, or it is told that there is none', () => {
    let starved = 0;
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 4, noNaN: true }),
        fc.double({ min: 0.05, max: 3, noNaN: true }),
        fc.integer({ min: 200, max: 9000 }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        (staticBar, resistance, flowLDay, productBar) => {
          const t = {
            ...train,
            supply: { staticBar, resistance },
            feed: pumped(pump),
            restrictor: { ...train.restrictor, flowLDay },
          };
          const w = solveTrain(t, water(8), productBar);
          if (w.starved) starved++;
          // it never stands beyond where the pump cuts out
          expect(w.filteredBar).toBeGreaterThanOrEqual(pump.minInletBar);
          const lets = restrictorFlowLDay(t.restrictor, w.inletBar, 8);
          const off = (lets - w.out.concentrateLDay) / w.out.feedLDay;
          if (w.starved) expect(off).toBeGreaterThan(0);
          else expect(Math.abs(off)).toBeLessThan(1e-5);
        },
      ),
      { numRuns: 400, seed: 3 },
    );
    expect(starved).toBeGreaterThan(20);
    expect(starved).toBeLessThan(380);
  });
  test('a pump starved of inlet pressure does nothing', () => {
    const dry = { ...train, supply: { staticBar: 0.2, resistance: 0 }, feed: pumped(pump) };
    expect(solveTrain(dry, water(8), 0).inletBar).toBeLessThan(0.21);
  });
});

describe('filling', () => {
  const tank = { volumeL: 12, airChargeBar: 0.5 };
  test('agrees with a fine step-by-step integration that solves the train at every step', () => {
    const f = fillTank(operatingMap(train, water(8)), tank);
    let litres = 0;
    let minutes = 0;
    const step = f.waterL / 400;
    while (litres < f.waterL - step / 2) {
      const bar = pressureAtWaterBar(tank, litres + step / 2);
      minutes += (step / solveTrain(train, water(8), bar).out.permeateLDay) * 1440;
      litres += step;
    }
    expect(f.minutes / minutes).toBeCloseTo(1, 2);
  });
  test('a cold house fills slower, and a tank’s water is saltier than the open flow', () => {
    const cold = fillTank(operatingMap(train, water(5)), tank);
    const warm = fillTank(operatingMap(train, water(20)), tank);
    expect(cold.minutes).toBeGreaterThan(1.4 * warm.minutes);
    const open = operatingMap(train, water(5)).points[0]?.out.permeateTdsMgL ?? 0;
    expect(cold.tankTdsMgL).toBeGreaterThan(open);
    expect(cold.lastDropTdsMgL).toBeGreaterThan(cold.tankTdsMgL);
  });
  test('at too little pressure the tank never shuts and the drain runs on, said so', () => {
    const weak = { ...train, supply: { staticBar: 1.2, resistance: 0.02 } };
    const f = fillTank(operatingMap(weak, water(4, 3000)), { volumeL: 30, airChargeBar: 0.5 });
    expect(f.shuts).toBe(false);
    expect(f.reason).not.toBeNull();
    expect(f.minutes).toBeLessThanOrEqual(1440);
    expect(f.wasteL).toBeGreaterThan(5);
  });
  test('a closing pressure below the air charge stores nothing, with the reason', () => {
    const weak = { ...train, supply: { staticBar: 0.6, resistance: 0.02 } };
    expect(fillTank(operatingMap(weak, water(10)), tank)).toMatchObject({
      waterL: 0,
      shuts: true,
      reason: 'closes-below-air-charge',
    });
  });
  test('starting fuller takes less time, and a full tank takes none', () => {
    const map = operatingMap(train, water(8));
    const whole = fillTank(map, tank);
    const half = fillTank(map, tank, whole.waterL / 2);
    expect(half.minutes).toBeLessThan(whole.minutes);
    expect(half.minutes).toBeGreaterThan(0.5 * whole.minutes);
    expect(fillTank(map, tank, whole.waterL)).toMatchObject({ minutes: 0, shuts: true });
  });
});
