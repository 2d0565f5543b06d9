import { gaugeField, type FieldKey } from '../gauge/fields.ts';
import type { Assumed } from '../gauge/site.ts';
import { formatNumber } from '../quantity/format.ts';
import type { Decision } from './decide.ts';
import type { DesignStudy, FlipPoint } from './study.ts';

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
 * @param study null while it is not worked out yet
 */
export function nextReading(
  decision: Decision,
  study: Pick<DesignStudy, 'flips'> | null,
  has: (field: FieldKey) => boolean,
): NextReading {
  if (decision.kind === 'needs') {
    const field = decision.missing[0];
    if (field) return { kind: 'needed', field, why: 'Nothing can be sized without it.' };
  }
  if (decision.kind === 'referral' || decision.kind === 'other-way') return { kind: 'settled', why: decision.sentence };
  const near = (study?.flips ?? []).filter((f) => f.near);
  const assumed = near.find((f) => f.assumed);
  if (assumed) return { kind: 'decides', field: assumed.field, why: `It decides: the design ${assumed.sentence}.` };
  const read = near.find((f) => !f.assumed);
  if (read)
    return { kind: 'again', field: read.field, why: `So near a flip that its own error decides: ${read.sentence}.` };
  const asked = ALWAYS_ASKED.find((k) => !has(k));
  if (asked) return { kind: 'asked', field: asked, why: gaugeField(asked).how };
  return {
    kind: 'settled',
    why: 'The decision is settled: what is still assumed does not turn it, and the rest may be left as it is.',
  };
}

/** How much the decision hangs on an assumed figure, in words; null while that is not known. */
export function weightOf(
  assumed: Assumed,
  flips: readonly FlipPoint[] | null,
): { readonly words: string; readonly decides: boolean } | null {
  if (!flips) return null;
  const f = flips.find((x) => x.field === assumed.field);
  if (!f) return { words: '', decides: false };
  if (f.near) return { words: 'it decides: measure it', decides: true };
  if (f.holdsFrom === null && f.holdsTo === null) return { words: 'whatever it is, the design stays', decides: false };
  const edges = [
    f.holdsFrom === null ? '' : `above ${formatNumber(f.holdsFrom, 2)}`,
    f.holdsTo === null ? '' : `below ${formatNumber(f.holdsTo, 2)}`,
  ].filter(Boolean);
  return { words: `the design stays ${edges.join(' and ')} ${f.unit}`.trim(), decides: false };
}
