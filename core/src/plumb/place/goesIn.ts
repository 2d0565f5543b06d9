import type { Body } from '../../gauge/body.ts';
import type { Pose } from '../../gauge/place.ts';
import type { System } from '../../system/system.ts';
import { carriedIn, type Carried } from './carried.ts';
import { laid } from './clashes.ts';
import { boxesMeet, turnedBody, type Box } from './pose.ts';
import { columnsOf, fitsIn, keptFree } from './poses.ts';
import { sizeOf, type Room } from './room.ts';

/** Whether everything a system is made of finds a place in a room, and what does not. */
export interface GoesIn {
  readonly goes: boolean;
  /** what of it is larger than the room, or what was still to be placed when no place was left for it */
  readonly without: readonly Carried[];
}

const { min } = Math;

/** A place of a part, with what it keeps free: no more than the search compares, there are thousands of them. */
interface Spot {
  readonly box: Box;
  readonly free: readonly Box[];
  readonly pose: Pose;
}
const NOTHING_FREE: readonly Box[] = [];

/** Pairs looked at before the search gives up: about a fifth of a second. */
const MOST_LOOKS = 4e6;

const volume = (b: Body): number => b.widthMm * b.depthMm * b.heightMm;

/** Every place of a part in which nothing of the house is in its way, from the corners inward, the cupboard before the second place. */
function* spotsOf(c: Carried, room: Room): Generator<Spot> {
  const columns = (['cupboard', 'second'] as const).flatMap((space) => {
    const right = sizeOf(room, space)?.widthMm ?? 0;
    return columnsOf(c, room, space).map((column) => {
      const { way: { pose, turned }, xMm, yMm } = column;
      const side = min(xMm - turned.widthMm / 2, right - (xMm + turned.widthMm / 2));
      return { column, aside: side + (yMm - turned.depthMm / 2) + (space === 'second' ? 1e5 : 0) + (pose.lies === true ? 50 : 0) };
    });
  });
  for (const { column: { way, xMm, yMm, heights } } of columns.sort((a, b) => a.aside - b.aside))
    for (const zMm of heights) {
      const pose = { ...way.pose, xMm, yMm, zMm };
      const l = laid(c, pose);
      const free = keptFree(l);
      if (fitsIn(l, free, room)) yield { box: l.box, free: free.length > 0 ? free : NOTHING_FREE, pose };
    }
} // oxfmt-ignore

/** Places of a part in their order, each looked for once somebody asks for it: most parts stand in one of the first. */
class Spots {
  private readonly found: Spot[] = [];
  private readonly further: Iterator<Spot>;
  constructor(c: Carried, room: Room) {
    this.further = spotsOf(c, room);
  }
  at(i: number): Spot | undefined {
    while (this.found.length <= i) {
      const next = this.further.next();
      if (next.done === true) return undefined;
      this.found.push(next.value);
    }
    return this.found[i];
  }
}

/** Whether two places leave each other, and what each keeps free, alone. */
function together(a: Spot, b: Spot): boolean {
  if ((a.pose.space ?? 'cupboard') !== (b.pose.space ?? 'cupboard')) return true;
  if (boxesMeet(a.box, b.box)) return false;
  return !a.free.some((f) => boxesMeet(f, b.box)) && !b.free.some((f) => boxesMeet(f, a.box));
}

/** Places for everything, part after part, each tried in turn; else the parts that were left when it gave up. */
function search(parts: readonly Carried[], room: Room, placesOf: (c: Carried) => Spots = (c) => new Spots(c, room)): { readonly stands: readonly Spot[] } | { readonly left: readonly Carried[] } {
  const spots = parts.map(placesOf);
  const placed: Spot[] = [];
  let looks = 0;
  let deepest = 0;
  const placeRest = (): boolean => {
    deepest = Math.max(deepest, placed.length);
    const next = spots[placed.length];
    if (!next) return true;
    for (let k = 0; ; k++) {
      const spot = next.at(k);
      if (!spot) return false;
      looks += placed.length + 1;
      if (looks > MOST_LOOKS) return false;
      if (!placed.every((p) => together(p, spot))) continue;
      placed.push(spot);
      if (placeRest()) return true;
      placed.pop();
    }
  };
  return placeRest() ? { stands: placed } : { left: parts.slice(deepest) };
} // oxfmt-ignore

/** What of a system is placed, the largest first. */
const largestFirst = (system: System): Carried[] =>
  [...carriedIn(system)].sort((a, b) => volume(b.body) - volume(a.body));

/** Where everything would stand in a room, however awkward; null where no place was found for all of it. */
export function standsAnyhow(system: System, room: Room): Record<string, Pose> | null {
  const parts = largestFirst(system);
  const found = search(parts, room);
  return 'stands' in found
    ? Object.fromEntries(found.stands.map(({ pose }, i) => [parts[i]?.component.id ?? '', pose]))
    : null;
}

/** Whether a part goes into a room that is empty. */
function goesAlone(c: Carried, room: Room): boolean {
  const spaces = [room.size, ...(room.second ? [room.second.size] : [])];
  const ways = (c.mayLie ? [false, true] : [false]).flatMap((lies) => [{ lies }, { lies, turn: 90 as const }]);
  return spaces.some((size) =>
    ways.some((way) => {
      const b = turnedBody(c.body, way);
      return b.widthMm <= size.widthMm && b.depthMm <= size.depthMm && b.heightMm + c.belowMm <= size.heightMm;
    }),
  );
}

/** What is known of rooms, by all that the answer hangs on: bodies, what they keep free, how they may stand. */
const known = new Map<string, GoesIn>();
const KNOWN_MOST = 2000;

/** The last answer to each system, so that the same one asked again needs no key of its bodies. */
const asked = new WeakMap<System, { readonly roomKey: string; readonly answer: GoesIn }>();

const bodyKey = ({ body, onFloor, mayLie, belowMm, aboveMm, powered, drums }: Carried): string =>
  [body.widthMm, body.depthMm, body.heightMm, belowMm, aboveMm, onFloor, mayLie, powered, drums].map(Number).join(' ');

/** Places of bodies in the room that was asked about last: its designs share most of them. */
let spotsKnown: { readonly roomKey: string; readonly of: Map<string, Spots> } = {
  roomKey: '',
  of: new Map(),
};

/** Every place of a part's body in a room, kept for the others that have the same body. */
function sharedSpots(c: Carried, room: Room, roomKey: string): Spots {
  if (spotsKnown.roomKey !== roomKey) spotsKnown = { roomKey, of: new Map() };
  const key = bodyKey(c);
  const was = spotsKnown.of.get(key);
  if (was) return was;
  const spots = new Spots(c, room);
  spotsKnown.of.set(key, spots);
  return spots;
}

/**
 * Whether everything a system is made of goes into a room. Bodies and volumes answer at once where they can; else places are
 * searched on the grid of layouts. Asked thousands of times of the same bodies: what was found is kept, a pure function's memory.
 * @param roomKey tells the room from others
 */
export function goesIn(system: System, room: Room, roomKey: string): GoesIn {
  const last = asked.get(system);
  if (last?.roomKey === roomKey) return last.answer;
  const answer = ofBodies(system, room, roomKey);
  asked.set(system, { roomKey, answer });
  return answer;
}

function ofBodies(system: System, room: Room, roomKey: string): GoesIn {
  const parts = largestFirst(system);
  const key = [roomKey, ...parts.map(bodyKey)].join('|');
  const was = known.get(key);
  if (was) return was;
  const answer = look(parts, room, roomKey);
  const [oldest] = known.keys();
  if (known.size >= KNOWN_MOST && oldest !== undefined) known.delete(oldest);
  known.set(key, answer);
  return answer;
}

function look(parts: readonly Carried[], room: Room, roomKey: string): GoesIn {
  const large = parts.filter((c) => !goesAlone(c, room));
  if (large.length > 0) return { goes: false, without: large };
  const all = parts.reduce((sum, c) => sum + volume(c.body), 0);
  if (all > volume(room.size) + (room.second ? volume(room.second.size) : 0))
    return { goes: false, without: parts.slice(-1) };
  const found = search(parts, room, (c) => sharedSpots(c, room, roomKey));
  return 'stands' in found ? { goes: true, without: [] } : { goes: false, without: found.left };
}
