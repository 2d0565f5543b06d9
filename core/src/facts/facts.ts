import * as z from 'zod';
import {
  EXTRA_NAMES,
  MOST_SHEET_LETTERS,
  MOST_SHEET_LINES,
  moment,
  STOCK_PLACES,
  text,
  uuid,
} from '../words/stored.ts';
import { FIELD_KEYS, fieldAccepts, type FieldKey } from '../gauge/fields.ts';
import { THING_KEYS, type CupboardThing } from '../gauge/place.ts';
import { PartSchema } from '../parts/catalogue.ts';
import { PROOF_KEYS, proofAccepts, type ProofKey } from '../prove/fields.ts';
import { COMPLAINT_KEYS, type Complaint } from '../prove/complaint.ts';
import { CHECK_KEYS, type CheckKey } from '../prove/checks.ts';
import { HAPPENINGS } from './happening.ts';
import { FINDINGS, SAMPLED_WATERS, SOUGHT } from './sample.ts';
import { StepSchema } from './step.ts';
import { KeptVerdictSchema } from '../prove/kept.ts';

/** Version of the facts that are written today; older ones are lifted when they are read. */
export const FACT_VERSION = 2;

/**
 * What happened in a job, appended and never changed: a correction is a new fact of any kind that names the old one. Ids are
 * made where the fact is born, so that sending twice stores once. What concerns a system names the design's version and the
 * component, port or link by its own id, never by its place in a list.
 */
const common = {
  v: z.literal(FACT_VERSION),
  id: uuid(),
  jobId: uuid(),
  /** when it happened, on the clock of whoever did it */
  at: moment(),
  /** who did it */
  by: uuid(),
  /** the fact it stands for, which no longer counts */
  corrects: uuid().optional(),
};
const note = text(2000).optional();
/** name of the instrument as it was called then, and which one it was */
const instrument = { instrument: text(80).optional(), instrumentId: uuid().optional() };
/** the design's version it belongs to; none for what was recorded before any was approved */
const design = uuid().optional();
const component = text(80).min(1);
const jointName = text(100).min(3);
const fieldKey = z.enum(FIELD_KEYS as [FieldKey, ...FieldKey[]]);
/** inside a cupboard: middle from the left and from the back wall, underside above the floor */
const mm = z.number().min(0).max(3000);
const spot = z.object({ xMm: mm, yMm: mm, zMm: mm }).nullable();
const side = z.number().min(10).max(3000);
const body = z.object({ widthMm: side, depthMm: side, heightMm: side });
const stepKey = text(120).min(1);
const minute = z.number().int().min(0).max(1440);

const proofReadings = z
  .partialRecord(z.enum(PROOF_KEYS as [ProofKey, ...ProofKey[]]), z.object({ value: z.number(), typed: text(60) }))
  .superRefine((r, ctx) => {
    for (const [k, v] of Object.entries(r)) {
      if (!proofAccepts(k as ProofKey, v.value))
        ctx.addIssue({ code: 'custom', path: [k, 'value'], message: 'outside the range this reading can have' });
    }
  });

/** Each kind of fact, by its name. */
const FACTS = {
  reading: z.object({
    ...common,
    kind: z.literal('reading'),
    field: fieldKey,
    /** in the field's base unit, or the chosen option; null takes the reading back */
    value: z.union([z.number(), text(60)]).nullable(),
    typed: text(60),
    ...instrument,
    /** where or when it was taken: "kitchen tap", "well tank", "at night" */
    place: text(60).optional(),
    note,
  }),
  use: z.object({
    ...common,
    kind: z.literal('use'),
    field: fieldKey,
    /** the reading in use of several; null leaves it to the newest */
    reading: uuid().nullable(),
    reason: text(300),
  }),
  dismiss: z.object({
    ...common,
    kind: z.literal('dismiss'),
    /** a doubt that was looked at and does not hold here; '' as reason raises it again */
    doubt: text(60).min(1),
    reason: text(300),
  }),
  tick: z.object({
    ...common,
    kind: z.literal('tick'),
    design,
    step: stepKey,
    done: z.boolean(),
    /** what the step asks to be read, in the unit it names */
    read: z.number().min(0).max(100000).optional(),
    note,
  }),
  timer: z.object({
    ...common,
    kind: z.literal('timer'),
    design,
    step: stepKey,
    action: z.enum(['start', 'stop']),
    minutes: z.number().min(0).max(3000),
    /** when it began, where that is said afterwards */
    startedAt: moment().optional(),
  }),
  look: z.object({
    ...common,
    kind: z.literal('look'),
    design,
    round: stepKey,
    joint: jointName,
    result: z.enum(['dry', 'drip']),
    note,
  }),
  proof: z.object({
    ...common,
    kind: z.literal('proof'),
    design,
    readings: proofReadings,
    ...instrument,
    note,
    /** what was expected then, and the verdict: kept as it was given */
    judged: KeptVerdictSchema.optional(),
    /** what was tried beside the readings */
    checks: z.partialRecord(z.enum(CHECK_KEYS as [CheckKey, ...CheckKey[]]), z.enum(['works', 'fails'])).optional(),
    /** a repair: the proof it was found by, and what was done before this one was read */
    mended: z.object({ proof: uuid(), done: text(400).min(1) }).optional(),
  }),
  habits: z.object({
    ...common,
    kind: z.literal('habits'),
    /** the household's day: minute, litres; an empty list takes it back */
    draws: z
      .array(z.object({ minute: z.number().int().min(0).max(1439), litres: z.number().min(0.05).max(60) }))
      .max(120),
  }),
  place: z.object({
    ...common,
    kind: z.literal('place'),
    /** what stands in the cupboard, and where; null takes it off the drawing */
    thing: z.enum(THING_KEYS as [CupboardThing, ...CupboardThing[]]),
    spot,
    /** what it takes up, where it was measured; a common one's size if left out */
    body: body.optional(),
  }),
  visit: z.object({
    ...common,
    kind: z.literal('visit'),
    design,
    /** when it is, or was; the fact's own time where it is left out */
    on: moment().optional(),
    reason: text(200).min(1),
    changed: z.array(component).max(40),
    /** what one to come is to change, nothing where it only looks; one that was made has none */
    toChange: z.array(component).max(40).optional(),
    /** the change it closes */
    change: uuid().optional(),
    /** who goes there; anybody where it is left out */
    fitter: uuid().optional(),
    /** somebody is at home between, minutes from midnight */
    between: z.object({ fromMin: minute, untilMin: minute }).optional(),
    /** its moment was agreed with the household, not only its day */
    agreed: z.boolean().optional(),
    note,
  }),
  change: z.object({
    ...common,
    kind: z.literal('change'),
    design: uuid(),
    reason: text(200).min(1),
    /** what is to be changed on this visit, and its run sheet as it was made for it */
    components: z.array(component).max(40),
    sheet: z.array(StepSchema).min(1).max(120),
    /** the visit that was planned, and is made now */
    planned: uuid().optional(),
    /** it takes the whole system out, for good */
    takesOut: z.literal(true).optional(),
  }),
  call: z.object({
    ...common,
    kind: z.literal('call'),
    design,
    /** what they complain of, and in their own words */
    complaint: z.enum(COMPLAINT_KEYS as [Complaint, ...Complaint[]]),
    words: text(600),
  }),
  happened: z.object({
    ...common,
    kind: z.literal('happened'),
    event: z.enum(HAPPENINGS),
    /** when, or from when on; the fact's own time where it is left out */
    from: moment().optional(),
    until: moment().optional(),
    words: text(600),
  }),
  fitted: z.object({
    ...common,
    kind: z.literal('fitted'),
    design: uuid(),
    /** what really went in, where it is another part than planned, or has a serial or batch */
    component,
    part: PartSchema,
    serial: text(80),
  }),
  billed: z.object({
    ...common,
    kind: z.literal('billed'),
    /** the visit it is for, and the time that is put on its bill */
    visit: uuid(),
    minutes: z.number().min(0).max(3000),
    travelMin: z.number().min(0).max(1000),
  }),
  'came-out': z.object({
    ...common,
    kind: z.literal('came-out'),
    design: uuid(),
    /** how what was changed looked as it came out: much left in it, as it should by then, or spent before its time */
    component,
    state: z.enum(['fresh', 'as-due', 'spent']),
    note,
  }),
  sampled: z.object({
    ...common,
    kind: z.literal('sampled'),
    /** a sample that went to a laboratory: of which water, for what, and on which day */
    water: z.enum(SAMPLED_WATERS),
    sought: z.enum(SOUGHT),
    on: moment().optional(),
    /** which laboratory, its number */
    words: text(300),
  }),
  answered: z.object({
    ...common,
    kind: z.literal('answered'),
    /** the sample, by its own fact or by the step it was taken in */
    sample: uuid(),
    finding: z.enum(FINDINGS),
    words: text(600),
  }),
  handed: z.object({
    ...common,
    kind: z.literal('handed'),
    design,
    /** a sheet the household was given, word for word */
    title: text(120).min(1),
    lines: z.array(text(MOST_SHEET_LETTERS)).min(1).max(MOST_SHEET_LINES),
  }),
  carries: z.object({
    ...common,
    kind: z.literal('carries'),
    design: uuid(),
    /** what was put in beside the sizing, with the parts as the shelf had them; it is called by this fact's own id, and taken off when the fact is taken back */
    extra: z.enum(EXTRA_NAMES),
    part: PartSchema,
    /** the tee it hangs on */
    tee: PartSchema.optional(),
  }),
  'stock-out': z.object({
    ...common,
    kind: z.literal('stock-out'),
    design,
    /** what of the firm's stock went into this job, and out of where; tube in metres */
    from: z.enum(STOCK_PLACES),
    /** the change it was taken out for; what a design takes is another matter */
    change: uuid().optional(),
    parts: z
      .array(z.object({ part: text(80).min(1), count: z.number().positive().max(10000) }))
      .min(1)
      .max(120),
  }),
  stands: z.object({
    ...common,
    kind: z.literal('stands'),
    design: uuid(),
    /** where a part of the system stands in the cupboard; null takes it off the drawing */
    component,
    spot,
    turn: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]).optional(),
    lies: z.boolean().optional(),
    space: z.enum(['cupboard', 'second']).optional(),
  }),
  'tube-run': z.object({
    ...common,
    kind: z.literal('tube-run'),
    design: uuid(),
    /** how a tube really runs: its length as cut, and how far its end lies above its beginning */
    link: text(80).min(1),
    lengthM: z.number().min(0.02).max(100),
    riseM: z.number().min(-50).max(50),
  }),
  'tube-way': z.object({
    ...common,
    kind: z.literal('tube-way'),
    design: uuid(),
    /** places a tube is led through, from its beginning to its end; none lets it go the shortest way again */
    link: text(80).min(1),
    via: z.array(z.object({ xMm: mm, yMm: mm, zMm: mm, space: z.enum(['cupboard', 'second']).optional() })).max(6),
  }),
  photo: z.object({
    ...common,
    kind: z.literal('photo'),
    /** id of the picture in its own store */
    file: uuid(),
    /** what it shows: a visit, proof or drip by its fact's id, or a component by its own; left out, the place */
    about: text(80).optional(),
    note,
  }),
  note: z.object({ ...common, kind: z.literal('note'), text: text(2000).min(1), about: text(60).optional() }),
  'tube-colour': z.object({
    ...common,
    kind: z.literal('tube-colour'),
    design,
    branch: z.enum(['feed', 'product', 'tank', 'fridge', 'concentrate']),
    colour: text(40),
  }),
  /** takes the fact it corrects back, whatever kind that is */
  'taken-back': z.object({ ...common, kind: z.literal('taken-back'), corrects: uuid(), reason: text(300) }),
} as const;

/** The shape of a fact: what one that is stored must at least be to count. */
const FactShape = z.discriminatedUnion('kind', [
  FACTS.reading,
  FACTS.use,
  FACTS.dismiss,
  FACTS.tick,
  FACTS.timer,
  FACTS.look,
  FACTS.proof,
  FACTS.habits,
  FACTS.place,
  FACTS.visit,
  FACTS.change,
  FACTS.call,
  FACTS.happened,
  FACTS.fitted,
  FACTS.billed,
  FACTS['came-out'],
  FACTS.sampled,
  FACTS.answered,
  FACTS.handed,
  FACTS.carries,
  FACTS['stock-out'],
  FACTS.stands,
  FACTS['tube-run'],
  FACTS['tube-way'],
  FACTS.photo,
  FACTS.note,
  FACTS['tube-colour'],
  FACTS['taken-back'],
]);

/** A fact as it enters: every figure one its field can have. */
export const FactSchema = FactShape.superRefine((f, ctx) => {
  if (f.kind === 'reading' && f.value !== null && !fieldAccepts(f.field, f.value))
    ctx.addIssue({ code: 'custom', path: ['value'], message: `not a value ${f.field} can have` });
});
export type Fact = z.infer<typeof FactShape>;
export type FactKind = Fact['kind'];
export type FactOf<K extends FactKind> = Extract<Fact, { kind: K }>;
export type ReadingFact = FactOf<'reading'>;

/** Whether something stored still has the shape of a fact, whatever ranges have been narrowed since. */
export const hasFactShape = (raw: unknown): raw is Fact => {
  const kind: unknown = typeof raw === 'object' && raw !== null ? Reflect.get(raw, 'kind') : undefined;
  if (typeof kind !== 'string' || !Object.hasOwn(FACTS, kind)) return false;
  const r = FACTS[kind as FactKind].safeParse(raw);
  // a figure outside today's range was within it when it entered: it counts as it was said
  return (
    r.success || r.error.issues.every((i) => i.code === 'too_big' || i.code === 'too_small' || i.code === 'custom')
  );
};

type Without<F> = F extends Fact ? Omit<F, 'v' | 'id' | 'jobId' | 'at' | 'by'> : never;
/** A fact before it is stamped with its version, id, job, time and person. */
export type NewFact = Without<Fact>;
