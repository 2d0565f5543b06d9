import {
  alongTheWater,
  branchOf,
  pathsOf,
  type Component,
  type Profile,
  type ProfilePoint,
  type System,
} from '@katharos/core';

/** What passes the tube into a component. */
export type Passing = Profile['passing'][string];

/** A component on the drawing, px. */
export interface Placed {
  readonly element: Component;
  readonly point: ProfilePoint | undefined;
  /** what stands before it */
  readonly from: string | undefined;
  /** in the tube that leads to it */
  readonly into: Passing | undefined;
  readonly x: number;
  readonly y: number;
}

export interface Layout {
  readonly main: readonly Placed[];
  readonly tank: Placed | undefined;
  /** what hangs off the branch tees, each outlet last on its own */
  readonly branch: readonly Placed[];
  readonly concentrate: readonly Placed[];
  /** every component, in flow order */
  readonly all: readonly Placed[];
}

export const BAND = {
  height: 220,
  top: 22,
  curveBottom: 84,
  lineY: 122,
  branchY: 176,
  padLeft: 46,
  padRight: 92,
} as const;

/** Places a system along a width: main path evenly, storage and branch below their tees, concentrate below the membrane. */
export function layoutLine(system: System, profile: Profile | null, width: number): Layout {
  const elements = alongTheWater(system);
  const on = (branch: ReturnType<typeof branchOf>): Component[] => elements.filter((e) => branchOf(e) === branch);
  const main = elements.filter((e) => branchOf(e) === 'feed' || branchOf(e) === 'product');
  const step = (width - BAND.padLeft - BAND.padRight) / Math.max(1, main.length - 1);
  const place = (element: Component, x: number, y: number): Placed => {
    const link = system.links.find((l) => l.to.component === element.id);
    return {
      element,
      point: profile?.points.find((p) => p.id === element.id),
      from: link?.from.component,
      into: link && profile?.passing[link.id],
      x,
      y,
    };
  };
  const placed = main.map((element, i) => place(element, BAND.padLeft + i * step, BAND.lineY));
  const xOf = (kind: string): number => placed.findLast((p) => p.element.kind === kind)?.x ?? width / 2;
  const tank = on('tank').map((e) => place(e, xOf('tank-tee'), BAND.branchY))[0];
  const tees = placed.filter((p) => p.element.kind === 'branch');
  const sides = pathsOf(system).outlets.slice(1);
  // each runs on to the right from its tee, or from where the branch before it ends
  let free = 0;
  const branch = sides.flatMap((way, n) =>
    way.map(({ component }) => {
      const x = Math.max(tees[n]?.x ?? width / 2, free);
      free = x + step * 1.1;
      return place(component, x, BAND.branchY);
    }),
  );
  const concentrate = on('concentrate').map((e, i) => place(e, xOf('membrane') - step * (0.9 + i * 1.2), BAND.branchY));
  const byId = new Map([...placed, ...(tank ? [tank] : []), ...branch, ...concentrate].map((p) => [p.element.id, p]));
  return { main: placed, tank, branch, concentrate, all: elements.flatMap((e) => byId.get(e.id) ?? []) };
}

/** Height of a pressure on the curve, px. */
export function curveY(bar: number, topBar: number): number {
  return BAND.curveBottom - (Math.min(bar, topBar) / topBar) * (BAND.curveBottom - BAND.top);
}

/** A round top for the pressure scale, bar. */
export function topOfScale(profile: Profile): number {
  const most = Math.max(1, profile.closeBar, ...profile.points.map((p) => p.pressureBar));
  return Math.ceil(most * 1.1);
}
