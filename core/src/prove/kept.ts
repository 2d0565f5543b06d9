import { z } from 'zod';
import type { FilterVerdict } from './filters.ts';
import type { Verdict } from './verdict.ts';

const grade = z.enum(['good', 'watch', 'act']);
const words = z.array(z.string().max(1000)).max(30);

/** A verdict as it was given, with the version of the computation that gave it: it is shown, never worked out anew. */
export const KeptVerdictSchema = z.object({
  coreVersion: z.string().max(40),
  grade,
  sentence: z.string().max(600),
  /** null without a membrane, as are recovery and salt passage */
  rejection: z.number().nullable(),
  momentaryRecovery: z.number().nullable(),
  /** null where nothing was made, or nothing goes to the drain */
  wasteRatio: z.number().nullable(),
  compared: z
    .array(
      z.object({
        key: z.string().max(40),
        label: z.string().max(80),
        unit: z.string().max(20),
        measured: z.number(),
        expected: z.number(),
        low: z.number(),
        high: z.number(),
        grade,
        limits: z.string().max(400),
      }),
    )
    .max(10),
  flowAgainstNew: z.number(),
  passageAgainstNew: z.number().nullable(),
  reasons: words,
  next: words,
  doubts: words,
});
export type KeptVerdict = z.infer<typeof KeptVerdictSchema>;

/** A verdict to be kept with its readings. */
export function keptVerdict(v: Verdict | FilterVerdict, coreVersion: string): KeptVerdict {
  const salt = 'rejection' in v ? v : null;
  return {
    coreVersion,
    grade: v.grade,
    sentence: v.sentence,
    rejection: salt?.rejection ?? null,
    momentaryRecovery: salt?.momentaryRecovery ?? null,
    wasteRatio: salt && Number.isFinite(salt.wasteRatio) ? salt.wasteRatio : null,
    compared: v.compared.map((c) => ({ ...c })),
    flowAgainstNew: v.flowAgainstNew,
    passageAgainstNew: salt?.passageAgainstNew ?? null,
    reasons: [...v.reasons],
    next: [...v.next],
    doubts: [...v.doubts],
  };
}
