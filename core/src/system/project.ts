import { tubeDropBar } from '../hydraulics/tube.ts';
import { kindRow, type Effect } from '../parts/kinds.ts';
import { pathsOf, runOfLink, type Paths, type Step } from './compile.ts';
import type { Solved } from './solve.ts';
import type { HouseNow } from './state.ts';
import { ofWork, type Component, type Link, type System } from './system.ts';

const { max } = Math;

/** What passes a link: pressure at both its ends, flow (negative where it runs back) and salinity. */
export interface Passing {
  readonly link: Link;
  readonly fromBar: number;
  readonly toBar: number;
  readonly flowLMin: number;
  readonly tdsMgL: number;
}

/** What leaves a component along its own path. */
export interface ProfilePoint {
  readonly id: string;
  /** gauge after the component, bar */
  readonly pressureBar: number;
  readonly flowLMin: number;
  readonly tdsMgL: number;
}

/** A solved state written along every tube. */
export interface Projected {
  readonly links: ReadonlyMap<string, Passing>;
  readonly points: readonly ProfilePoint[];
}

/** Pressure lost over a component at a flow, bar; negative where it gives some. */
function lossOver(c: Component, bar: number, flowLMin: number, solved: Solved): number {
  const effect: Effect | undefined = c.part ? kindRow(c.kind).effect?.(c.part) : undefined;
  if (!effect) return 0;
  const factor = solved.factor(c, effect);
  switch (effect.does) {
    case 'loses':
      return factor * effect.barPerLMin * flowLMin;
    case 'throttles':
      return factor * effect.barPerLMin2 * flowLMin * flowLMin;
    case 'drops':
      return factor * effect.bar;
    case 'lifts':
      return -factor * effect.bar;
    case 'limits':
      return max(0, bar - effect.bar);
    case 'boosts': {
      const { maxBoostBar, maxFlowLMin, minInletBar } = effect.curve;
      return bar >= minInletBar ? -factor * max(0, maxBoostBar * (1 - flowLMin / maxFlowLMin)) : 0;
    }
  }
}

/** Writes down one path after another. */
class Writer {
  readonly links = new Map<string, Passing>();
  readonly points = new Map<string, ProfilePoint>();
  private readonly solved: Solved;
  constructor(solved: Solved) {
    this.solved = solved;
  }
  private pass(link: Link, fromBar: number, toBar: number, flowLMin: number, tdsMgL: number): void {
    this.links.set(link.id, { link, fromBar, toBar, flowLMin, tdsMgL });
  }
  point(c: Component, pressureBar: number, flowLMin: number, tdsMgL: number): void {
    if (!this.points.has(c.id)) this.points.set(c.id, { id: c.id, pressureBar: max(0, pressureBar), flowLMin, tdsMgL });
  }
  /** Along a path from a known pressure at its beginning. @returns the pressure at its end */
  down(path: readonly Step[], startBar: number, flowAt: (i: number) => number, tdsAt: (i: number) => number): number {
    let bar = startBar;
    path.forEach(({ link, component }, i) => {
      const flow = flowAt(i);
      const run = link ? runOfLink(link) : null;
      const to = run ? bar - sign(flow) * tubeDropBar({ ...run, riseM: 0 }, Math.abs(flow), this.solved.water.temperatureC) - rise(run, this.solved) : bar;
      if (link) this.pass(link, max(0, bar), max(0, to), flow, tdsAt(i));
      bar = max(0, to - lossOver(component, to, Math.max(0, flow), this.solved));
      this.point(component, bar, flow, tdsAt(i));
    });
    return bar;
  }
  /** The same from a known pressure at its end, against the water. */
  up(path: readonly Step[], endBar: number, flow: number, tds: number, share: (c: Component) => number): void {
    let bar = endBar;
    for (const { link, component } of [...path].reverse()) {
      this.point(component, bar, flow, tds);
      const before = (bar + lossOver(component, bar, max(0, flow), this.solved)) * share(component);
      const run = link ? runOfLink(link) : null;
      const from = run ? before + tubeDropBar({ ...run, riseM: 0 }, Math.abs(flow), this.solved.water.temperatureC) + rise(run, this.solved) : before;
      if (link) this.pass(link, from, before, flow, tds);
      bar = from;
    }
  }
} // oxfmt-ignore

const sign = (x: number): number => (x < 0 ? -1 : 1);
const rise = (run: { boreMm: number; lengthM: number; riseM: number }, s: Solved): number =>
  tubeDropBar(run, 0, s.water.temperatureC);

/** Writes a solved state along every tube and component of its system. @param house the one it was solved in */
export function project(system: System, solved: Solved, house: HouseNow): Projected {
  const paths = pathsOf(system);
  const w = new Writer(solved);
  feedSide(w, paths, system, solved, house);
  const share = (c: Component): number => (c.part?.kind === 'permeate-pump' ? c.part.backShare : 1);
  const first = solved.membranes[0];
  const several = solved.membranes.length > 1;
  const own = several ? (first?.permeateLMin ?? 0) : solved.productLMin;
  permeateSide(w, paths, solved, share, own);
  w.down(paths.storage, solved.teeBar, () => -solved.fromTankLMin, () => (solved.fromTankLMin > 0 ? solved.tankTdsMgL : solved.productTdsMgL));
  const drawn = solved.outlets.reduce((s, o) => s + o.flowLMin, 0);
  // what a branch takes does not go on beyond its tee; the few centimetres between two tees lose too little to be solved apart
  const [, ...sides] = paths.outlets;
  const tees = paths.trunk.flatMap((s, i) => (s.component.kind === 'branch' ? [i] : []));
  const takes = (way: readonly Step[]): number => solved.outlets.find((o) => o.id === way.at(-1)?.component.id)?.flowLMin ?? 0;
  const gone = (i: number): number => sides.reduce((s, way, n) => s + ((tees[n] ?? Infinity) < i ? takes(way) : 0), 0);
  w.down(paths.trunk, solved.teeBar, (i) => drawn - gone(i), () => solved.drawnTdsMgL);
  for (const way of paths.outlets) {
    const flow = takes(way);
    w.down(way, solved.forkBar, () => flow, () => solved.drawnTdsMgL);
  }
  drainSide(w, paths, solved);
  const points = system.components.flatMap((c) => w.points.get(c.id) ?? []);
  return { links: w.links, points };
} // oxfmt-ignore

function feedSide(w: Writer, paths: Paths, system: System, solved: Solved, house: HouseNow): void {
  const membranes = ofWork(system, 'separates');
  /** which membranes lie before a place on the path: the channel's water goes on thicker */
  const before = (i: number): number =>
    membranes.filter((m) => paths.feed.findIndex((s) => s.component === m) < i).length;
  const on = (i: number): { flow: number; tds: number } => {
    const last = solved.membranes[before(i) - 1];
    return last && before(i) > 0 ? { flow: last.onLMin, tds: last.onTdsMgL } : { flow: solved.feedLMin, tds: solved.water.tdsMgL };
  };
  const { supply } = house;
  const start = max(0, supply.staticBar - supply.resistance * solved.feedLMin * solved.feedLMin);
  w.down(paths.feed, start, (i) => on(i).flow, (i) => on(i).tds);
} // oxfmt-ignore

function permeateSide(w: Writer, paths: Paths, solved: Solved, share: (c: Component) => number, own: number): void {
  const joined = paths.permeate.findLastIndex((s) => s.component.kind === 'join');
  const after = paths.permeate.slice(joined + 1);
  w.up(after, solved.teeBar, solved.productLMin, solved.productTdsMgL, share);
  // up to the product tees each stretch carries what has joined so far
  const inlet = w.links.get(after[0]?.link?.id ?? '')?.fromBar ?? solved.teeBar;
  let bar = inlet;
  for (let i = joined; i >= 0; i--) {
    const step = paths.permeate[i];
    if (!step) continue;
    const joins = paths.permeate.slice(0, i).filter((s) => s.component.kind === 'join').length;
    const given = solved.membranes.slice(0, joins + 1);
    const flow = joins === 0 ? own : given.reduce((s, m) => s + m.permeateLMin, 0);
    const salt = given.reduce((s, m) => s + m.permeateLMin * m.permeateTdsMgL, 0);
    const through = step.component.kind === 'join' ? given.length + 1 : given.length;
    const all = solved.membranes.slice(0, through);
    const total = all.reduce((s, m) => s + m.permeateLMin, 0);
    const mixed = total > 0 ? all.reduce((s, m) => s + m.permeateLMin * m.permeateTdsMgL, 0) / total : 0;
    w.point(step.component, bar, total, mixed);
    w.up([step], bar, flow, flow > 0 ? salt / flow : 0, share);
    bar = w.links.get(step.link?.id ?? '')?.fromBar ?? bar;
  }
  paths.joins.forEach((way, i) => {
    const m = solved.membranes[i + 1];
    const step = way[0];
    if (m && step?.link) w.up([step], inlet, m.permeateLMin, m.permeateTdsMgL, () => 1);
  });
}

/** From the last membrane down to the restrictor, and from the open drain up to it. */
function drainSide(w: Writer, paths: Paths, solved: Solved): void {
  const at = paths.concentrate.findIndex((s) => kindRow(s.component.kind).work === 'restricts');
  const flow = solved.concentrateLMin;
  const tds = solved.concentrateTdsMgL;
  const upper = paths.concentrate.slice(0, at + 1);
  const lower = paths.concentrate.slice(at + 1);
  w.up(lower, 0, flow, tds, () => 1);
  const behind = w.links.get(lower[0]?.link?.id ?? '')?.fromBar ?? 0;
  const restrictor = upper.at(-1)?.component;
  if (restrictor) w.point(restrictor, behind, flow, tds);
  w.down(upper, solved.inletBar, () => flow, () => tds);
} // oxfmt-ignore
