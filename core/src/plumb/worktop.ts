import { inSentence } from '../quantity/format.ts';
import type { CupboardThing } from '../gauge/place.ts';
import { partIn, type System } from '../system/system.ts';
import type { Laid } from './place/clashes.ts';
import { boxesMeet, type Box } from './place/pose.ts';
import { NUT_BELOW_MM, nutIn, obstaclesIn, type Room } from './place/room.ts';

const { hypot, max, min } = Math;

/** The worktop from above: the basin, the tap's hole, how far its spout reaches into the basin, what is right below. */
export interface Worktop {
  readonly hole: { readonly x: number; readonly y: number; readonly diameterMm: number };
  readonly basin: Box | null;
  /** from the hole straight to the basin's edge, mm, and the point there; null without a basin */
  readonly toBasin: { readonly mm: number; readonly x: number; readonly y: number } | null;
  /** the spout ends so far beyond the basin's edge, mm; below 0 it does not reach it */
  readonly intoMm: number | null;
  /** what stands right under the worktop */
  readonly below: readonly { readonly what: string; readonly box: Box }[];
  readonly problems: readonly string[];
}

/** A spout reaches so far where its sheet says nothing, and is wanted so far into the basin, mm. */
export const REACH_MM = 140;
const WANTED_MM = 40;
/** The worktop over a cupboard; null until the tap's hole is placed, or where there is no tap. */
export function worktopOf(system: System, room: Room, laid: readonly Laid[]): Worktop | null {
  const tap = partIn(system, 'tap');
  const placed = room.obstacles.find((o) => o.thing === 'tap');
  if (!tap || !placed) return null;
  const [x, y] = [(placed.box.x0 + placed.box.x1) / 2, (placed.box.y0 + placed.box.y1) / 2];
  const basin = room.obstacles.find((o) => o.thing === 'basin')?.box ?? null;
  const notBelow: readonly CupboardThing[] = ['tap', 'basin'];
  const ofHouse = obstaclesIn(room, 'cupboard')
    .filter((o) => !notBelow.includes(o.thing))
    .map((o) => ({ what: `the ${inSentence(o.label)}`, box: o.box }));
  const ofSystem = laid
    .filter((l) => (l.pose.space ?? 'cupboard') === 'cupboard')
    .map((l) => ({ what: `the ${l.carried.component.slot}`, box: l.box }));
  const below = [...ofHouse, ...ofSystem].filter((b) => b.box.z1 > room.size.heightMm - NUT_BELOW_MM);
  const nut = nutIn(room);
  // a part of the system in its way is a clash of the layout
  const problems = ofHouse
    .filter((b) => nut && boxesMeet(b.box, nut))
    .map((b) => `Right under the tap’s hole there is ${b.what}: no room for its nut and a spanner.`);
  const edge = basin && { x: min(basin.x1, max(basin.x0, x)), y: min(basin.y1, max(basin.y0, y)) };
  const mm = edge && hypot(edge.x - x, edge.y - y);
  const intoMm = mm === null ? null : (tap.reachMm ?? REACH_MM) - mm;
  if (mm === 0) problems.push('The tap’s hole is drawn in the basin: it comes through the worktop or the sink’s rim.');
  else if (intoMm !== null && intoMm < WANTED_MM)
    problems.push(
      intoMm < 0
        ? `The spout ends ${String(Math.round(-intoMm))} mm short of the basin: move the hole nearer.`
        : `The spout reaches ${String(Math.round(intoMm))} mm into the basin; ${String(WANTED_MM)} mm keep the worktop dry.`,
    );
  return {
    hole: { x, y, diameterMm: tap.holeMm },
    basin,
    toBasin: edge && mm !== null ? { mm, ...edge } : null,
    intoMm,
    below,
    problems,
  };
} // oxfmt-ignore
