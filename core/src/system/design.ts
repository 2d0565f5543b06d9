import { z } from 'zod';
import { findPart, partOf, type Catalogue } from '../parts/catalogue.ts';

const id = z.string().min(1).max(80);

/** What is put in: the parts chosen for one system. The Line is built from it; nothing else lists parts. */
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

/** Parts a design names that the catalogue does not have (retired or renamed since). */
export function missingParts(design: Design, catalogue: Catalogue): string[] {
  const ids = [
    design.elementId,
    design.restrictorId,
    design.tankId,
    design.pumpId,
    design.permeatePumpId,
    design.limiterId,
    design.mineralId,
    design.lampId,
    design.ironId,
    design.deliveryPumpId,
    design.sedimentId,
    ...design.carbonIds,
    design.polishId,
    design.shutOffId,
    design.nonReturnId,
    design.feedId,
    design.drainId,
    design.tapId,
    design.tubeId,
  ];
  const have = new Set(catalogue.map((p) => p.id));
  return ids.filter((x): x is string => x !== null && !have.has(x));
}

/** Whether two designs are the same parts. */
export function sameDesign(a: Design, b: Design): boolean {
  return KEYS.every((k) => (k === 'carbonIds' ? a[k].join() === b[k].join() : a[k] === b[k]));
}
const KEYS = Object.keys(DesignSchema.shape) as (keyof Design)[];

/** "Element 190", or "2 x Element 190" where there are more. */
export function elementInWords(design: Pick<Design, 'elementId' | 'elementCount'>, catalogue: Catalogue): string {
  const name = partOf(catalogue, 'element', design.elementId).name;
  return design.elementCount === 1 ? name : `${String(design.elementCount)} × ${name}`;
}

/** The design in a few words: "Element 285, Tank 12 L, Booster pump, small". */
export function designInWords(design: Design, catalogue: Catalogue): string {
  const names = [
    elementInWords(design, catalogue),
    design.tankId === null ? 'no tank' : partOf(catalogue, 'tank', design.tankId).name,
    partOf(catalogue, 'restrictor', design.restrictorId).name,
  ];
  if (design.pumpId) names.push(partOf(catalogue, 'pump', design.pumpId).name);
  if (design.permeatePumpId) names.push(partOf(catalogue, 'permeate-pump', design.permeatePumpId).name);
  if (design.limiterId) names.push(partOf(catalogue, 'limiter', design.limiterId).name);
  if (design.ironId) names.push(partOf(catalogue, 'iron', design.ironId).name);
  if (design.mineralId) names.push(partOf(catalogue, 'mineral', design.mineralId).name);
  if (design.lampId) names.push(partOf(catalogue, 'lamp', design.lampId).name);
  if (design.deliveryPumpId) names.push(partOf(catalogue, 'delivery-pump', design.deliveryPumpId).name);
  return names.join(', ');
}

/** One part of a design against another's. */
export interface DesignDifference {
  readonly what: string;
  readonly from: string;
  readonly to: string;
}

const PART_WORDS = {
  elementId: 'element',
  restrictorId: 'restrictor',
  tankId: 'tank',
  pumpId: 'booster pump',
  permeatePumpId: 'permeate pump',
  limiterId: 'limiting valve',
  mineralId: 'minerals',
  lampId: 'lamp',
  ironId: 'iron cartridge',
  deliveryPumpId: 'delivery pump',
  sedimentId: 'sediment cartridge',
  polishId: 'polishing carbon',
  shutOffId: 'shut-off',
  nonReturnId: 'non-return valve',
  feedId: 'feed connection',
  drainId: 'drain',
  tapId: 'tap',
  tubeId: 'tube',
} as const satisfies Partial<Record<keyof Design, string>>;

/** What differs between two designs, in the trade's words; empty where they are the same parts. */
export function designDifferences(from: Design, to: Design, catalogue: Catalogue): DesignDifference[] {
  const name = (id: string | null): string => (id === null ? 'none' : (findPart(catalogue, id)?.name ?? id));
  const out: DesignDifference[] = [];
  const put = (what: string, a: string, b: string): void => {
    if (a !== b) out.push({ what, from: a, to: b });
  };
  for (const [key, what] of Object.entries(PART_WORDS) as [keyof typeof PART_WORDS, string][])
    put(what, name(from[key]), name(to[key]));
  put('elements', String(from.elementCount), String(to.elementCount));
  put('carbon', from.carbonIds.map(name).join(', '), to.carbonIds.map(name).join(', '));
  put('fridge branch', from.fridge ? 'yes' : 'no', to.fridge ? 'yes' : 'no');
  put('leak valve', from.leakValve ? 'yes' : 'no', to.leakValve ? 'yes' : 'no');
  return out;
}
