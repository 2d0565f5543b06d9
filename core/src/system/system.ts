import { BRANCH_OF, kindRow, type Branch, type Work } from '../parts/kinds.ts';
import type { JointKind, Part, PartKind, PartOf, Port } from '../parts/catalogue.ts';

/** One thing that stands in a system. Its id lasts as long as the thing does, through every version. */
export interface Component {
  readonly id: string;
  /** a row of the kinds' table */
  readonly kind: string;
  /** what people call it here: "carbon 2"; words, never an address */
  readonly slot: string;
  /** the catalogue's part as it was when it was chosen; null for what the house already has */
  readonly part: Part | null;
  /** the housing it stands in */
  readonly housing?: Part | undefined;
  /** what really went in */
  readonly unit?: { readonly serial: string; readonly at: string } | undefined;
}

/** A port of a component: what a joint is named by. */
export interface PortRef {
  readonly component: string;
  readonly port: Port['name'];
}

/** A run of tube between two ports, or a part screwed straight onto another. */
export interface Link {
  readonly id: string;
  readonly from: PortRef;
  readonly to: PortRef;
  /** null where the two are screwed together */
  readonly tube: PartOf<'tube'> | null;
  /** cut length with slack to pull the unit out where it needs it, m */
  readonly lengthM: number;
  /** from its beginning to its end, m, positive upward */
  readonly riseM: number;
}

/** THE system: what it is made of, in the order the water meets it, and how that is joined. */
export interface System {
  readonly components: readonly Component[];
  readonly links: readonly Link[];
}

/** The name of a joint: the port it is made at. */
export const jointId = (p: PortRef): string => `${p.component}.${p.port}`;

/** A joint of a system, numbered along the water for a paper; the number is no name. */
export interface Joint {
  readonly id: string;
  readonly number: number;
  readonly component: Component;
  readonly port: Port['name'];
  readonly kind: JointKind;
  readonly size: string;
  /** its link's number on the sheet of tubes; null where no tube comes to it */
  readonly tube: number | null;
  readonly branch: Branch;
}

/** A tube with its number on the sheet. */
export interface Tube {
  readonly id: string;
  readonly number: number;
  readonly branch: Branch;
  readonly from: Component;
  readonly to: Component;
  readonly boreMm: number;
  readonly part: PartOf<'tube'>;
  readonly lengthM: number;
  readonly riseM: number;
}

/** What is looked up in a system again and again, made once for each: a pure function's memory. */
interface Index {
  readonly byId: ReadonlyMap<string, Component>;
  readonly joints: readonly Joint[];
  readonly tubes: readonly Tube[];
}
const indexes = new WeakMap<System, Index>();

function indexOf(system: System): Index {
  const known = indexes.get(system);
  if (known) return known;
  const byId = new Map(system.components.map((c) => [c.id, c]));
  const tubes: Tube[] = [];
  const joints: Joint[] = [];
  const joint = (ref: PortRef, tube: number | null, branch: Branch): void => {
    const component = byId.get(ref.component);
    if (!component) return;
    const port = portsOf(component).find((p) => p.name === ref.port);
    if (!port) return;
    const { joint: kind, size } = port;
    joints.push({ id: jointId(ref), number: joints.length + 1, component, port: ref.port, kind, size, tube, branch });
  };
  for (const link of system.links) {
    const from = byId.get(link.from.component);
    const to = byId.get(link.to.component);
    if (!from || !to) continue;
    const branch = branchOfLink(from, to, link);
    if (!link.tube) {
      // screwed together: one joint, told at what is screwed on
      joint(link.to, null, branch);
      continue;
    }
    const number = tubes.length + 1;
    const { boreMm } = link.tube;
    tubes.push({
      id: link.id,
      number,
      branch,
      from,
      to,
      boreMm,
      part: link.tube,
      lengthM: link.lengthM,
      riseM: link.riseM,
    });
    joint(link.from, number, branch);
    joint(link.to, number, branch);
  }
  const made = { byId, joints, tubes };
  indexes.set(system, made);
  return made;
}

/** Whose water a link carries: that of the path its end stands on; from a membrane's drain port the concentrate's. */
function branchOfLink(from: Component, to: Component, link: Link): Branch {
  const end = kindRow(to.kind);
  if (link.to.port === 'drain' || link.to.port === 'drain-in') return 'concentrate';
  if (link.to.port === 'product-in' || link.from.port === 'product-out') return 'product';
  if (end.chain === 'stands') return 'feed';
  return kindRow(from.kind).chain === 'concentrate' ? 'concentrate' : BRANCH_OF[end.chain];
}

/** The branch a component is drawn on. */
export function branchOf(c: Component): Branch {
  const { chain } = kindRow(c.kind);
  return chain === 'stands' ? 'feed' : BRANCH_OF[chain];
}

/** The ports of a component: of the housing it stands in, or its own. */
export function portsOf(c: Component): readonly Port[] {
  return c.housing ? c.housing.ports : kindRow(c.kind).ports(c.part);
}

/** A component by id; undefined where the system has none. */
export const componentOf = (system: System, id: string): Component | undefined => indexOf(system).byId.get(id);

/** All components of a kind, along the water. */
export const ofKind = (system: System, kind: string): Component[] => system.components.filter((c) => c.kind === kind);

/** All components that do a work. */
export const ofWork = (system: System, work: Work): Component[] =>
  system.components.filter((c) => kindRow(c.kind).work === work);

/** The first part of a kind of the catalogue in a system; undefined for none. */
export function partIn<K extends PartKind>(system: System, kind: K): PartOf<K> | undefined {
  return system.components.find((c) => c.part?.kind === kind)?.part as PartOf<K> | undefined;
}

/** What the water meets, in its order: without what only stands there. */
export const alongTheWater = (system: System): Component[] =>
  system.components.filter((c) => kindRow(c.kind).chain !== 'stands');

/** Every joint, numbered along the water. */
export const jointsOf = (system: System): readonly Joint[] => indexOf(system).joints;

/** Every tube, numbered along the water. */
export const tubesOf = (system: System): readonly Tube[] => indexOf(system).tubes;

/** The system in a few words: "Element 285, Tank 12 L, Restrictor 430, capillary". */
export function systemInWords(system: System): string {
  const words: string[] = [];
  const counted = new Map<string, number>();
  // filters alone are known by what of them wears
  const bare = ofWork(system, 'separates').length === 0;
  for (const c of system.components)
    if (c.part && (kindRow(c.kind).inWords === true || (bare && kindRow(c.kind).wear !== undefined)))
      counted.set(c.part.name, (counted.get(c.part.name) ?? 0) + 1);
  for (const [name, n] of counted) words.push(n === 1 ? name : `${String(n)} × ${name}`);
  if (ofWork(system, 'separates').length > 0 && ofWork(system, 'stores').length === 0) words.push('no tank');
  return words.join(', ');
}

/** Whether two systems are made of the same parts. */
export const sameParts = (a: System, b: System): boolean => systemDifferences(a, b).length === 0;

/** One kind of a system against another's. */
export interface SystemDifference {
  readonly what: string;
  readonly from: string;
  readonly to: string;
}

/** Kinds whose label alone would say too little where two systems are told apart. */
const SAID: Readonly<Record<string, string>> = {
  membrane: 'element',
  pump: 'booster pump',
  iron: 'iron cartridge',
  sediment: 'sediment cartridge',
  polish: 'polishing carbon',
  feed: 'feed connection',
};
/** What a kind is called where two systems are told apart. */
export const toldApartAs = (kind: string): string => SAID[kind] ?? kindRow(kind).label;

/** What differs between two systems' parts, by kind; empty where they are the same. */
export function systemDifferences(from: System, to: System): SystemDifference[] {
  const words = (s: System, kind: string): string => {
    const all = ofKind(s, kind);
    const names = all.map((c) => c.part?.name ?? 'yes');
    if (names.length === 0) return 'none';
    const alike = new Set(names).size === 1 && names.length > 1;
    return alike ? `${String(names.length)} × ${names[0] ?? ''}` : names.join(', ');
  };
  const kinds = [...new Set([...from.components, ...to.components].map((c) => c.kind))];
  const told = kinds.filter((k) => kindRow(k).partKind !== null || kindRow(k).work === 'opens');
  return told
    .map((k) => ({ what: toldApartAs(k), from: words(from, k), to: words(to, k) }))
    .filter((d) => d.from !== d.to);
}
