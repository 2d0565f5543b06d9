import { z } from 'zod';
import { FIELD_KEYS, fieldAccepts, type FieldKey } from '../gauge/fields.ts';
import { THING_KEYS, type CupboardThing } from '../gauge/place.ts';
import { PROOF_KEYS, proofAccepts, type ProofKey } from '../prove/fields.ts';

/**
 * What happened in a job, appended and never changed: a correction is a new fact that names the old one. Ids are made
 * where the fact is born, so that sending twice stores once.
 */
const common = {
  id: z.uuid(),
  jobId: z.uuid(),
  /** when it happened, on the clock of whoever did it */
  at: z.iso.datetime(),
  /** who did it */
  by: z.uuid(),
};
const note = z.string().max(2000).optional();
const instrument = z.string().max(80).optional();
const fieldKey = z.enum(FIELD_KEYS as [FieldKey, ...FieldKey[]]);
/** inside a cupboard */
const mm = z.number().min(0).max(3000);
const stepKey = z.string().min(1).max(60);

const proofReadings = z
  .partialRecord(
    z.enum(PROOF_KEYS as [ProofKey, ...ProofKey[]]),
    z.object({ value: z.number(), typed: z.string().max(60) }),
  )
  .superRefine((r, ctx) => {
    for (const [k, v] of Object.entries(r)) {
      if (!proofAccepts(k as ProofKey, v.value))
        ctx.addIssue({ code: 'custom', path: [k, 'value'], message: 'outside the range this reading can have' });
    }
  });

export const FactSchema = z
  .discriminatedUnion('kind', [
    z.object({
      ...common,
      kind: z.literal('reading'),
      field: fieldKey,
      /** in the field's base unit, or the chosen option; null takes the reading back */
      value: z.union([z.number(), z.string().max(60)]).nullable(),
      typed: z.string().max(60),
      instrument,
      /** where or when it was taken: "kitchen tap", "well tank", "at night" */
      place: z.string().max(60).optional(),
      note,
      corrects: z.uuid().optional(),
    }),
    z.object({
      ...common,
      kind: z.literal('use'),
      field: fieldKey,
      /** the reading in use of several; null leaves it to the newest */
      reading: z.uuid().nullable(),
      reason: z.string().max(300),
    }),
    z.object({
      ...common,
      kind: z.literal('dismiss'),
      /** a doubt that was looked at and does not hold here; '' as reason raises it again */
      doubt: z.string().min(1).max(60),
      reason: z.string().max(300),
    }),
    z.object({ ...common, kind: z.literal('tick'), step: stepKey, done: z.boolean(), note }),
    z.object({
      ...common,
      kind: z.literal('timer'),
      step: stepKey,
      action: z.enum(['start', 'stop']),
      minutes: z.number().min(0).max(3000),
    }),
    z.object({
      ...common,
      kind: z.literal('look'),
      round: stepKey,
      joint: z.number().int().min(1).max(200),
      result: z.enum(['dry', 'drip']),
      note,
    }),
    z.object({
      ...common,
      kind: z.literal('proof'),
      readings: proofReadings,
      instrument,
      note,
      grade: z.string().max(20).optional(),
    }),
    z.object({
      ...common,
      kind: z.literal('habits'),
      /** the household's day: minute, litres; an empty list takes it back */
      draws: z
        .array(z.object({ minute: z.number().int().min(0).max(1439), litres: z.number().min(0.05).max(60) }))
        .max(120),
    }),
    z.object({
      ...common,
      kind: z.literal('place'),
      /** what stands in the cupboard, and where; null takes it off the drawing */
      thing: z.enum(THING_KEYS as [CupboardThing, ...CupboardThing[]]),
      spot: z.object({ xMm: mm, yMm: mm, zMm: mm }).nullable(),
    }),
    z.object({
      ...common,
      kind: z.literal('visit'),
      reason: z.string().min(1).max(200),
      changed: z.array(z.string().min(1).max(60)).max(40),
      note,
    }),
    z.object({
      ...common,
      kind: z.literal('note'),
      text: z.string().min(1).max(2000),
      about: z.string().max(60).optional(),
    }),
    z.object({
      ...common,
      kind: z.literal('tube-colour'),
      branch: z.enum(['feed', 'product', 'tank', 'fridge', 'concentrate']),
      colour: z.string().max(40),
    }),
  ])
  .superRefine((f, ctx) => {
    if (f.kind === 'reading' && f.value !== null && !fieldAccepts(f.field, f.value))
      ctx.addIssue({ code: 'custom', path: ['value'], message: `not a value ${f.field} can have` });
  });
export type Fact = z.infer<typeof FactSchema>;
export type FactOf<K extends Fact['kind']> = Extract<Fact, { kind: K }>;
export type ReadingFact = FactOf<'reading'>;
