import { boxesMeet, type Box, type Point } from '../place/pose.ts';
import type { Body } from '../../gauge/body.ts';

const { abs, floor, max, min } = Math;

/** A tube's way: corner to corner, along the walls' directions. */
export type TubeWay = readonly Point[];

/** Length of a way, mm. */
export const wayMm = (way: TubeWay): number =>
  way.slice(1).reduce((sum, p, i) => {
    const q = way[i] ?? p;
    return sum + abs(p.x - q.x) + abs(p.y - q.y) + abs(p.z - q.z);
  }, 0);

/** The boxes a way fills, a stretch each. @param half of the tube's breadth, mm */
const stretchesOf = (way: TubeWay, half: number): Box[] =>
  way.slice(1).map((p, i) => {
    const q = way[i] ?? p;
    return {
      x0: min(p.x, q.x) - half,
      x1: max(p.x, q.x) + half,
      y0: min(p.y, q.y) - half,
      y1: max(p.y, q.y) + half,
      z0: min(p.z, q.z) - half,
      z1: max(p.z, q.z) + half,
    };
  });

/** Whether a way is free of boxes. */
export const isFree = (way: TubeWay, boxes: readonly Box[], half: number): boolean =>
  stretchesOf(way, half).every((s) => !boxes.some((b) => boxesMeet(s, b)));

/** A way without points that are none of its corners. */
export function corners(way: TubeWay): Point[] {
  const out: Point[] = [];
  for (const p of way) {
    const last = out.at(-1);
    if (last?.x === p.x && last.y === p.y && last.z === p.z) continue;
    const before = out.at(-2);
    if (last && before && goesOn(before, last, p)) out.pop();
    out.push(p);
  }
  return out;
}

/** Whether three points lie on a line along one axis, one after the other. */
function goesOn(a: Point, b: Point, c: Point): boolean {
  const way = (from: number, to: number): number => Math.sign(to - from);
  const first = [way(a.x, b.x), way(a.y, b.y), way(a.z, b.z)].join();
  return first === [way(b.x, c.x), way(b.y, c.y), way(b.z, c.z)].join();
}

type Axis = 'x' | 'y' | 'z';
const ORDERS: readonly (readonly Axis[])[] = [
  ['z', 'y', 'x'], ['y', 'z', 'x'], ['z', 'x', 'y'], ['y', 'x', 'z'], ['x', 'z', 'y'], ['x', 'y', 'z'],
]; // oxfmt-ignore

/** The ways between two points that turn no more than twice: each as short as any can be. */
export const straightWays = (from: Point, to: Point): Point[][] =>
  ORDERS.map((order) => {
    let p = from;
    const way = [from];
    for (const axis of order) {
      p = { ...p, [axis]: to[axis] };
      way.push(p);
    }
    return corners(way);
  });

/** What runs nearer to a wall than this is fastened to it, mm. */
const ALONG_MM = 30;

/** Whether a stretch is fastened to a wall. The door is none. */
const isAlong = (p: Point, q: Point, size: Body): boolean =>
  max(p.x, q.x) <= ALONG_MM ||
  min(p.x, q.x) >= size.widthMm - ALONG_MM ||
  max(p.y, q.y) <= ALONG_MM ||
  max(p.z, q.z) <= ALONG_MM ||
  min(p.z, q.z) >= size.heightMm - ALONG_MM;

/** How much of a way is fastened to no wall, mm. */
function offWallsMm(way: TubeWay, size: Body): number {
  return way.slice(1).reduce((sum, p, i) => {
    const q = way[i] ?? p;
    return isAlong(p, q, size) ? sum : sum + wayMm([q, p]);
  }, 0);
}

/** How a way is weighed: by its length first, then by its bends, then by how much of it runs free of the walls; mm, and mm for each mm. */
const BEND = 0.04;
const OFF_WALL = 0.0001;
/** Tubes are fastened so far from a wall, mm. */
const LANE_MM = 12;

/** The planes along which a shortest way round boxes turns: beside each box, through both ends, along the walls. */
interface Lanes {
  readonly x: readonly number[];
  readonly y: readonly number[];
  readonly z: readonly number[];
}

function lanesOf(from: Point, to: Point, size: Body, boxes: readonly Box[], half: number): Lanes {
  const on = (axis: Axis, most: number, walls: readonly number[]): number[] => {
    const sides = boxes.flatMap((b) => [b[`${axis}0`] - half, b[`${axis}1`] + half]);
    const all = [from[axis], to[axis], ...walls, ...sides].filter((v) => v >= 0 && v <= most);
    return [...new Set(all)].sort((a, b) => a - b);
  };
  return {
    x: on('x', size.widthMm, [LANE_MM, size.widthMm - LANE_MM]),
    y: on('y', size.depthMm, [LANE_MM]),
    z: on('z', size.heightMm, [LANE_MM, size.heightMm - LANE_MM]),
  };
}

/** A queue of states by their cost, the least first. */
class Queue {
  private readonly costs: number[] = [];
  private readonly states: number[] = [];
  get size(): number {
    return this.states.length;
  }
  push(state: number, cost: number): void {
    let i = this.states.length;
    this.states.push(state);
    this.costs.push(cost);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if ((this.costs[up] ?? 0) <= cost) break;
      this.swap(i, up);
      i = up;
    }
  }
  pop(): { state: number; cost: number } {
    const top = { state: this.states[0] ?? 0, cost: this.costs[0] ?? 0 };
    const [state, cost] = [this.states.pop() ?? 0, this.costs.pop() ?? 0];
    const n = this.states.length;
    if (n === 0) return top;
    this.states[0] = state;
    this.costs[0] = cost;
    for (let i = 0; ;) {
      let least = i;
      for (const c of [2 * i + 1, 2 * i + 2]) if (c < n && (this.costs[c] ?? 0) < (this.costs[least] ?? 0)) least = c;
      if (least === i) break;
      this.swap(i, least);
      i = least;
    }
    return top;
  }
  private swap(i: number, j: number): void {
    [this.states[i], this.states[j]] = [this.states[j] ?? 0, this.states[i] ?? 0];
    [this.costs[i], this.costs[j]] = [this.costs[j] ?? 0, this.costs[i] ?? 0];
  }
}

/** Whether a stretch of tube from a point along one axis to the next lane passes through a box. */
const passes = (p: Point, q: Point, boxes: readonly Box[], half: number): boolean => {
  const [x, y, z] = [(p.x + q.x) / 2, (p.y + q.y) / 2, (p.z + q.z) / 2];
  const e = 1e-6 - half;
  return boxes.some(
    (b) => x > b.x0 + e && x < b.x1 - e && y > b.y0 + e && y < b.y1 - e && z > b.z0 + e && z < b.z1 - e,
  );
};

const MOVES = [
  [1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1],
] as const; // oxfmt-ignore

/**
 * The shortest way along walls' directions that meets no box, of the shortest the one with the fewest bends, of these the one
 * that runs along the walls; null where there is none. It is looked for along lanes beside the boxes: a shortest one lies on them.
 */
function alongLanes(from: Point, to: Point, size: Body, boxes: readonly Box[], half: number): Point[] | null {
  const lanes = lanesOf(from, to, size, boxes, half);
  const [nx, ny, nz] = [lanes.x.length, lanes.y.length, lanes.z.length];
  const point = (x: number, y: number, z: number): Point => ({ x: lanes.x[x] ?? 0, y: lanes.y[y] ?? 0, z: lanes.z[z] ?? 0 });
  const place = (c: number): [number, number, number] => [c % nx, floor(c / nx) % ny, floor(c / (nx * ny))];
  const nodeOf = (p: Point): number => (lanes.z.indexOf(p.z) * ny + lanes.y.indexOf(p.y)) * nx + lanes.x.indexOf(p.x);
  const [start, goal] = [nodeOf(from), nodeOf(to)];
  const least = (p: Point): number => abs(p.x - to.x) + abs(p.y - to.y) + abs(p.z - to.z);
  // a state is a place and the way it was come to by; the seventh for none
  const cost = new Float64Array(7 * nx * ny * nz).fill(Infinity);
  const came = new Int32Array(cost.length).fill(-1);
  const queue = new Queue();
  cost[7 * start + 6] = 0;
  queue.push(7 * start + 6, least(from));
  while (queue.size > 0) {
    const { state, cost: reached } = queue.pop();
    const here = floor(state / 7);
    const [x, y, z] = place(here);
    const p = point(x, y, z);
    const paid = cost[state] ?? Infinity;
    if (reached > paid + least(p) + 1e-9) continue;
    if (here === goal) return wayBack(state, came, (c) => point(...place(c)));
    const by = state % 7;
    for (let m = 0; m < 6; m++) {
      const [dx, dy, dz] = MOVES[m] ?? MOVES[0];
      const [x1, y1, z1] = [x + dx, y + dy, z + dz];
      if (x1 < 0 || y1 < 0 || z1 < 0 || x1 >= nx || y1 >= ny || z1 >= nz) continue;
      const q = point(x1, y1, z1);
      const mm = abs(q.x - p.x) + abs(q.y - p.y) + abs(q.z - p.z);
      const now = paid + mm + (by === 6 || by === m ? 0 : BEND) + (isAlong(p, q, size) ? 0 : OFF_WALL * mm);
      const next = 7 * ((z1 * ny + y1) * nx + x1) + m;
      if (now >= (cost[next] ?? Infinity) || passes(p, q, boxes, half)) continue;
      cost[next] = now;
      came[next] = state;
      queue.push(next, now + least(q));
    }
  }
  return null;
} // oxfmt-ignore

function wayBack(state: number, came: Int32Array, point: (node: number) => Point): Point[] {
  const way: Point[] = [];
  for (let s = state; s >= 0; s = came[s] ?? -1) way.push(point(floor(s / 7)));
  return corners(way.reverse());
}

/**
 * The way of a tube from one point of a room to another round what stands there, the shortest there is along the walls'
 * directions.
 * @param boxes what it may not pass through @param half of the tube's breadth, mm
 * @returns null where there is none
 */
export function shortestWay(from: Point, to: Point, size: Body, boxes: readonly Box[], half: number): Point[] | null {
  // most go there with two turns
  const plain = straightWays(from, to).filter((w) => isFree(w, boxes, half));
  const [first] = plain;
  if (first) return plain.reduce((a, b) => (offWallsMm(b, size) < offWallsMm(a, size) ? b : a), first);
  return alongLanes(from, to, size, boxes, half);
}
