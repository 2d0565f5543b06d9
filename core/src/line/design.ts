import { z } from 'zod';
import { partOf, type Catalogue } from '../shelf/parts.ts';

const id = z.string().min(1).max(80);

/** What is put in: the parts chosen for one system. The Line is built from it; nothing else lists parts. */
export const DesignSchema = z.object({
  elementId: id,
  restrictorId: id,
  tankId: id,
  pumpId: id.nullable(),
  limiterId: id.nullable(),
  mineralId: id.nullable(),
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
    design.limiterId,
    design.mineralId,
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
  return JSON.stringify(DesignSchema.parse(a)) === JSON.stringify(DesignSchema.parse(b));
}

/** The design in a few words: "Element 285, Tank 12 L, Booster pump, small". */
export function designInWords(design: Design, catalogue: Catalogue): string {
  const names = [
    partOf(catalogue, 'element', design.elementId).name,
    partOf(catalogue, 'tank', design.tankId).name,
    partOf(catalogue, 'restrictor', design.restrictorId).name,
  ];
  if (design.pumpId) names.push(partOf(catalogue, 'pump', design.pumpId).name);
  if (design.limiterId) names.push(partOf(catalogue, 'limiter', design.limiterId).name);
  if (design.mineralId) names.push(partOf(catalogue, 'mineral', design.mineralId).name);
  return names.join(', ');
}
