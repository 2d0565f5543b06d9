import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  BOXES,
  holesOf,
  jointGroups,
  jointSheets,
  jointsOf,
  pickList,
  rollsOf,
  siteFrom,
  tubesOf,
  type Component,
  type Hole,
  type Known,
  type PickItem,
  type Placed,
  type System,
} from '../index.ts';
import { house, rules, shelf, systemOf } from '../testing/fixtures.ts';
import { decided } from '../testing/decided.ts';

const siteOf = (known: Known) => {
  const r = siteFrom(known, rules);
  if (!r.ok) throw new Error('the house is known');
  return r.site;
};
const systemFor = (known: Known): System => {
  const d = decided({ known, catalogue: shelf, rules });
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  return systemOf(d.chosen.design);
};
const system = systemFor(house);
const holesFor = (more: Known = {}): Hole[] => holesOf(system, siteOf({ ...house, ...more }), rules);
const picks = (more: Known = {}, of = system): PickItem[] =>
  pickList(of, rules, holesOf(of, siteOf({ ...house, ...more }), rules));
const named = (items: readonly PickItem[], key: string): PickItem => {
  const item = items.find((i) => i.key === key);
  if (!item) throw new Error(`no ${key}`);
  return item;
};

describe('joints by the way they are made', () => {
  const sheets = jointSheets(system, rules);
  const groups = jointGroups(sheets);
  test('each joint is on one card, its way once', () => {
    const all = groups.flatMap((g) => g.joints.map((j) => j.joint.id));
    expect([...all].sort()).toEqual(jointsOf(system).map((j) => j.id).sort()); // oxfmt-ignore
    expect(new Set(groups.map((g) => g.key)).size).toBe(groups.length);
    for (const g of groups)
      for (const j of g.joints) expect([j.joint.kind, j.how, j.look]).toEqual([g.kind, g.how, g.look]);
    expect(groups.length).toBeLessThan(jointsOf(system).length / 3);
  });
  test('a part’s own tape, turns and depth go before the house’s rule', () => {
    const own = (c: Component): Component =>
      c.kind === 'sediment' && c.housing
        ? { ...c, housing: { ...c.housing, ports: c.housing.ports.map((p) => ({ ...p, tapeTurns: 9, turnsPastHand: 1 })) } }
        : c.kind === 'sample' && c.part
          ? { ...c, part: { ...c.part, ports: c.part.ports.map((p) => ({ ...p, insertionMm: 17 })) } }
          : c; // oxfmt-ignore
    const sheetsNow = jointSheets({ ...system, components: system.components.map(own) }, rules);
    const how = (id: string): string => sheetsNow.find((s) => s.joint.id === id)?.how ?? '';
    expect(how('sediment.in')).toContain('9 turns with the thread, by hand and then one turn at most');
    expect(how('sample.in')).toContain('mark 17 mm');
    expect(how('carbon.in')).toContain(
      `${String(rules.tapeTurns)} turns with the thread, by hand and then half a turn`,
    );
  });
});

describe('holes', () => {
  test.each([
    ['steel', /step drill/, 4, false],
    ['stone', /wet diamond core/, null, true],
    ['ceramic', /wet diamond core/, null, true],
    ['laminate', /hole saw/, 4, false],
  ])('through %s', (worktop, bit, pilot, wet) => {
    const tap = holesFor({ worktop }).find((h) => h.key === 'tap');
    expect(tap?.bit).toMatch(bit);
    expect([tap?.pilotMm, tap?.wet]).toEqual([pilot, wet]);
  });
  test('the tubes’ way to a second place is a hole with its bit; one that is there is used as it is', () => {
    const way = (known: Known, placed: Placed = {}) => {
      const r = siteFrom({ ...house, ...known }, rules, placed);
      if (!r.ok) throw new Error('the house is known');
      const holes = holesOf(system, r.site, rules);
      return { hole: holes.find((h) => h.key === 'way'), bit: pickList(system, rules, holes).find((p) => p.key === 'bit-way') };
    };
    expect(way({}).hole).toBeUndefined();
    expect(way({ standsWhere: 'beside' }).hole?.where).toContain('the next cupboard, through the panel');
    expect(way({ standsWhere: 'beside' }).bit?.name).toContain('25 mm');
    const floor = way({ standsWhere: 'elsewhere' });
    expect(floor.hole?.under).toContain('heating in the floor');
    expect(floor.bit?.name).toMatch(/^Long wood bit/);
    const old = way({ standsWhere: 'elsewhere' }, { hole: { xMm: 500, yMm: 100, zMm: 0 } });
    expect(old.hole?.tool).toBe('none');
    expect(old.bit).toBeUndefined();
  }); // oxfmt-ignore
  test('a spare hole wants no drill, and no bit goes into the van for it', () => {
    expect(holesFor({ worktop: 'spare-hole' }).find((h) => h.key === 'tap')?.tool).toBe('none');
    expect(picks({ worktop: 'spare-hole' }).some((p) => p.key === 'bit-tap')).toBe(false);
  });
});

describe('the pick list', () => {
  test('names each thing once, and every part of the system with its count', () => {
    const items = picks();
    expect(new Set(items.map((i) => i.key)).size).toBe(items.length);
    for (const c of system.components) if (c.part) expect(items.some((i) => i.part === c.part?.id)).toBe(true);
    const housings = system.components.filter((c) => c.housing).length;
    expect(named(items, 'housing-10').count).toBe(housings);
    expect(items.every((i) => i.box in BOXES)).toBe(true);
  });
  test('a fitting for every tapered thread a tube meets, but the tank’s own valve', () => {
    const items = picks();
    const threads = system.links.flatMap((l) => (l.tube ? [l.from, l.to] : [])).filter((ref) => {
      const joint = jointsOf(system).find((j) => j.component.id === ref.component && j.port === ref.port);
      return joint?.kind === 'taper-thread' && joint.component.kind !== 'tank';
    }); // oxfmt-ignore
    const fittings = items.filter((i) => i.key.startsWith('fitting-'));
    expect(fittings.reduce((n, i) => n + i.count, 0)).toBe(threads.length);
    expect(threads.length).toBeGreaterThan(6);
    expect(named(items, 'tank-valve').amount).toBe('1');
  });
  test('the bit, the mask and the putty that the stone asks for; none of them for steel', () => {
    const stone = picks({ worktop: 'stone' });
    expect(named(stone, 'bit-tap').name).toMatch(/^Wet diamond core bit, 12\.5 mm$/);
    expect(named(stone, 'mask').note).toContain('dust');
    expect(named(stone, 'putty')).toBeTruthy();
    const steel = picks({ worktop: 'steel' });
    expect(steel.some((i) => i.key === 'mask' || i.key === 'putty')).toBe(false);
    expect(named(steel, 'bit-tap').name).toMatch(/^Step drill/);
    for (const i of ['tube-cutter', 'pressure-gauge', 'air-pump', 'screws', 'housing-spanner', 'bit-drain'])
      expect(named(steel, i)).toBeTruthy();
  });
  test('a pump brings its electrics, and the tester of the socket', () => {
    const pumped = systemFor({ ...house, staticPressureBar: 2.2, runningPressureBar: 1.8 });
    const items = picks({}, pumped);
    expect(named(items, 'pump-electrics').amount).toBe('1 set');
    expect(named(items, 'rcd')).toBeTruthy();
    expect(picks().some((i) => i.key === 'rcd')).toBe(false);
  });
  test('is priced as far as the shelf says prices', () => {
    const tank = picks().find((i) => i.part?.startsWith('tank-') && i.price !== null);
    const part = shelf.find((p) => p.id === tank?.part);
    expect(tank?.price).toBe((part?.price ?? 0) * (tank?.count ?? 0));
  });
});

describe('tube off the roll', () => {
  const longer = (metres: readonly number[]): System => {
    let i = 0;
    return {
      ...system,
      links: system.links.map((l) => (l.tube ? { ...l, lengthM: metres[i++ % metres.length] ?? 1 } : l)),
    };
  };
  test('every tube is cut once, one after the other, none past the end of its roll', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.1, max: 14, noNaN: true }), { minLength: 1, maxLength: 30 }), (metres) => {
        const s = longer(metres);
        const rolls = rollsOf(s);
        const cuts = rolls.flatMap((r) => r.cuts);
        expect(cuts.map((c) => c.tube.number).sort((a, b) => a - b)).toEqual(tubesOf(s).map((t) => t.number));
        for (const r of rolls) {
          let at = 0;
          for (const c of r.cuts) {
            expect(c.fromM).toBeCloseTo(at, 9);
            expect(c.toM - c.fromM).toBeCloseTo(c.tube.lengthM, 9);
            at = c.toM;
          }
          expect(at).toBeLessThanOrEqual(r.lengthM + 1e-9);
          expect(r.leftM).toBeCloseTo(r.lengthM - at, 9);
          // only what is longer than a roll has one of its own length
          if (r.lengthM > r.part.rollM) expect(r.cuts).toHaveLength(1);
        }
      }),
      { numRuns: 60 },
    ); // oxfmt-ignore
  });
});
