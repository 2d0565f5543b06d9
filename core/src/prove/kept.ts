import * as z from 'zod';
import { text } from '../words/stored.ts';
import type { FilterVerdict } from './filters.ts';
import type { Verdict } from './verdict.ts';

const grade = z.enum(['good', 'watch', 'act']);
const words = z.array(text(1000)).max(30);

/** A verdict as it was given, with the version of the computation that gave it: it is shown, never worked out anew. */
export const KeptVerdictSchema = z.object({
  coreVersion: text(40),
  grade,
  sentence: text(600),
  /** null without a membrane, as are recovery and salt passage */
  rejection: z.number().nullable(),
  momentaryRecovery: z.number().nullable(),
  /** null where nothing was made, or nothing goes to the drain */
  wasteRatio: z.number().nullable(),
  compared: z
    .array(
      z.object({
        key: text(40),
        label: text(80),
        unit: text(20),
        measured: z.number(),
        expected: z.number(),
        low: z.number(),
        high: z.number(),
        grade,
        limits: text(400),
      }),
    )
    .max(10),
  /** the element as it was read: permeabilities at 25 C, L/day·bar and L/day; flow and passage at its rating's conditions, L/day and 0 to 1 */
  element: z
    .object({
      waterLDayBar: z.number(),
      saltLDay: z.number(),
      normalisedFlowLDay: z.number(),
      normalisedPassage: z.number(),
    })
    .optional(),
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
    ...(salt?.fitted
      ? {
          element: {
            ...salt.fitted,
            normalisedFlowLDay: salt.normalisedFlowLDay,
            normalisedPassage: salt.normalisedPassage,
          },
        }
      : {}),
    compared: v.compared.map((c) => ({ ...c })),
    flowAgainstNew: v.flowAgainstNew,
    passageAgainstNew: salt?.passageAgainstNew ?? null,
    reasons: [...v.reasons],
    next: [...v.next],
    doubts: [...v.doubts],
  };
}
