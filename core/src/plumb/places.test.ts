import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  asPlaced,
  bodiesOf,
  decide,
  freeSpot,
  overlap,
  type Component,
  type Placed,
  type Spot,
  type PlacedBody,
  type System,
} from '../index.ts';
import { house, rules, shelf, systemOf } from '../testing/fixtures.ts';

const decided = decide({ known: house, catalogue: shelf, rules });
if (decided.kind !== 'recommendation') throw new Error(decided.sentence);
const system = systemOf(decided.chosen.design);
const find = (kind: string): Component => {
  const c = system.components.find((x) => x.kind === kind);
  if (!c) throw new Error(`no ${kind}`);
  return c;
};
const [frame, tank, tap] = [find('frame'), find('tank'), find('tap')];
const linkTo = (s: System, id: string) => s.links.find((l) => l.to.component === id && l.tube);
const at = (xMm: number, yMm: number, zMm: number): Spot => ({ xMm, yMm, zMm });
const tankHigh = bodiesOf(system).find((b) => b.component.id === tank.id)?.body.heightMm ?? 0;
const frameHigh = bodiesOf(system).find((b) => b.component.id === frame.id)?.body.heightMm ?? 0;

describe('what is placed', () => {
  test('is what has a body of its own: the frame with all that hangs on it, the tank; nothing that stands elsewhere', () => {
    const kinds = bodiesOf(system).map((b) => b.component.kind);
    expect(kinds).toEqual(expect.arrayContaining(['frame', 'tank']));
    for (const hung of ['sediment', 'carbon', 'membrane', 'tap', 'dispenser', 'stop-valve', 'drain'])
      expect(kinds).not.toContain(hung);
  });
  test('without a frame every housing is placed by itself', () => {
    const bare: System = { ...system, components: system.components.filter((c) => c.kind !== 'frame') };
    expect(bodiesOf(bare).map((b) => b.component.kind)).toEqual(expect.arrayContaining(['sediment', 'carbon']));
  });
});

describe('tubes by where parts stand', () => {
  test('are as planned until both ends have a place', () => {
    expect(asPlaced(system, {}, {})).toBe(system);
    expect(asPlaced(system, { [tank.id]: at(800, 200, 0) }, {}).links).toEqual(system.links);
  });
  test('run along the walls with slack, and rise as far as one end stands above the other', () => {
    const stands = { [frame.id]: at(200, 75, 100), [tank.id]: at(800, 275, 0) };
    const placed = asPlaced(system, stands, {});
    const dz = tankHigh - (100 + frameHigh / 2);
    expect(linkTo(placed, tank.id)?.lengthM).toBeCloseTo((600 + 200 + Math.abs(dz)) / 1000 + 0.4, 9);
    expect(linkTo(placed, tank.id)?.riseM).toBeCloseTo(dz / 1000, 9);
    // what hangs on the frame, and what stands elsewhere, is as it was
    const other = (s: System) => s.links.filter((l) => l.to.component !== tank.id);
    expect(other(placed)).toEqual(other(system));
    expect(linkTo(placed, tap.id)).toEqual(linkTo(system, tap.id));
  });
  test('the feed begins at the stop valve, the concentrate ends above the trap, as Gauge has them', () => {
    const gauge: Placed = { valve: at(900, 35, 400), trap: at(500, 250, 300) };
    const placed = asPlaced(system, { [frame.id]: at(200, 75, 100) }, gauge);
    const feed = placed.links.find((l) => l.from.component === 'feed');
    const mid = 100 + frameHigh / 2;
    expect(feed?.lengthM).toBeCloseTo((700 + 40 + Math.abs(445 - mid)) / 1000 + 0.4, 9);
    expect(linkTo(placed, 'drain')?.lengthM).toBeCloseTo((300 + 175 + Math.abs(480 - mid)) / 1000 + 0.4, 9);
  });
  test('wherever things stand, what goes up one way comes down the other, and no tube is shorter than it is high', () => {
    const mm = fc.integer({ min: 0, max: 1000 });
    fc.assert(
      fc.property(fc.tuple(mm, mm, mm), fc.tuple(mm, mm, mm), (a, b) => {
        const to = linkTo(asPlaced(system, { [frame.id]: at(...a), [tank.id]: at(...b) }, {}), tank.id);
        expect(to?.lengthM).toBeGreaterThanOrEqual(Math.abs(to?.riseM ?? NaN) + 0.4 - 1e-12);
        expect(to?.riseM).toBeCloseTo((b[2] + tankHigh - a[2] - frameHigh / 2) / 1000, 9);
      }),
    );
  });
});

describe('bodies in a cupboard', () => {
  const body = { widthMm: 100, depthMm: 100, heightMm: 200 };
  const b = (x: number, y: number, z: number): PlacedBody => ({ body, spot: at(x, y, z) });
  test('are in each other’s way where they meet on all three sides; side by side or stacked they are not', () => {
    expect(overlap(b(50, 50, 0), b(149, 50, 0))).toBe(true);
    expect(overlap(b(50, 50, 0), b(150, 50, 0))).toBe(false);
    expect(overlap(b(50, 50, 0), b(50, 50, 199))).toBe(true);
    expect(overlap(b(50, 50, 0), b(50, 50, 200))).toBe(false);
  });
  test('a free place is beside what stands there, and as high as it wants room below', () => {
    const cupboard = { widthMm: 600, depthMm: 500, heightMm: 600 };
    expect(freeSpot(body, 0, [], cupboard)).toEqual(at(50, 50, 0));
    expect(freeSpot(body, 80, [b(50, 50, 0)], cupboard)).toEqual(at(150, 50, 80));
    const full = [{ body: { widthMm: 600, depthMm: 500, heightMm: 600 }, spot: at(300, 250, 0) }];
    expect(freeSpot(body, 0, full, cupboard)).toEqual(at(550, 50, 0));
  });
});
