import type { Body } from '../../gauge/body.ts';
import type { Pose, Quarter } from '../../gauge/place.ts';

/** A box along the walls, mm: from the left, from the back wall, above the floor. */
export interface Box {
  readonly x0: number;
  readonly x1: number;
  readonly y0: number;
  readonly y1: number;
  readonly z0: number;
  readonly z1: number;
}

/** A point, mm: from the left, from the back wall, above the floor. */
export interface Point {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

/** What a body takes up as it is turned, or laid on its side. */
export function turnedBody(body: Body, pose: Pick<Pose, 'turn' | 'lies'>): Body {
  const { widthMm, depthMm, heightMm } =
    pose.lies === true ? { widthMm: body.heightMm, depthMm: body.depthMm, heightMm: body.widthMm } : body;
  const across = pose.turn === 90 || pose.turn === 270;
  return across ? { widthMm: depthMm, depthMm: widthMm, heightMm } : { widthMm, depthMm, heightMm };
}

/** The box a body fills. */
export function boxOf(body: Body, pose: Pose): Box {
  const { widthMm, depthMm, heightMm } = turnedBody(body, pose);
  return {
    x0: pose.xMm - widthMm / 2,
    x1: pose.xMm + widthMm / 2,
    y0: pose.yMm - depthMm / 2,
    y1: pose.yMm + depthMm / 2,
    z0: pose.zMm,
    z1: pose.zMm + heightMm,
  };
}

/** What is less than this apart is not in each other's way: figures are kept to the millimetre. */
const TOUCH_MM = 0.5;

/** Whether two boxes are in each other's way; touching they are not. */
export const boxesMeet = (a: Box, b: Box): boolean =>
  a.x0 < b.x1 - TOUCH_MM &&
  b.x0 < a.x1 - TOUCH_MM &&
  a.y0 < b.y1 - TOUCH_MM &&
  b.y0 < a.y1 - TOUCH_MM &&
  a.z0 < b.z1 - TOUCH_MM &&
  b.z0 < a.z1 - TOUCH_MM;

/** Whether a box lies wholly in a room of a size. */
export const isInside = (b: Box, room: Body): boolean =>
  b.x0 >= -TOUCH_MM &&
  b.y0 >= -TOUCH_MM &&
  b.z0 >= -TOUCH_MM &&
  b.x1 <= room.widthMm + TOUCH_MM &&
  b.y1 <= room.depthMm + TOUCH_MM &&
  b.z1 <= room.heightMm + TOUCH_MM;

/** Each axis of a thing, as it is turned, on the room's: x to its right, y to its front, z to its top. */
interface Axes {
  readonly right: Point;
  readonly front: Point;
  readonly up: Point;
}

const at = (x: number, y: number, z: number): Point => ({ x, y, z });
const TURNED: Readonly<Record<Quarter, readonly [Point, Point]>> = {
  0: [at(1, 0, 0), at(0, 1, 0)],
  90: [at(0, 1, 0), at(-1, 0, 0)],
  180: [at(-1, 0, 0), at(0, -1, 0)],
  270: [at(0, -1, 0), at(1, 0, 0)],
};
const against = (p: Point): Point => at(-p.x, -p.y, -p.z);

/** A thing's own axes in the room. On its side its top is where its right was, and its left side is its top. */
export function axesOf(pose: Pick<Pose, 'turn' | 'lies'>): Axes {
  const [right, front] = TURNED[pose.turn ?? 0];
  const up = at(0, 0, 1);
  return pose.lies === true ? { right: against(up), front, up: right } : { right, front, up };
}

/** A place on a body by its shares: 0 to 1 to its right, to its front and to its top; and a way out of it there. */
export interface OnBody {
  readonly right: number;
  readonly front: number;
  readonly up: number;
  /** the way a tube leaves it */
  readonly leaves: 'right' | 'left' | 'front' | 'back' | 'up' | 'down';
}

/** A place on a standing body, and the way a tube leaves it there. */
export function onBody(body: Body, pose: Pose, where: OnBody): { readonly at: Point; readonly leaves: Point } {
  const { right, front, up } = axesOf(pose);
  const box = boxOf(body, pose);
  const middle = at(pose.xMm, pose.yMm, (box.z0 + box.z1) / 2);
  const along = (p: Point, size: number, share: number): Point => {
    const d = size * (share - 0.5);
    return at(p.x * d, p.y * d, p.z * d);
  };
  const parts = [
    along(right, body.widthMm, where.right),
    along(front, body.depthMm, where.front),
    along(up, body.heightMm, where.up),
  ];
  const ways = { right, left: against(right), front, back: against(front), up, down: against(up) };
  return {
    at: parts.reduce((a, b) => at(a.x + b.x, a.y + b.y, a.z + b.z), middle),
    leaves: ways[where.leaves],
  };
}
