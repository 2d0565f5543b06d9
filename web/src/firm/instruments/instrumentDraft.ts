import {
  baseUnit,
  findUnit,
  formatReading,
  fromBase,
  InstrumentSchema,
  parseQuantity,
  quantityMessage,
  toBase,
  UNITS,
  type Instrument,
  type QuantityKind,
} from '@katharos/core';
import equal from 'fast-deep-equal';
import * as z from 'zod';

const ReadsDraftSchema = z.object({
  kind: z.enum(Object.keys(UNITS) as [QuantityKind, ...QuantityKind[]]),
  unit: z.string(),
  min: z.string(),
  max: z.string(),
  errorFixed: z.string(),
  /** per cent */
  errorShare: z.string(),
});
const DraftSchema = z.object({
  name: z.string(),
  what: InstrumentSchema.shape.what,
  checkEveryDays: z.string(),
  tdsFactor: z.string(),
  address: z.string(),
  reads: z.array(ReadsDraftSchema).min(1).max(8),
});
export type ReadsDraft = z.infer<typeof ReadsDraftSchema>;
/** An instrument as it is typed: every figure is text, in the unit the instrument shows. */
export type InstrumentDraft = z.infer<typeof DraftSchema>;
export const KeptDraftSchema = DraftSchema.partial();

/** A difference has no offset: a degree more is a degree more in either scale's own size. */
const offset = (kind: QuantityKind, unit: string): number => toBase(0, kind, unit);
const figure = (v: number): string => formatReading(v, 6).replace(/\s/g, '');

/** How far a common meter of a kind reads, base units. */
const USUAL_MOST: Readonly<Record<QuantityKind, number>> = {
  pressure: 10,
  temperature: 60,
  volume: 5,
  flow: 20,
  dailyVolume: 1000,
  concentration: 5000,
  hardness: 500,
  length: 3000,
  run: 5,
  duration: 60,
  acidity: 14,
  turbidity: 100,
  conductivity: 10000,
  count: 100,
};
export const freshReads = (kind: QuantityKind): ReadsDraft => ({
  kind,
  unit: baseUnit(kind),
  min: '0',
  max: String(USUAL_MOST[kind]),
  errorFixed: '0',
  errorShare: '2',
});

/** What a meter of this sort reads as a rule. */
const READS: Readonly<Record<Instrument['what'], readonly QuantityKind[]>> = {
  pen: ['concentration'],
  gauge: ['pressure'],
  jug: ['flow'],
  thermometer: ['temperature'],
  'drop-kit': ['hardness'],
  strip: ['concentration'],
  tape: ['length'],
  other: ['concentration'],
};

/** A draft of another sort of meter: what it reads follows, unless somebody has said it. */
export function asWhat(draft: InstrumentDraft, what: Instrument['what']): InstrumentDraft {
  const untouched = equal(draft.reads, READS[draft.what].map(freshReads));
  return { ...draft, what, reads: untouched ? READS[what].map(freshReads) : draft.reads };
}

/** The same figures in another unit; text that is no figure stays. */
export function inUnit(r: ReadsDraft, unit: string): ReadsDraft {
  const turned = (text: string, apart = 0): string => {
    const parsed = parseQuantity(text, r.kind, r.unit);
    // a figure typed with a unit of its own says what it is already
    return parsed.ok && parsed.unit === r.unit
      ? figure(
          fromBase(parsed.value - (apart && offset(r.kind, r.unit)), r.kind, unit) -
            (apart && fromBase(0, r.kind, unit)),
        )
      : text;
  };
  return { ...r, unit, min: turned(r.min), max: turned(r.max), errorFixed: turned(r.errorFixed, 1) };
}

export function draftOf(i: Instrument | null): InstrumentDraft {
  return {
    name: i?.name ?? '',
    what: i?.what ?? 'pen',
    checkEveryDays: i ? String(i.checkEveryDays ?? '') : '90',
    tdsFactor: String(i?.tdsFactor ?? ''),
    address: i?.address ?? '',
    reads:
      i?.reads.map((r) => ({
        ...inUnit(
          {
            kind: r.kind,
            unit: baseUnit(r.kind),
            min: String(r.min),
            max: String(r.max),
            errorFixed: String(r.errorFixed),
            errorShare: '',
          },
          r.unit,
        ),
        errorShare: figure(100 * r.errorShare),
      })) ?? READS.pen.map(freshReads),
  };
}

/**
 * Reads what was typed about an instrument.
 * @param base the instrument it changes; null for a new one
 * @param id of a new one
 * @returns the instrument, or what is wrong by path, as in `reads.0.max`
 */
export function readDraft(
  draft: InstrumentDraft,
  base: Instrument | null,
  id: string,
): { readonly instrument: Instrument } | { readonly faults: Readonly<Record<string, string>> } {
  const faults: Record<string, string> = {};
  const plain = (path: string, text: string): number => {
    const parsed = parseQuantity(text, 'count');
    if (!parsed.ok) faults[path] = quantityMessage(parsed.problem);
    return parsed.ok ? parsed.value : 0;
  };
  const reads = draft.reads.map((r, n) => {
    const at = (path: string): string => `reads.${String(n)}.${path}`;
    if (!findUnit(r.kind, r.unit)) return { ...r, min: 0, max: 0, errorFixed: 0, errorShare: 0 };
    const quantity = (path: 'min' | 'max' | 'errorFixed', apart = false): number => {
      const parsed = parseQuantity(r[path], r.kind, r.unit);
      if (!parsed.ok) faults[at(path)] = quantityMessage(parsed.problem);
      return parsed.ok ? parsed.value - (apart ? offset(r.kind, parsed.unit) : 0) : 0;
    };
    return {
      kind: r.kind,
      unit: r.unit,
      min: quantity('min'),
      max: quantity('max'),
      errorFixed: quantity('errorFixed', true),
      errorShare: plain(at('errorShare'), r.errorShare) / 100,
    };
  });
  const parsed = InstrumentSchema.safeParse({
    id: base?.id ?? id,
    checks: base?.checks ?? [],
    ...(base?.retired === undefined ? {} : { retired: base.retired }),
    name: draft.name,
    what: draft.what,
    reads,
    checkEveryDays: draft.checkEveryDays.trim() === '' ? null : plain('checkEveryDays', draft.checkEveryDays),
    address: draft.address.trim() === '' ? null : draft.address.trim(),
    ...(draft.tdsFactor.trim() === '' ? {} : { tdsFactor: plain('tdsFactor', draft.tdsFactor) }),
  });
  for (const issue of parsed.error?.issues ?? []) faults[issue.path.join('.')] ??= issue.message;
  return parsed.success && Object.keys(faults).length === 0 ? { instrument: parsed.data } : { faults };
}
