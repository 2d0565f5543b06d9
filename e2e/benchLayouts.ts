import {
  clashesOf,
  carriedIn,
  isClear,
  laid,
  proposeLayout,
  runsIn,
  seeded,
  type Pose,
  type Room,
  type System,
} from '@katharos/core';
import { put, share } from './benchTable.ts';

/** What the layout takes, ms each. */
interface LayoutTimes {
  readonly proposals: readonly number[];
  readonly moves: readonly number[];
  /** proposed layouts in which something was in the way of something */
  readonly wrong: number;
  /** of all, those into which everything went */
  readonly whole: number;
}

/** A cupboard as any may be, with what stands in it. */
function cupboard(random: () => number): Room {
  const between = (least: number, most: number): number => Math.round(least + random() * (most - least));
  const size = { widthMm: between(400, 1300), depthMm: between(400, 620), heightMm: between(450, 780) };
  const box = (x0: number, y0: number, z0: number, w: number, d: number, h: number) => ({
    x0, x1: x0 + w, y0, y1: y0 + d, z0, z1: z0 + h,
  }); // oxfmt-ignore
  const trap = between(60, size.widthMm - 260);
  const valve = between(10, size.widthMm - 70);
  return {
    size,
    second: null,
    switched: false,
    screws: 'all',
    nut: true,
    obstacles: [
      { thing: 'trap', label: 'Trap', box: box(trap, size.depthMm / 2 - 65, between(200, 320), 200, 130, 180) },
      { thing: 'valve', label: 'Stop valve', box: box(valve, 0, between(250, 380), 60, 70, 90) },
      { thing: 'socket', label: 'Socket', box: box(size.widthMm - 95, 0, size.heightMm - 120, 85, 45, 85) },
      ...(random() < 0.4
        ? [{ thing: 'disposal' as const, label: 'Disposal unit', box: box(trap, size.depthMm / 2 - 105, size.heightMm - 340, 210, 210, 340) }]
        : []),
    ],
  };
} // oxfmt-ignore

/** Proposes layouts in many cupboards, and drags the tank through one of them with its tubes following. */
function layouts(system: System, count: number): LayoutTimes {
  const random = seeded(7);
  const timed = <T>(work: () => T): [number, T] => {
    const began = performance.now();
    const out = work();
    return [performance.now() - began, out];
  };
  const done = Array.from({ length: count }, () => {
    const room = cupboard(random);
    return timed(() => proposeLayout(system, room));
  });
  const room = { ...cupboard(seeded(3)), size: { widthMm: 1000, depthMm: 550, heightMm: 650 } };
  const { stands } = proposeLayout(system, room);
  const tank = Object.keys(stands).find((id) => id.includes('tank')) ?? '';
  const moves = Array.from({ length: 200 }, (_, i) => {
    const from = stands[tank] ?? { xMm: 0, yMm: 0, zMm: 0 };
    const now: Record<string, Pose> = { ...stands, [tank]: { ...from, xMm: 150 + 3.5 * i, yMm: 200 + (i % 40) } };
    return timed(() => {
      const all = carriedIn(system).flatMap((c) => {
        const pose = now[c.component.id];
        return pose ? [laid(c, pose)] : [];
      });
      return [clashesOf(all, room), runsIn(system, room, now)];
    })[0];
  });
  return {
    proposals: done.map(([ms]) => ms),
    moves,
    wrong: done.filter(([, l]) => !isClear(l.clashes)).length,
    whole: done.filter(([, l]) => l.unplaced.length === 0).length,
  };
}

const LAYOUTS = 500;
/** The layout's rows of the bench. */
export function layoutRows(system: System): void {
  const { proposals, moves, wrong, whole } = layouts(system, LAYOUTS);
  put(`a layout proposed, longest of ${String(LAYOUTS)} cupboards`, share(proposals, 1), 'ms', { most: 2000 });
  put(`the same, median; ${String(whole)} took everything`, share(proposals, 0.5), 'ms');
  put('proposed layouts with something in the way', wrong, 'of them', { most: 0 });
  put('a move of a drag, tubes following, 95 %', share(moves, 0.95), 'ms', { most: 16 });
}
