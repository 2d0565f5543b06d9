import { partsOf, type Catalogue, type Part, type PartKind } from '../parts/catalogue.ts';
import { kindRow, type KindName } from '../parts/kinds.ts';
import { SHORT_M } from '../system/build.ts';
import { componentOf, ofKind, type Component, type Link, type System } from '../system/system.ts';
import type { ExtraName } from '../words/stored.ts';

/** Something a system may carry beside its sizing. */
export interface ExtraRow {
  readonly label: string;
  /** what it is for, one line */
  readonly why: string;
  readonly kind: KindName;
  readonly partKind: PartKind;
  /** what hangs on a branch brings a tee with its valve */
  readonly tee: boolean;
}

export const EXTRAS: Readonly<Record<ExtraName, ExtraRow>> = {
  'leak-stop': {
    label: 'Leak stop',
    why: 'Shuts the feed when its pad on the cupboard’s floor gets wet. The pad is tried at the end and changed once it was wet.',
    kind: 'leak-valve',
    partKind: 'leak-valve',
    tee: false,
  },
  backflow: {
    label: 'Backflow valve',
    why: 'Where the local code wants one of its own on the feed.',
    kind: 'backflow',
    partKind: 'backflow',
    tee: false,
  },
  'first-gauge': {
    label: 'Gauge point before the filters',
    why: 'With the one before the membrane it tells what the filters take, and when they are full.',
    kind: 'first-gauge',
    partKind: 'gauge',
    tee: false,
  },
  'second-tap': {
    label: 'Second tap',
    why: 'On a branch with a valve of its own: a bar, a coffee machine. Both draw on the one store.',
    kind: 'second-tap',
    partKind: 'tap',
    tee: true,
  },
  'spare-branch': {
    label: 'Branch for later',
    why: 'A tee with its valve shut and plugged, for a fridge or a second tap that comes later.',
    kind: 'branch',
    partKind: 'branch',
    tee: false,
  },
};

/** What was put into a system beside its sizing, as it was when it was. */
export interface Extra {
  readonly name: ExtraName;
  /** lasts as long as the thing stands: its components and links are named by it */
  readonly id: string;
  readonly part: Part;
  /** the tee it hangs on, where it is on a branch */
  readonly tee?: Part | undefined;
}

/** The parts the shelf has for it, the plainest first: a tap with the smallest hole, else the cheapest. */
export function partsFor(name: ExtraName, catalogue: Catalogue): readonly Part[] {
  const row = EXTRAS[name];
  const rank = (p: Part): number => (p.kind === 'tap' ? (p.airGap ? 1000 : 0) + p.holeMm : (p.price ?? 0));
  return [...partsOf(catalogue, row.partKind)].sort((a, b) => rank(a) - rank(b) || a.id.localeCompare(b.id));
}

/** What the shelf has for it, ready to be put in; null where it has none. @param part the one chosen; the plainest left out */
export function extraFrom(name: ExtraName, id: string, catalogue: Catalogue, part = partsFor(name, catalogue)[0]): Extra | null {
  const [tee] = EXTRAS[name].tee ? partsOf(catalogue, 'branch') : [];
  if (!part || (EXTRAS[name].tee && !tee)) return null;
  return { name, id, part, ...(tee ? { tee } : {}) };
} // oxfmt-ignore

/** What a system does not carry yet and may. A branch for later any number of times, all else once. */
export const extrasOpen = (system: System): ExtraName[] =>
  (Object.keys(EXTRAS) as ExtraName[]).filter(
    (name) => place(system, name) !== null && (name === 'spare-branch' || ofKind(system, EXTRAS[name].kind).length === 0),
  ); // oxfmt-ignore

/** Longest tube to a second tap until somebody measures it, m: as to a fridge. */
const SECOND_TAP_M = 4;

/** The link a thing goes into: on the feed where its kind belongs along it, a tee right before the tap. */
function place(system: System, name: ExtraName): Link | null {
  const at = (id: string): Component | undefined => componentOf(system, id);
  const row = EXTRAS[name];
  if (row.tee || row.kind === 'branch')
    return system.links.find((l) => l.tube && at(l.to.component)?.kind === 'tap' && l.to.port === 'in') ?? null;
  const rank = kindRow(row.kind).rank;
  const fits = (l: Link): boolean => {
    const [from, to] = [at(l.from.component), at(l.to.component)];
    if (!l.tube || !from || !to || kindRow(from.kind).chain !== 'feed' || l.from.port !== 'out') return false;
    return kindRow(from.kind).rank <= rank && (kindRow(to.kind).chain !== 'feed' || kindRow(to.kind).rank > rank);
  };
  return system.links.find(fits) ?? null;
}

/** Told apart from others of its kind that stand there already. */
function slotFor(system: System, kind: KindName): string {
  const n = ofKind(system, kind).length;
  const { label } = kindRow(kind);
  return n === 0 ? label : `${label} ${String(n + 1)}`;
}

/**
 * A system with something more in it. Every component and link that was there keeps its id: a tube that is parted keeps it on
 * the longer of its two pieces.
 * @returns the same system where it carries one already, or has no place for it
 */
export function withExtra(system: System, { name, id, part, tee }: Extra): System {
  const row = EXTRAS[name];
  const link = place(system, name);
  const once = name !== 'spare-branch';
  if (!link || (once && ofKind(system, row.kind).length > 0)) return system;
  const inLine: Component = row.tee
    ? { id: `${id}.tee`, kind: 'branch', slot: slotFor(system, 'branch'), part: tee ?? null }
    : { id, kind: row.kind, slot: slotFor(system, row.kind), part };
  const here = { component: inLine.id };
  // the feed is long to the frame, the tap's tube long from its tee
  const before = kindRow(inLine.kind).chain === 'feed';
  const short = { id: `${id}:1`, tube: link.tube, lengthM: SHORT_M, riseM: 0 };
  const parted: Link[] = before
    ? [
        { ...link, to: { ...here, port: 'in' } },
        { ...short, from: { ...here, port: 'out' }, to: link.to },
      ]
    : [
        { ...short, from: link.from, to: { ...here, port: 'in' } },
        { ...link, from: { ...here, port: 'out' } },
      ];
  const side: Link[] = row.tee
    ? [{ id: `${id}:2`, from: { ...here, port: 'branch' }, to: { component: id, port: 'in' }, tube: link.tube, lengthM: SECOND_TAP_M, riseM: 0 }]
    : [];
  const after = before ? link.from.component : null;
  const components = system.components.flatMap((c) => {
    if (c.id === after) return [c, inLine];
    if (after !== null || c.id !== link.to.component) return [c];
    return row.tee ? [inLine, c, { id, kind: row.kind, slot: slotFor(system, row.kind), part }] : [inLine, c];
  });
  return { components, links: system.links.flatMap((l) => (l === link ? [...parted, ...side] : [l])) };
} // oxfmt-ignore

/** A system with everything it carries beside its sizing, in the order it was put in. */
export const withExtras = (system: System, extras: readonly Extra[]): System => extras.reduce(withExtra, system);
