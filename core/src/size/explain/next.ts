import { isPrivate } from '../../gauge/doubts.ts';
import { gaugeField, type FieldKey, type Known } from '../../gauge/fields.ts';
import type { Assumed } from '../../gauge/site.ts';
import { formatNumber } from '../../quantity/format.ts';
import { suretyWords, type Decision } from '../decide.ts';
import type { DesignStudy, FlipPoint } from '../judge/study.ts';
import type { Turns } from '../judge/turns.ts';

/** What to read next, and why; or that the rest may be left as it is. */
export type NextReading =
  | { readonly kind: 'needed'; readonly field: FieldKey; readonly why: string }
  | { readonly kind: 'decides'; readonly field: FieldKey; readonly why: string }
  | { readonly kind: 'again'; readonly field: FieldKey; readonly why: string }
  | { readonly kind: 'asked'; readonly field: FieldKey; readonly why: string }
  | { readonly kind: 'settled'; readonly why: string };

/** Asked of every house before a design is approved, though no figure hangs on them. */
const ALWAYS_ASKED: readonly FieldKey[] = ['coldLine', 'stopValveHolds', 'metalAfter', 'socket', 'cupboardWidthMm'];

/**
 * Names the next reading that would decide most: what nothing can be sized without, then what was assumed and could turn
 * the decision, then what was read so near a flip that it is worth reading again, then what is asked of every house.
 * @param study the flips, @param turns the open questions: null while they are not worked out yet
 * @param skipped set aside for now: the next one after them is named
 * @returns null while it is not known
 */
export function nextReading(
  decision: Decision,
  study: Pick<DesignStudy, 'flips'> | null,
  turns: Turns | null,
  has: (field: FieldKey) => boolean,
  skipped: ReadonlySet<FieldKey> = new Set(),
): NextReading | null {
  if (decision.kind === 'needs') {
    const field = decision.missing.find((f) => !skipped.has(f)) ?? decision.missing[0];
    if (field) return { kind: 'needed', field, why: 'Nothing can be sized without it.' };
  }
  if (decision.kind === 'referral' || decision.kind === 'other-way') return { kind: 'settled', why: decision.sentence };
  if (decision.kind === 'recommendation' && !study) return null;
  const near = (study?.flips ?? []).filter((f) => f.near && !skipped.has(f.field));
  const assumed = near.find((f) => f.assumed);
  if (assumed) return { kind: 'decides', field: assumed.field, why: `It decides: the design ${assumed.sentence}.` };
  const confirm = decision.kind === 'recommendation' ? decision.surety.confirm.find((f) => !skipped.has(f)) : undefined;
  if (confirm !== undefined && decision.kind === 'recommendation')
    return { kind: has(confirm) ? 'again' : 'decides', field: confirm, why: suretyWords(decision.surety) };
  if (!turns) return null;
  const open = turns.turns.find((t) => !has(t.field) && !skipped.has(t.field));
  if (open)
    return { kind: 'decides', field: open.field, why: `It decides. If "${open.answer}": ${withStop(open.becomes)}` };
  // a kit reads pH no closer than it has
  const read = near.find((f) => !f.assumed && f.field !== 'pH');
  if (read)
    return { kind: 'again', field: read.field, why: `So near a flip that its own error decides: ${read.sentence}.` };
  const asked = ALWAYS_ASKED.find((k) => !has(k) && !skipped.has(k));
  if (asked) return { kind: 'asked', field: asked, why: gaugeField(asked).how };
  return {
    kind: 'settled',
    why: 'The decision is settled: what is still assumed does not turn it, and the rest may be left as it is.',
  };
}

/** What most often turns a house's answer, for as long as it is not known what turns this one's. */
const USUALLY_TURNS: readonly FieldKey[] = [
  'coldLine',
  'stopValveHolds',
  'runningPressureBar',
  'runningFlowLMin',
  'hardnessMgL',
  'disinfectant',
  'coldestC',
  'largestDrawL',
  'socket',
  'metalAfter',
];
/** What decides whether private water is sized at all. */
const OF_PRIVATE: readonly FieldKey[] = ['laboratory', 'ironMgL', 'manganeseMgL', 'turbidityNTU', 'smell'];

/** The readings in the order they are needed. */
export interface SheetOrder {
  /** nothing is sized without them */
  readonly first: readonly FieldKey[];
  /** what turns this house's answer, the most worth first; or is asked of every house, or doubted */
  readonly turning: readonly FieldKey[];
}

/**
 * Orders a house's readings: what nothing is sized without, then what turns its answer in the order of its worth. What is in
 * neither turns nothing at present.
 * @param study the flips, @param turns the open questions: null while they are not worked out
 * @param doubted readings that are doubted, those about safety first
 */
export function sheetOrder(
  decision: Decision | null,
  study: Pick<DesignStudy, 'flips'> | null,
  turns: Turns | null,
  known: Known,
  doubted: readonly FieldKey[],
): SheetOrder {
  const well = known.source === 'well';
  const first: FieldKey[] = [
    'source',
    'feedTdsMgL',
    'temperatureC',
    well ? 'switchLowBar' : 'staticPressureBar',
    'people',
  ];
  const near = (study?.flips ?? []).filter((f) => f.near);
  const turning: FieldKey[] = [...doubted];
  if (isPrivate(String(known.source ?? ''))) turning.push(...OF_PRIVATE);
  if (decision?.kind === 'recommendation')
    turning.push(
      ...decision.surety.confirm,
      ...near.filter((f) => f.assumed).map((f) => f.field),
      ...(turns?.turns ?? []).map((t) => t.field),
      ...near.filter((f) => !f.assumed).map((f) => f.field),
      ...ALWAYS_ASKED.filter((k) => known[k] === undefined),
    );
  else
    turning.push(
      ...(decision?.kind === 'nothing-fits' ? (turns?.turns ?? []) : []).map((t) => t.field),
      ...USUALLY_TURNS,
    );
  return { first, turning: [...new Set(turning)].filter((k) => !first.includes(k)) };
}

const withStop = (words: string): string => (words.endsWith('.') ? words : `${words}.`);

const STAYS = 'whatever it is, the design stays';

/** Whether a field is asked of people rather than read at the house. */
export function isAsked(field: FieldKey): boolean {
  const f = gaugeField(field);
  return f.type === 'choice' || f.group === 'household';
}

/** How much the decision hangs on an assumed figure, in words; null while that is not known. */
export function weightOf(
  assumed: Assumed,
  flips: readonly FlipPoint[] | null,
  turns: Turns | null,
): { readonly words: string; readonly decides: boolean } | null {
  if (turns?.looked.includes(assumed.field)) {
    const open = turns.turns.filter((t) => t.field === assumed.field);
    if (open.length === 0) return { words: STAYS, decides: false };
    return {
      words: `it decides: ask. ${open.map((t) => `If "${t.answer}": ${withStop(t.becomes)}`).join(' ')}`,
      decides: true,
    };
  }
  if (!flips) return null;
  const f = flips.find((x) => x.field === assumed.field);
  if (!f) return { words: '', decides: false };
  if (f.near) return { words: isAsked(assumed.field) ? 'it decides: ask' : 'it decides: measure it', decides: true };
  if (f.holdsFrom === null && f.holdsTo === null) return { words: STAYS, decides: false };
  const edges = [
    f.holdsFrom === null ? '' : `above ${formatNumber(f.holdsFrom, 2)}`,
    f.holdsTo === null ? '' : `below ${formatNumber(f.holdsTo, 2)}`,
  ].filter(Boolean);
  return { words: `the design stays ${edges.join(' and ')} ${f.unit}`.trim(), decides: false };
}
