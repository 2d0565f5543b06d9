import { z } from 'zod';
import { FIELD_KEYS, fieldAccepts, type FieldKey, type Known } from '../gauge/fields.ts';
import { DesignSchema, type Design } from '../system/design.ts';
import { PROOF_KEYS, proofAccepts, plainReadings, type ProofKey, type ProofReadings } from '../prove/fields.ts';
import { CatalogueSchema, type Catalogue } from '../parts/catalogue.ts';
import { HouseRulesSchema, type HouseRules } from '../rules/rules.ts';
import { FactSchema } from './facts.ts';
import { readJob } from './record.ts';

/** A stored text: without the NUL that no database holds. */
const text = (max: number) =>
  z
    .string()
    .max(max)
    .refine((s) => !s.includes('\u0000'), 'contains a character that cannot be stored');

/** A design somebody approved, kept as it was. */
export const DesignVersionSchema = z.object({
  id: z.uuid(),
  number: z.number().int().min(1),
  design: DesignSchema,
  /** what was decided and why, as it stood on the sheet */
  sentence: text(600),
  /** why, when it was taken against the advice */
  reason: text(600),
  coreVersion: text(40),
  at: z.iso.datetime(),
  by: z.uuid(),
});
export type DesignVersion = z.infer<typeof DesignVersionSchema>;

const HandReadings = z
  .partialRecord(z.enum(FIELD_KEYS as [FieldKey, ...FieldKey[]]), z.union([z.number(), z.string().max(60)]))
  .superRefine((r, ctx) => {
    for (const [k, v] of Object.entries(r))
      if (!fieldAccepts(k as FieldKey, v))
        ctx.addIssue({ code: 'custom', path: [k], message: `not a value ${k} can have` });
  });
const HandProof = z.partialRecord(z.enum(PROOF_KEYS as [ProofKey, ...ProofKey[]]), z.number()).superRefine((r, ctx) => {
  for (const [k, v] of Object.entries(r))
    if (!proofAccepts(k as ProofKey, v))
      ctx.addIssue({ code: 'custom', path: [k], message: `not a value ${k} can have` });
});

/**
 * One job as a file, format 1. What the application keeps (household, people, facts, designs) goes out and in exactly;
 * `known`, `proof` and `design` are for files written by hand, and stand over what the facts say.
 */
export const JobFileSchema = z.strictObject({
  format: z.literal('katharos-job'),
  version: z.literal(1),
  household: z
    .strictObject({
      id: z.uuid(),
      name: text(120).min(1),
      place: text(200),
      contact: text(200),
      notes: text(4000),
    })
    .optional(),
  jobId: z.uuid().optional(),
  people: z
    .array(z.strictObject({ id: z.uuid(), name: text(120).min(1) }))
    .max(200)
    .default([]),
  facts: z.array(FactSchema).max(20000).default([]),
  designs: z.array(DesignVersionSchema).max(500).default([]),
  /** readings by hand, in base units */
  known: HandReadings.optional(),
  /** one proof's readings by hand, in base units */
  proof: HandProof.optional(),
  /** a design to be judged instead of the approved or the recommended one */
  design: DesignSchema.optional(),
  /** the firm's parts and rules, where they are not the ones at hand */
  parts: CatalogueSchema.optional(),
  rules: HouseRulesSchema.optional(),
});
export type JobFile = z.infer<typeof JobFileSchema>;

/** The job file's JSON Schema (draft 2020-12), for whoever writes one by hand or by another program. */
export function jobFileJsonSchema(): object {
  return z.toJSONSchema(JobFileSchema, { io: 'input', unrepresentable: 'any' });
}

/** What a job file amounts to. */
export interface OpenedJob {
  readonly known: Known;
  readonly catalogue: Catalogue;
  readonly rules: HouseRules;
  /** named by hand, or the last one approved */
  readonly design: Design | null;
  /** named by hand, or the last proof's */
  readonly proof: ProofReadings | null;
}

/** Reads a job out of its file. @param shelf parts and rules where the file has none of its own */
export function openJob(
  file: JobFile,
  shelf: { readonly catalogue: Catalogue; readonly rules: HouseRules },
): OpenedJob {
  const record = readJob(file.facts);
  const last = record.proofs.at(-1);
  return {
    known: { ...record.known, ...(file.known as Known | undefined) },
    catalogue: file.parts ?? shelf.catalogue,
    rules: file.rules ?? shelf.rules,
    design: file.design ?? file.designs.at(-1)?.design ?? null,
    proof: (file.proof as ProofReadings | undefined) ?? (last ? plainReadings(last.readings) : null),
  };
}
