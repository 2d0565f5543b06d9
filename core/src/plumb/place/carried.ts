import type { Body } from '../../gauge/body.ts';
import type { Pose } from '../../gauge/place.ts';
import { kindRow } from '../../parts/kinds.ts';
import type { Component, PortRef, System } from '../../system/system.ts';
import { onBody, type OnBody, type Point } from './pose.ts';

const { max } = Math;

/** One thing of a system that is placed by itself, with all that hangs on it. */
export interface Carried {
  readonly component: Component;
  readonly body: Body;
  readonly onFloor: boolean;
  readonly mayLie: boolean;
  /** kept free below it, to drop a cartridge out, and before it, to turn the spanner, mm */
  readonly belowMm: number;
  readonly frontMm: number;
  /** kept free above it, to draw a sleeve out, mm */
  readonly aboveMm: number;
  readonly powered: boolean;
  readonly drums: boolean;
}

/** The body of a component that is placed by itself; null for what hangs on the frame or stands elsewhere. */
function bodyOf(c: Component, hangs: (c: Component) => boolean): Body | null {
  const { chain, work } = kindRow(c.kind);
  if (work === 'opens' || work === 'ends' || c.kind === 'feed' || c.kind === 'stop-valve') return null;
  // what hangs on a branch stands with what it serves, but for its pump
  if (chain === 'branch' && kindRow(c.kind).drums !== true) return null;
  if (c.housing) return hangs(c) ? null : (c.housing.size ?? null);
  return c.part?.size ?? null;
}

/** Housings on a frame where its sheet says nothing; a further one hangs on the wall by itself. */
const FRAME_HOLDS = 3;

/** Depth a further element takes behind the frame, mm. */
export const FURTHER_ELEMENT_MM = 70;

const known = new WeakMap<System, readonly Carried[]>();

/** What of a system is placed in a cupboard, in the system's order: made once for each, a pure function's memory. */
export function carriedIn(system: System): readonly Carried[] {
  const made = known.get(system) ?? carried(system);
  known.set(system, made);
  return made;
}

function carried(system: System): Carried[] {
  const frame = system.components.find((c) => c.kind === 'frame' && c.part?.size)?.part;
  const places = frame?.kind === 'frame' ? (frame.holds ?? FRAME_HOLDS) : 0;
  const hung = system.components.filter((c) => c.housing).slice(0, places);
  const elements = system.components.filter((c) => kindRow(c.kind).work === 'separates').length;
  return system.components.flatMap((component) => {
    const body = bodyOf(component, (c) => hung.includes(c));
    if (!body) return [];
    const row = kindRow(component.kind);
    const deeper = component.kind === 'frame' ? FURTHER_ELEMENT_MM * max(0, elements - 1) : 0;
    const { clearance } = component.housing ?? component.part ?? {};
    return [
      {
        component,
        body: deeper > 0 ? { ...body, depthMm: body.depthMm + deeper } : body,
        onFloor: row.onFloor === true,
        mayLie: row.mayLie === true && component.part?.upright !== true,
        belowMm: clearance?.belowMm ?? 0,
        frontMm: clearance?.frontMm ?? 0,
        aboveMm: (row.drawnOut ?? 0) * body.heightMm,
        powered: row.powered === true,
        drums: row.drums === true,
      },
    ];
  });
}

/**
 * What stands by itself and has no size on the shelf: it is on no drawing, and its tubes are as planned. A tank, a pump or a
 * lamp; what is small hangs on the frame.
 */
export const withoutBody = (system: System): Component[] =>
  system.components.filter((c) => {
    const row = kindRow(c.kind);
    const large = row.onFloor === true || row.drums === true || row.drawnOut !== undefined || c.kind === 'frame';
    return large && c.part !== null && !c.part.size;
  });

/** What a component is carried by: itself, the frame, or nothing that is placed. */
export function carrierOf(system: System, id: string): string | null {
  const carried = carriedIn(system);
  if (carried.some((c) => c.component.id === id)) return id;
  const c = system.components.find((x) => x.id === id);
  const frame = carried.find((x) => x.component.kind === 'frame');
  if (!c || !frame) return null;
  const { chain, work } = kindRow(c.kind);
  const elsewhere = work === 'opens' || work === 'ends' || chain === 'branch' || c.kind === 'feed' || c.kind === 'stop-valve';
  return elsewhere ? null : frame.component.id;
} // oxfmt-ignore

const on = (right: number, front: number, up: number, leaves: OnBody['leaves']): OnBody => ({
  right,
  front,
  up,
  leaves,
});

/** Where the heads of a frame's housings are, its membrane above them, and what is clipped to its back, as shares of its height. */
const HEADS = 0.72;
const MEMBRANE = 0.86;
const CLIPPED = 0.97;
/** From a housing's side to its port, as a share of its room. */
const INSET = 0.12;

/** Where a port is on a frame: housings in a row, the membrane across above them, what is small clipped along the top. */
function onFrame(system: System, { component, port }: PortRef): OnBody {
  const hung = system.components.filter((c) => carrierOf(system, c.id) !== c.id && carrierOf(system, c.id) !== null);
  const row = hung.filter((c) => c.housing);
  const place = row.findIndex((c) => c.id === component);
  if (place >= 0) {
    const share = (place + (port === 'in' ? INSET : 1 - INSET)) / max(1, row.length);
    return on(share, 0.5, HEADS, 'up');
  }
  const c = hung.find((x) => x.id === component);
  if (c && kindRow(c.kind).work === 'separates')
    return port === 'in' ? on(0.98, 0.5, MEMBRANE, 'up') : on(0.02, port === 'out' ? 0.6 : 0.4, MEMBRANE, 'up');
  const small = hung.filter((x) => !x.housing && kindRow(x.kind).work !== 'separates');
  const n = small.findIndex((x) => x.id === component);
  const leaving = port === 'out' || port === 'branch' || port.endsWith('out');
  return on((n + (leaving ? 0.85 : 0.15)) / max(1, small.length), 0.2, CLIPPED, 'up');
}

/** Where a port is on a body of its own: a tank's on its top, a lamp's at either end, others' on their sides. */
function onOwn(c: Component, port: PortRef['port']): OnBody {
  const row = kindRow(c.kind);
  if (row.work === 'stores') return port === 'out' ? on(1, 0.5, 0.1, 'right') : on(0.5, 0.5, 1, 'up');
  if (row.drawnOut !== undefined) return port === 'in' ? on(1, 0.5, 0.08, 'right') : on(1, 0.5, 0.92, 'right');
  if (c.housing) return port === 'in' ? on(0, 0.5, 0.85, 'left') : on(1, 0.5, 0.85, 'right');
  if (row.mayLie === true) return port === 'in' ? on(0.5, 0.5, 0, 'down') : on(0.5, 0.5, 1, 'up');
  if (port === 'in' || port === 'drain-in') return on(0, port === 'in' ? 0.6 : 0.3, 0.6, 'left');
  return on(1, port === 'out' ? 0.6 : 0.3, 0.6, 'right');
}

/** A port of something that is placed, and the way a tube leaves it. @param pose of what carries it */
export function portAt(
  system: System,
  carrier: Carried,
  pose: Pose,
  port: PortRef,
): { readonly at: Point; readonly leaves: Point } {
  const own = carrier.component.id === port.component;
  const where = own ? onOwn(carrier.component, port.port) : onFrame(system, port);
  return onBody(carrier.body, pose, where);
}
