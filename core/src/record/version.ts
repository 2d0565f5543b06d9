import * as z from 'zod';
import { moment, text, uuid } from '../words/stored.ts';
import { isPrivate } from '../gauge/doubts.ts';
import { choiceOf, type FieldKey, type Known } from '../gauge/fields.ts';
import { HABITS, siteFrom, type Assumed, type Site } from '../gauge/site.ts';
import { isDone, isPlanned, type JobRecord } from '../facts/record.ts';
import { keptSteps } from '../flush/order.ts';
import { DRINK_STEP } from '../flush/schedule.ts';
import { StepSchema, type RunStep } from '../facts/step.ts';
import { PartSchema, type Part, type PartOf } from '../parts/catalogue.ts';
import { isKind } from '../parts/kinds.ts';
import { HouseRulesSchema, type HouseRules } from '../rules/rules.ts';
import { systemFaults } from '../system/legal.ts';
import { jointId, type Component, type Link, type System } from '../system/system.ts';

/** Version of the documents that are written today; older ones are lifted when they are read. */
export const DOCUMENT_VERSION = 2;

const lastingId = text(80).min(1);
const PORTS = ['in', 'out', 'drain', 'branch', 'product-in', 'product-out', 'drain-in', 'drain-out'] as const;

/** A part as it was stored: its ranges may have been narrowed since, it still opens. */
const StoredPartSchema = z.custom<Part>((v) => {
  const p = v as Partial<Record<string, unknown>> | null;
  return typeof p === 'object' && p !== null && typeof p.id === 'string' && typeof p.kind === 'string' && typeof p.name === 'string' && Array.isArray(p.ports);
}, 'is not a part'); // oxfmt-ignore

const systemSchema = (part: z.ZodType<Part>) => {
  const ref = z.object({ component: lastingId, port: z.enum(PORTS) });
  return z.object({
    components: z
      .array(
        z.object({
          id: lastingId,
          kind: z.string().refine(isKind, 'there is no such kind'),
          slot: text(80),
          part: part.nullable(),
          housing: part.optional(),
          unit: z.object({ serial: text(80), at: moment() }).optional(),
        }),
      )
      .min(2)
      .max(80),
    links: z
      .array(
        z.object({
          id: lastingId,
          from: ref,
          to: ref,
          tube: part.nullable() as unknown as z.ZodType<PartOf<'tube'> | null>,
          lengthM: z.number().min(0).max(100),
          riseM: z.number().min(-50).max(50),
        }),
      )
      .max(120),
  });
};

const value = z.union([z.number(), text(60)]);

/** What a design was judged by, as it stood: none of it moves afterwards. */
const judgedSchema = (rules: z.ZodType<HouseRules>) =>
  z.object({
    /** readings, and what was assumed in their place */
    known: z.record(text(40), value),
    assumed: z.array(z.object({ field: text(40), value, why: text(400) })).max(80),
    rules,
    coreVersion: text(40),
    /** what it does here, in a sentence worked out for these parts */
    sentence: text(600),
    reasons: z.array(text(1200)).max(40),
    /** the sentence that was recommended instead, where it was taken against the advice; '' where it was not */
    against: text(600),
    figures: z.object({
      litresADay: z.number(),
      tapFlowLMin: z.number(),
      fillMinutes: z.number(),
      tankTdsMgL: z.number(),
      wasteRatio: z.number(),
      costYear: z.number().nullable(),
      firstGlassMgL: z.number().nullable(),
    }),
    /** where its parts' figures come from: the shelf as it was chosen from, or as it was when documents changed their version */
    shelf: z.enum(['as chosen', 'as at the change of version']),
  });

const versionSchema = (part: z.ZodType<Part>, rules: z.ZodType<HouseRules>) =>
  z.object({
    v: z.literal(DOCUMENT_VERSION),
    id: uuid(),
    number: z.number().int().min(1).max(100000),
    system: systemSchema(part),
    judged: judgedSchema(rules),
    /** the run sheet made for it; of a later version only what must be done again */
    sheet: z.array(StepSchema).max(200),
    /** where it goes on with a sheet that was not done */
    goesOn: z
      .array(z.object({ design: uuid(), steps: z.array(text(120).min(1)).max(200) }))
      .max(200)
      .optional(),
    /** why, when it was taken against the advice */
    reason: text(600),
    at: moment(),
    by: uuid(),
  });

/** Whether a laboratory found microbes in a private source, and nothing in a system disinfects. */
export const letsMicrobesBy = (system: System, known: Known): boolean =>
  isPrivate(choiceOf(known, 'source')) &&
  choiceOf(known, 'laboratory') === 'unsafe' &&
  !system.components.some((c) => c.kind === 'lamp');

/** A design as it enters: every part within its ranges, the system legal. */
export const DesignVersionSchema = versionSchema(PartSchema, HouseRulesSchema).superRefine((d, ctx) => {
  const system = d.system as System;
  // what has no kind has been told at its place
  if (!system.components.every((c) => isKind(c.kind))) return;
  for (const message of systemFaults(system)) ctx.addIssue({ code: 'custom', path: ['system'], message });
});

/** A design as somebody approves it: as it enters, and nothing that lets microbes by which a laboratory found. */
export const ApprovedVersionSchema = DesignVersionSchema.superRefine((d, ctx) => {
  if (letsMicrobesBy(d.system, d.judged.known))
    ctx.addIssue({
      code: 'custom',
      path: ['system'],
      message: 'Microbes were found in this source: a system without a lamp is not put in.',
    });
});

/** A design as it was stored, whatever has been narrowed since. */
export const StoredVersionSchema = versionSchema(
  StoredPartSchema,
  z.custom<HouseRules>((v) => typeof v === 'object' && v !== null && 'litresPerPersonDay' in v, 'is no set of rules'),
);

export interface Judged {
  readonly known: Known;
  readonly assumed: readonly Assumed[];
  readonly rules: HouseRules;
  readonly coreVersion: string;
  readonly sentence: string;
  readonly reasons: readonly string[];
  readonly against: string;
  readonly figures: {
    readonly litresADay: number;
    readonly tapFlowLMin: number;
    readonly fillMinutes: number;
    readonly tankTdsMgL: number;
    readonly wasteRatio: number;
    readonly costYear: number | null;
    readonly firstGlassMgL: number | null;
  };
  readonly shelf: 'as chosen' | 'as at the change of version';
}

/** Steps whose ticks and clocks under an earlier version stand under a later one. */
export interface GoesOn {
  /** the earlier version */
  readonly design: string;
  readonly steps: readonly string[];
}

/** A design somebody approved, kept as it was: parts, readings, rules, sentence and run sheet. */
export interface DesignVersion {
  readonly v: typeof DOCUMENT_VERSION;
  readonly id: string;
  readonly number: number;
  readonly system: System;
  readonly judged: Judged;
  readonly sheet: readonly RunStep[];
  /** the work it goes on with, where it was approved in the middle of it; nearest version first */
  readonly goesOn?: readonly GoesOn[] | undefined;
  readonly reason: string;
  readonly at: string;
  readonly by: string;
}

/** The house a version was judged in: its own readings and assumptions, by its own rules. */
export function judgedSite(
  judged: Pick<Judged, 'known' | 'rules'> & { readonly assumed: readonly Pick<Assumed, 'field'>[] },
): Site | null {
  const r = siteFrom(judged.known, judged.rules);
  // what was only guessed of the household then is no statement of theirs now
  const guessed = HABITS.filter((habit) => judged.assumed.some((a) => a.field === habit));
  return r.ok ? { ...r.site, guessed } : null;
}

/** Readings with what was assumed in their place, so that the house stays what it was. */
export function knownWith(known: Known, assumed: readonly Assumed[]): Known {
  const taken = Object.fromEntries(assumed.map((a) => [a.field, a.value]));
  return { ...(taken as Known), ...known };
}

/** What a component is taken for the same by: its kind and its part. */
const sameThing = (a: Component, b: Component): boolean => a.kind === b.kind && a.part?.id === b.part?.id;

/**
 * Gives a proposed system lasting ids: what stands already keeps its own, what is new gets one.
 * @param newId makes an id that was never used before
 */
export function withLastingIds(proposed: System, before: System | null, newId: () => string): System {
  const left = [...(before?.components ?? [])];
  const ids = new Map<string, string>();
  const kept = new Map<string, Component>();
  for (const c of proposed.components) {
    const at = left.findIndex((b) => sameThing(b, c));
    const [same] = at < 0 ? [] : left.splice(at, 1);
    ids.set(c.id, same?.id ?? newId());
    if (same) kept.set(c.id, same);
  }
  const of = (id: string): string => ids.get(id) ?? id;
  const links = proposed.links.map((l): Link => {
    const from = { ...l.from, component: of(l.from.component) };
    const to = { ...l.to, component: of(l.to.component) };
    const old = before?.links.find((b) => jointId(b.from) === jointId(from) && jointId(b.to) === jointId(to));
    return { ...l, id: old?.id ?? newId(), from, to };
  });
  const components = proposed.components.map((c): Component => {
    const unit = kept.get(c.id)?.unit;
    return { ...c, id: of(c.id), ...(unit ? { unit } : {}) };
  });
  return { components, links };
}

/** What differs between two versions' systems, by component. */
export interface SystemChange {
  readonly added: readonly Component[];
  readonly gone: readonly Component[];
}

/** What a version adds and takes away against the one before. */
export function changeOf(from: System, to: System): SystemChange {
  const has = (s: System, id: string): boolean => s.components.some((c) => c.id === id);
  return {
    added: to.components.filter((c) => !has(from, c.id)),
    gone: from.components.filter((c) => !has(to, c.id)),
  };
}

/** Steps that go with any change of what carries water. */
const GOES_ALONG: ReadonlySet<string> = new Set(['feed-off', 'open-part', 'look-pressure', 'look-full', 'look-shut', 'drain-stops', 'leave']); // oxfmt-ignore

/** The version before, and what was recorded under it; null where nobody can say, and it is taken as done. */
export interface Former {
  readonly version: DesignVersion;
  readonly record: Pick<JobRecord, 'ticks' | 'proofs' | 'visits'> | null;
}

/** Whether a version's sheet was left in the middle, or never begun; one in service without a tick was taken over so. */
function isUnfinished({ version, record }: Former): boolean {
  const { sheet } = version;
  if (!record || sheet.length === 0 || sheet.every((s) => isDone(record, s.key))) return false;
  return (
    sheet.some((s) => record.ticks[s.key]) ||
    record.proofs.length + record.visits.filter((v) => !isPlanned(v)).length === 0
  );
}

/** What a later version must have done: its sheet, and what of the work before it stands. */
export type VersionWork = Pick<DesignVersion, 'sheet' | 'goesOn'>;

/**
 * What of a run sheet must be done for a version: all of it for the first; of a later one what its new components ask for,
 * with shutting, opening and the looks. Nothing where no part was changed. One approved in the middle of the work before it
 * goes on with that: what was done stands unless it touches what is new.
 * @param sheet the run sheet of the whole system as it is now
 */
export function workFor(sheet: readonly RunStep[], system: System, former: Former | null): VersionWork {
  if (!former) return { sheet: [...sheet] };
  const change = changeOf(former.version.system, system);
  const same = change.added.length + change.gone.length === 0;
  const added = new Set(change.added.map((c) => c.id));
  const asked = (s: RunStep): boolean =>
    !same && (GOES_ALONG.has(s.key) || s.key === DRINK_STEP || s.of.some((id) => added.has(id)));
  if (!isUnfinished(former))
    return { sheet: same ? [] : keptSteps(sheet, (s) => asked(s) && s.key !== DRINK_STEP) };
  const { id, number, goesOn = [], sheet: left } = former.version;
  const open = new Set(left.map((s) => s.key));
  // each version that went on with the one before it added one: down to the first, the sheet is a whole one
  const whole = goesOn.length === number - 1;
  const now = whole ? [...sheet] : keptSteps(sheet, (s) => asked(s) || open.has(s.key));
  // what was taken apart since is looked at once more, in every round
  const stands = now.filter((s) => open.has(s.key) && !asked(s) && (same || s.kind !== 'look')).map((s) => s.key);
  const still = new Set(stands);
  return {
    sheet: now,
    goesOn: [{ design: id, steps: stands }, ...goesOn.map((g) => ({ ...g, steps: g.steps.filter((k) => still.has(k)) }))],
  };
} // oxfmt-ignore

/** Field names of a judged house that stand otherwise now. */
export function readingsMoved(judged: Judged, known: Known): FieldKey[] {
  const assumed = new Set<string>(judged.assumed.map((a) => a.field));
  return (Object.keys({ ...judged.known, ...known }) as FieldKey[]).filter((k) => {
    const before = judged.known[k];
    const now = known[k];
    return now === undefined ? before !== undefined && !assumed.has(k) : now !== before;
  });
}
