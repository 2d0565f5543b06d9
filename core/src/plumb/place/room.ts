import {
  cupboardOf,
  CUPBOARD_THINGS,
  THING_KEYS,
  type Body,
  type CupboardThing,
  type Placed,
} from '../../gauge/place.ts';
import { secondOf, type Second } from '../../gauge/second.ts';
import type { Known } from '../../gauge/fields.ts';
import { boxOf, type Box, type Point } from './pose.ts';
import type { Space } from '../../gauge/place.ts';

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
}

/** The room as Gauge has it; null until the cupboard is measured. @param placed what stands in it, and where */
export function roomOf(known: Known, placed: Placed): Room | null {
  const size = cupboardOf(known);
  if (!size) return null;
  const obstacles = THING_KEYS.flatMap((thing): Obstacle[] => {
    const at = placed[thing];
    if (!at) return [];
    const { label, ...usual } = CUPBOARD_THINGS[thing];
    return [{ thing, label, box: boxOf(at.body ?? usual, at) }];
  });
  return { size, obstacles, second: secondOf(known), switched: known.socket === 'switched' };
}

/** The size of a space; null where there is none of it. */
export const sizeOf = (room: Room, space: Space): Body | null =>
  space === 'cupboard' ? room.size : (room.second?.size ?? null);

/** What stands in a space already. */
export const obstaclesIn = (room: Room, space: Space): readonly Obstacle[] =>
  space === 'cupboard' ? room.obstacles : [];

/** Above its floor a tube goes through a panel so high, mm. */
const THROUGH_MM = 100;

/** Where the way between the two spaces leaves one. */
export function wayThrough(room: Room, space: Space): Point {
  const below = room.second?.lies === 'below';
  const size = sizeOf(room, space) ?? room.size;
  const y = size.depthMm / 3;
  if (space === 'cupboard') return below ? { x: 40, y, z: 0 } : { x: size.widthMm, y, z: THROUGH_MM };
  return below ? { x: size.widthMm / 2, y, z: size.heightMm } : { x: 0, y, z: THROUGH_MM };
}
