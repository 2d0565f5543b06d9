import type { Pose, Space } from '../../gauge/place.ts';
import type { PortRef, System } from '../../system/system.ts';
import { cutM, endsIn, runsIn, type Stands } from '../route/runs.ts';
import { carriedIn, carrierOf, portAt, type Carried } from './carried.ts';
import {
  clashesOf,
  houseClashes,
  laid,
  mustComeOut,
  sleeveOf,
  spannerOf,
  wayOut,
  type Clash,
  type Laid,
} from './clashes.ts';
import { standsAnyhow } from './goesIn.ts';
import { boxesMeet, type Box, type Point } from './pose.ts';
import { fitsIn, keptFree, posesOf } from './poses.ts';
import { wayThrough, type Room } from './room.ts';

const { abs } = Math;

/** A layout that was looked for. */
export interface Layout {
  readonly stands: Stands;
  readonly clashes: readonly Clash[];
  /** all tubes that both ends are placed of, cut, m */
  readonly tubeM: number;
  /** tubes no way was found for */
  readonly walledIn: number;
  /** what found no place */
  readonly unplaced: readonly Carried[];
}

/** Layouts of the first parts that are kept while the next is placed, and of all parts that are worked out to the end. */
const KEPT = 60;
const FINALISTS = 8;
/** What whoever services it would give for not having to move something else, mm of tube. */
const SERVICE_MM = 1500;
/** What can stand stands: on its side it lies on its valve’s thread, mm of tube. */
const LIES_MM = 800;
/** What stands in the second place is out of the way, and out of sight: mm of tube. */
const APART_MM = 400;

/** A place something may have, worked out once. */
interface Candidate {
  readonly laid: Laid;
  /** kept free of everything */
  readonly free: readonly Box[];
  readonly way: Box | null;
  /** before it for a spanner, beyond its top for a sleeve: better free */
  readonly better: readonly Box[];
  readonly space: Space;
  /** its ends of tubes that lead to other things, by the tube's number */
  readonly ports: readonly (Point | null)[];
  /** numbers of the tubes it has an end of */
  readonly leads: readonly number[];
  /** what it costs whatever else is placed, mm */
  readonly cost: number;
}

/** A tube between two things of which one at least is placed here. */
interface Between {
  readonly from: PortRef;
  readonly to: PortRef;
  readonly carriers: readonly [string | null, string | null];
}

const away = (a: Point, b: Point): number => abs(a.x - b.x) + abs(a.y - b.y) + abs(a.z - b.z);

/** Looks for places for everything a system is made of. */
class Search {
  private readonly system: System;
  private readonly room: Room;
  private readonly tubes: readonly Between[];
  private readonly fixed: Stands;
  constructor(system: System, room: Room, fixed: Stands) {
    this.system = system;
    this.room = room;
    this.fixed = fixed;
    this.tubes = system.links.flatMap((l): Between[] => {
      if (!l.tube) return [];
      const carriers = [carrierOf(system, l.from.component), carrierOf(system, l.to.component)] as const;
      return carriers[0] === carriers[1] ? [] : [{ from: l.from, to: l.to, carriers }];
    });
  }

  /** All places of one thing in which nothing of the house is in its way. */
  private candidates(c: Carried, spaces: readonly Space[]): Candidate[] {
    const houseEnd = endsIn(this.system, this.room, {});
    const fixed = this.tubes.map((t) => (houseEnd(t.from) ?? houseEnd(t.to))?.at ?? null);
    const out: Candidate[] = [];
    // what somebody placed stays there, whatever is in its way
    const placed = this.fixed[c.component.id];
    for (const space of spaces)
      for (const pose of placed ? [placed] : posesOf(c, this.room, space)) {
        const l = laid(c, pose);
        const free = placed ? [] : keptFree(l);
        if (!placed && !fitsIn(l, free, this.room)) continue;
        const ports = this.tubes.map((t) => {
          const mine = t.carriers[0] === c.component.id ? t.from : t.carriers[1] === c.component.id ? t.to : null;
          return mine && portAt(this.system, c, pose, mine).at;
        });
        const ends = ports.reduce((sum, p, i) => {
          const other = fixed[i];
          return p && other ? sum + this.across(p, space, other, 'cupboard') : sum;
        }, 0);
        out.push({
          laid: l,
          free,
          way: mustComeOut(c) ? wayOut(l, Infinity) : null,
          better: [...(c.frontMm > 0 ? [spannerOf(l)] : []), ...(c.aboveMm > 0 ? [sleeveOf(l)] : [])],
          space,
          ports,
          leads: ports.flatMap((q, i) => (q ? [i] : [])),
          cost:
            ends + SERVICE_MM * burdens(l, this.room) + (space === 'second' ? APART_MM : 0) + (pose.lies ? LIES_MM : 0),
        });
      }
    return out;
  }

  /** From a point to a point, mm, by the way between the two spaces where they are in different ones. */
  private across(a: Point, aSpace: Space, b: Point, bSpace: Space): number {
    if (aSpace === bSpace) return away(a, b);
    const way = 1000 * (this.room.second?.wayM ?? 0);
    return away(a, wayThrough(this.room, aSpace)) + way + away(b, wayThrough(this.room, bSpace));
  }

  /** The best places, part after part, the largest first; what has none is left out. */
  run(spaces: readonly Space[]): { found: readonly (readonly Candidate[])[]; unplaced: Carried[] } {
    const volume = (c: Carried): number => c.body.widthMm * c.body.depthMm * c.body.heightMm;
    const first = (c: Carried): number => Number(this.fixed[c.component.id] !== undefined);
    const order = [...carriedIn(this.system)].sort((a, b) => first(b) - first(a) || volume(b) - volume(a));
    let kept: { readonly placed: readonly Candidate[]; readonly cost: number }[] = [{ placed: [], cost: 0 }];
    const unplaced: Carried[] = [];
    for (const c of order) {
      const candidates = this.candidates(c, spaces).sort((a, b) => a.cost - b.cost);
      const next: { placed: readonly Candidate[]; cost: number }[] = [];
      let worst = Infinity;
      for (const k of kept)
        for (const cand of candidates) {
          if (next.length >= 4 * KEPT && k.cost + cand.cost >= worst) break;
          const more = this.beside(cand, k.placed);
          if (more === null) continue;
          next.push({ placed: [...k.placed, cand], cost: k.cost + cand.cost + more });
          if (next.length >= 8 * KEPT) {
            next.sort((a, b) => a.cost - b.cost).splice(4 * KEPT);
            worst = next.at(-1)?.cost ?? Infinity;
          }
        }
      if (next.length === 0) unplaced.push(c);
      else kept = apart(next.sort((a, b) => a.cost - b.cost));
    }
    return { found: kept.map((k) => k.placed), unplaced };
  }

  /** What a place costs beside what is placed already, mm; null where one is in the other's way. */
  private beside(c: Candidate, placed: readonly Candidate[]): number | null {
    let cost = 0;
    for (const p of placed) {
      if (p.space === c.space) {
        const both = this.fixed[c.laid.carried.component.id] && this.fixed[p.laid.carried.component.id];
        if (!both && boxesMeet(c.laid.box, p.laid.box)) return null;
        if (c.free.some((f) => boxesMeet(f, p.laid.box))) return null;
        if (p.free.some((f) => boxesMeet(f, c.laid.box))) return null;
        if (c.way && boxesMeet(c.way, p.laid.box)) cost += SERVICE_MM;
        for (const b of c.better) if (boxesMeet(b, p.laid.box)) cost += SERVICE_MM;
        for (const b of p.better) if (boxesMeet(b, c.laid.box)) cost += SERVICE_MM;
        if (p.way && boxesMeet(p.way, c.laid.box)) cost += SERVICE_MM;
      }
      for (const i of c.leads) {
        const [a, b] = [c.ports[i], p.ports[i]];
        if (a && b) cost += this.across(a, c.space, b, p.space);
      }
    }
    return cost;
  }
}

/** How many things of the house, or its walls, make a thing worse to service where it is tried. */
const burdens = (l: Laid, room: Room): number => houseClashes(l, room).filter((c) => c.weight === 'costs').length;

/** Of many that are nearly the same the best: so that those kept are really different. */
function apart<T extends { readonly placed: readonly Candidate[] }>(sorted: readonly T[]): T[] {
  const near = new Map<string, number>();
  const out: T[] = [];
  for (const s of sorted) {
    const key = s.placed
      .map(({ laid: { pose, carried } }) =>
        [carried.component.id, pose.turn, pose.lies, pose.space, ...[pose.xMm, pose.yMm, pose.zMm].map((v) => Math.round(v / 150))].join(),
      )
      .join(';');
    const n = near.get(key) ?? 0;
    if (n >= 2) continue;
    near.set(key, n + 1);
    out.push(s);
    if (out.length >= KEPT) break;
  }
  return out;
} // oxfmt-ignore

/** A layout worked out to the end: its tubes routed, its clashes named. */
export function layoutOf(system: System, room: Room, stands: Stands): Layout {
  const all = carriedIn(system);
  const standing = all.flatMap((c) => {
    const pose = stands[c.component.id];
    return pose ? [laid(c, pose)] : [];
  });
  const runs = runsIn(system, room, stands);
  return {
    stands,
    clashes: clashesOf(standing, room),
    tubeM: runs.reduce((m, r) => m + cutM(r), 0),
    walledIn: runs.filter((r) => r.noWay).length,
    unplaced: all.filter((c) => !stands[c.component.id]),
  };
}

const rounded = ({ xMm, yMm, zMm, ...pose }: Pose): Pose => ({
  ...pose,
  xMm: Math.round(xMm),
  yMm: Math.round(yMm),
  zMm: Math.round(zMm),
});

/**
 * Looks for a layout without a clash: everything placed, the shortest tubes and the easiest service first. Parts are placed
 * one after the other, the largest first, on a grid of 25 mm, and the best layouts of those placed are gone on with.
 * @param fixed what stands already: it stays there, and its clashes are named
 * @returns the best it found; what found no place is named in it, and everything else is placed
 */
export function proposeLayout(system: System, room: Room, fixed: Stands = {}): Layout {
  const search = new Search(system, room, fixed);
  const own = search.run(['cupboard']);
  const { found, unplaced } = own.unplaced.length > 0 && room.second ? search.run(['cupboard', 'second']) : own;
  if (unplaced.length > 0 && Object.keys(fixed).length === 0) {
    // where the best of each part leave no place for the last, every place is tried
    const stands = standsAnyhow(system, room);
    if (stands) return layoutOf(system, room, stands);
  }
  const finalists = found
    .slice(0, FINALISTS)
    .map((placed) =>
      layoutOf(
        system,
        room,
        Object.fromEntries(placed.map(({ laid: l }) => [l.carried.component.id, rounded(l.pose)])),
      ),
    );
  const costs = (l: Layout): number =>
    1000 * l.tubeM +
    SERVICE_MM * (l.clashes.length + 4 * l.walledIn) +
    1e6 * l.clashes.filter((c) => c.weight === 'not').length;
  const [first] = finalists;
  return first ? finalists.reduce((a, b) => (costs(b) < costs(a) ? b : a), first) : layoutOf(system, room, fixed);
}
