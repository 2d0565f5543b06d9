import { kindRow } from '../../parts/kinds.ts';
import { componentOf, type Link, type PortRef, type System } from '../../system/system.ts';
import { carriedIn, carrierOf, portAt, type Carried } from '../place/carried.ts';
import { laid, type Laid } from '../place/clashes.ts';
import type { Box, Point } from '../place/pose.ts';
import type { Pose, Space } from '../../gauge/place.ts';
import { gatesOf, obstaclesIn, sizeOf, type Room } from '../place/room.ts';
import { shortestWay, wayMm, type TubeWay } from './way.ts';

const { abs, max } = Math;

/** Where the parts of a system stand, by component. */
export type Stands = Readonly<Record<string, Pose>>;

/** Places tubes are led through, by link, each list from its tube's beginning to its end. */
export type Vias = Readonly<Record<string, readonly Pose[]>>;

/** How a tube runs. */
export interface Run {
  readonly link: string;
  /** its way in each space it passes, from its beginning to its end; empty within a frame, or where there is none */
  readonly ways: readonly { readonly space: Space; readonly way: TubeWay }[];
  /** the way drawn, what goes into the fittings, and slack to pull the unit out: together the cut, m */
  readonly drawnM: number;
  readonly insertedM: number;
  readonly slackM: number;
  readonly riseM: number;
  readonly bends: number;
  /** corners the tube does not bear at its bore: fittings */
  readonly elbows: number;
  /** no way to it was found: its length is as the crow flies along the walls */
  readonly noWay: boolean;
}

/** To pull the unit out, m, and between two parts of one frame, m: a loop that does not kink. */
const SLACK_M = 0.4;
const LOOP_M = 0.06;
/** A tube leaves a port straight for so long, mm. */
const STUB_MM = 30;
/** A tube bears to be bent to so many times its outside diameter. */
const BEND_RADII = 4;
/** A spout stands so high above the end of its stem, m. */
const SPOUT_M = 0.3;
/** How deep a tube goes into a fitting: so many times its outside diameter. */
const INSERTION = 2.5;

/** The length to cut, m. */
export const cutM = (r: Run): number => r.drawnM + r.insertedM + r.slackM;

/** Where a tube begins or ends. */
interface End {
  readonly at: Point;
  readonly leaves: Point;
  readonly space: Space;
  /** what it is fixed to: it may leave through it */
  readonly box: Box | null;
  readonly carrier: string;
}

const UP: Point = { x: 0, y: 0, z: 1 };
const DOWN: Point = { x: 0, y: 0, z: -1 };
const FRONT: Point = { x: 0, y: 1, z: 0 };
const OTHER_WAYS: readonly Point[] = [FRONT, UP, { x: 1, y: 0, z: 0 }, { x: -1, y: 0, z: 0 }, DOWN];
const middle = (b: Box): Point => ({ x: (b.x0 + b.x1) / 2, y: (b.y0 + b.y1) / 2, z: (b.z0 + b.z1) / 2 });

/** The ends of a system's tubes in a room, where its parts stand. */
export function endsIn(system: System, room: Room, stands: Stands): (port: PortRef) => End | null {
  const carried = new Map(carriedIn(system).map((c) => [c.component.id, c]));
  const ofHouse = (thing: 'valve' | 'trap' | 'tap'): End | null => {
    const o = room.obstacles.find((x) => x.thing === thing);
    if (!o) return null;
    // a clamp sits above the trap's water; a tap's stem ends below its nut
    const z = { trap: o.box.z1, tap: o.box.z0, valve: middle(o.box).z }[thing];
    return {
      at: { ...middle(o.box), z },
      leaves: thing === 'tap' ? DOWN : FRONT,
      space: 'cupboard',
      box: o.box,
      carrier: thing,
    };
  };
  return (port) => {
    const c = componentOf(system, port.component);
    if (!c) return null;
    if (c.kind === 'feed' || c.kind === 'stop-valve') return ofHouse('valve');
    if (kindRow(c.kind).work === 'ends') return ofHouse('trap');
    if (c.kind === 'tap') return ofHouse('tap');
    const by = carrierOf(system, c.id);
    const carrier: Carried | undefined = by === null ? undefined : carried.get(by);
    const pose = by === null ? undefined : stands[by];
    if (!carrier || !pose) return null;
    const { at, leaves } = portAt(system, carrier, pose, port);
    return { at, leaves, space: pose.space ?? 'cupboard', box: laid(carrier, pose).box, carrier: carrier.component.id };
  };
}

/** Straight out of what an end is fixed to, far enough to bend. */
function stubOf(end: End, leaves: Point): Point {
  const b = end.box;
  const out = (p: number, way: number, lo: number, hi: number): number =>
    way === 0 ? p : way > 0 ? max(p, b ? hi : p) + STUB_MM : (b ? Math.min(p, lo) : p) - STUB_MM;
  return {
    x: out(end.at.x, leaves.x, b?.x0 ?? 0, b?.x1 ?? 0),
    y: out(end.at.y, leaves.y, b?.y0 ?? 0, b?.y1 ?? 0),
    z: out(end.at.z, leaves.z, b?.z0 ?? 0, b?.z1 ?? 0),
  };
}

/** Whether a tube may pass a point. */
function isOpen(p: Point, room: Room, space: Space, boxes: readonly Box[], half: number): boolean {
  const size = sizeOf(room, space);
  if (!size || p.x < 0 || p.y < 0 || p.z < 0 || p.x > size.widthMm || p.y > size.depthMm || p.z > size.heightMm) return false;
  const inside = (b: Box): boolean =>
    p.x > b.x0 - half && p.x < b.x1 + half && p.y > b.y0 - half && p.y < b.y1 + half && p.z > b.z0 - half && p.z < b.z1 + half;
  return !boxes.some(inside);
} // oxfmt-ignore

/** What of a room a tube goes round. */
export interface Around {
  readonly room: Room;
  readonly boxes: Readonly<Record<Space, readonly Box[]>>;
}

/** Everything that stands in a room's spaces. */
export const around = (room: Room, standing: readonly Laid[]): Around => {
  const of = (space: Space): Box[] => [
    ...obstaclesIn(room, space).map((o) => o.box),
    ...standing.filter((l) => (l.pose.space ?? 'cupboard') === space).map((l) => l.box),
  ];
  return { room, boxes: { cupboard: of('cupboard'), second: of('second') } };
};

/** A way within one space, through the places that are open of those it is led through; null where there is none. */
function wayWithin(a: Around, space: Space, from: End, to: End, half: number, via: readonly Pose[]): TubeWay | null {
  const size = sizeOf(a.room, space);
  if (!size) return null;
  const boxes = a.boxes[space];
  const stub = (end: End): Point | undefined =>
    [end.leaves, ...OTHER_WAYS].map((w) => stubOf(end, w)).find((p) => isOpen(p, a.room, space, boxes, half));
  const [s, e] = [stub(from), stub(to)];
  if (!s || !e) return null;
  const led = via
    .filter((v) => (v.space ?? 'cupboard') === space)
    .map((v) => ({ x: v.xMm, y: v.yMm, z: v.zMm }))
    .filter((q) => isOpen(q, a.room, space, boxes, half));
  const way: Point[] = [s];
  for (const next of [...led, e]) {
    const leg = shortestWay(way.at(-1) ?? s, next, size, boxes, half);
    if (!leg) return null;
    way.push(...leg.slice(1));
  }
  return [from.at, ...way, to.at];
}

const away = (a: Point, b: Point): number => abs(a.x - b.x) + abs(a.y - b.y) + abs(a.z - b.z);

/** Corners of a way, and those the tube does not bear. */
function bendsOf(way: TubeWay, outsideMm: number): { bends: number; elbows: number } {
  const radius = BEND_RADII * outsideMm;
  const points = way.filter((p, i) => i === 0 || away(p, way[i - 1] ?? p) > 0.5);
  const leg = (i: number): number => wayMm(points.slice(i, i + 2));
  let bends = 0;
  let elbows = 0;
  for (let i = 1; i < points.length - 1; i++) {
    const [a, b, c] = [points[i - 1], points[i], points[i + 1]];
    if (!a || !b || !c) continue;
    const turns = [a.x !== b.x && b.x !== c.x, a.y !== b.y && b.y !== c.y, a.z !== b.z && b.z !== c.z].every((on) => !on);
    if (!turns) continue;
    bends++;
    // an end's leg bends once, one between two corners twice
    const need = (at: number): number => (at === 0 || at === points.length - 2 ? radius : 2 * radius);
    if (leg(i - 1) < need(i - 1) && leg(i) < need(i)) elbows++;
  }
  return { bends, elbows };
} // oxfmt-ignore

/** How a tube runs between two ends that are placed. */
function runOf(link: Link, from: End, to: End, a: Around, via: readonly Pose[]): Run {
  const outside = link.tube?.outsideMm ?? 0;
  const half = outside / 2;
  const insertedM = (2 * INSERTION * outside) / 1000;
  const base = { link: link.id, insertedM, riseM: (to.at.z - from.at.z) / 1000 };
  if (from.carrier === to.carrier)
    return { ...base, ways: [], drawnM: away(from.at, to.at) / 1000 + LOOP_M, slackM: 0, bends: 2, elbows: 0, noWay: false };
  const legs = from.space === to.space ? [{ space: from.space, from, to }] : through(from, to, a, half);
  const second = from.space === to.space ? null : a.room.second;
  const ways = legs.map((l) => ({ space: l.space, way: wayWithin(a, l.space, l.from, l.to, half, via) }));
  const found = ways.flatMap(({ space, way }) => (way ? [{ space, way }] : []));
  const noWay = ways.length === 0 || found.length < ways.length;
  const crow = legs.reduce((sum, l) => sum + away(l.from.at, l.to.at), 0);
  const drawn = noWay ? crow : found.reduce((sum, w) => sum + wayMm(w.way), 0);
  const bent = found.map((w) => bendsOf(w.way, outside));
  const climbs = legs.reduce((sum, l) => sum + l.to.at.z - l.from.at.z, 0) / 1000;
  const upward = from.space === 'cupboard' ? 1 : -1;
  return {
    ...base,
    ways: noWay ? [] : found,
    drawnM: drawn / 1000 + (second?.wayM ?? 0),
    slackM: SLACK_M,
    riseM: second ? climbs + upward * second.riseM : base.riseM,
    bends: bent.reduce((n, b) => n + b.bends, 0),
    elbows: bent.reduce((n, b) => n + b.elbows, 0),
    noWay,
  };
} // oxfmt-ignore

/** A tube's legs where it leaves one space for the other: by the hole that makes it shortest, of those nothing stands before. */
function through(from: End, to: End, { room, boxes }: Around, half: number): { space: Space; from: End; to: End }[] {
  const below = room.second?.lies === 'below';
  const gateIn = (at: Point, space: Space): End => {
    const upward: Point = { x: 0, y: 0, z: space === 'cupboard' ? 1 : -1 };
    const rightward = (space === 'cupboard') === (room.second?.side === 'left');
    const sideways: Point = { x: rightward ? 1 : -1, y: 0, z: 0 };
    return { at, leaves: below ? upward : sideways, space, box: null, carrier: 'way' };
  };
  const ends = gatesOf(room).map((g) => ({
    out: gateIn(g[from.space], from.space),
    into: gateIn(g[to.space], to.space),
  }));
  const open = (e: End): boolean => isOpen(stubOf(e, e.leaves), room, e.space, boxes[e.space], half);
  const length = (e: (typeof ends)[number]): number => away(from.at, e.out.at) + away(e.into.at, to.at);
  const free = ends.filter((e) => open(e.out) && open(e.into));
  const [first] = free.length > 0 ? free : ends;
  if (!first) return [];
  const best = (free.length > 0 ? free : ends).reduce((a, b) => (length(b) < length(a) ? b : a), first);
  return [
    { space: from.space, from, to: best.out },
    { space: to.space, from: best.into, to },
  ];
}

/** How every tube runs that has both ends placed. */
export function runsIn(system: System, room: Room, stands: Stands, vias: Vias = {}): Run[] {
  const endOf = endsIn(system, room, stands);
  const standing = carriedIn(system).flatMap((c) => {
    const pose = stands[c.component.id];
    return pose ? [laid(c, pose)] : [];
  });
  const a = around(room, standing);
  return system.links.flatMap((link) => {
    if (!link.tube) return [];
    const [from, to] = [endOf(link.from), endOf(link.to)];
    if (!from || !to) return [];
    const run = runOf(link, from, to, a, vias[link.id] ?? []);
    // the water is lifted on to the spout
    return [to.carrier === 'tap' && link.to.port === 'in' ? { ...run, riseM: run.riseM + SPOUT_M } : run];
  });
}

/**
 * A system with its tubes as long as where its parts stand makes them, rising as they do; a tube with an end nobody placed
 * stays as it was planned.
 */
export function asLaid(system: System, room: Room | null, stands: Stands, vias: Vias = {}): System {
  if (!room || Object.keys(stands).length === 0) return system;
  const runs = new Map(runsIn(system, room, stands, vias).map((r) => [r.link, r]));
  const links = system.links.map((l): Link => {
    const run = runs.get(l.id);
    return run ? { ...l, lengthM: cutM(run), riseM: run.riseM } : l;
  });
  return { ...system, links };
}
