import * as z from 'zod';
import { text } from '../words/stored.ts';
import { findPart, partOf, partsOf, type Catalogue, type PartKind } from '../parts/catalogue.ts';
import { kindRow, type KindName } from '../parts/kinds.ts';
import { tubesToStore, type Choice, type Picked } from './build.ts';
import { toldApartAs } from './system.ts';

const id = text(80).min(1);

/** A choice as the search makes it: a part's id for each place. A system is built from it; nothing else reads its places. */
export const DesignSchema = z.object({
  elementId: id,
  /** elements one after the other on the concentrate */
  elementCount: z.number().int().min(1).max(3).default(1),
  restrictorId: id,
  /** null where water is made while it is drawn */
  tankId: id.nullable(),
  pumpId: id.nullable(),
  permeatePumpId: id.nullable().default(null),
  limiterId: id.nullable(),
  mineralId: id.nullable(),
  /** ultraviolet, last before the tap */
  lampId: id.nullable().default(null),
  /** iron cartridge before the carbon */
  ironId: id.nullable().default(null),
  /** lifts the product to a fridge whose valve wants more than the tank gives */
  deliveryPumpId: id.nullable().default(null),
  /** heats and cools on a branch of its own */
  dispenserId: id.nullable().default(null),
  /** against backflow, where the local code asks for it */
  backflowId: id.nullable().default(null),
  sedimentId: id,
  carbonIds: z.array(id).min(1).max(3),
  polishId: id,
  shutOffId: id,
  nonReturnId: id,
  feedId: id,
  drainId: id,
  tapId: id,
  tubeId: id,
  fridge: z.boolean(),
  leakValve: z.boolean(),
});
export type Design = z.infer<typeof DesignSchema>;

/** The kinds of a design's places, in the order their differences are told. */
const PLACES: readonly (readonly [keyof Design, KindName])[] = [
  ['elementId', 'membrane'],
  ['restrictorId', 'restrictor'],
  ['tankId', 'tank'],
  ['pumpId', 'pump'],
  ['permeatePumpId', 'permeate-pump'],
  ['limiterId', 'limiter'],
  ['mineralId', 'mineral'],
  ['lampId', 'lamp'],
  ['ironId', 'iron'],
  ['deliveryPumpId', 'delivery-pump'],
  ['dispenserId', 'dispenser'],
  ['sedimentId', 'sediment'],
  ['carbonIds', 'carbon'],
  ['polishId', 'polish'],
  ['shutOffId', 'shut-off'],
  ['nonReturnId', 'non-return'],
  ['feedId', 'feed'],
  ['backflowId', 'backflow'],
  ['drainId', 'drain'],
  ['tapId', 'tap'],
];

/** Every part a design asks for, with its kind, the tube last. */
export function partsAsked(design: Design): { readonly kind: KindName | 'tube'; readonly id: string }[] {
  const places = PLACES.flatMap(([place, kind]) => {
    const asked = design[place];
    const ids = Array.isArray(asked) ? asked : typeof asked === 'string' ? [asked] : [];
    const times = kind === 'membrane' ? design.elementCount : 1;
    return Array.from({ length: times }, () => ids).flatMap((all) => all.map((id) => ({ kind, id })));
  });
  return [...places, { kind: 'tube', id: design.tubeId }];
}

/** Parts a design names that the catalogue does not have, or has as another kind. */
export function missingParts(design: Design, catalogue: Catalogue): string[] {
  const wrong = partsAsked(design).filter(({ kind, id: part }) => {
    const wanted: PartKind | null = kind === 'tube' ? 'tube' : kindRow(kind).partKind;
    return findPart(catalogue, part)?.kind !== wanted;
  });
  return [...new Set(wrong.map((w) => w.id))];
}

/** A design as a choice of parts. @throws RangeError when it names a part the catalogue lacks (see `missingParts`) */
export function choiceOf(design: Design, catalogue: Catalogue): Choice {
  const [gone] = missingParts(design, catalogue);
  if (gone !== undefined) throw new RangeError(`the catalogue has no "${gone}"`);
  const picks = partsAsked(design).flatMap(({ kind, id: part }): Picked[] => {
    // a pump's switch stops the water where a valve would
    if (kind === 'tube' || (kind === 'shut-off' && design.pumpId !== null)) return [];
    return [{ kind, part: findPart(catalogue, part) ?? null }];
  });
  const [leak] = partsOf(catalogue, 'leak-valve');
  if (design.fridge) picks.push({ kind: 'fridge', part: null });
  if (design.leakValve && leak) picks.push({ kind: 'leak-valve', part: leak });
  const tube = partOf(catalogue, 'tube', design.tubeId);
  return { picks, ...(design.tankId === null ? { tube } : tubesToStore(tube, catalogue)) };
}

/** Whether two designs are the same parts. */
export function sameDesign(a: Design, b: Design): boolean {
  return KEYS.every((k) => (k === 'carbonIds' ? a[k].join() === b[k].join() : a[k] === b[k]));
}
const KEYS = Object.keys(DesignSchema.shape) as (keyof Design)[];

/** What makes a design another kind of system rather than another size of the same: store, drive, what follows the store. */
const OF_KIND = ['pumpId', 'permeatePumpId', 'deliveryPumpId', 'mineralId', 'lampId', 'dispenserId'] as const;

/** Whether two designs are of one kind, and differ in their trim only: which element, restrictor, tank, size of pump. */
export function sameKind(a: Design, b: Design): boolean {
  const has = (v: string | null): boolean => v !== null;
  return has(a.tankId) === has(b.tankId) && OF_KIND.every((k) => has(a[k]) === has(b[k]));
}

/** A design's store and drive in words: "a tank with a permeate pump". */
export function kindInWords(d: Design): string {
  const drive =
    d.pumpId !== null ? 'with a booster pump' : d.permeatePumpId !== null ? 'with a permeate pump' : 'without a pump';
  return `${d.tankId === null ? 'no tank' : 'a tank'} ${drive}`;
}

/** "Element 190", or "2 x Element 190" where there are more. */
export function elementInWords(design: Pick<Design, 'elementId' | 'elementCount'>, catalogue: Catalogue): string {
  const name = partOf(catalogue, 'element', design.elementId).name;
  return design.elementCount === 1 ? name : `${String(design.elementCount)} × ${name}`;
}

/** Places whose parts name a design, in the order people say them. */
const NAMING: readonly KindName[] = [
  'membrane',
  'tank',
  'restrictor',
  'pump',
  'permeate-pump',
  'limiter',
  'iron',
  'mineral',
  'lamp',
  'delivery-pump',
  'dispenser',
];

/** The design in a few words: "Element 285, Tank 12 L, Booster pump, small". */
export function designInWords(design: Design, catalogue: Catalogue): string {
  const asked = partsAsked(design);
  const name = (id: string): string => findPart(catalogue, id)?.name ?? id;
  return NAMING.flatMap((kind) => {
    const first = asked.find((a) => a.kind === kind);
    if (kind === 'tank' && !first) return ['no tank'];
    if (!first) return [];
    return [
      kind === 'membrane' && design.elementCount > 1
        ? `${String(design.elementCount)} × ${name(first.id)}`
        : name(first.id),
    ];
  }).join(', ');
}

/**
 * What a design puts in, as a sentence says it: "element 190, an 8 L tank and a booster pump".
 * @param store what stands in the place of its tank, if anything does
 */
export function designInSentence(design: Design, catalogue: Catalogue, store: readonly string[] = []): string {
  const tank = design.tankId === null ? null : partOf(catalogue, 'tank', design.tankId).name;
  const element = partOf(catalogue, 'element', design.elementId).name;
  const parts = [
    `${design.elementCount === 1 ? '' : `${String(design.elementCount)} × `}${element.replace(/^Element/, 'element').replace(/, (.*)$/, ' ($1)')}`,
    ...(tank === null ? store : [withArticle(`${tank.replace(/^Tank /, '').replace(', slim', ' slim')} tank`)]),
    ...(design.pumpId === null ? [] : ['a booster pump']),
    ...(design.permeatePumpId === null ? [] : ['a permeate pump']),
    ...(design.limiterId === null ? [] : ['a limiting valve']),
    ...(design.ironId === null ? [] : ['an iron cartridge']),
    ...(design.mineralId === null ? [] : [tank === null ? 'minerals' : 'minerals after the tank']),
    ...(design.lampId === null ? [] : ['an ultraviolet lamp']),
    ...(design.deliveryPumpId === null ? [] : [`a delivery pump for the ${design.fridge ? 'fridge' : 'dispenser'}`]),
    ...(design.dispenserId === null ? [] : ['a branch to a dispenser']),
  ];
  return parts.length === 1 ? (parts[0] ?? '') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1) ?? ''}`;
}

/** "an 8 L tank", "a 12 L tank". */
export const withArticle = (words: string): string => `${/^(8|11|18)/.test(words) ? 'an' : 'a'} ${words}`;

/** One part of a design against another's. */
export interface DesignDifference {
  readonly what: string;
  readonly from: string;
  readonly to: string;
}

/** What differs between two designs, in the trade's words; empty where they are the same parts. */
export function designDifferences(from: Design, to: Design, catalogue: Catalogue): DesignDifference[] {
  const words = (design: Design, kind: KindName | 'tube'): string => {
    const names = partsAsked(design).flatMap((a) => (a.kind === kind ? [findPart(catalogue, a.id)?.name ?? a.id] : []));
    if (names.length === 0) return 'none';
    return kind === 'membrane' && names.length > 1 ? `${String(names.length)} × ${names[0] ?? ''}` : names.join(', ');
  };
  const kinds: readonly (KindName | 'tube')[] = [...PLACES.map(([, kind]) => kind), 'tube'];
  const out = kinds.map((kind) => ({
    what: kind === 'tube' ? 'tube' : toldApartAs(kind),
    from: words(from, kind),
    to: words(to, kind),
  }));
  const yes = (is: boolean): string => (is ? 'yes' : 'no');
  out.push({ what: 'fridge branch', from: yes(from.fridge), to: yes(to.fridge) });
  out.push({ what: 'leak valve', from: yes(from.leakValve), to: yes(to.leakValve) });
  return out.filter((d) => d.from !== d.to);
}
