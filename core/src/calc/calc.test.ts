import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules, shelf as catalogue } from '../testing/fixtures.ts';
import { CALCULATORS } from '../index.ts';

const shelf = { catalogue, rules };
type Output = Readonly<Record<string, number>>;
function calc(name: string, input: unknown): Output {
  const r = CALCULATORS[name]?.answer(input, shelf);
  if (!r?.ok) throw new Error(r ? `${r.error.path}: ${r.error.message}` : `no ${name}`);
  return r.output as Output;
}
function refused(name: string, input: unknown): { path: string; message: string } {
  const r = CALCULATORS[name]?.answer(input, shelf);
  if (!r || r.ok) throw new Error('was not refused');
  return r.error;
}

const element = {
  ratedPermeateLDay: 284,
  ratedRejection: 0.96,
  test: { pressureBar: 3.45, temperatureC: 25, tdsMgL: 500, recovery: 0.15 },
};
const restrictor = { kind: 'capillary', flowLDay: 430, atBar: 4, atC: 25 } as const;
const site = { feedPressureBar: 3, temperatureC: 12, tdsMgL: 320, restrictor };

describe('figures anyone may check', () => {
  test('a tank of 15.1 L charged to 0.48 bar holds 9.12 L at 2.76 bar, and 5 % more at 1500 m', () => {
    const at = (more: object) => calc('tank', { volumeL: 15.1, airChargeBar: 0.48, pressureBar: 2.76, ...more }).waterL;
    expect(at({})).toBeCloseTo(9.12, 2);
    expect((at({ altitudeM: 1500 }) ?? 0) / (at({}) ?? 1)).toBeCloseTo(1.05, 2);
  });
  test('5 m of 6.35 mm tube lose 0.32 bar at 3 L/min and 15 C; the rise is added', () => {
    const run = { flowLMin: 3, boreMm: 6.35, lengthM: 5, riseM: 0, temperatureC: 15 };
    expect(calc('tube', run).pressureDropBar).toBeCloseTo(0.32, 1);
    expect(
      (calc('tube', { ...run, riseM: 2 }).pressureDropBar ?? 0) - (calc('tube', run).pressureDropBar ?? 0),
    ).toBeCloseTo(0.196, 3);
    expect(calc('tube', { ...run, flowLMin: 0.2 }).reynolds).toBeLessThan(2100);
  });
  test('1000 mg/L sodium chloride presses with 0.815 bar at 25 C', () => {
    const w = calc('water', { temperatureC: 25, pH: 7, alkalinityMgLAsCaCO3: 0, ionsMgL: { Na: 393.4, Cl: 606.6 } });
    expect(w.osmoticPressureBar).toBeCloseTo(0.815, 2);
    expect(w.tdsMgL).toBeCloseTo(1000, 9);
  });
  test('an element returns its rating to 0.1 % at its rating', () => {
    const at = calc('element', {
      element,
      site: {
        feedPressureBar: 3.45,
        permeatePressureBar: 0,
        temperatureC: 25,
        tdsMgL: 500,
        concentrateLDay: 284 / 0.15 - 284,
      },
    });
    expect(Math.abs((at.permeateLDay ?? 0) / 284 - 1)).toBeLessThan(1e-3);
    expect(Math.abs((at.rejection ?? 0) / 0.96 - 1)).toBeLessThan(1e-3);
  });
  test('a stated mass transfer, salt activation and channel drop each do what they say', () => {
    const at = (more: object) =>
      calc('element', { element: { ...element, ...more }, site: { ...site, permeatePressureBar: 0 } });
    const plain = at({});
    expect(at({ saltActivationK: 5000 }).permeateTdsMgL).toBeLessThan(plain.permeateTdsMgL ?? 0);
    expect(
      at({ massTransfer: { coefficientLDay: 200, atFlowLDay: 1900, exponent: 0.5 } }).permeateTdsMgL,
    ).not.toBeCloseTo(plain.permeateTdsMgL ?? 0, 1);
    // the rating has the same drop at a larger flow, so the fitted element is the better one
    expect(at({ channelDrop: { bar: 0.1, atFlowLDay: 1900 } }).permeateLDay).toBeGreaterThan(plain.permeateLDay ?? 0);
  });
  test('a restrictor: an orifice by the root of the pressure, a capillary with its length and Reynolds number', () => {
    const at = (more: object) => calc('restrictor', { ...restrictor, pressureBar: 4, temperatureC: 25, ...more });
    expect(at({}).flowLDay).toBeCloseTo(430, 4);
    expect(at({}).reynolds).toBeGreaterThan(8000);
    expect(at({}).lengthMm).toBeGreaterThan(30);
    expect(at({ temperatureC: 5 }).flowLDay).toBeGreaterThan(0.91 * 430);
    expect(at({ kind: 'orifice', pressureBar: 1 })).toMatchObject({ flowLDay: 215, reynolds: null, lengthMm: null });
    expect(at({ pressureBar: 0 })).toMatchObject({ flowLDay: 0, reynolds: null });
    expect(refused('restrictor', { ...restrictor, boreMm: 0.3, pressureBar: 4, temperatureC: 25 }).path).toBe('boreMm');
  });
  test('a sized job says its store and drive, how its fridge is served, and its lived waste once', () => {
    const of = (change: object) =>
      calc('size', { format: 'katharos-job', version: 2, known: { ...house, ...change } }) as unknown as {
        storage: string; pumped: boolean; fridge: { servedL: number; deadlock: boolean } | null;
        chosen: { year: { wasteRatio: number } }; year: { wasteL: number; madeL: number };
      }; // oxfmt-ignore
    const plain = of({});
    expect([plain.storage, plain.fridge]).toEqual(['tank', null]);
    expect(Math.abs(plain.chosen.year.wasteRatio / (plain.year.wasteL / plain.year.madeL) - 1)).toBeLessThan(0.02);
    const short = of({ fridge: 'yes', fridgeMinBar: 2.1, metalAfter: 'no', socket: 'no' });
    expect(short.fridge?.deadlock).toBe(true);
    expect(short.fridge?.servedL).toBeGreaterThan(0);
    expect(of({ storeWish: 'none' }).storage).toBe('direct');
  });
  test('two elements side by side make more than one, in series they thicken the concentrate more', () => {
    const at = (more: object) =>
      calc('element', {
        element: { ...element, ...more },
        site: { feedPressureBar: 3, permeatePressureBar: 0, temperatureC: 12, tdsMgL: 320, concentrateLDay: 600 },
      });
    const one = at({});
    for (const two of [at({ inSeries: 2 }), at({ inParallel: 2 })]) {
      expect(two.permeateLDay).toBeGreaterThan(1.8 * (one.permeateLDay ?? 0));
      expect(two.permeateLDay).toBeLessThan(2 * (one.permeateLDay ?? 0));
    }
    // side by side each has half the flow past it, and polarises more
    expect(at({ inSeries: 2 }).permeateTdsMgL).toBeLessThan(at({ inParallel: 2 }).permeateTdsMgL ?? 0);
  });
  test('a fill: worse in the tank than open, worst in the last drop', () => {
    const f = calc('fill', { element, site, tank: { volumeL: 12, airChargeBar: 0.5 }, closeRatio: 0.66 });
    const open = calc('element', { element, site: { ...site, permeatePressureBar: 0 } });
    expect(f.tankTdsMgL).toBeGreaterThan(open.permeateTdsMgL ?? 0);
    expect(f.lastDropTdsMgL).toBeGreaterThan(f.tankTdsMgL ?? 0);
    expect(f).toMatchObject({ shuts: true });
  });
  test('a fill that takes longer than it may does not shut, and says so', () => {
    const f = calc('fill', {
      element,
      site,
      tank: { volumeL: 12, airChargeBar: 0.5 },
      closeRatio: 0.66,
      maxMinutes: 30,
    });
    expect(f).toMatchObject({ shuts: false, minutes: 30, reason: expect.any(String) });
  });
  test('a closing pressure under the air charge stores nothing, with the reason', () => {
    const f = calc('fill', { element, site, tank: { volumeL: 12, airChargeBar: 0.5 }, closeRatio: 0.1 });
    expect(f).toMatchObject({ waterL: 0, reason: expect.stringContaining('air charge') });
  });
});

describe('wrong input is refused at its place', () => {
  test.each([
    ['tank', { volumeL: -1, airChargeBar: 0.5, pressureBar: 2 }, 'volumeL'],
    ['tank', { volumeL: 10, airChargeBar: 0.5 }, 'pressureBar'],
    ['tank', { volumeL: 10, airChargeBar: 0.5, pressureBar: 2, volume: 3 }, 'volume'],
    ['water', { temperatureC: 25, pH: 7, alkalinityMgLAsCaCO3: 0, ionsMgL: { Xx: 3 } }, 'ionsMgL.Xx'],
    ['element', { element, site: { ...site, permeatePressureBar: 0, concentrateLDay: 5 } }, 'site.restrictor'],
    ['element', { element, site: { ...site, restrictor: undefined, permeatePressureBar: 0 } }, 'site.concentrateLDay'],
    ['element', { element, site: { ...site, feedPressureBar: 0, permeatePressureBar: 0 } }, 'site.feedPressureBar'],
    [
      'element',
      { element: { ...element, test: { ...element.test, tdsMgL: 20000 } }, site: { ...site, permeatePressureBar: 0 } },
      'element',
    ],
    ['remineralise', { temperatureC: 15, pH: 6, alkalinityMgLAsCaCO3: 5, calciumMgL: 1, tdsMgL: 20 }, 'approach'],
    ['uv', { flowLMin: 0, transmittancePercent: 95, lamp: { ratedDoseMJcm2: 40, ratedFlowLMin: 4 } }, 'flowLMin'],
    ['tank', [1], ''],
    ['tank', null, ''],
  ] as const)('%s %j', (name, input, path) => {
    const e = refused(name, input);
    expect(e.path).toBe(path);
    expect(e.message.length).toBeGreaterThan(5);
  });
});

describe('inside the documented ranges', () => {
  const d = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  const anyElement = fc.record({
    ratedPermeateLDay: d(20, 4000),
    ratedRejection: d(0.8, 0.995),
    test: fc.record({ pressureBar: d(2.5, 16), temperatureC: d(15, 30), tdsMgL: d(100, 2000), recovery: d(0.05, 0.3) }),
    inSeries: fc.integer({ min: 1, max: 3 }),
    inParallel: fc.integer({ min: 1, max: 3 }),
  });
  const anySite = fc.record({
    feedPressureBar: d(0.1, 12),
    temperatureC: d(0.1, 45),
    tdsMgL: d(1, 20000),
    restrictor: fc.record({
      kind: fc.constantFrom('orifice', 'capillary'),
      flowLDay: d(20, 5000),
      atBar: d(1, 8),
      atC: d(5, 30),
    }),
  });
  const sound = (name: string, input: unknown): boolean => {
    const r = CALCULATORS[name]?.answer(input, shelf);
    if (!r) return false;
    if (!r.ok) return r.error.path === 'element';
    return Object.values(r.output).every((v) => typeof v !== 'number' || Number.isFinite(v));
  };
  test('an element never answers with a figure that is none, nor with a flow below zero', () => {
    fc.assert(
      fc.property(anyElement, anySite, d(0, 6), (e, s, back) => {
        const input = { element: e, site: { ...s, permeatePressureBar: back } };
        if (!sound('element', input)) return false;
        const r = CALCULATORS.element?.answer(input, shelf);
        if (!r?.ok) return true;
        const o = r.output as Output;
        const feed = (o.permeateLDay ?? 0) + (o.concentrateLDay ?? 0);
        const salt =
          (o.permeateLDay ?? 0) * (o.permeateTdsMgL ?? 0) + (o.concentrateLDay ?? 0) * (o.concentrateTdsMgL ?? 0);
        return (
          (o.permeateLDay ?? -1) >= 0 &&
          (o.concentrateLDay ?? -1) > 0 &&
          Math.abs(salt - feed * s.tdsMgL) <= 1e-9 * feed * s.tdsMgL &&
          Math.abs((o.recovery ?? 0) - (o.permeateLDay ?? 0) / feed) < 1e-9
        );
      }),
      { numRuns: 300 },
    );
  });
  test('a fill answers for any tank and shut-off', () => {
    fc.assert(
      fc.property(anyElement, anySite, d(1, 60), d(0.1, 3), d(0.1, 1.2), (e, s, volumeL, airChargeBar, closeRatio) =>
        sound('fill', { element: e, site: s, tank: { volumeL, airChargeBar }, closeRatio }),
      ),
      { numRuns: 40 },
    );
  });
  test('so do water, scaling, minerals, carbon and lamp', () => {
    fc.assert(
      fc.property(d(0, 60), d(3, 11), d(0, 800), d(0, 400), d(0, 200), d(0, 0.9), (t, pH, alk, Ca, SiO2, share) => {
        const w = { temperatureC: t, pH, alkalinityMgLAsCaCO3: alk, ionsMgL: { Ca, SiO2 } };
        const soft = { temperatureC: t, pH, alkalinityMgLAsCaCO3: alk, calciumMgL: Ca, tdsMgL: 3 * Ca + 2 * alk };
        return (
          sound('water', w) &&
          sound('scaling', { ...w, recovery: share }) &&
          sound('remineralise', { ...soft, approach: share }) &&
          sound('remineralise', { ...soft, contact: { minutes: 100 * share, grainMm: 1, voidage: 0.4 } }) &&
          sound('carbon', {
            bedVolumeL: 0.01 + share,
            kind: 'block',
            flowLMin: 0.1 + share,
            disinfectant: 'chloramine',
            disinfectantMgL: share,
          }) &&
          sound('uv', {
            flowLMin: 0.1 + share,
            transmittancePercent: 1 + 100 * share,
            lamp: { ratedDoseMJcm2: 40, ratedFlowLMin: 4 },
          })
        );
      }),
      { numRuns: 120 },
    );
  });
});
