import * as z from 'zod';
import { moment, text, uuid } from '../words/stored.ts';
import { GAUGE_FIELDS, type FieldKey } from './fields.ts';
import { PER_USCM_RANGE } from '../quantity/parse.ts';
import { findUnit, UNITS, type QuantityKind } from '../quantity/units.ts';

const kinds = Object.keys(UNITS) as [QuantityKind, ...QuantityKind[]];
const finite = z.number().refine(Number.isFinite);

/** One figure an instrument reads, with how far it may be off. Base units of the kind. */
const ReadsSchema = z
  .object({
    kind: z.enum(kinds),
    /** unit it shows */
    unit: text(12),
    min: finite,
    max: finite,
    /** half-width of its error: a fixed part and a share of the reading */
    errorFixed: finite.min(0, 'An error is not below nothing.'),
    errorShare: finite.min(0, 'An error is not below nothing.').max(0.5, 'An error above half of the reading is none.'),
  })
  .refine((r) => findUnit(r.kind, r.unit) !== undefined, {
    path: ['unit'],
    message: 'This is no unit of what it reads.',
  })
  .refine((r) => r.min < r.max, { path: ['max'], message: 'Its range must end above where it begins.' });

/** A check against something known: a reference solution, another gauge, a measured jug. Base units. */
const CheckSchema = z.object({
  at: moment(),
  by: uuid(),
  kind: z.enum(kinds),
  reference: finite,
  read: finite,
  note: text(300).optional(),
});

/** A meter of the firm's. */
export const InstrumentSchema = z.object({
  id: uuid(),
  name: z.string().trim().min(1, 'Give it a name.').pipe(text(80)),
  what: z.enum(['pen', 'gauge', 'jug', 'thermometer', 'drop-kit', 'strip', 'tape', 'other']),
  reads: z.array(ReadsSchema).min(1, 'Say what it reads.').max(8),
  /** mg/L it shows for each µS/cm: what its dissolved-solids figure comes of; left out where nobody knows */
  tdsFactor: finite.min(PER_USCM_RANGE.min).max(PER_USCM_RANGE.max).optional(),
  /** days after which it wants checking again; null for never (a tape, a jug) */
  checkEveryDays: z.number().int().min(1).max(1500).nullable(),
  checks: z.array(CheckSchema).max(400),
  /** where it can be asked over the wire; 'stand-in:NAME' for one of those that ship; null for one that is read by eye */
  address: text(200).nullable(),
  retired: z.boolean().optional(),
});
export type Instrument = z.infer<typeof InstrumentSchema>;
export type InstrumentCheck = Instrument['checks'][number];

/** Where an instrument's checking stands. */
export interface CheckState {
  readonly state: 'never' | 'good' | 'overdue' | 'off' | 'not-needed';
  readonly last: InstrumentCheck | null;
  readonly dueMs: number | null;
  /** read over reference less 1 at the last check; null without one */
  readonly off: number | null;
}

/** mg/L for each µS/cm where only the size of an error hangs on it. */
const USUAL_FACTOR = 0.65;

const DAY_MS = 86400000;

/** What an instrument reads of a kind; undefined where it does not. */
export function readsOf(i: Instrument, kind: QuantityKind): Instrument['reads'][number] | undefined {
  return i.reads.find((r) => r.kind === kind);
}

/**
 * Whether an instrument can have read a field: it reads that kind, and of concentrations a pen shows what is dissolved
 * and nothing else, a strip or a kit everything but that.
 */
export function canRead(i: Instrument, field: FieldKey): boolean {
  const f = GAUGE_FIELDS[field];
  if (f.type !== 'quantity') return false;
  if (f.kind !== 'concentration') return readsOf(i, f.kind) !== undefined;
  const dissolved = field === 'feedTdsMgL';
  if (i.what !== 'other' && dissolved !== (i.what === 'pen')) return false;
  return (readsOf(i, f.kind) ?? (dissolved ? readsOf(i, 'conductivity') : undefined)) !== undefined;
}

/** Half-width of an instrument's error at a value, base unit; null where it does not read that kind. A conductivity stands for what is dissolved. */
export function instrumentError(i: Instrument, kind: QuantityKind, value: number): number | null {
  const r = readsOf(i, kind);
  if (r) return r.errorFixed + r.errorShare * Math.abs(value);
  const c = kind === 'concentration' ? readsOf(i, 'conductivity') : undefined;
  return c ? c.errorFixed * (i.tdsFactor ?? USUAL_FACTOR) + c.errorShare * Math.abs(value) : null;
}

/**
 * Where an instrument's checking stands: never checked, good, overdue, or off by more than its own stated error at the
 * last check.
 * @param nowMs the caller's clock
 */
export function checkState(i: Instrument, nowMs: number): CheckState {
  const last = [...i.checks].sort((a, b) => Date.parse(a.at) - Date.parse(b.at)).at(-1) ?? null;
  const off = last && last.reference !== 0 ? last.read / last.reference - 1 : null;
  if (i.checkEveryDays === null) return { state: 'not-needed', last, dueMs: null, off };
  if (!last) return { state: 'never', last: null, dueMs: null, off: null };
  const dueMs = Date.parse(last.at) + i.checkEveryDays * DAY_MS;
  const allowed = instrumentError(i, last.kind, last.reference) ?? Infinity;
  if (Math.abs(last.read - last.reference) > allowed) return { state: 'off', last, dueMs, off };
  return { state: nowMs > dueMs ? 'overdue' : 'good', last, dueMs, off };
}

/** What a reading's own instrument says of its error. */
export interface ReadBy {
  readonly field: FieldKey;
  readonly value: number | string | null;
  /** name of the instrument, as the reading carries it; an answer has none */
  readonly instrument?: string | undefined;
  /** which one it was; a reading of an earlier day has its name only */
  readonly instrumentId?: string | undefined;
}

/** Half-widths of readings whose instrument the firm knows, by field; the others keep what is usual. */
export function errorsOf(
  readings: readonly ReadBy[],
  instruments: readonly Instrument[],
): Partial<Record<FieldKey, number>> {
  const out: Partial<Record<FieldKey, number>> = {};
  const byName = new Map(instruments.map((i) => [i.name.toLowerCase(), i]));
  for (const r of readings) {
    const f = GAUGE_FIELDS[r.field];
    const { value, instrument } = r;
    if (f.type !== 'quantity' || typeof value !== 'number' || instrument === undefined) continue;
    const i = instruments.find((x) => x.id === r.instrumentId) ?? byName.get(instrument.toLowerCase());
    if (!i || !canRead(i, r.field)) continue;
    const error = instrumentError(i, f.kind, value);
    if (error !== null) out[r.field] = error;
  }
  return out;
}
