import { FRIDGE_TUBE_M, type Site } from '../gauge/site.ts';
import { partsOf, type Catalogue, type Part, type PartKind, type PartOf, type Port } from '../parts/catalogue.ts';
import { kindRow, type Chain, type KindRow } from '../parts/kinds.ts';
import { jointId, portsOf, type Component, type Link, type PortRef, type System } from './system.ts';

/** A kind chosen for a system, with its part; null for what the house has already. */
export interface Picked {
  readonly kind: string;
  readonly part: Part | null;
}

/** A choice of parts: what a system is built from. */
export interface Choice {
  readonly picks: readonly Picked[];
  readonly tube: PartOf<'tube'>;
  /** the tube that leads to the tap, where it is a wider one */
  readonly toTap?: PartOf<'tube'> | undefined;
}

/**
 * Tubes of a choice with a store: the one asked for leads to the tap, between the parts runs the narrowest there is. Without a
 * store all of it carries the tap's flow, and is of the one tube.
 */
export function tubesToStore(asked: PartOf<'tube'>, catalogue: Catalogue): Pick<Choice, 'tube' | 'toTap'> {
  const tube = partsOf(catalogue, 'tube').reduce((m, t) => (t.boreMm < m.boreMm ? t : m), asked);
  return { tube, toTap: asked };
}

/** A tube between two parts of the frame, m. */
export const SHORT_M = 0.25;
/** From the stop valve to the frame, m: slack to pull the unit out. */
export const FEED_M = 1.2;
/** From its tee to the tank, and from the restrictor to the drain, m. */
const TANK_M = 1;
const DRAIN_M = 1.2;

/** A part that the catalogue holds one of, whatever is chosen. @throws RangeError where the shelf has none */
function onlyPart(catalogue: Catalogue, kind: PartKind): Part {
  const part = partsOf(catalogue, kind)[0];
  if (!part) throw new RangeError(`the catalogue has no ${kind}`);
  return part;
}

/** What goes with a choice without being chosen: valve, tees, ports to read at, what it all hangs on. */
function goesAlong(picks: readonly Picked[], catalogue: Catalogue): Picked[] {
  const has = (kind: string): boolean => picks.some((p) => p.kind === kind);
  const chained = (chain: Chain): boolean => picks.some((p) => kindRow(p.kind).chain === chain);
  const add = (kind: string): Picked => {
    const { partKind } = kindRow(kind);
    return { kind, part: partKind === null ? null : onlyPart(catalogue, partKind) };
  };
  const membranes = picks.filter((p) => kindRow(p.kind).work === 'separates').length;
  const powered = has('pump') && partsOf(catalogue, 'solenoid').length > 0;
  return [
    add('stop-valve'),
    ...(powered ? [add('feed-valve')] : []),
    ...(membranes > 0 ? [add('gauge'), add('sample')] : []),
    ...Array.from({ length: Math.max(0, membranes - 1) }, () => add('join')),
    ...(chained('storage') ? [add('tank-tee')] : []),
    ...picks
      .filter((p) => kindRow(p.kind).chain === 'branch' && kindRow(p.kind).work === 'opens')
      .map(() => add('branch')),
    ...(partsOf(catalogue, 'frame').length > 0 ? [add('frame')] : []),
    ...(has('pump') && partsOf(catalogue, 'transformer').length > 0 ? [add('transformer')] : []),
  ].filter((p) => !has(p.kind) || p.kind === 'join' || p.kind === 'branch');
}

const CHAINS: readonly Chain[] = ['feed', 'permeate', 'delivery', 'concentrate', 'stands'];

/** In the order the water meets them; a tank behind its tee, a branch behind its own. */
function inOrder(picks: readonly Picked[]): Picked[] {
  const of = (chain: Chain): Picked[] =>
    picks
      .filter((p) => kindRow(p.kind).chain === chain)
      .map((p, i) => ({ p, i }))
      .sort((a, b) => kindRow(a.p.kind).rank - kindRow(b.p.kind).rank || a.i - b.i)
      .map(({ p }) => p);
  const sides = branchesOf(of('branch'), (p) => p.kind);
  return CHAINS.flatMap(of).flatMap((p) =>
    p.kind === 'tank-tee' ? [p, ...of('storage')] : p.kind === 'branch' ? [p, ...(sides.shift() ?? [])] : [p],
  );
}

/** What hangs on branches, a branch for each outlet: what comes before an outlet in their order leads to it. */
function branchesOf<T>(all: readonly T[], kindOf: (x: T) => string): T[][] {
  const out: T[][] = [];
  let way: T[] = [];
  for (const x of all) {
    way.push(x);
    if (kindRow(kindOf(x)).work !== 'opens') continue;
    out.push(way);
    way = [];
  }
  return out;
}

/** Components with the names they have while nothing is approved: their kind, numbered from the second on. */
function componentsFrom(picks: readonly Picked[], catalogue: Catalogue): Component[] {
  const ordered = inOrder([...picks, ...goesAlong(picks, catalogue)]);
  const total = new Map<string, number>();
  for (const p of ordered) total.set(p.kind, (total.get(p.kind) ?? 0) + 1);
  const seen = new Map<string, number>();
  return ordered.map(({ kind, part }) => {
    const row: KindRow = kindRow(kind);
    const n = (seen.get(kind) ?? 0) + 1;
    seen.set(kind, n);
    const label = part?.kind === 'feed' ? (part.way === 'tee' ? 'feed tee' : 'feed clamp') : row.label;
    return {
      id: n === 1 ? kind : `${kind}-${String(n)}`,
      kind,
      slot: (total.get(kind) ?? 1) > 1 ? `${label} ${String(n)}` : label,
      part,
      ...(row.inHousing === true ? { housing: onlyPart(catalogue, 'housing') } : {}),
    };
  });
}

/** What of a house's measures a system's tubes are cut by. */
export interface Measured {
  readonly tapLengthM: Site['tapLengthM'];
  readonly tapRiseM: Site['tapRiseM'];
  /** usual ones where left out */
  readonly fridgeLengthM?: Site['fridgeLengthM'];
  readonly fridgeRiseM?: Site['fridgeRiseM'];
}

/** The tube that leads to a tap: as long as somebody measured, half a metre at the least. */
export const tapRun = (site: Measured): { lengthM: number; riseM: number } => ({
  lengthM: Math.max(0.5, site.tapLengthM),
  riseM: site.tapRiseM,
});

/** Cut length and rise of a tube by what it joins. */
function runOf(from: Component, to: Component, site: Measured): { lengthM: number; riseM: number } {
  const level = (lengthM: number) => ({ lengthM, riseM: 0 });
  if (from.kind === 'feed') return level(FEED_M);
  if (kindRow(to.kind).chain === 'storage') return level(TANK_M);
  if (to.kind === 'tap') return tapRun(site);
  if (to.kind === 'fridge') return { lengthM: site.fridgeLengthM ?? FRIDGE_TUBE_M, riseM: site.fridgeRiseM ?? 0 };
  if (kindRow(to.kind).chain === 'branch' && kindRow(to.kind).work === 'opens') return level(FRIDGE_TUBE_M);
  // from a tap with an air gap it runs back down
  if (from.kind === 'tap') return { lengthM: Math.max(0.5, site.tapLengthM), riseM: -site.tapRiseM };
  if (to.kind === 'drain') return level(DRAIN_M);
  return level(SHORT_M);
}

/** Lays links down one after the other; each port is used once. */
class Links {
  readonly all: Link[] = [];
  private readonly tube: PartOf<'tube'>;
  private readonly toTap: PartOf<'tube'>;
  private readonly site: Measured;
  constructor({ tube, toTap }: Choice, site: Measured) {
    this.tube = tube;
    this.toTap = toTap ?? tube;
    this.site = site;
  }
  private put(from: PortRef, to: PortRef, more: Omit<Link, 'id' | 'from' | 'to'>): void {
    this.all.push({ id: `${jointId(from)}>${to.component}`, from, to, ...more });
  }
  /** Screws one onto the other. */
  screw(a: Component, b: Component): void {
    const from = { component: a.id, port: 'out' as const };
    this.put(from, { component: b.id, port: 'in' }, { tube: null, lengthM: 0, riseM: 0 });
  }
  /** Runs a tube from one to the other. */
  run(a: Component | undefined, b: Component | undefined, out: Port['name'] = 'out', into: Port['name'] = 'in', wide?: PartOf<'tube'>): void {
    if (!a || !b) return;
    const length = runOf(a, b, this.site);
    const tube = wide ?? (b.kind === 'tap' && into === 'in' ? this.toTap : this.tube);
    this.put({ component: a.id, port: out }, { component: b.id, port: into }, { tube, ...length });
  }
} // oxfmt-ignore

/**
 * Builds a system from a choice of parts: what goes along with it, in the order the water takes, every port joined, every
 * tube with its cut length. A four-port shut-off passes the product too, between the membrane and the storage's tee.
 * @throws RangeError where the catalogue lacks what every system needs
 */
export function buildSystem(choice: Choice, catalogue: Catalogue, site: Measured): System {
  const components = componentsFrom(choice.picks, catalogue);
  const links = new Links(choice, site);
  const chain = (name: Chain): Component[] => components.filter((c) => kindRow(c.kind).chain === name);
  const of = (kind: string): Component | undefined => components.find((c) => c.kind === kind);
  const membranes = components.filter((c) => kindRow(c.kind).work === 'separates');
  const feed = chain('feed');
  feed.slice(1).forEach((to, i) => {
    const from = feed[i];
    if (!from) return;
    if (from.kind === 'stop-valve') links.screw(from, to);
    // a further element is fed by the concentrate of the one before
    else links.run(from, to, membranes.includes(from) ? 'drain' : 'out');
  });
  const [membrane] = membranes;
  const product = [...chain('permeate'), ...chain('delivery')];
  const [first] = product;
  if (membrane && first) {
    // a non-return valve screws straight into the membrane's housing
    if (first.kind === 'non-return') links.screw(membrane, first);
    else links.run(membrane, first);
  } else links.run(feed.at(-1), first);
  const shutOff = of('shut-off');
  product.slice(1).forEach((to, i) => {
    const from = product[i];
    if (!from) return;
    const leaves = kindRow(from.kind).chain === 'permeate' && kindRow(to.kind).chain === 'delivery';
    if (shutOff && leaves) {
      links.run(from, shutOff, 'out', 'product-in');
      links.run(shutOff, to, 'product-out', 'in');
    } else links.run(from, to);
  });
  membranes.slice(1).forEach((m, i) => {
    links.run(m, components.filter((c) => c.kind === 'join')[i], 'out', 'branch');
  });
  const [stored] = chain('storage');
  links.run(of('tank-tee'), stored, 'branch');
  const tees = components.filter((c) => c.kind === 'branch');
  branchesOf(chain('branch'), (c) => c.kind).forEach((side, n) => {
    side.forEach((to, i) => {
      links.run(i === 0 ? tees[n] : side[i - 1], to, i === 0 ? 'branch' : 'out');
    });
  });
  drainLinks(links, components, membranes.at(-1), catalogue, choice.tube);
  return { components, links: links.all };
}

/** The concentrate's way: through a permeate pump where there is one, the restrictor, a tap with an air gap, to the drain. */
function drainLinks(
  links: Links,
  components: readonly Component[],
  membrane: Component | undefined,
  catalogue: Catalogue,
  tube: PartOf<'tube'>,
): void {
  const of = (kind: string): Component | undefined => components.find((c) => c.kind === kind);
  const restrictor = of('restrictor');
  const drain = of('drain');
  const pump = of('permeate-pump');
  const tap = of('tap');
  if (pump) {
    links.run(membrane, pump, 'drain', 'drain-in');
    links.run(pump, restrictor, 'drain-out');
  } else links.run(membrane, restrictor, 'drain');
  const gap = tap && portsOf(tap).some((p) => p.name === 'drain') && restrictor && drain;
  if (!gap) {
    links.run(restrictor, drain);
    return;
  }
  links.run(restrictor, tap, 'out', 'drain');
  // away from the tap it runs by its own weight: the widest tube there is
  const wide = partsOf(catalogue, 'tube').reduce((m, t) => (t.boreMm > m.boreMm ? t : m), tube);
  links.run(tap, drain, 'out', 'in', wide);
}
