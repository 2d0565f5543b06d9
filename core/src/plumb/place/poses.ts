import type { Body } from '../../gauge/body.ts';
import type { Pose, Quarter, Space } from '../../gauge/place.ts';
import type { Carried } from './carried.ts';
import { CABLE_MM, dropOf, DRUM_MM, houseClashes, isClear, LOW_MM, toSocketMm, type Laid } from './clashes.ts';
import { boxesMeet, isInside, turnedBody, type Box } from './pose.ts';
import { bears, nutIn, obstaclesIn, sizeOf, type Room } from './room.ts';

const { max } = Math;

/** Places are tried this far apart, mm; in a large room further, so that no more of them are tried. */
const STEP_MM = 25;
const MOST_STEPS = 50;
const stepIn = (size: Body): number =>
  STEP_MM * Math.ceil(max(size.widthMm, size.depthMm, size.heightMm) / (MOST_STEPS * STEP_MM));
/** How a thing stands or hangs, and what it takes up so. */
export interface Way {
  readonly pose: Pick<Pose, 'turn' | 'lies' | 'space'>;
  readonly turned: Body;
}
/** Places one above another, and the heights at which a thing may be tried there, from below. */
export interface Column {
  readonly way: Way;
  readonly xMm: number;
  readonly yMm: number;
  readonly heights: readonly number[];
}

/** Where a thing may be tried. */
export function* posesOf(c: Carried, room: Room, space: Space): Generator<Pose> {
  for (const { way, xMm, yMm, heights } of columnsOf(c, room, space))
    for (const zMm of heights) yield { ...way.pose, xMm, yMm, zMm };
}

/** Where a thing may be tried: along every wall it may hang on, or all over the floor. */
export function columnsOf(c: Carried, room: Room, space: Space): Column[] {
  const size = sizeOf(room, space);
  if (!size) return [];
  const out: Column[] = [];
  const here = space === 'cupboard' ? {} : { space };
  const ways = c.mayLie ? [false, true] : [false];
  for (const lies of ways) {
    const turns: readonly Quarter[] = c.onFloor ? (lies ? [0, 90, 180, 270] : [0, 90]) : [0, 90, 270];
    for (const turn of turns) {
      const pose = { ...(turn === 0 ? {} : { turn }), ...(lies ? { lies } : {}), ...here };
      const way = { pose, turned: turnedBody(c.body, pose) };
      const { widthMm, depthMm, heightMm } = way.turned;
      if (c.onFloor && !lies && turn === 90 && c.body.widthMm === c.body.depthMm) continue;
      if (widthMm > size.widthMm || depthMm > size.depthMm || heightMm > size.heightMm) continue;
      if (c.onFloor) onFloor(way, size, out);
      else if (space !== 'cupboard' || bears(room, turn)) onWall(c, way, turn, size, out);
    }
  }
  return out;
}

const ON_FLOOR: readonly number[] = [0];
const steps = (from: number, to: number, apart: number): number[] => {
  const out: number[] = [];
  for (let v = from; v < to; v += apart) out.push(v);
  return to >= from ? [...out, to] : out;
};

function onFloor(way: Way, size: Body, out: Column[]): void {
  const { widthMm, depthMm } = way.turned;
  const deep = steps(depthMm / 2, size.depthMm - depthMm / 2, stepIn(size));
  for (const xMm of steps(widthMm / 2, size.widthMm - widthMm / 2, stepIn(size)))
    for (const yMm of deep) out.push({ way, xMm, yMm, heights: ON_FLOOR });
}

/** On the back wall facing the door, on a side wall facing the other. What drums is kept off the panels. */
function onWall(c: Carried, way: Way, turn: Quarter, size: Body, out: Column[]): void {
  if (c.drums && turn !== 0) return;
  const { widthMm, depthMm, heightMm } = way.turned;
  const aside = c.drums ? DRUM_MM : 0;
  const heights = steps(max(c.powered ? LOW_MM : 0, c.belowMm), size.heightMm - heightMm, stepIn(size));
  if (turn === 0)
    for (const xMm of steps(widthMm / 2 + aside, size.widthMm - widthMm / 2 - aside, stepIn(size)))
      out.push({ way, xMm, yMm: depthMm / 2, heights });
  else {
    const xMm = turn === 270 ? widthMm / 2 : size.widthMm - widthMm / 2;
    for (const yMm of steps(depthMm / 2, size.depthMm - depthMm / 2, stepIn(size)))
      out.push({ way, xMm, yMm, heights });
  }
}

/** What is kept free of everything else for a thing to be serviced at all. */
export const keptFree = (l: Laid): Box[] => (l.carried.belowMm > 0 ? [dropOf(l)] : []);

/** Whether a thing goes in where it is tried and hurts nobody, whatever else of the system stands there. */
export function fitsIn(l: Laid, free: readonly Box[], room: Room): boolean {
  const space = l.pose.space ?? 'cupboard';
  const size = sizeOf(room, space);
  if (!size || !isInside(l.box, size)) return false;
  if (free.some((f) => !isInside(f, size))) return false;
  const there = obstaclesIn(room, space);
  if (there.some((o) => boxesMeet(o.box, l.box) || free.some((f) => boxesMeet(o.box, f)))) return false;
  const nut = space === 'cupboard' ? nutIn(room) : null;
  if (nut && boxesMeet(nut, l.box)) return false;
  if (!l.carried.powered) return true;
  const socket = there.find((o) => o.thing === 'socket');
  return !(socket && toSocketMm(l.box, socket.box) > CABLE_MM) && isClear(houseClashes(l, room));
}
