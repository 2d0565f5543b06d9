import { describe, expect, test } from '@jest/globals';
import {
  CALCULATORS,
  feedBrineTds,
  normalise,
  standardOsmoticBar,
  temperatureFactor,
  type MembraneReading,
} from '../index.ts';
import { rules, shelf as catalogue } from '../testing/fixtures.ts';

const shelf = { catalogue, rules };

const read: MembraneReading = {
  feedPressureBar: 4, dropBar: 0.1, permeatePressureBar: 0.5, temperatureC: 12, recovery: 0.2, feedTdsMgL: 400, permeateTdsMgL: 20,
}; // oxfmt-ignore
const reference: MembraneReading = {
  feedPressureBar: 3.5, dropBar: 0, permeatePressureBar: 0, temperatureC: 25, recovery: 0.15, feedTdsMgL: 500,
}; // oxfmt-ignore
const answer = (name: string, input: unknown): Record<string, number | null> => {
  const r = CALCULATORS[name]?.answer(input, shelf);
  if (!r?.ok) throw new Error(JSON.stringify(r));
  return r.output as Record<string, number | null>;
};

describe('normalising by ASTM D4516', () => {
  test('osmotic pressure and mean concentration are the standard’s', () => {
    // 2000 mg/L at 25 C by hand: 2000 * 345 / 491000
    expect(standardOsmoticBar(2000, 25)).toBeCloseTo(1.4053, 4);
    // its two lines meet at 20,000 mg/L within a hundredth
    expect(Math.abs(standardOsmoticBar(20000, 25) / standardOsmoticBar(19999.99, 25) - 1)).toBeLessThan(0.02);
    expect(feedBrineTds(400, 0.2)).toBeCloseTo((400 * Math.log(1.25)) / 0.2, 9);
    expect(feedBrineTds(400, 0)).toBe(400);
  });
  test('a reading at the reference is itself', () => {
    const n = normalise(read, read);
    expect(n.flowFactor).toBeCloseTo(1, 12);
    expect(n.passage).toBeCloseTo(0.05, 12);
    expect(n.permeateTdsMgL).toBeCloseTo(20, 9);
  });
  test('worked by hand: driving pressures, then warmth', () => {
    const of = (r: MembraneReading, permeate: number): number =>
      r.feedPressureBar -
      r.dropBar / 2 -
      r.permeatePressureBar -
      (((r.feedTdsMgL * -Math.log(1 - r.recovery)) / r.recovery) * (r.temperatureC + 320)) / 491000 +
      (permeate * (r.temperatureC + 320)) / 491000;
    const n = normalise(read, { ...reference, permeateTdsMgL: 30 });
    const warmth = 1 / temperatureFactor(12);
    expect(n.flowFactor).toBeCloseTo((of(reference, 30) / of(read, 20)) * warmth, 9);
    const thick = feedBrineTds(1, 0.15) / feedBrineTds(1, 0.2);
    expect(n.passage).toBeCloseTo((0.05 * warmth * thick) / n.flowFactor, 9);
  });
  test('warmth makes more and passes about as much; pressure dilutes it', () => {
    const warmer = normalise(read, { ...read, temperatureC: 25 });
    expect(warmer.flowFactor).toBeGreaterThan(1.4);
    expect(warmer.passage).toBeCloseTo(0.05, 2);
    const harder = normalise(read, { ...read, feedPressureBar: 8 });
    expect(harder.passage ?? 1).toBeLessThan(0.03);
  });
  test('the calculator answers in the flow’s own unit, and refuses what drives nothing', () => {
    expect(answer('normalise', { reading: { ...read, permeateFlow: 100 }, reference: read }).permeateFlow).toBeCloseTo(
      100,
      9,
    );
    expect(answer('normalise', { reading: { ...read, permeateTdsMgL: undefined }, reference }).passage).toBeNull();
    const none = CALCULATORS.normalise?.answer({ reading: { ...read, permeatePressureBar: 6 }, reference }, shelf);
    expect(none).toMatchObject({ ok: false, error: { path: 'reading.feedPressureBar' } });
    const nowhere = CALCULATORS.normalise?.answer(
      { reading: read, reference: { ...reference, feedPressureBar: 0 } },
      shelf,
    );
    expect(nowhere).toMatchObject({ ok: false, error: { path: 'reference.feedPressureBar' } });
  });
});

describe('what creeps while it stands', () => {
  const input = (minutes: number) => ({
    element: {
      ratedPermeateLDay: 284,
      ratedRejection: 0.96,
      test: { pressureBar: 3.45, temperatureC: 25, tdsMgL: 500 },
    },
    site: { feedPressureBar: 4, temperatureC: 15, tdsMgL: 400, concentrateLDay: 600 },
    holdUp: { productL: 0.07, feedL: 0.3 },
    minutes,
  });
  test('begins as it ran, ends as both sides alike, and is 63 % of the way after its time constant', () => {
    const at = (minutes: number): number => answer('stand', input(minutes)).productTdsMgL ?? Number.NaN;
    const fresh = at(0);
    const common = at(1e6);
    const tau = answer('stand', input(0)).timeConstantMinutes ?? Number.NaN;
    expect(at(tau)).toBeCloseTo(common - (common - fresh) / Math.E, 6);
    expect(fresh).toBeLessThan(40);
    expect(common).toBeGreaterThan(300);
  });
  test('the first glass is what stood, then fresh', () => {
    const { productTdsMgL, firstGlassTdsMgL } = answer('stand', input(480));
    const fresh = answer('stand', input(0)).productTdsMgL ?? 0;
    expect(firstGlassTdsMgL).toBeCloseTo((0.07 * (productTdsMgL ?? 0) + 0.18 * fresh) / 0.25, 9);
  });
  test('more to the drain leaves less salt to creep', () => {
    const wide = { ...input(1e6), site: { ...input(0).site, concentrateLDay: 2000 } };
    expect(answer('stand', wide).productTdsMgL ?? 0).toBeLessThan(answer('stand', input(1e6)).productTdsMgL ?? 0);
  });
});
