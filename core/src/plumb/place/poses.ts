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
/** Where a thing may be tried: along every wall it may hang on, or all over the floor. */
export function* posesOf(c: Carried, room: Room, space: Space): Generator<Pose> {
  const size = sizeOf(room, space);
  if (!size) return;
  const here = space === 'cupboard' ? {} : { space };
  const ways = c.mayLie ? [false, true] : [false];
  for (const lies of ways) {
    const turns: readonly Quarter[] = c.onFloor ? (lies ? [0, 90, 180, 270] : [0, 90]) : [0, 90, 270];
    for (const turn of turns) {
      const pose = { ...(turn === 0 ? {} : { turn }), ...(lies ? { lies } : {}), ...here };
      const b = turnedBody(c.body, pose);
      if (c.onFloor && !lies && turn === 90 && c.body.widthMm === c.body.depthMm) continue;
      if (b.widthMm > size.widthMm || b.depthMm > size.depthMm || b.heightMm > size.heightMm) continue;
      if (c.onFloor) yield* onFloor(b, size, pose);
      else if (space !== 'cupboard' || bears(room, turn)) yield* onWall(c, b, turn, size, pose);
    }
  }
}

const steps = (from: number, to: number, apart: number): number[] => {
  const out: number[] = [];
  for (let v = from; v < to; v += apart) out.push(v);
  return to >= from ? [...out, to] : out;
};

function* onFloor(b: Body, size: Body, pose: Partial<Pose>): Generator<Pose> {
  for (const xMm of steps(b.widthMm / 2, size.widthMm - b.widthMm / 2, stepIn(size)))
    for (const yMm of steps(b.depthMm / 2, size.depthMm - b.depthMm / 2, stepIn(size)))
      yield { ...pose, xMm, yMm, zMm: 0 };
}

/** On the back wall facing the door, on a side wall facing the other. What drums is kept off the panels. */
function* onWall(c: Carried, b: Body, turn: Quarter, size: Body, pose: Partial<Pose>): Generator<Pose> {
  if (c.drums && turn !== 0) return;
  const aside = c.drums ? DRUM_MM : 0;
  const heights = steps(max(c.powered ? LOW_MM : 0, c.belowMm), size.heightMm - b.heightMm, stepIn(size));
  const along =
    turn === 0
      ? steps(b.widthMm / 2 + aside, size.widthMm - b.widthMm / 2 - aside, stepIn(size)).map((xMm) => ({
          xMm,
          yMm: b.depthMm / 2,
        }))
      : steps(b.depthMm / 2, size.depthMm - b.depthMm / 2, stepIn(size)).map((yMm) => ({
          xMm: turn === 270 ? b.widthMm / 2 : size.widthMm - b.widthMm / 2,
          yMm,
        }));
  for (const at of along) for (const zMm of heights) yield { ...pose, ...at, zMm };
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
