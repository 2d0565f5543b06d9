import type { Line, LineElement, Profile, ProfilePoint } from '@katharos/core';

/** An element on the drawing, px. */
export interface Placed {
  readonly element: LineElement;
  readonly point: ProfilePoint | undefined;
  readonly x: number;
  readonly y: number;
}

export interface Layout {
  readonly main: readonly Placed[];
  readonly tank: Placed | undefined;
  readonly fridge: Placed | undefined;
  readonly concentrate: readonly Placed[];
  /** every element, in flow order */
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

/** Places a Line along a width: main path evenly, tank and fridge below their tees, concentrate below the membrane. */
export function layoutLine(line: Line, profile: Profile | null, width: number): Layout {
  const main = line.elements.filter((e) => e.branch === 'feed' || e.branch === 'product');
  const step = (width - BAND.padLeft - BAND.padRight) / Math.max(1, main.length - 1);
  const point = (id: string): ProfilePoint | undefined => profile?.points.find((p) => p.id === id);
  const placed = main.map((element, i): Placed => ({
    element,
    point: point(element.id),
    x: BAND.padLeft + i * step,
    y: BAND.lineY,
  }));
  const xOf = (role: string): number => placed.find((p) => p.element.role === role)?.x ?? width / 2;
  const below = (role: string, x: number): Placed | undefined => {
    const element = line.elements.find((e) => e.role === role);
    return element ? { element, point: point(element.id), x, y: BAND.branchY } : undefined;
  };
  const tank = below('tank', xOf('tank-tee'));
  const fridge = below('fridge', xOf('branch'));
  const concentrate = line.elements
    .filter((e) => e.branch === 'concentrate')
    .map((element, i): Placed => ({
      element,
      point: point(element.id),
      x: xOf('membrane') - step * (0.9 + i * 1.2),
      y: BAND.branchY,
    }));
  const byId = new Map(
    [...placed, ...(tank ? [tank] : []), ...(fridge ? [fridge] : []), ...concentrate].map((p) => [p.element.id, p]),
  );
  return { main: placed, tank, fridge, concentrate, all: line.elements.flatMap((e) => byId.get(e.id) ?? []) };
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
