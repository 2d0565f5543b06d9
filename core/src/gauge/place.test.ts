import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house } from '../testing/fixtures.ts';
import {
  cupboardOf,
  CUPBOARD_THINGS,
  FactSchema,
  insideCupboard,
  jobDoubts,
  placeDoubts,
  readJob,
  MORE_THINGS,
  THING_KEYS,
  thingsOf,
  usualSpot,
  type Placed,
} from '../index.ts';

const size = { widthMm: 900, depthMm: 520, heightMm: 640 };
const codes = (p: Placed): string[] => placeDoubts(p).map((d) => d.code);
const valve = { xMm: 200, yMm: 40, zMm: 400 };

describe('what stands in a cupboard', () => {
  test('is drawn once all three measures are known', () => {
    expect(cupboardOf(house)).toEqual({ widthMm: 1000, depthMm: 550, heightMm: 650 });
    expect(cupboardOf({ cupboardWidthMm: 900, cupboardDepthMm: 500 })).toBeNull();
  });
  test('socket, disposal unit and hole are there to be placed only where somebody said so', () => {
    expect(new Set(thingsOf({}))).toEqual(new Set(['trap', 'valve', ...MORE_THINGS.filter((t) => t !== 'hole')]));
    expect(thingsOf({ socket: 'switched', disposalUnit: 'yes', standsWhere: 'beside' })).toEqual(THING_KEYS);
    expect(thingsOf({ standsWhere: 'elsewhere' })).toContain('hole');
    expect(thingsOf({ socket: 'no' })).not.toContain('socket');
  });
  test('stays wholly inside, wherever it is put, and a second time changes nothing', () => {
    const mm = fc.double({ min: -500, max: 4000, noNaN: true });
    fc.assert(
      fc.property(fc.constantFrom(...THING_KEYS), mm, mm, mm, (thing, xMm, yMm, zMm) => {
        const t = CUPBOARD_THINGS[thing];
        const at = insideCupboard(t, { xMm, yMm, zMm }, size);
        expect(at.xMm - t.widthMm / 2).toBeGreaterThanOrEqual(-0.5);
        expect(at.xMm + t.widthMm / 2).toBeLessThanOrEqual(size.widthMm + 0.5);
        expect(at.yMm - t.depthMm / 2).toBeGreaterThanOrEqual(-0.5);
        expect(at.yMm + t.depthMm / 2).toBeLessThanOrEqual(size.depthMm + 0.5);
        expect(at.zMm).toBeGreaterThanOrEqual(0);
        expect(at.zMm + t.heightMm).toBeLessThanOrEqual(size.heightMm);
        expect(insideCupboard(t, at, size)).toEqual(at);
      }),
    );
  });
  test('a thing larger than the cupboard stands in its middle on its floor', () => {
    expect(
      insideCupboard(
        CUPBOARD_THINGS.disposal,
        { xMm: 10, yMm: 10, zMm: 90 },
        { widthMm: 150, depthMm: 150, heightMm: 200 },
      ),
    ).toEqual({ xMm: 75, yMm: 75, zMm: 0 });
  });
  test('where things usually are raises no doubt', () => {
    const usual = Object.fromEntries(THING_KEYS.map((t) => [t, usualSpot(t, size)])) as Placed;
    expect(codes(usual)).toEqual([]);
  });
});

describe('doubts about the place', () => {
  test('a socket within reach of a leak on the floor', () => {
    expect(codes({ socket: { xMm: 800, yMm: 20, zMm: 149 } })).toEqual(['socket-low']);
    expect(codes({ socket: { xMm: 800, yMm: 20, zMm: 150 } })).toEqual([]);
  });
  test('a socket under what drips, not one beside or above it', () => {
    expect(codes({ valve, socket: { xMm: 200, yMm: 20, zMm: 200 } })).toEqual(['socket-under-valve']);
    expect(codes({ valve, socket: { xMm: 400, yMm: 20, zMm: 200 } })).toEqual([]);
    expect(codes({ valve, socket: { xMm: 200, yMm: 20, zMm: 500 } })).toEqual([]);
    expect(codes({ trap: { xMm: 200, yMm: 260, zMm: 300 }, socket: { xMm: 200, yMm: 20, zMm: 200 } })).toEqual([]);
  });
  test('a disposal unit below the trap it runs into', () => {
    const trap = { xMm: 450, yMm: 260, zMm: 300 };
    expect(codes({ trap, disposal: { xMm: 200, yMm: 260, zMm: 100 } })).toEqual(['disposal-below-trap']);
    expect(codes({ trap, disposal: { xMm: 200, yMm: 260, zMm: 130 } })).toEqual([]);
  });
  test('stand among the readings’ doubts', () => {
    expect(jobDoubts(house, { socket: { xMm: 800, yMm: 20, zMm: 0 } }).map((d) => d.code)).toEqual(['socket-low']);
  });
});

describe('places as facts', () => {
  const fact = (n: number, spot: object | null, thing = 'trap') => ({
    v: 2,
    id: `5f0c4b1e-3333-4333-a333-00000000000${String(n)}`,
    jobId: '5f0c4b1e-1111-4111-a111-000000000001',
    by: '5f0c4b1e-1111-4111-a111-000000000001',
    at: `2026-03-01T0${String(n)}:00:00.000Z`,
    kind: 'place',
    thing,
    spot,
  });
  test('the last one counts, null takes it off', () => {
    const facts = [fact(1, valve), fact(2, { ...valve, xMm: 300 }), fact(3, valve, 'valve'), fact(4, null, 'valve')];
    expect(readJob(facts.map((f) => FactSchema.parse(f))).placed).toEqual({ trap: { ...valve, xMm: 300 } });
  });
  test('a thing nobody knows, or one outside any cupboard, is refused', () => {
    expect(FactSchema.safeParse(fact(1, valve, 'boiler')).success).toBe(false);
    expect(FactSchema.safeParse(fact(1, { ...valve, zMm: -1 })).success).toBe(false);
  });
});

test('what is drawn beyond the walls, once they are measured anew, is doubted; what touches them is not', () => {
  const c = { cupboardWidthMm: 400, cupboardDepthMm: 550, cupboardHeightMm: 650 };
  const codes = (xMm: number): string[] =>
    jobDoubts({ ...house, ...c }, { trap: { xMm, yMm: 250, zMm: 300 } }).map((d) => d.code);
  expect(codes(900)).toEqual(['outside-trap']);
  expect(codes(310)).toEqual([]);
  expect(codes(300)).toEqual([]);
});
test('what stands at its usual spot is not doubted, in any cupboard', () => {
  const found = new Set<string>();
  for (let widthMm = 300; widthMm <= 1500; widthMm += 60)
    for (let heightMm = 250; heightMm <= 900; heightMm += 50)
      for (const depthMm of [150, 300, 450, 600, 900]) {
        const c = { widthMm, depthMm, heightMm };
        const placed = Object.fromEntries(THING_KEYS.map((t) => [t, usualSpot(t, c)]));
        const measured = { cupboardWidthMm: widthMm, cupboardDepthMm: depthMm, cupboardHeightMm: heightMm };
        const known = { ...house, ...measured };
        const usual = new Set(jobDoubts(known, {}).map((d) => d.code));
        for (const d of jobDoubts(known, placed))
          if (!usual.has(d.code)) found.add(`${d.code} ${[widthMm, depthMm, heightMm].join(' x ')}`);
      }
  expect([...found]).toEqual([]);
});
