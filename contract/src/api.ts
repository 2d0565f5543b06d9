import { CatalogueSchema, DesignSchema, FactSchema, HouseRulesSchema, type JobSummary } from '@katharos/core';
import { z } from 'zod';

/** A stored text: trimmed, without the NUL that PostgreSQL cannot hold. */
const text = (max: number) =>
  z
    .string()
    .trim()
    .max(max)
    .refine((s) => !s.includes('\u0000'), 'contains a character that cannot be stored');

export const PersonSchema = z.object({ id: z.uuid(), name: z.string() });
export type Person = z.infer<typeof PersonSchema>;

/** A household as people edit it; `version` guards against overwriting another's edit. */
export const HouseholdEditSchema = z.object({
  name: text(120).min(1, 'Give the household a name.'),
  place: text(200),
  contact: text(200),
  notes: text(4000),
});
export type HouseholdEdit = z.infer<typeof HouseholdEditSchema>;
export const HouseholdSchema = HouseholdEditSchema.extend({ id: z.uuid(), version: z.number().int() });
export type Household = z.infer<typeof HouseholdSchema>;

export const NewHouseholdSchema = HouseholdEditSchema.extend({ id: z.uuid(), jobId: z.uuid(), by: z.uuid() });
export type NewHousehold = z.infer<typeof NewHouseholdSchema>;
export const PutHouseholdSchema = HouseholdEditSchema.extend({ version: z.number().int().min(0), by: z.uuid() });
export type PutHousehold = z.infer<typeof PutHouseholdSchema>;

/** Facts sent together; each is stored once however often it is sent. */
export const PostFactsSchema = z.object({ facts: z.array(FactSchema).min(1).max(500) });
export const StoredFactSchema = FactSchema.and(z.object({ recordedAt: z.iso.datetime() }));

/** An approved design: a version that is kept as built. */
export const NewDesignSchema = z.object({
  id: z.uuid(),
  /** number of the version this one follows; 0 for the first */
  basedOn: z.number().int().min(0),
  design: DesignSchema,
  /** what was decided and why, as it stood on the sheet */
  sentence: text(600),
  /** why, when it was taken against the advice */
  reason: text(600),
  coreVersion: text(40),
  at: z.iso.datetime(),
  by: z.uuid(),
});
export type NewDesign = z.infer<typeof NewDesignSchema>;
export const DesignVersionSchema = NewDesignSchema.omit({ basedOn: true }).extend({ number: z.number().int() });
export type DesignVersion = z.infer<typeof DesignVersionSchema>;

export const JobSchema = z.object({
  id: z.uuid(),
  household: HouseholdSchema,
  facts: z.array(FactSchema),
  designs: z.array(DesignVersionSchema),
});
export type Job = z.infer<typeof JobSchema>;

export const ShelfSchema = z.object({ parts: CatalogueSchema, rules: HouseRulesSchema, people: z.array(PersonSchema) });
export type Shelf = z.infer<typeof ShelfSchema>;

/** One line of the day's round. */
export interface RoundsEntry {
  readonly jobId: string;
  readonly household: Household;
  readonly summary: JobSummary;
}
