import { inSentence } from '../../quantity/format.ts';
import type { CupboardThing, Pose } from '../../gauge/place.ts';
import type { Carried } from './carried.ts';
import { boxesMeet, boxOf, isInside, type Box } from './pose.ts';
import { bears, nutIn, obstaclesIn, sizeOf, type Obstacle, type Room } from './room.ts';

const { abs, max, min, round } = Math;

/** Something of the system where it stands. */
export interface Laid {
  readonly carried: Carried;
  readonly pose: Pose;
  readonly box: Box;
}

export const laid = (carried: Carried, pose: Pose): Laid => ({ carried, pose, box: boxOf(carried.body, pose) });

/**
 * What is wrong with a layout. What may not be: it does not go in, or hurts somebody. What costs: it goes in, and whoever
 * services it has to move something else, or the house has to be changed.
 */
export interface Clash {
  readonly code:
    | 'outside'
    | 'no-space'
    | 'overlap'
    | 'cartridge'
    | 'spanner'
    | 'sleeve'
    | 'drums'
    | 'low'
    | 'drips'
    | 'cable'
    | 'switched'
    | 'upright'
    | 'nut'
    | 'pull-out'
    | 'reach'
    | 'heavy'
    | 'wall';
  readonly weight: 'not' | 'costs';
  /** id of the component it is told at, and what else it is about: a component's id or a thing of the house */
  readonly at: string;
  readonly with: string | null;
  readonly text: string;
}

/** Electrics are kept this high above the floor, mm. */
export const LOW_MM = 100;
/** Drips fall on what is nearer than this to the side, mm. */
const DRIP_MM = 60;
/** What drums is kept this far from the panels beside it, mm. */
export const DRUM_MM = 10;
/** A cable is this long where the part's sheet says nothing, mm. */
export const CABLE_MM = 1500;
/** What is no higher stands on the floor, mm. */
const ON_FLOOR_MM = 20;
/** An empty tank weighs about a fifth of what it holds. */
const EMPTY_SHARE = 0.2;

/** What a tank weighs when it is full, kg; null for what stores nothing. Its sheet's volume is taken: its air leaves less, so it errs high. */
const fullKg = ({ component: { part } }: Carried): number | null =>
  part?.kind === 'tank' || part?.kind === 'vented-tank' ? round(part.volumeL * (1 + EMPTY_SHARE)) : null;
const WET: readonly CupboardThing[] = ['trap', 'valve', 'disposal', 'pipes'];

/** Kept free below a thing, to drop a cartridge out. */
export const dropOf = ({ carried, box }: Laid): Box => ({ ...box, z0: box.z0 - carried.belowMm, z1: box.z0 });

/** Kept free before a thing, as it is turned, to get a spanner round it. */
export function spannerOf({ carried, pose, box }: Laid): Box {
  const mm = carried.frontMm;
  switch (pose.turn ?? 0) {
    case 0:
      return { ...box, y0: box.y1, y1: box.y1 + mm };
    case 90:
      return { ...box, x1: box.x0, x0: box.x0 - mm };
    case 180:
      return { ...box, y1: box.y0, y0: box.y0 - mm };
    case 270:
      return { ...box, x0: box.x1, x1: box.x1 + mm };
  }
}

/** Wanted free beyond a thing's top, to draw its sleeve out: above it, or beside it where it lies. */
export function sleeveOf({ carried, pose, box }: Laid): Box {
  const mm = carried.aboveMm;
  if (pose.lies !== true) return { ...box, z0: box.z1, z1: box.z1 + mm };
  switch (pose.turn ?? 0) {
    case 0:
      return { ...box, x0: box.x1, x1: box.x1 + mm };
    case 90:
      return { ...box, y0: box.y1, y1: box.y1 + mm };
    case 180:
      return { ...box, x1: box.x0, x0: box.x0 - mm };
    case 270:
      return { ...box, y1: box.y0, y0: box.y0 - mm };
  }
}

/** The way of a thing out of the door. */
export const wayOut = ({ box }: Laid, depthMm: number): Box => ({ ...box, y0: box.y1, y1: max(box.y1, depthMm) });

/** What is nearer to the side than drips fall, and below. */
const isUnder = (b: Box, wet: Box): boolean =>
  b.z0 < wet.z0 &&
  b.x0 < wet.x1 + DRIP_MM &&
  wet.x0 - DRIP_MM < b.x1 &&
  b.y0 < wet.y1 + DRIP_MM &&
  wet.y0 - DRIP_MM < b.y1;

/** From a thing to the socket along the walls, mm. */
export function toSocketMm(b: Box, socket: Box): number {
  const gap = (a0: number, a1: number, c0: number, c1: number): number => max(0, max(a0, c0) - min(a1, c1));
  return gap(b.x0, b.x1, socket.x0, socket.x1) + gap(b.y0, b.y1, socket.y0, socket.y1) + gap(b.z0, b.z1, socket.z0, socket.z1);
} // oxfmt-ignore

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);
const called = (l: Laid): string => cap(l.carried.component.slot);

/** What of the house may be reached into, though a part stands before it: it is not drawn out itself. */
const REACHED: readonly CupboardThing[] = ['valve', 'socket', 'disposal'];

/** Everything that is wrong with where a system's parts stand, the worst first. */
export function clashesOf(all: readonly Laid[], room: Room): Clash[] {
  const out = all.flatMap((l, i) => [...houseClashes(l, room), ...clashesBetween(l, all, i)]);
  return out.sort((a, b) => Number(a.weight === 'costs') - Number(b.weight === 'costs'));
}

/** What is wrong with where one thing stands, whatever else of the system stands there. */
export const houseClashes = (l: Laid, room: Room): Clash[] => [...ownClashes(l, room), ...reachClashes(l, room)];

function ownClashes(l: Laid, room: Room): Clash[] {
  const out: Clash[] = [];
  const { carried, pose, box } = l;
  const tell = (code: Clash['code'], text: string, other: string | null = null, weight: Clash['weight'] = 'not'): void => {
    out.push({ code, weight, at: carried.component.id, with: other, text });
  };
  const space = pose.space ?? 'cupboard';
  const size = sizeOf(room, space);
  if (!size) {
    tell('no-space', `${called(l)} stands in a second place, and Gauge has none. “Where it stands” there says so.`);
    return out;
  }
  if (!isInside(box, size)) tell('outside', `${called(l)} goes through a wall.`);
  if (pose.lies === true && !carried.mayLie) tell('upright', `${called(l)} must stand upright.`);
  const obstacles = obstaclesIn(room, space);
  const meets = (b: Box): Obstacle | undefined => obstacles.find((o) => boxesMeet(b, o.box));
  const name = (o: Obstacle): string => inSentence(o.label);
  for (const o of obstacles)
    if (boxesMeet(box, o.box)) tell('overlap', `${called(l)} and the ${name(o)} are in each other’s way.`, o.thing);
  const nut = space === 'cupboard' ? nutIn(room) : null;
  if (nut && boxesMeet(box, nut))
    tell('nut', `${called(l)} is right under the tap’s hole: no room for its nut and a spanner.`, 'tap');
  if (carried.belowMm > 0) {
    const drop = dropOf(l);
    const o = meets(drop);
    if (drop.z0 < 0)
      tell('cartridge', `${called(l)} stands ${String(round(box.z0))} mm above the floor: ${String(round(carried.belowMm))} mm are needed to drop a cartridge.`);
    if (o) tell('cartridge', `The ${name(o)} stands where a cartridge of ${inSentence(called(l))} drops.`, o.thing);
  }
  if (carried.frontMm > 0) {
    const front = spannerOf(l);
    const o = meets(front);
    // beyond the door there is room
    const sideways = front.x0 < 0 || front.x1 > size.widthMm || front.y0 < 0;
    if (sideways) tell('spanner', `There is no room before ${inSentence(called(l))} to turn a spanner: it is lifted off first.`, null, 'costs');
    if (o) tell('spanner', `The ${name(o)} is in the way of a spanner before ${inSentence(called(l))}: it is lifted off first.`, o.thing, 'costs');
  }
  if (carried.aboveMm > 0) {
    const sleeve = sleeveOf(l);
    const o = meets(sleeve);
    // through the open door there is room
    const blocked = sleeve.z1 > size.heightMm || sleeve.x0 < 0 || sleeve.x1 > size.widthMm || sleeve.y0 < 0;
    const unclipped = 'it is unclipped for that, so its tubes and cable are left slack';
    if (blocked) tell('sleeve', `The sleeve of ${inSentence(called(l))} is not drawn out where it hangs: ${String(round(carried.aboveMm))} mm are needed beyond its top; ${unclipped}.`, null, 'costs');
    if (o) tell('sleeve', `The ${name(o)} is where the sleeve of ${inSentence(called(l))} is drawn out: ${unclipped}.`, o.thing, 'costs');
  }
  const turn = pose.turn ?? 0;
  if (space === 'cupboard' && !carried.onFloor && !bears(room, turn))
    tell('wall', `${called(l)} hangs on ${turn % 180 === 0 ? 'the back wall' : 'a side panel'}, which bears no screw here.`);
  const weighs = fullKg(carried);
  if (weighs !== null && box.z0 > ON_FLOOR_MM)
    tell('heavy', `${called(l)} weighs about ${String(weighs)} kg when it is full: what it stands on must bear it.`, null, 'costs');
  if (carried.drums && (box.x0 < DRUM_MM || box.x1 > size.widthMm - DRUM_MM))
    tell('drums', `${called(l)} is hard against a side panel: it drums. ${String(DRUM_MM)} mm apart is enough.`);
  if (carried.powered) out.push(...electricClashes(l, room));
  return out;
} // oxfmt-ignore

/** Water and electricity, where a thing that draws power stands. */
function electricClashes(l: Laid, room: Room): Clash[] {
  const out: Clash[] = [];
  const { carried, pose, box } = l;
  const at = carried.component.id;
  if (box.z0 < LOW_MM)
    out.push({ code: 'low', weight: 'not', at, with: null, text: `${called(l)} is electric and ${String(round(box.z0))} mm above the floor: a leak reaches it. ${String(LOW_MM)} mm at the least.` });
  if ((pose.space ?? 'cupboard') !== 'cupboard') {
    out.push({ code: 'cable', weight: 'costs', at, with: 'socket', text: `${called(l)} wants a protected socket where it stands.` });
    return out;
  }
  const wet = room.obstacles.find((o) => WET.includes(o.thing) && isUnder(box, o.box));
  if (wet)
    out.push({ code: 'drips', weight: 'not', at, with: wet.thing, text: `${called(l)} is electric and stands under the ${inSentence(wet.label)}: what drips falls on it.` });
  const socket = room.obstacles.find((o) => o.thing === 'socket');
  const far = socket ? toSocketMm(box, socket.box) : 0;
  if (far > CABLE_MM)
    out.push({ code: 'cable', weight: 'not', at, with: 'socket', text: `${called(l)} stands ${(far / 1000).toFixed(1)} m from the socket: its cable reaches ${(CABLE_MM / 1000).toFixed(1)} m. No extension lead in a cupboard with water.` });
  if (room.switched)
    out.push({ code: 'switched', weight: 'costs', at, with: 'socket', text: `A wall switch cuts the socket that ${inSentence(called(l))} is on: have it made permanent, and say so to the household.` });
  return out;
} // oxfmt-ignore

/** What two of the system do to each other; each pair is looked at once, what is kept free of either against the other. */
function clashesBetween(l: Laid, all: readonly Laid[], index: number): Clash[] {
  const out: Clash[] = [];
  const here = l.carried.component.id;
  all.forEach((other, j) => {
    if (j === index || (other.pose.space ?? 'cupboard') !== (l.pose.space ?? 'cupboard')) return;
    const tell = (code: Clash['code'], text: string, weight: Clash['weight'] = 'not'): void => {
      out.push({ code, weight, at: here, with: other.carried.component.id, text });
    };
    if (j > index && boxesMeet(l.box, other.box))
      tell('overlap', `${called(l)} and ${inSentence(called(other))} are in each other’s way.`);
    if (l.carried.belowMm > 0 && boxesMeet(dropOf(l), other.box))
      tell('cartridge', `${called(other)} stands where a cartridge of ${inSentence(called(l))} drops.`);
    if (l.carried.frontMm > 0 && boxesMeet(spannerOf(l), other.box))
      tell('spanner', `${called(other)} is in the way of a spanner before ${inSentence(called(l))}.`, 'costs');
    if (l.carried.aboveMm > 0 && boxesMeet(sleeveOf(l), other.box))
      tell('sleeve', `${called(other)} is where the sleeve of ${inSentence(called(l))} is drawn out.`, 'costs');
  });
  return [...out, ...pullOutClashes(l, all)];
}

/** What has to come out before a tank or a frame does. */
function pullOutClashes(l: Laid, all: readonly Laid[]): Clash[] {
  if (!mustComeOut(l.carried)) return [];
  const before = all.filter(
    (o) => o !== l && (o.pose.space ?? 'cupboard') === (l.pose.space ?? 'cupboard') && boxesMeet(wayOut(l, Infinity), o.box),
  );
  return before.map((o) => ({
    code: 'pull-out',
    weight: 'costs',
    at: l.carried.component.id,
    with: o.carried.component.id,
    text: `${called(o)} has to come out before ${inSentence(called(l))} does.`,
  }));
} // oxfmt-ignore

/** What is taken out as a whole: a tank to be emptied or charged, a frame to be looked behind. */
export const mustComeOut = (c: Carried): boolean => c.onFloor || c.component.kind === 'frame';

/** What of the house cannot be reached any more past a thing, and what of it keeps the thing in. */
function reachClashes(l: Laid, room: Room): Clash[] {
  if ((l.pose.space ?? 'cupboard') !== 'cupboard') return [];
  const at = l.carried.component.id;
  const out: Clash[] = [];
  for (const o of obstaclesIn(room, 'cupboard')) {
    const way: Box = { ...o.box, y0: o.box.y1, y1: room.size.depthMm };
    if (REACHED.includes(o.thing) && covers(l.box, way))
      out.push({ code: 'reach', weight: 'costs', at, with: o.thing, text: `${called(l)} stands before the ${inSentence(o.label)}: it cannot be reached with both hands.` });
    if (mustComeOut(l.carried) && boxesMeet(wayOut(l, room.size.depthMm), o.box))
      out.push({ code: 'pull-out', weight: 'costs', at, with: o.thing, text: `The ${inSentence(o.label)} keeps ${inSentence(called(l))} from being pulled out.` });
  }
  return out;
} // oxfmt-ignore

/** Whether a box closes the way to something: more than half of its breadth and of its height. */
function covers(b: Box, way: Box): boolean {
  if (!boxesMeet(b, way)) return false;
  const share = (a0: number, a1: number, c0: number, c1: number): number => max(0, min(a1, c1) - max(a0, c0)) / max(1, abs(c1 - c0));
  return share(b.x0, b.x1, way.x0, way.x1) > 0.5 && share(b.z0, b.z1, way.z0, way.z1) > 0.5;
} // oxfmt-ignore

/** Whether all of it goes in and hurts nobody. */
export const isClear = (clashes: readonly Clash[]): boolean => clashes.every((c) => c.weight !== 'not');
