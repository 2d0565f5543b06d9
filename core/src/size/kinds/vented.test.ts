import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../../testing/fixtures.ts';
import {
  alongTheWater,
  asBuilt,
  changesCostYear,
  chooseFor,
  decide,
  DesignVersionSchema,
  engineOf,
  expectedAt,
  feedWaterAt,
  judgeProof,
  livesAsBuilt,
  makeVersion,
  momentOf,
  project,
  proofFieldsFor,
  proofMoment,
  solve,
  step,
  supplyOf,
  systemFaults,
  usedUpIn,
  ventedBeside,
  viewSystem,
  worthOf,
  type Decision,
  type HouseNow,
  type Known,
  type Part,
  type SystemView,
  type Vented,
} from '../../index.ts';
import { FACT_VERSION, type Fact } from '../../facts/facts.ts';
import type { Assembly } from './candidates.ts';
import { decided } from '../../testing/decided.ts';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;
const input = (known: Known, catalogue: readonly Part[] = shelf) => ({ known, catalogue, rules });
function recommended(known: Known = house, catalogue: readonly Part[] = shelf): Recommendation {
  const d = decide(input(known, catalogue));
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  return d;
}
function besides(known: Known): readonly Vented[] {
  const d = decided(input(known));
  const v = d.kind === 'recommendation' ? ventedBeside(input(known), d.chosen.design, worthOf(d)) : null;
  return v ? [v] : [];
}
function ventedOf(known: Known = house): Assembly {
  const [a] = besides(known);
  if (!a) throw new Error('no vented tank is offered');
  return a;
}
function seen(proposal: Parameters<typeof viewSystem>[1], known: Known = house): SystemView {
  const v = viewSystem(input(known), proposal);
  if (!v.ok) throw new Error(v.reason);
  return v.view;
}
const houseOf = (v: SystemView): HouseNow => ({
  supply: supplyOf(v.site, 'today'),
  water: feedWaterAt(v.site, v.site.todayC),
  airBar: v.site.airBar,
});
const kinds = (v: SystemView): string[] => alongTheWater(v.system).map((c) => c.kind);
let serial = 0;
const uuid = (): string => `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`;

describe('a vented tank', () => {
  const view = seen({ assembly: ventedOf() });
  const { system } = view;
  const at = houseOf(view);
  const tank = system.components.find((c) => c.kind === 'vented-tank');
  const volumeL = tank?.part?.kind === 'vented-tank' ? tank.part.volumeL : 0;
  const withWater = { tanks: { 'vented-tank': { litres: 5, tdsMgL: 9 } } };

  test('is legal, stands between membrane and its pump, and is drawn, jointed and picked like anything else', () => {
    expect(view.faults).toEqual([]);
    expect(kinds(view)).toEqual(expect.arrayContaining(['sample', 'vented-tank', 'tank-pump', 'polish', 'tap']));
    expect(kinds(view)).not.toContain('tank-tee');
    expect(view.joints.filter((j) => j.joint.component.kind === 'vented-tank')).toHaveLength(2);
    expect(view.picks.map((p) => p.name)).toEqual(expect.arrayContaining(['Vented tank 20 L', 'Delivery pump']));
    const bare = { ...system, components: system.components.filter((c) => c.kind !== 'tank-pump') };
    expect(systemFaults(bare)).toContain('Nothing lifts the water out of a vented tank: it wants a pump of its own.');
  });
  test('nothing pushes back on the membrane, however much is in it', () => {
    const full = solve(system, at, { tanks: { 'vented-tank': { litres: volumeL, tdsMgL: 9 } } });
    const empty = solve(system, at, { tanks: { 'vented-tank': { litres: 0.1, tdsMgL: 9 } } });
    expect(full.productLMin).toBeCloseTo(empty.productLMin, 9);
    expect(full.teeBar).toBe(0);
  });
  test('its pump gives the tap the same to the last litre, of the tank’s own water, and nothing once it is dry', () => {
    const open = { tap: 1 };
    const drawn = solve(system, at, { ...withWater, opening: open });
    expect(drawn.outlets[0]?.flowLMin).toBeGreaterThan(1);
    expect(drawn.drawnTdsMgL).toBe(9);
    expect(drawn.fromTankLMin).toBeCloseTo((drawn.outlets[0]?.flowLMin ?? 0) - drawn.productLMin, 9);
    const dry = solve(system, at, { tanks: { 'vented-tank': { litres: 0, tdsMgL: 9 } }, opening: open });
    expect(dry.outlets[0]?.flowLMin).toBe(0);
  });
  test('the pressure along it is that of the air, then what its pump lifts, then what the way takes', () => {
    const p = project(system, solve(system, at, { ...withWater, opening: { tap: 1 } }), at).points;
    const bar = (id: string): number => p.find((x) => x.id === id)?.pressureBar ?? NaN;
    expect(bar('vented-tank')).toBe(0);
    expect(bar('tank-pump')).toBeGreaterThan(1.5);
    expect(bar('polish')).toBeLessThan(bar('tank-pump'));
    expect(bar('tap')).toBeCloseTo(0, 3);
  });
  test('stepped in time it fills as its sizing says, its float shuts it, and opens it again lower', () => {
    const e = engineOf(system, at);
    const { minutes } = view.today.fill;
    const half = step(e, momentOf(e), { outlets: {} }, 30 * minutes);
    expect(half.tankL / (volumeL / 2)).toBeCloseTo(1, 2);
    const full = step(e, half, { outlets: {} }, 40 * minutes);
    expect([full.tankL, full.making]).toEqual([expect.closeTo(volumeL, 3), false]);
    const sip = step(e, full, { outlets: { tap: 1 } }, 10);
    expect([sip.making, sip.tankL < full.tankL]).toEqual([false, true]);
    const poured = step(e, full, { outlets: { tap: 1 } }, 90);
    expect(poured.making).toBe(true);
  });
  test('its run sheet knows its float, its pump and its lid, and no air charge', () => {
    const keys = view.sheet.map((s) => s.key);
    expect(keys).toContain('tank-pump-on');
    expect(keys).not.toContain('air-charge');
    expect(view.sheet.find((s) => s.key === 'tank-pump-on')?.caution).toMatch(/Never dry/);
    expect(view.sheet.map((s) => s.detail).join()).toMatch(/float valve/);
  });
  test('is proved at the sample port, where the membrane is read and not the tank’s pump', () => {
    const asked = proofFieldsFor(system);
    expect(asked.find((f) => f.key === 'productFlowLMin')?.how).toMatch(/sample port/);
    expect(asked.map((f) => f.key)).not.toContain('tankAirBar');
    expect(proofMoment(system)).toMatch(/^While it fills.* tap shut/);
    const bar = view.today.middle.inletBar;
    const e = expectedAt(system, view.site, { bar, temperatureC: 14, feedTds: 320, concentrateLMin: 0.22 });
    const readings = {
      feedTdsMgL: 320,
      productTdsMgL: e.permeateTdsMgL,
      temperatureC: 14,
      membranePressureBar: bar,
      productFlowLMin: e.permeateLDay / 1440,
      concentrateFlowLMin: 0.22,
    };
    const judged = judgeProof(readings, system, view.site, 0.02);
    if (!judged.ok) throw new Error(judged.missing.join());
    expect(judged.verdict.compared.find((c) => c.key === 'productFlow')?.grade).toBe('good');
    // the same membrane read at the tap would be told off for what the pump gives
    const tap = judgeProof({ ...readings, productFlowLMin: view.today.tapFlowLMin }, system, view.site, 0.02);
    expect(tap.ok && tap.verdict.grade).toBe('act');
  });
  test('is approved, and cleaned every year at no part’s price', () => {
    const v = makeVersion(input(house), { assembly: ventedOf() }, { id: uuid(), at: '2026-03-02T08:00:00.000Z', by: uuid(), reason: 'they draw pots', against: 'x', before: null, newId: uuid }); // oxfmt-ignore
    expect(DesignVersionSchema.safeParse(JSON.parse(JSON.stringify(v))).error).toBeUndefined();
    const ticks = v.sheet.map((s, i) => ({ kind: 'tick', v: FACT_VERSION, design: v.id, step: s.key, done: true, id: uuid(), jobId: uuid(), by: uuid(), at: new Date(Date.parse(v.at) + i * 60000).toISOString() })) as Fact[]; // oxfmt-ignore
    const built = asBuilt([v], ticks);
    if (!built) throw new Error('nothing is built');
    expect(livesAsBuilt(built, Date.parse(v.at) + 86400000).map((l) => l.kind)).toContain('vented-tank');
    const worn = usedUpIn(v.system, view.site, 10, 2);
    const without = worn.filter((u) => u.component.kind !== 'vented-tank');
    expect(changesCostYear(worn)).toBe(changesCostYear(without));
  });
  test('is what is advised where no pressure tank holds what they draw at once', () => {
    const known: Known = { ...house, people: 12, litresADay: 60, largestDrawL: 25, storeWish: 'tank', socket: 'yes' };
    const d = decided(input(known));
    if (d.kind !== 'other-way' || !d.system) throw new Error(d.sentence);
    expect(d.sentence).toMatch(
      /^No pressure tank on the shelf does here. Put in .* a 45 L vented tank with its pump: \d+ L a day/,
    );
    const v = seen({ assembly: d.system }, known);
    expect([v.faults, v.today.usableL >= 25]).toEqual([[], true]);
    expect(d.instead.join()).toMatch(/largest draw in parts/);
    // without a socket for its pump nothing does
    expect(decide(input({ ...known, socket: 'no' })).kind).toBe('nothing-fits');
    // who asks what else fits asks for what the search chooses
    expect(chooseFor(input(known), 'only-what-fits').kind).toBe('nothing-fits');
  });
  test('is put behind the least that does, not behind the most output', () => {
    const known: Known = { ...house, litresADay: 30, largestDrawL: 25, storeWish: 'tank', socket: 'yes' };
    const d = decided(input(known));
    if (d.kind !== 'other-way') throw new Error(d.sentence);
    expect(d.sentence).toMatch(/^No pressure tank on the shelf does here. Put in element \d+/);
    expect(d.sentence).not.toMatch(/booster/);
  });
  test('is not offered without a socket, nor where they want no tank', () => {
    expect(recommended({ ...house, socket: 'no' }).kind).toBe('recommendation');
    expect(besides({ ...house, socket: 'no' })).toEqual([]);
    expect(besides({ ...house, storeWish: 'none' })).toEqual([]);
  });
});

describe('a dispenser that heats and cools', () => {
  const both: Known = { ...house, dispenser: 'yes', fridge: 'yes', fridgeMinBar: 1 };
  const view = seen({ design: recommended(both).chosen.design }, both);
  test('hangs on a branch of its own beside a fridge, each tee conserving what passes', () => {
    expect(view.faults).toEqual([]);
    expect(kinds(view).filter((k) => ['branch', 'fridge', 'dispenser'].includes(k))).toEqual(['branch', 'fridge', 'branch', 'dispenser']); // oxfmt-ignore
    const at = houseOf(view);
    const state = { tanks: { tank: { litres: 3, tdsMgL: 9 } }, opening: { tap: 1, fridge: 1, dispenser: 1 } };
    const solved = solve(view.system, at, state);
    const { links } = project(view.system, solved, at);
    for (const tee of ['branch', 'branch-2']) {
      const flow = (end: 'from' | 'to'): number =>
        [...links.values()].filter((l) => l.link[end].component === tee).reduce((s, l) => s + l.flowLMin, 0);
      expect(flow('to')).toBeGreaterThan(0);
      expect(flow('from')).toBeCloseTo(flow('to'), 9);
    }
  });
  test('fills no faster than its sheet says at its least pressure', () => {
    const p = shelf.find((x) => x.kind === 'dispenser');
    const at = houseOf(view);
    const alone = solve(view.system, at, { tanks: { tank: { litres: 3, tdsMgL: 9 } }, opening: { dispenser: 1 } });
    const bar = project(view.system, alone, at).points.find((x) => x.id === 'branch-2')?.pressureBar ?? 0;
    const flow = alone.outlets.find((o) => o.id === 'dispenser')?.flowLMin ?? 0;
    const sheet = p?.kind === 'dispenser' ? p : { minInletBar: 1, fillLMin: 0 };
    expect(flow).toBeLessThanOrEqual(sheet.fillLMin * Math.sqrt(bar / sheet.minInletBar) * 1.001);
    expect(flow).toBeGreaterThan(0.3);
  });
  test('is told with its pressure and its power, flushed last and never heated dry', () => {
    expect(recommended(both).reasons.join()).toMatch(/The dispenser (sees|is served)/);
    expect(recommended(both).sentence).toMatch(/a branch to a dispenser/);
    const last = view.sheet.at(-2);
    expect([last?.key, last?.caution]).toEqual(['dispenser-open', expect.stringMatching(/switched on dry/)]);
  });
  test('wants a socket, and a pump where its least pressure asks more than a full tank gives', () => {
    const none = decide(input({ ...house, dispenser: 'yes', socket: 'no' }));
    expect(none.kind).toBe('nothing-fits');
    expect('reasons' in none ? none.reasons.join() : '').toMatch(/a socket of its own/);
    const thirsty = shelf.map((p): Part => (p.kind === 'dispenser' ? { ...p, minInletBar: 2.8 } : p));
    expect(recommended({ ...house, dispenser: 'yes' }, thirsty).chosen.design.deliveryPumpId).toBe('delivery-pump');
  });
});
