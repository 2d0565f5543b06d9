import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  asLaid,
  boxesMeet,
  boxOf,
  carriedIn,
  clashesOf,
  extraFrom,
  goesIn,
  isClear,
  isInside,
  laid,
  layoutSvg,
  proposeLayout,
  REACH_MM,
  roomOf,
  runsIn,
  shortestWay,
  straightWays,
  turnedBody,
  wayMm,
  withExtra,
  withoutBody,
  worktopOf,
  jointsAt,
  wouldGo,
  type Box,
  type Known,
  type Placed,
  type Pose,
  type Room,
  type Spot,
  type System,
} from '../../index.ts';
import { house, rules, shelf, systemOf, usual } from '../../testing/fixtures.ts';
import { decided } from '../../testing/decided.ts';

const sized = (known: Known): System => {
  const d = decided({ known, catalogue: shelf, rules });
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  return systemOf(d.chosen.design);
};
const plain = sized(house);
const pumped = sized({ ...house, staticPressureBar: 2.2, runningPressureBar: 1.8 });
const sizes = (widthMm: number, depthMm: number, heightMm: number): Known => ({
  ...house,
  cupboardWidthMm: widthMm,
  cupboardDepthMm: depthMm,
  cupboardHeightMm: heightMm,
});
const room = (w: number, d: number, h: number, placed: Placed = {}, more: Known = {}): Room => {
  const r = roomOf({ ...sizes(w, d, h), ...more }, placed);
  if (!r) throw new Error('no room');
  return r;
};
const at = (xMm: number, yMm: number, zMm: number): Spot => ({ xMm, yMm, zMm });
const find = (system: System, kind: string) => {
  const c = carriedIn(system).find((x) => x.component.kind === kind);
  if (!c) throw new Error(`no ${kind}`);
  return c;
};
const told = (system: System, r: Room, stands: Record<string, Pose>): string[] =>
  clashesOf(
    carriedIn(system).flatMap((c) => {
      const pose = stands[c.component.id];
      return pose ? [laid(c, pose)] : [];
    }),
    r,
  ).map((c) => `${c.weight} ${c.code} ${c.at} ${c.with ?? ''}`.trim());

describe('a body as it stands', () => {
  const body = { widthMm: 200, depthMm: 100, heightMm: 400 };
  test('turned a quarter its width goes from the back to the front; on its side its height goes across', () => {
    expect(turnedBody(body, { turn: 90 })).toEqual({ widthMm: 100, depthMm: 200, heightMm: 400 });
    expect(turnedBody(body, { turn: 180 })).toEqual(body);
    expect(turnedBody(body, { lies: true })).toEqual({ widthMm: 400, depthMm: 100, heightMm: 200 });
    expect(turnedBody(body, { lies: true, turn: 270 })).toEqual({ widthMm: 100, depthMm: 400, heightMm: 200 });
  });
  test('touching is not in the way, a millimetre into it is', () => {
    const a = boxOf(body, at(100, 50, 0));
    expect(boxesMeet(a, boxOf(body, at(300, 50, 0)))).toBe(false);
    expect(boxesMeet(a, boxOf(body, at(299, 50, 0)))).toBe(true);
    expect(boxesMeet(a, boxOf(body, at(100, 50, 400)))).toBe(false);
  });
});

describe('what is placed', () => {
  test('is what has a body of its own: the frame with all that hangs on it, the tank; nothing that stands elsewhere', () => {
    const kinds = carriedIn(plain).map((c) => c.component.kind);
    expect(kinds).toEqual(expect.arrayContaining(['frame', 'tank']));
    for (const hung of ['sediment', 'carbon', 'membrane', 'tap', 'dispenser', 'stop-valve', 'drain'])
      expect(kinds).not.toContain(hung);
  });
  test('without a frame every housing is placed by itself', () => {
    const bare: System = { ...plain, components: plain.components.filter((c) => c.kind !== 'frame') };
    expect(carriedIn(bare).map((c) => c.component.kind)).toEqual(expect.arrayContaining(['sediment', 'carbon']));
  });
});

describe('clashes are named', () => {
  const [frame, tank] = [find(plain, 'frame'), find(plain, 'tank')];
  const [f, t] = [frame.component.id, tank.component.id];
  const wide = room(1200, 550, 650);
  const free = { [f]: at(200, 75, 50), [t]: at(800, 300, 0) };
  test('none where everything is free', () => {
    expect(told(plain, wide, free)).toEqual([]);
  });
  test.each<[string, Record<string, Pose>, string]>([
    ['through a wall', { ...free, [t]: at(1195, 300, 0) }, `not outside ${t}`],
    ['two in one place', { ...free, [t]: at(300, 150, 0) }, `not overlap ${t} ${f}`],
    ['no height to drop a cartridge', { ...free, [f]: at(200, 75, 20) }, `not cartridge ${f}`],
    ['a tank where a cartridge drops', { [f]: at(200, 75, 200), [t]: { ...at(200, 75, 0), lies: true } }, `not cartridge ${f} ${t}`],
    ['a tank in the way of the spanner', { ...free, [t]: at(200, 290, 0) }, `costs spanner ${f} ${t}`],
    ['a tank before the frame', { ...free, [t]: at(200, 400, 0) }, `costs pull-out ${f} ${t}`],
    ['a frame on its side', { ...free, [f]: { ...at(500, 75, 50), lies: true } }, `not upright ${f}`],
    ['in a second place that is not there', { ...free, [t]: { ...at(200, 200, 0), space: 'second' } }, `not no-space ${t}`],
  ])('%s', (_what, stands, clash) => {
    expect(told(plain, wide, stands)).toContain(clash);
  }); // oxfmt-ignore
  test('things of the house are gone round, reached, and not stood before', () => {
    const r = room(1200, 550, 650, { valve: at(800, 35, 100), trap: at(200, 200, 200) });
    const all = told(plain, r, { [f]: at(200, 75, 50), [t]: at(800, 300, 0) });
    expect(all).toContain(`not overlap ${f} trap`);
    expect(all).toContain(`costs reach ${t} valve`);
  });
  test('water and electricity: low, under drips, beyond its cable, on a switched socket, drumming', () => {
    const pump = find(pumped, 'pump');
    const p = pump.component.id;
    const r = room(2600, 550, 650, { socket: at(2500, 22, 400), trap: at(600, 75, 400) }, { socket: 'switched' });
    const of = (pose: Pose): string[] => told(pumped, r, { [p]: pose }).filter((c) => c.includes(` ${p}`));
    expect(of(at(2000, 85, 300))).toEqual([`costs switched ${p} socket`]);
    expect(of(at(2000, 85, 40))).toContain(`not low ${p}`);
    expect(of(at(600, 85, 200))).toContain(`not drips ${p} trap`);
    expect(of(at(300, 85, 300))).toContain(`not cable ${p} socket`);
    expect(of({ ...at(85, 200, 300), turn: 270 })).toContain(`not drums ${p}`);
  });
  test('a lamp’s sleeve is drawn out of its top, and a cartridge of its own clips anywhere', () => {
    const lit = sized({ ...house, source: 'well', laboratory: 'unsafe', disinfectant: 'none', ironMgL: 0.05, manganeseMgL: 0.01, turbidityNTU: 0.3, switchLowBar: 3, switchHighBar: 4.4, hardnessMgL: 60 }); // oxfmt-ignore
    const lamp = find(lit, 'lamp');
    const high = lamp.body.heightMm;
    const l = lamp.component.id;
    const pose = { ...at(300, 60, 150) };
    expect(told(lit, room(900, 550, 150 + 1.5 * high), { [l]: pose })).toContain(`costs sleeve ${l}`);
    expect(told(lit, room(900, 550, 150 + 2 * high), { [l]: pose })).toEqual([]);
    // on its side its top is to the right
    const lies = { ...at(30 + high / 2, 60, 400), lies: true };
    expect(told(lit, room(1.5 * high, 550, 650), { [l]: lies })).toContain(`costs sleeve ${l}`);
    expect(told(lit, room(2 * high, 550, 650), { [l]: lies })).toEqual([]);
  });
});

/** Cupboards as they are, and some as they are not. */
const cupboards = fc.record({
  w: fc.integer({ min: 380, max: 1400 }),
  d: fc.integer({ min: 380, max: 620 }),
  h: fc.integer({ min: 420, max: 800 }),
  valve: fc.double({ min: 0.05, max: 0.95, noNaN: true }),
  trap: fc.double({ min: 0.2, max: 0.8, noNaN: true }),
  disposal: fc.boolean(),
  bin: fc.boolean(),
  tap: fc.boolean(),
  beside: fc.boolean(),
});
type Cupboard = typeof cupboards extends fc.Arbitrary<infer T> ? T : never;
const roomIn = (c: Cupboard): Room =>
  room(
    c.w,
    c.d,
    c.h,
    {
      valve: at(Math.max(30, c.valve * c.w), 35, 0.55 * c.h),
      trap: at(Math.min(c.w - 100, Math.max(100, c.trap * c.w)), c.d / 2, 0.45 * c.h),
      socket: at(c.w - 43, 22, c.h - 100),
      ...(c.disposal ? { disposal: at(0.3 * c.w + 60, c.d / 2, Math.max(0, c.h - 340)) } : {}),
      ...(c.tap ? { tap: at(Math.min(c.w - 40, c.trap * c.w + 150), 60, c.h - 60) } : {}),
      ...(c.bin ? { bin: at(c.w - 125, c.d - 160, 0) } : {}),
    },
    c.beside ? { standsWhere: 'beside' } : {},
  );

describe('a proposed layout', () => {
  const trap = at(210, 190, 280);
  test('has nothing in anything’s way, in any cupboard, and says what it found no place for', () => {
    let whole = 0;
    let walledIn = 0;
    fc.assert(
      fc.property(cupboards, fc.constantFrom(plain, pumped), (c, system) => {
        const r = roomIn(c);
        const l = proposeLayout(system, r);
        expect(isClear(l.clashes)).toBe(true);
        for (const part of carriedIn(system)) {
          const pose = l.stands[part.component.id];
          const size = pose?.space === 'second' ? r.second?.size : r.size;
          if (pose && size) expect(isInside(boxOf(part.body, pose), size)).toBe(true);
          else expect(l.unplaced).toContain(part);
        }
        if (l.unplaced.length === 0) whole++;
        walledIn += l.walledIn;
      }),
      { numRuns: 40 },
    );
    expect(whole).toBeGreaterThan(10);
    // in a cupboard that is full to the last inch a tube may find no way; it is told
    expect(walledIn).toBeLessThan(whole / 4);
  });
  test('finds a place for everything wherever Size says that it goes in, and nowhere else', () => {
    let [goes, not] = [0, 0];
    fc.assert(
      fc.property(cupboards, fc.shuffledSubarray([plain, pumped], { minLength: 1 }), (c, systems) => {
        const r = roomIn(c);
        // what one has of the other's bodies is looked for once
        for (const system of systems) {
          const answer = goesIn(system, r, JSON.stringify(r));
          expect(proposeLayout(system, r).unplaced.length === 0).toBe(answer.goes);
          expect(answer.without.length > 0).toBe(!answer.goes);
          if (answer.goes) goes++;
          else not++;
        }
      }),
      { numRuns: 40 },
    );
    expect(goes).toBeGreaterThan(5);
    expect(not).toBeGreaterThan(5);
  });
  test('a next cupboard lies where somebody says it does: the hole is in that panel', () => {
    const tank = find(plain, 'tank').component.id;
    const frame = find(plain, 'frame').component.id;
    for (const [side, x] of [['right', 600], ['left', 0]] as const) {
      const r = room(600, 550, 650, {}, { standsWhere: 'beside', secondSide: side });
      const stands = { [frame]: at(300, 75, 60), [tank]: { ...at(200, 300, 0), space: 'second' as const } };
      const run = runsIn(plain, r, stands).find((q) => q.link.endsWith(`>${tank}`));
      expect(run?.ways[0]?.way.at(-1)?.x).toBe(x);
      expect(run?.noWay).toBe(false);
    }
  }); // oxfmt-ignore
  test('a housing more than a frame holds hangs beside it, and a further element makes the frame deeper', () => {
    const iron = systemOf({ ...usual, ironId: 'iron-cartridge' });
    const hung = carriedIn(iron).filter((c) => c.component.housing);
    expect(iron.components.filter((c) => c.housing)).toHaveLength(4);
    expect(hung.map((c) => c.component.slot)).toEqual(['carbon 2']);
    const two = systemOf({ ...usual, elementCount: 2 });
    expect(find(two, 'frame').body.depthMm - find(plain, 'frame').body.depthMm).toBe(70);
  });
  test('what a pump runs on is placed off the floor and within reach of the socket; a leak stop wherever there is room', () => {
    const r = room(1000, 550, 650, { socket: at(900, 22, 400), trap: at(500, 250, 280) });
    const box = find(pumped, 'transformer');
    const l = proposeLayout(pumped, r);
    expect(l.unplaced).toEqual([]);
    expect(l.stands[box.component.id]?.zMm).toBeGreaterThanOrEqual(100);
    const low = clashesOf([laid(box, at(300, 40, 0))], r).map((c) => c.code);
    expect(low).toContain('low');
    const leak = extraFrom('leak-stop', 'leak', shelf);
    if (!leak) throw new Error('the shelf has a leak stop');
    const more = withExtra(pumped, leak);
    const added = proposeLayout(more, r, l.stands);
    expect(added.unplaced).toEqual([]);
    expect(added.stands).toMatchObject(l.stands);
    expect(added.stands.leak).toBeDefined();
  });
  test('a tank off the floor says what it weighs when it is full', () => {
    const tank = find(plain, 'tank').component.id;
    const wide = room(1200, 550, 700);
    const told = (z: number): string[] => clashesOf([laid(find(plain, 'tank'), at(700, 300, z))], wide).flatMap((c) => (c.at === tank && c.code === 'heavy' ? [c.text] : [])); // oxfmt-ignore
    expect(told(0)).toEqual([]);
    expect(told(200)).toEqual(['Tank weighs about 10 kg when it is full: what it stands on must bear it.']);
  });
  test('keeps what stands already, and takes the second place only where the cupboard is too small', () => {
    const tank = find(plain, 'tank').component.id;
    const stands = { [tank]: at(700, 300, 0) };
    expect(proposeLayout(plain, room(1000, 550, 650), stands).stands).toMatchObject(stands);
    const roomy = proposeLayout(plain, room(1000, 550, 650, {}, { standsWhere: 'beside' }));
    expect(Object.values(roomy.stands).some((p) => p.space === 'second')).toBe(false);
    const tight = proposeLayout(plain, room(420, 380, 620, { trap }, { standsWhere: 'beside' }));
    expect(tight.unplaced).toEqual([]);
    expect(Object.values(tight.stands).some((p) => p.space === 'second')).toBe(true);
  });
  test('says what would go where not everything does, each tried; nothing where nothing does', () => {
    const tight = room(420, 380, 620, { trap });
    expect(proposeLayout(plain, tight).unplaced.length).toBeGreaterThan(0);
    const ways = wouldGo(plain, tight, sizes(420, 380, 620), shelf);
    expect(ways.map((w) => w.code)).toContain('next-cupboard');
    const none = room(120, 120, 120);
    expect(wouldGo(plain, none, sizes(120, 120, 120), shelf).map((w) => w.code)).not.toContain('next-cupboard');
  });
});

const house0 = { widthMm: 0, depthMm: 0, heightMm: 0 };

describe('tubes where parts stand', () => {
  const [frame, tank] = [find(plain, 'frame').component.id, find(plain, 'tank').component.id];
  const wide = room(1200, 550, 650, { valve: at(500, 35, 350), trap: at(650, 275, 300) });
  const stands = { [frame]: at(200, 75, 50), [tank]: at(900, 300, 0) };
  test('are as planned until both ends have a place', () => {
    expect(asLaid(plain, wide, {})).toBe(plain);
    expect(asLaid(plain, null, stands)).toBe(plain);
    const one = asLaid(plain, room(1200, 550, 650), { [tank]: at(900, 300, 0) });
    expect(one.links).toEqual(plain.links);
  });
  test('are cut as they are drawn, with what goes into the fittings and slack; they rise from end to end', () => {
    const runs = runsIn(plain, wide, stands);
    const laidOut = asLaid(plain, wide, stands);
    for (const r of runs) {
      const link = laidOut.links.find((l) => l.id === r.link);
      expect(link?.lengthM).toBeCloseTo(r.drawnM + r.insertedM + r.slackM, 9);
      expect(link?.riseM).toBeCloseTo(r.riseM, 9);
      if (r.ways.length > 0) expect(r.ways.reduce((m, w) => m + wayMm(w.way), 0) / 1000).toBeCloseTo(r.drawnM, 9);
      expect(r.insertedM).toBeGreaterThan(0.02);
    }
    // from the tank's tee on the frame, 467 mm up, to the top of the tank
    const toTank = runs.find((r) => r.link.endsWith(`>${tank}`));
    const high = carriedIn(plain).find((c) => c.component.id === tank)?.body.heightMm ?? 0;
    expect(toTank?.riseM).toBeCloseTo((high - 50 - 0.97 * 430) / 1000, 6);
  });
  test('are led through a place somebody pins, no shorter for it, and by the shortest way again once it is let go', () => {
    const free = runsIn(plain, wide, stands);
    const link = free.find((r) => r.link.endsWith(`>${tank}`))?.link ?? '';
    const of = (via: readonly Pose[]) => runsIn(plain, wide, stands, { [link]: via }).find((r) => r.link === link);
    fc.assert(
      fc.property(fc.integer({ min: 20, max: 1180 }), fc.integer({ min: 20, max: 530 }), fc.integer({ min: 20, max: 630 }), (x, y, z) => {
        const led = of([at(x, y, z)]);
        const way = led?.ways[0]?.way ?? [];
        const between = (v: number, a: number, b: number): boolean => Math.min(a, b) <= v && v <= Math.max(a, b);
        const legs = way.slice(1).map((b, i) => [way[i] ?? b, b] as const);
        const passes = legs.some(([a, b]) => between(x, a.x, b.x) && between(y, a.y, b.y) && between(z, a.z, b.z));
        const shortest = of([])?.drawnM ?? Infinity;
        expect(led?.drawnM ?? 0).toBeGreaterThanOrEqual(shortest - 1e-9);
        // within a body no tube is led: such a place is passed over
        if (!passes) expect(led?.drawnM).toBeCloseTo(shortest, 9);
      }),
      { numRuns: 60 },
    );
    expect(of([])).toEqual(free.find((r) => r.link === link));
    expect(asLaid(plain, wide, stands, { [link]: [at(600, 500, 30)] }).links.find((l) => l.id === link)?.lengthM).toBeGreaterThan(
      asLaid(plain, wide, stands).links.find((l) => l.id === link)?.lengthM ?? Infinity,
    );
  }); // oxfmt-ignore
  test('hang only where a wall bears a screw; a tap fixed from above wants no room for a nut', () => {
    const sides = room(1200, 550, 650, {}, { screwWalls: 'sides' });
    const [f, t] = [find(plain, 'frame'), at(700, 60, 590)];
    expect(clashesOf([laid(f, at(300, 75, 60))], sides).map((c) => c.code)).toContain('wall');
    expect(clashesOf([laid(f, { ...at(75, 300, 60), turn: 270 })], sides).map((c) => c.code)).not.toContain('wall');
    for (const l of Object.values(proposeLayout(plain, sides).stands)) expect(l.zMm === 0 || (l.turn ?? 0) % 180 === 90).toBe(true);
    const nowhere = room(1200, 550, 650, {}, { screwWalls: 'none' });
    for (const turn of [0, 90, 270] as const)
      expect(clashesOf([laid(f, { ...at(300, 75, 60), turn })], nowhere).map((c) => c.code)).toContain('wall');
    expect(proposeLayout(plain, nowhere).unplaced).toContainEqual(f);
    expect(wouldGo(plain, nowhere, {}, shelf).map((w) => w.code)).toContain('board');
    const under = laid(f, at(700, 75, 210));
    const told = (tapMount: string): string[] => clashesOf([under], room(1200, 550, 650, { tap: t }, { tapMount })).map((c) => c.code);
    expect(told('below')).toContain('nut');
    expect(told('above')).not.toContain('nut');
  }); // oxfmt-ignore
  test('through a second place are longer by the way there, and rise with it', () => {
    const below = room(1200, 550, 650, {}, { standsWhere: 'elsewhere', wayLengthM: 2, wayRiseM: -1.5 });
    const there: Pose = { ...at(500, 300, 0), space: 'second' };
    const run = runsIn(plain, below, { [frame]: at(200, 75, 50), [tank]: there }).find((r) => r.link.endsWith(`>${tank}`));
    expect(run?.ways.map((w) => w.space)).toEqual(['cupboard', 'second']);
    const drawn = run?.ways.reduce((m, w) => m + wayMm(w.way), 0) ?? 0;
    expect(run?.drawnM).toBeCloseTo(drawn / 1000 + 2, 9);
    const down = -(50 + 0.97 * 430) - 1500 - (1800 - 390);
    expect(run?.riseM).toBeGreaterThan(down / 1000 - 0.2);
    expect(run?.riseM).toBeLessThan(-1.5);
  }); // oxfmt-ignore
  test('begin and end at the joints drawn there, in the space they are in', () => {
    const { stands } = proposeLayout(plain, wide);
    const joints = new Map(jointsAt(plain, wide, stands).map((j) => [j.joint.id, j]));
    const runs = runsIn(plain, wide, stands).filter((r) => r.ways.length > 0);
    expect(runs.length).toBeGreaterThan(0);
    for (const run of runs) {
      const link = plain.links.find((l) => l.id === run.link);
      const [from, to] = [link?.from, link?.to].map((p) => joints.get(`${p?.component ?? ''}.${p?.port ?? ''}`));
      expect(from?.at).toEqual(run.ways[0]?.way[0]);
      expect(to?.at).toEqual(run.ways.at(-1)?.way.at(-1));
    }
    // what nobody placed has none
    const rest = Object.fromEntries(Object.entries(stands).filter(([id]) => id !== tank));
    expect(jointsAt(plain, wide, rest).some((j) => j.joint.component.id === tank)).toBe(false);
  });
  test('go through the panel where nothing stands before the hole', () => {
    const next = room(1200, 550, 650, {}, { standsWhere: 'beside' });
    // the frame hangs before where the hole would come
    const hung: Pose = { ...at(1125, 193, 50), turn: 90 };
    const there: Pose = { ...at(225, 300, 0), space: 'second' };
    const run = runsIn(plain, next, { [frame]: hung, [tank]: there }).find((r) => r.link.endsWith(`>${tank}`));
    expect(run?.noWay).toBe(false);
    const [here, beyond] = run?.ways ?? [];
    const out = here?.way.at(-1);
    expect(out?.x).toBe(1200);
    expect(
      boxesMeet(
        {
          x0: 1199,
          x1: 1200,
          y0: (out?.y ?? 0) - 3,
          y1: (out?.y ?? 0) + 3,
          z0: (out?.z ?? 0) - 3,
          z1: (out?.z ?? 0) + 3,
        },
        boxOf(carriedIn(plain).find((c) => c.component.id === frame)?.body ?? house0, hung),
      ),
    ).toBe(false);
    expect(beyond?.way[0]).toEqual({ ...out, x: 0 });
  });
  test('pass by the hole that is there already, round which nothing else is in the way', () => {
    const hole = { hole: at(1180, 400, 300) };
    for (const [where, x] of [['beside', 1200], ['elsewhere', 1180]] as const) {
      const next = room(1200, 550, 650, hole, { standsWhere: where });
      const there: Pose = { ...at(225, 300, 0), space: 'second' };
      const run = runsIn(plain, next, { [frame]: at(200, 75, 50), [tank]: there }).find((r) => r.link.endsWith(`>${tank}`));
      expect(run?.noWay).toBe(false);
      expect(run?.ways[0]?.way.at(-1)).toEqual(where === 'beside' ? { x, y: 400, z: 320 } : { x, y: 400, z: 0 });
      // it takes no room from what stands there
      expect(clashesOf([laid(find(plain, 'tank'), at(1060, 400, 0))], next).filter((c) => c.with === 'hole')).toEqual([]);
    }
    expect(layoutSvg(plain, room(1200, 550, 650, hole, { standsWhere: 'beside' }), [], [], 'A house')).toContain('Hole to the second place');
  }); // oxfmt-ignore
  test('an end that stands walled in is told, and its tube is as long as the crow flies along the walls', () => {
    const shut = room(1200, 550, 650, {
      valve: at(500, 35, 350),
      post: { ...at(500, 275, 0), body: { widthMm: 300, depthMm: 550, heightMm: 650 } },
    });
    const runs = runsIn(plain, shut, stands);
    const feed = runs.find((r) => r.link.startsWith('feed.out'));
    expect(feed?.noWay).toBe(true);
    expect(feed?.drawnM).toBeGreaterThan(0.2);
  });
});

describe('the worktop from above', () => {
  const basin = at(500, 275, 490);
  const over = (tap: Spot, more: Placed = {}, laidOut: Record<string, Pose> = {}) => {
    const r = room(1200, 550, 650, { basin, tap, ...more });
    const standing = carriedIn(plain).flatMap((c) => {
      const pose = laidOut[c.component.id];
      return pose ? [laid(c, pose)] : [];
    });
    return worktopOf(plain, r, standing);
  };
  test('the spout reaches into the basin, or it is told how far it does not', () => {
    // the basin's right edge is at 700, its back edge at 85
    expect(over(at(720, 120, 590))).toMatchObject({ intoMm: REACH_MM - 20, toBasin: { mm: 20, x: 700 }, problems: [] });
    expect(over(at(720 + REACH_MM, 120, 590))?.problems).toEqual(['The spout ends 20 mm short of the basin: move the hole nearer.']);
    expect(over(at(700 + REACH_MM - 10, 120, 590))?.problems[0]).toContain('reaches 10 mm into the basin');
    expect(over(at(500, 275, 590))?.problems[0]).toContain('drawn in the basin');
  }); // oxfmt-ignore
  test('what is right under the hole leaves no room for its nut', () => {
    const pipes = at(720, 120, 330);
    expect(over(at(720, 120, 590), { pipes })?.problems).toEqual([
      'Right under the tap’s hole there is the hot and cold pipes: no room for its nut and a spanner.',
    ]);
    expect(over(at(720, 120, 590), { pipes: at(720, 120, 100) })?.problems).toEqual([]);
    const frame = find(plain, 'frame').component.id;
    const r = room(1200, 550, 650, { tap: at(300, 60, 590) });
    expect(told(plain, r, { [frame]: at(300, 75, 200) })).toContain(`not nut ${frame} tap`);
    expect(told(plain, r, { [frame]: at(300, 75, 60) })).toEqual([]);
  });
  test('its tube is cut as it runs to the stem, and lifts the water to the spout', () => {
    const tap = plain.components.find((c) => c.kind === 'tap')?.id ?? '';
    const r = room(1200, 550, 650, { tap: at(720, 60, 590) });
    const frame = find(plain, 'frame').component.id;
    const run = runsIn(plain, r, { [frame]: at(200, 75, 50) }).find((x) => x.link.endsWith(`>${tap}`));
    expect(run?.noWay).toBe(false);
    expect(run?.riseM).toBeCloseTo((590 - 50 - 0.97 * 430) / 1000 + 0.3, 6);
    // where nobody placed it, it is as Gauge measured it
    expect(runsIn(plain, room(1200, 550, 650), { [frame]: at(200, 75, 50) }).some((x) => x.link.endsWith(`>${tap}`))).toBe(false);
    expect(worktopOf(plain, room(1200, 550, 650), [])).toBeNull();
  }); // oxfmt-ignore
});

describe('the drawing as a file', () => {
  test('holds every part and every tube by its number, in both spaces, and escapes what people wrote', () => {
    const next = room(420, 380, 620, { trap: at(210, 190, 280) }, { standsWhere: 'beside' });
    const l = proposeLayout(plain, next);
    const standing = carriedIn(plain).flatMap((c) => {
      const pose = l.stands[c.component.id];
      return pose ? [laid(c, pose)] : [];
    });
    const runs = runsIn(plain, next, l.stands);
    const svg = layoutSvg(plain, next, standing, runs, 'Mill <Lane> & 2');
    expect(svg).toContain('Mill &lt;Lane> &amp; 2');
    for (const c of carriedIn(plain)) expect(svg).toContain(`${c.component.slot} (`);
    const drawn = runs.filter((r) => r.ways.length > 0);
    expect(svg.match(/<polyline/g)).toHaveLength(2 * drawn.reduce((n, r) => n + r.ways.length, 0));
    expect(svg.match(/from the front/g)).toHaveLength(2);
    expect(svg).not.toContain('NaN');
  });
  test('a tank the shelf gives no size for is on no drawing, and is named', () => {
    const sizeless = {
      ...plain,
      components: plain.components.map((c) =>
        c.kind === 'tank' && c.part ? { ...c, part: { ...c.part, size: undefined } } : c,
      ),
    };
    expect(withoutBody(plain)).toEqual([]);
    expect(withoutBody(sizeless).map((c) => c.kind)).toEqual(['tank']);
    expect(carriedIn(sizeless).some((c) => c.component.kind === 'tank')).toBe(false);
  });
});

describe('the way of a tube', () => {
  const size = { widthMm: 900, depthMm: 500, heightMm: 600 };
  const point = fc.record({
    x: fc.integer({ min: 5, max: 895 }),
    y: fc.integer({ min: 5, max: 495 }),
    z: fc.integer({ min: 5, max: 595 }),
  });
  const box: fc.Arbitrary<Box> = fc
    .record({ p: point, w: fc.integer({ min: 20, max: 350 }), d: fc.integer({ min: 20, max: 250 }), h: fc.integer({ min: 20, max: 350 }) })
    .map(({ p, w, d, h }) => ({ x0: p.x, x1: p.x + w, y0: p.y, y1: p.y + d, z0: p.z, z1: p.z + h })); // oxfmt-ignore
  test('turns along the walls, meets no box, and more boxes never make it shorter', () => {
    fc.assert(
      fc.property(point, point, fc.array(box, { maxLength: 5 }), box, (from, to, boxes, more) => {
        const few = shortestWay(from, to, size, boxes, 3);
        const many = shortestWay(from, to, size, [...boxes, more], 3);
        const straight = Math.abs(from.x - to.x) + Math.abs(from.y - to.y) + Math.abs(from.z - to.z);
        if (few) {
          expect(few[0]).toEqual(from);
          expect(few.at(-1)).toEqual(to);
          expect(wayMm(few)).toBeGreaterThanOrEqual(straight - 1e-6);
          few.slice(1).forEach((p, i) => {
            const q = few[i] ?? p;
            expect([p.x !== q.x, p.y !== q.y, p.z !== q.z].filter(Boolean).length).toBeLessThanOrEqual(1);
          });
        }
        // what has no way round fewer has none round more
        if (!few) expect(many).toBeNull();
        if (few && many) expect(wayMm(many)).toBeGreaterThanOrEqual(wayMm(few) - 1);
      }),
      { numRuns: 150 },
    );
  });
  test('goes straight where nothing is in the way, round what is, and is none where an end is walled in', () => {
    const [from, to] = [{ x: 100, y: 100, z: 100 }, { x: 700, y: 100, z: 100 }]; // oxfmt-ignore
    expect(straightWays(from, to).every((w) => w.length === 2)).toBe(true);
    expect(shortestWay(from, to, size, [], 3)).toEqual([from, to]);
    const wall: Box = { x0: 400, x1: 420, y0: 0, y1: 300, z0: 0, z1: 600 };
    expect(wayMm(shortestWay(from, to, size, [wall], 3) ?? [])).toBeCloseTo(600 + 2 * 203, 6);
    expect(shortestWay(from, to, size, [{ x0: 600, x1: 800, y0: 0, y1: 200, z0: 0, z1: 200 }], 3)).toBeNull();
  });
});
