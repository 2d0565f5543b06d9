import type { Body } from '../../gauge/body.ts';
import {
  cupboardOf,
  CUPBOARD_THINGS,
  THING_KEYS,
  type CupboardThing,
  type Placed,
  type Quarter,
  type Space,
} from '../../gauge/place.ts';
import { secondOf, type Second } from '../../gauge/second.ts';
import type { Known } from '../../gauge/fields.ts';
import { boxOf, type Box, type Point } from './pose.ts';

/** What stands in the cupboard already. */
export interface Obstacle {
  readonly thing: CupboardThing;
  readonly label: string;
  readonly box: Box;
}

/** Where a system is put: the cupboard with what stands in it, and a second place with the way there, where there is one. */
export interface Room {
  readonly size: Body;
  readonly obstacles: readonly Obstacle[];
  readonly second: Second | null;
  /** whether the socket dies with a wall switch */
  readonly switched: boolean;
  /** walls of the cupboard that bear a screw */
  readonly screws: keyof typeof BEARS;
  /** whether the tap's nut is turned from below */
  readonly nut: boolean;
}

/** The room as Gauge has it; null until the cupboard is measured. @param placed what stands in it, and where */
export function roomOf(known: Known, placed: Placed): Room | null {
  const size = cupboardOf(known);
  return size && roomIn({ cupboard: size, second: secondOf(known), placed, ...known });
}

/** Which walls bear a screw: the back wall, the side panels. */
const BEARS = {
  all: { back: true, sides: true },
  back: { back: true, sides: false },
  sides: { back: false, sides: true },
  none: { back: false, sides: false },
} as const;
const isBearing = (screws: string): screws is keyof typeof BEARS => Object.hasOwn(BEARS, screws);

/** Whether the wall a thing hangs on, as it is turned, bears a screw. */
export const bears = (room: Pick<Room, 'screws'>, turn: Quarter): boolean =>
  BEARS[room.screws][turn % 180 === 0 ? 'back' : 'sides'];

/** What a room is made of. */
export interface RoomParts {
  readonly cupboard: Body;
  readonly second: Second | null;
  readonly placed: Placed;
  /** as Gauge has them; undefined where nobody asked */
  readonly socket?: unknown;
  readonly screwWalls?: unknown;
  readonly tapMount?: unknown;
}

/** A room out of its parts. */
export function roomIn({ cupboard, second, placed, socket, screwWalls, tapMount }: RoomParts): Room {
  const obstacles = THING_KEYS.flatMap((thing): Obstacle[] => {
    const at = placed[thing];
    if (!at) return [];
    const { label, ...usual } = CUPBOARD_THINGS[thing];
    return [{ thing, label, box: boxOf(at.body ?? usual, at) }];
  });
  return {
    size: cupboard,
    obstacles,
    second,
    switched: socket === 'switched',
    screws: typeof screwWalls === 'string' && isBearing(screwWalls) ? screwWalls : 'all',
    nut: tapMount !== 'above' && tapMount !== 'bracket',
  };
}

/** The size of a space; null where there is none of it. */
export const sizeOf = (room: Room, space: Space): Body | null =>
  space === 'cupboard' ? room.size : (room.second?.size ?? null);

/** What stands in a space already, in the way of parts and tubes. */
export const obstaclesIn = (room: Room, space: Space): readonly Obstacle[] =>
  space === 'cupboard' ? room.obstacles.filter((o) => o.thing !== 'hole') : [];

/** A tap's nut under the worktop is turned with a spanner: kept free round the hole, and below the worktop, mm. */
const NUT_ROUND_MM = 40;
export const NUT_BELOW_MM = 150;

/** What is kept free for the tap's nut; null until the hole is placed, or where none is turned from below. */
export function nutIn(room: Room): Box | null {
  const hole = room.obstacles.find((o) => o.thing === 'tap')?.box;
  if (!hole || !room.nut) return null;
  const [x, y] = [(hole.x0 + hole.x1) / 2, (hole.y0 + hole.y1) / 2];
  const top = room.size.heightMm;
  return {
    x0: x - NUT_ROUND_MM,
    x1: x + NUT_ROUND_MM,
    y0: Math.max(0, y - NUT_ROUND_MM),
    y1: y + NUT_ROUND_MM,
    z0: top - NUT_BELOW_MM,
    z1: top,
  };
}

/** A hole from one space to the other: where a tube leaves the cupboard, and where it enters the second place. */
export interface Gate {
  readonly cupboard: Point;
  readonly second: Point;
}

/** Holes are tried so far apart, and so far from a corner, mm. */
const APART_MM = 60;

const gates = new WeakMap<Room, readonly Gate[]>();

/**
 * Every place for the hole between the two spaces: through the panel beside, or through the floor; where there is a hole
 * already, that one alone. Made once for each room.
 */
export function gatesOf(room: Room): readonly Gate[] {
  const made = gates.get(room) ?? gatesIn(room);
  gates.set(room, made);
  return made;
}

function gatesIn(room: Room): Gate[] {
  const { second, size } = room;
  if (!second) return [];
  const along = (mm: number): number[] =>
    Array.from(
      { length: Math.max(1, Math.floor(mm / APART_MM) - 1) },
      (_, i) => Math.min(mm / 2, APART_MM) + i * APART_MM,
    );
  const down = (x: number, y: number): Gate => ({
    cupboard: { x, y, z: 0 },
    second: { x: Math.min(x, second.size.widthMm), y: Math.min(y, second.size.depthMm), z: second.size.heightMm },
  });
  const across = (y: number, z: number): Gate => {
    const there = { y: Math.min(y, second.size.depthMm), z: Math.min(z, second.size.heightMm) };
    return second.side === 'right'
      ? { cupboard: { x: size.widthMm, y, z }, second: { x: 0, ...there } }
      : { cupboard: { x: 0, y, z }, second: { x: second.size.widthMm, ...there } };
  };
  const old = room.obstacles.find((o) => o.thing === 'hole')?.box;
  if (old) {
    const at = { x: (old.x0 + old.x1) / 2, y: (old.y0 + old.y1) / 2, z: (old.z0 + old.z1) / 2 };
    return [second.lies === 'below' ? down(at.x, at.y) : across(at.y, at.z)];
  }
  const ys = along(Math.min(size.depthMm, second.size.depthMm));
  if (second.lies === 'below') return along(size.widthMm).flatMap((x) => ys.map((y) => down(x, y)));
  return along(Math.min(size.heightMm, second.size.heightMm)).flatMap((z) => ys.map((y) => across(y, z)));
}

/** The way from the one space to the other, before anything stands in it: the first place for the hole. */
export function wayThrough(room: Room, space: Space): Point {
  const [first] = gatesOf(room);
  return first?.[space] ?? { x: 0, y: 0, z: 0 };
}
