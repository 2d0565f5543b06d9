import { baseUnit, findUnit, kindsOf, toBase, type QuantityKind } from './units.ts';

/** Why a typed quantity was not taken. What is said of it is in words/quantity.ts. */
export type QuantityProblem =
  | { readonly code: 'empty' }
  | { readonly code: 'not-a-number'; readonly text: string }
  | { readonly code: 'ambiguous-comma'; readonly text: string }
  | { readonly code: 'unknown-unit'; readonly unit: string; readonly kind: QuantityKind }
  | { readonly code: 'wrong-kind'; readonly unit: string; readonly kind: QuantityKind; readonly is: QuantityKind }
  | { readonly code: 'no-such-factor'; readonly factor: number }
  | {
      readonly code: 'out-of-range';
      readonly value: number;
      readonly min: number;
      readonly max: number;
      readonly kind: QuantityKind;
    };

export type ParsedQuantity =
  | {
      readonly ok: true;
      readonly value: number;
      readonly unit: string;
      readonly written: number;
      /** mg/L taken for each µS/cm, where a conductivity was written for a concentration */
      readonly perUSCm?: number;
      /** a flow worked out from a jug and a watch */
      readonly timed?: true;
    }
  | { readonly ok: false; readonly problem: QuantityProblem };

/** Bounds of mg/L for each µS/cm: sodium chloride has about 0.5, hard and alkaline waters up to 0.8, acids less. */
export const PER_USCM_RANGE = { min: 0.3, max: 1.1 } as const;

/** A conductivity, perhaps with the factor a meter turns it into dissolved solids by. */
const CONDUCTIVITY = /^([^\d@*×]+?)(?:\s*(?:at|by|x|×|\*|@)\s*(\d*[.,]?\d+))?$/iu;

/** A volume and the time it took: "250 mL in 42 s", "0.5 L / 1.5 min". */
const JUG_AND_WATCH = /^(.*\d.*?)\s*(?:in|\/)\s*(\d+(?:[.,]\d+)?)\s*(s|sec|secs|seconds?|min|mins|minutes?)$/iu;

/** A flow by jug and watch in the flow's base unit, L/min; null where it was not written so, or no time passed. */
function jugAndWatch(t: string): number | null {
  const m = JUG_AND_WATCH.exec(t);
  if (!m) return null;
  const [, jug = '', time = '', unit = ''] = m;
  // a bare number may be of either: a jug has its unit
  if (/^[\d.,\s]+$/.test(jug)) return null;
  const volume = parseQuantity(jug, 'volume');
  const minutes = Number(time.replace(',', '.')) / (unit.toLowerCase().startsWith('s') ? 60 : 1);
  return volume.ok && minutes > 0 ? volume.value / minutes : null;
}

const NUMBER = /^([+-]?)(?:(\d+)\s+)?(\d+(?:[.,]\d+)?|[.,]\d+)(?:\s*\/\s*(\d+))?\s*(.*)$/u;

/**
 * Reads what a person typed into a field: number (decimal point or comma, "3/8", "1 1/2"), then a unit of the field's
 * kind, or none for the field's own unit.
 * @param text as typed
 * @param kind what the field holds
 * @param fieldUnit symbol taken when none is typed (base unit of the kind if left out)
 * @param range allowed values in the base unit, both ends included
 * @param perUSCm mg/L for each µS/cm of this water or this meter; with it a concentration may be written as a
 *   conductivity, also with a factor of its own: "640 µS/cm at 0.5"
 * A flow may be written as what ran into a jug and how long it took: "250 mL in 42 s".
 * @returns value in the base unit, or the problem as data. "1,250" is refused as ambiguous rather than guessed.
 */
export function parseQuantity(
  text: string,
  kind: QuantityKind,
  fieldUnit: string = baseUnit(kind),
  range?: { readonly min: number; readonly max: number },
  perUSCm?: number,
): ParsedQuantity {
  const t = text.trim().replace(/\u2212/g, '-');
  if (t === '') return { ok: false, problem: { code: 'empty' } };
  const timed = kind === 'flow' ? jugAndWatch(t) : null;
  if (timed !== null) return within(timed, { unit: baseUnit('flow'), written: timed, timed: true });
  const m = NUMBER.exec(t);
  if (!m) return { ok: false, problem: { code: 'not-a-number', text: t } };
  const [, sign, whole, digits = '', divisor, unitText = ''] = m;
  if (/^[1-9]\d{0,2},\d{3}$/.test(digits)) return { ok: false, problem: { code: 'ambiguous-comma', text: digits } };
  if (/^[.,]?\d/.test(unitText)) return { ok: false, problem: { code: 'not-a-number', text: t } };
  let written = Number(digits.replace(',', '.'));
  if (divisor !== undefined) {
    if (Number(divisor) === 0) return { ok: false, problem: { code: 'not-a-number', text: t } };
    written /= Number(divisor);
  }
  if (whole !== undefined) {
    if (divisor === undefined) return { ok: false, problem: { code: 'not-a-number', text: t } };
    written += Number(whole);
  }
  if (sign === '-') written = -written;
  const unitWritten = unitText.trim() === '' ? fieldUnit : unitText;
  const asConductivity =
    kind === 'concentration' && perUSCm !== undefined ? conductivityIn(unitWritten, perUSCm) : null;
  if (asConductivity) {
    const { factor, unit } = asConductivity;
    if (factor < PER_USCM_RANGE.min || factor > PER_USCM_RANGE.max)
      return { ok: false, problem: { code: 'no-such-factor', factor } };
    return within(toBase(written, 'conductivity', unit) * factor, { unit, written, perUSCm: factor });
  }
  const unit = findUnit(kind, unitWritten);
  if (!unit) {
    const is = kindsOf(unitText)[0];
    return {
      ok: false,
      problem: is
        ? { code: 'wrong-kind', unit: unitText.trim(), kind, is }
        : { code: 'unknown-unit', unit: unitText.trim(), kind },
    };
  }
  return within(toBase(written, kind, unit.symbol), { unit: unit.symbol, written });

  function within(value: number, how: Omit<Extract<ParsedQuantity, { ok: true }>, 'ok' | 'value'>): ParsedQuantity {
    return range && (value < range.min || value > range.max)
      ? { ok: false, problem: { code: 'out-of-range', value, min: range.min, max: range.max, kind } }
      : { ok: true, value, ...how };
  }
}

/** A conductivity's unit and factor, from what stands after the number; null where it is none. */
function conductivityIn(text: string, usual: number): { unit: string; factor: number } | null {
  const m = CONDUCTIVITY.exec(text.trim());
  const unit = m?.[1] === undefined ? undefined : findUnit('conductivity', m[1]);
  if (!unit) return null;
  return { unit: unit.symbol, factor: m?.[2] === undefined ? usual : Number(m[2].replace(',', '.')) };
}
