import * as z from 'zod';
import { text, uuid } from '../words/stored.ts';
import { FIELD_KEYS, fieldAccepts, type FieldKey, type Known } from '../gauge/fields.ts';
import type { Placed } from '../gauge/place.ts';
import { DesignSchema, type Design } from '../system/design.ts';
import { PROOF_KEYS, proofAccepts, plainReadings, type ProofKey, type ProofReadings } from '../prove/fields.ts';
import { CatalogueSchema, type Catalogue } from '../parts/catalogue.ts';
import { HouseRulesSchema, type HouseRules } from '../rules/rules.ts';
import { FactSchema, type Fact } from '../facts/facts.ts';
import type { Unreadable } from './lift.ts';
import { openJobDocuments } from './open.ts';
import { StoredHouseholdShape } from './household.ts';
import { readJob } from '../facts/record.ts';
import type { StandingDesign } from '../size/kinds/candidates.ts';
import { standingAmong } from './asBuilt.ts';
import { DesignVersionSchema, type DesignVersion } from './version.ts';

const HandReadings = z
  .partialRecord(z.enum(FIELD_KEYS as [FieldKey, ...FieldKey[]]), z.union([z.number(), text(60)]))
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

/** Photographs of a job, shrunk and without what the camera noted; facts of the kind `photo` say what each shows. */
const pictures = z
  .array(
    z.strictObject({
      id: uuid(),
      by: uuid(),
      base64: z
        .string()
        .min(16)
        .max(4_100_000)
        .regex(/^[A-Za-z0-9+/]+={0,2}$/, 'is not base64'),
    }),
  )
  .max(400)
  .default([]);

const household = z.strictObject({
  id: uuid(),
  ...StoredHouseholdShape,
});
const people = z
  .array(z.strictObject({ id: uuid(), name: text(120).min(1) }))
  .max(200)
  .default([]);
/** for files written by hand: readings, one proof's readings, a design to be judged; over what the facts say */
const byHand = { known: HandReadings.optional(), proof: HandProof.optional(), design: DesignSchema.optional() };
/** the firm's parts and rules, where they are not the ones at hand */
const shelf = { parts: CatalogueSchema.optional(), rules: HouseRulesSchema.optional() };

/** One job as a file, format 2: what the application keeps goes out and in exactly. */
export const JobFileSchema = z.strictObject({
  format: z.literal('katharos-job'),
  version: z.literal(2),
  household: household.optional(),
  jobId: uuid().optional(),
  people,
  facts: z.array(FactSchema).max(20000).default([]),
  designs: z.array(DesignVersionSchema).max(500).default([]),
  pictures,
  ...byHand,
  ...shelf,
});

/** A file of the first format: facts and designs are lifted as they are read. */
const FirstJobFileSchema = z.strictObject({
  format: z.literal('katharos-job'),
  version: z.literal(1),
  household: household.optional(),
  jobId: uuid().optional(),
  people,
  facts: z.array(z.unknown()).max(20000).default([]),
  designs: z.array(z.unknown()).max(500).default([]),
  ...byHand,
  ...shelf,
});

/** A job file of any format. */
export const AnyJobFileSchema = z.discriminatedUnion('version', [JobFileSchema, FirstJobFileSchema]);
export type AnyJobFile = z.infer<typeof AnyJobFileSchema>;

/** A job out of its file, in today's shape. */
export interface JobFile extends Omit<z.infer<typeof JobFileSchema>, 'designs' | 'facts'> {
  readonly designs: readonly DesignVersion[];
  readonly facts: readonly Fact[];
  readonly unreadable: readonly Unreadable[];
}

/** Brings a file of any format to today's. @param at the shelf where the file has none of its own */
export function liftJobFile(
  file: AnyJobFile,
  at: { readonly catalogue: Catalogue; readonly rules: HouseRules },
): JobFile {
  if (file.version === 2)
    return { ...file, designs: file.designs as unknown as readonly DesignVersion[], unreadable: [] };
  const opened = openJobDocuments(file.designs, file.facts, {
    catalogue: file.parts ?? at.catalogue,
    rules: file.rules ?? at.rules,
  });
  const { facts, designs, unreadable } = opened;
  return { ...file, version: 2, facts, designs, pictures: [], unreadable };
}

/** The job file's JSON Schema (draft 2020-12), for whoever writes one by hand or by another program. */
export function jobFileJsonSchema(): object {
  return z.toJSONSchema(JobFileSchema, { io: 'input', unrepresentable: 'any', reused: 'ref' });
}

/** What a job file amounts to. */
export interface OpenedJob {
  readonly known: Known;
  /** what stands in the cupboard already */
  readonly placed: Placed;
  readonly catalogue: Catalogue;
  readonly rules: HouseRules;
  /** named by hand; null leaves it to the approved one, or to the search */
  readonly design: Design | null;
  readonly approved: DesignVersion | null;
  /** what of the approved system a search would have chosen */
  readonly standing: StandingDesign | null;
  /** named by hand, or the last proof's */
  readonly proof: ProofReadings | null;
}

/** Reads a job out of its file. @param at parts and rules where the file has none of its own */
export function openJob(any: AnyJobFile, at: { readonly catalogue: Catalogue; readonly rules: HouseRules }): OpenedJob {
  const file = liftJobFile(any, at);
  const record = readJob(file.facts);
  const last = record.proofs.at(-1);
  return {
    known: { ...record.known, ...file.known },
    placed: record.placed,
    catalogue: file.parts ?? at.catalogue,
    rules: file.rules ?? at.rules,
    design: file.design ?? null,
    approved: file.designs.at(-1) ?? null,
    standing: standingAmong(file.designs, file.facts),
    proof: file.proof ?? (last ? plainReadings(last.readings) : null),
  };
}
