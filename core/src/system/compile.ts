import type { TubeRun } from '../hydraulics/tube.ts';
import type { Stretch } from '../hydraulics/train.ts';
import { NO_WAY, withTube, type Way } from '../hydraulics/way.ts';
import { kindRow, type Chain, type Effect } from '../parts/kinds.ts';
import { componentOf, ofWork, type Component, type Link, type System } from './system.ts';

/** Length of tube that loses as much as a fitting does, m. */
const FITTING_M = 0.12;

/** One step along the water: the tube to a component, and the component. */
export interface Step {
  /** null at the beginning of a path */
  readonly link: Link | null;
  readonly component: Component;
}

/** A system's paths, walked once: what every solver, drawing and list of it goes along. */
export interface Paths {
  /** stop valve to the last membrane, or to the storage's tee or tap of a system without one */
  readonly feed: readonly Step[];
  /** first membrane's product to the storage's tee, without it; empty where there is no membrane */
  readonly permeate: readonly Step[];
  /** of each further membrane to its product tee */
  readonly joins: readonly (readonly Step[])[];
  /** from the storage's tee, or what comes first after the membrane, to the last branch tee or the tap */
  readonly trunk: readonly Step[];
  /** from the storage's tee to the storage */
  readonly storage: readonly Step[];
  /** from the last branch tee to the tap, then from each branch tee to its outlet; from the trunk's end where nothing branches */
  readonly outlets: readonly (readonly Step[])[];
  /** last membrane to the drain */
  readonly concentrate: readonly Step[];
}

const made = new WeakMap<System, Paths>();

/** Walks a system's links into its paths; kept with the system. */
export function pathsOf(system: System): Paths {
  const known = made.get(system);
  if (known) return known;
  const paths = walk(system);
  made.set(system, paths);
  return paths;
}

const chainOf = (c: Component): Chain => kindRow(c.kind).chain;

function walk(system: System): Paths {
  const leaving = new Map<string, Link[]>();
  for (const l of system.links) leaving.set(l.from.component, [...(leaving.get(l.from.component) ?? []), l]);
  const at = (id: string): Component | undefined => componentOf(system, id);
  /** Follows one chain's links from a component on, as long as what comes belongs to it. */
  const follow = (from: Component, out: (l: Link) => boolean, belongs: (c: Component) => boolean): Step[] => {
    const steps: Step[] = [];
    let link = (leaving.get(from.id) ?? []).find(out);
    const been = new Set<string>();
    while (link && !been.has(link.id)) {
      been.add(link.id);
      const component = at(link.to.component);
      if (!component || !belongs(component)) break;
      steps.push({ link, component });
      // through a four-port valve or a permeate pump the water goes on by the pair of ports it came in by
      const on: string = link.to.port === 'product-in' ? 'product-out' : link.to.port === 'drain-in' ? 'drain-out' : 'out';
      const through = link.to.port === 'drain' ? 'out' : on;
      link = (leaving.get(component.id) ?? []).find((l) => l.from.port === through);
    }
    return steps;
  };
  const start = system.components.find((c) => chainOf(c) === 'feed');
  const membranes = ofWork(system, 'separates');
  const main = (l: Link): boolean => l.from.port === 'out';
  const feedOn = (c: Component): boolean => chainOf(c) === 'feed';
  const feed: Step[] = start ? [{ link: null, component: start }, ...follow(start, main, feedOn)] : [];
  for (let m = feed.at(-1)?.component; m && membranes.includes(m) && m !== membranes.at(-1); ) {
    const further = follow(m, (l) => l.from.port === 'drain', feedOn);
    feed.push(...further);
    const next = further.at(-1)?.component;
    m = next === m ? undefined : next;
  }
  const product = (from: Component): Step[] =>
    follow(from, main, (c) => chainOf(c) === 'permeate' || chainOf(c) === 'delivery' || kindRow(c.kind).work === 'shuts');
  const [membrane] = membranes;
  const end = membrane ?? feed.at(-1)?.component;
  const all = end ? product(end) : [];
  const first = all.findIndex((s) => chainOf(s.component) === 'delivery');
  // the tube into the storage's tee carries what the membrane makes: it belongs to the permeate's way
  const stands = all[first]?.component;
  const teed = stands && (stands.kind === 'tank-tee' || kindRow(stands.kind).work === 'stores') ? 1 : 0;
  const permeate = membrane ? all.slice(0, first < 0 ? all.length : first + teed) : [];
  const rest = first < 0 ? [] : all.slice(membrane ? first + teed : 0);
  const fork = rest.findLastIndex((s) => s.component.kind === 'branch');
  const trunk = fork < 0 ? rest.slice(0, -1) : rest.slice(0, fork + 1);
  const tapWay = fork < 0 ? rest.slice(-1) : rest.slice(fork + 1);
  const tee = all.find((s) => s.component.kind === 'tank-tee')?.component;
  const off = (l: Link): boolean => l.from.port === 'branch';
  const tees = rest.filter((s) => s.component.kind === 'branch');
  const sides = tees.map((s) => follow(s.component, off, (c) => chainOf(c) === 'branch'));
  const last = membranes.at(-1);
  return {
    feed,
    permeate,
    joins: membranes.slice(1).map((m) => follow(m, main, (c) => chainOf(c) === 'permeate').slice(0, 1)),
    trunk,
    storage: tee ? follow(tee, off, (c) => chainOf(c) === 'storage') : [],
    outlets: [tapWay, ...sides].filter((w) => w.length > 0),
    concentrate: last
      ? follow(last, (l) => l.from.port === 'drain', (c) => chainOf(c) === 'concentrate' || c.kind === 'permeate-pump' || c.kind === 'tap')
      : [],
  };
} // oxfmt-ignore

/** How a component's own loss is changed by what it has seen, or by what is wrong with it; 1 leaves it as new. */
export type LossFactor = (component: Component, effect: Effect) => number;

/** The tube of a link with its fittings as length; null where two are screwed together. */
export const runOfLink = (link: Link): TubeRun | null =>
  link.tube ? { boreMm: link.tube.boreMm, lengthM: link.lengthM + FITTING_M, riseM: link.riseM } : null;

function withEffect(w: Way, effect: Effect, factor: number): Way {
  switch (effect.does) {
    case 'loses':
      return { ...w, barPerLMin: w.barPerLMin + factor * effect.barPerLMin };
    case 'throttles':
      return { ...w, barPerLMin2: w.barPerLMin2 + factor * effect.barPerLMin2 };
    case 'drops':
      return { ...w, bar: w.bar + factor * effect.bar };
    case 'lifts':
      return { ...w, bar: w.bar - factor * effect.bar };
    default:
      return w;
  }
}

const plain: LossFactor = () => 1;

/** A path cut into stretches where a valve or a pump acts on the pressure. */
export function stretchesOf(path: readonly Step[], factor: LossFactor = plain): Stretch[] {
  const out: Stretch[] = [];
  let way: Way = NO_WAY;
  for (const { link, component } of path) {
    const run = link ? runOfLink(link) : null;
    if (run) way = { ...way, tubes: withTube(way.tubes, run) };
    const effect = component.part ? kindRow(component.kind).effect?.(component.part) : undefined;
    if (!effect) continue;
    if (effect.does === 'limits' || effect.does === 'boosts') {
      const boost = effect.does === 'boosts' ? factor(component, effect) : 1;
      out.push({
        way,
        limitBar: effect.does === 'limits' ? effect.bar : null,
        pump: effect.does === 'boosts' && boost > 0 ? { ...effect.curve, maxBoostBar: boost * effect.curve.maxBoostBar } : null,
      });
      way = NO_WAY;
    } else way = withEffect(way, effect, factor(component, effect));
  }
  out.push({ way, limitBar: null, pump: null });
  return out;
} // oxfmt-ignore

/** A path on which nothing limits or boosts, as one way. */
export function wayOf(path: readonly Step[], factor: LossFactor = plain): Way {
  return stretchesOf(path, factor).reduce<Way>(
    (w, s) => ({
      tubes: s.way.tubes.reduce(withTube, w.tubes),
      barPerLMin: w.barPerLMin + s.way.barPerLMin,
      barPerLMin2: w.barPerLMin2 + s.way.barPerLMin2,
      bar: w.bar + s.way.bar,
    }),
    NO_WAY,
  );
}
