import {
  CUPBOARD_THINGS,
  insideCupboard,
  type Body,
  type CupboardSize,
  type Placed,
  type Spot,
} from '../gauge/place.ts';
import { kindRow } from '../parts/kinds.ts';
import type { Component, Link, System } from '../system/system.ts';

const { abs, min } = Math;

/** Where components stand in the cupboard, by id. */
export type Stands = Readonly<Record<string, Spot>>;

/** Beyond the way along the walls, m: a bend at either end, and slack to pull the unit out. */
const SLACK_M = 0.4;
/** Places are tried this far apart, mm. */
const STEP_MM = 10;

/** The body of a component that is placed by itself; null for what hangs on the frame or stands elsewhere. */
function bodyOf(c: Component, framed: boolean): Body | null {
  const { chain, work } = kindRow(c.kind);
  if (chain === 'branch' || work === 'opens') return null;
  if (c.housing) return framed ? null : (c.housing.size ?? null);
  return c.part?.size ?? null;
}

/** What of a system is placed in a cupboard, in the system's order, with its body in mm. */
export function bodiesOf(system: System): { readonly component: Component; readonly body: Body }[] {
  const framed = system.components.some((c) => c.kind === 'frame');
  return system.components.flatMap((component) => {
    const body = bodyOf(component, framed);
    return body ? [{ component, body }] : [];
  });
}

/** Where a component's tubes begin, mm from the left, from the back, above the floor, and what carries it there. */
interface Point {
  readonly carrier: string;
  readonly at: Spot;
}

/** Where every component's tubes begin, as far as what carries it was placed. */
function pointsOf(system: System, stands: Stands, placed: Placed): Map<string, Point> {
  const points = new Map<string, Point>();
  const raised = (s: Spot, mm: number): Spot => ({ ...s, zMm: s.zMm + mm });
  const { valve, trap } = placed;
  const bodies = new Map(bodiesOf(system).map((b) => [b.component.id, b.body]));
  const frame = system.components.find((c) => c.kind === 'frame');
  const own = (c: Component, body: Body): Point | null => {
    const spot = stands[c.id];
    // a tank's connection is on its top, others' about half-way up
    const share = kindRow(c.kind).work === 'stores' ? 1 : 0.5;
    return spot ? { carrier: c.id, at: raised(spot, share * body.heightMm) } : null;
  };
  const frameBody = frame && bodies.get(frame.id);
  const hung = frameBody ? own(frame, frameBody) : null;
  const pointOf = (c: Component): Point | null => {
    const body = bodies.get(c.id);
    if (body) return own(c, body);
    const { chain, work } = kindRow(c.kind);
    if (c.kind === 'stop-valve' || c.kind === 'feed')
      return valve ? { carrier: 'valve', at: raised(valve, CUPBOARD_THINGS.valve.heightMm / 2) } : null;
    if (work === 'ends') return trap ? { carrier: 'trap', at: raised(trap, CUPBOARD_THINGS.trap.heightMm) } : null;
    return chain === 'branch' || work === 'opens' ? null : hung;
  };
  for (const c of system.components) {
    const point = pointOf(c);
    if (point) points.set(c.id, point);
  }
  return points;
}

/**
 * A system with its tubes as long as where its parts stand makes them: along the walls, with slack, rising as they do. What
 * hangs on the frame keeps its short tubes; a tube with an end nobody placed stays as it was planned.
 * @param stands spots of components, mm; @param placed the stop valve and the trap, as Gauge has them
 */
export function asPlaced(system: System, stands: Stands, placed: Placed): System {
  if (Object.keys(stands).length === 0) return system;
  const points = pointsOf(system, stands, placed);
  const links = system.links.map((l): Link => {
    const from = points.get(l.from.component);
    const to = points.get(l.to.component);
    if (!l.tube || !from || !to || from.carrier === to.carrier) return l;
    const [dx, dy, dz] = [to.at.xMm - from.at.xMm, to.at.yMm - from.at.yMm, to.at.zMm - from.at.zMm];
    return { ...l, lengthM: (abs(dx) + abs(dy) + abs(dz)) / 1000 + SLACK_M, riseM: dz / 1000 };
  });
  return { ...system, links };
}

/** A body at its spot. */
export interface PlacedBody {
  readonly body: Body;
  readonly spot: Spot;
}

/** Whether two bodies are in each other's way; touching they are not. */
export function overlap(a: PlacedBody, b: PlacedBody): boolean {
  const apart = (x: number, xSize: number, y: number, ySize: number): boolean => abs(x - y) >= (xSize + ySize) / 2;
  return !(
    apart(a.spot.xMm, a.body.widthMm, b.spot.xMm, b.body.widthMm) ||
    apart(a.spot.yMm, a.body.depthMm, b.spot.yMm, b.body.depthMm) ||
    a.spot.zMm >= b.spot.zMm + b.body.heightMm ||
    b.spot.zMm >= a.spot.zMm + a.body.heightMm
  );
}

/**
 * The first spot along the back wall, from the left, where a body is in nobody's way; on the floor, or as high as it needs
 * to be opened from below. Where there is none, the right corner.
 */
export function freeSpot(body: Body, belowMm: number, others: readonly PlacedBody[], c: CupboardSize): Spot {
  const at = (xMm: number): Spot =>
    insideCupboard(body, { xMm, yMm: 0, zMm: min(belowMm, c.heightMm - body.heightMm) }, c);
  for (let x = body.widthMm / 2; x <= c.widthMm - body.widthMm / 2; x += STEP_MM) {
    const spot = at(x);
    if (!others.some((o) => overlap({ body, spot }, o))) return spot;
  }
  return at(c.widthMm);
}
