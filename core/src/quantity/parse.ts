import { baseUnit, findUnit, kindsOf, toBase, UNITS, type QuantityKind } from './units.ts';

/** Why a typed quantity was not taken. Wording is in `quantityMessage`. */
export type QuantityProblem =
  | { readonly code: 'empty' }
  | { readonly code: 'not-a-number'; readonly text: string }
  | { readonly code: 'ambiguous-comma'; readonly text: string }
  | { readonly code: 'unknown-unit'; readonly unit: string; readonly kind: QuantityKind }
  | { readonly code: 'wrong-kind'; readonly unit: string; readonly kind: QuantityKind; readonly is: QuantityKind }
  | {
      readonly code: 'out-of-range';
      readonly value: number;
      readonly min: number;
      readonly max: number;
      readonly kind: QuantityKind;
    };

export type ParsedQuantity =
  | { readonly ok: true; readonly value: number; readonly unit: string; readonly written: number }
  | { readonly ok: false; readonly problem: QuantityProblem };

const NUMBER = /^([+-]?)(?:(\d+)\s+)?(\d+(?:[.,]\d+)?|[.,]\d+)(?:\s*\/\s*(\d+))?\s*(.*)$/u;

/**
 * Reads what a person typed into a field: number (decimal point or comma, "3/8", "1 1/2"), then a unit of the field's
 * kind, or none for the field's own unit.
 * @param text as typed
 * @param kind what the field holds
 * @param fieldUnit symbol taken when none is typed (base unit of the kind if left out)
 * @param range allowed values in the base unit, both ends included
 * @returns value in the base unit, or the problem as data. "1,250" is refused as ambiguous rather than guessed.
 */
export function parseQuantity(
  text: string,
  kind: QuantityKind,
  fieldUnit: string = baseUnit(kind),
  range?: { readonly min: number; readonly max: number },
): ParsedQuantity {
  const t = text.trim().replace(/\u2212/g, '-');
  if (t === '') return { ok: false, problem: { code: 'empty' } };
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
  const unit = unitText.trim() === '' ? findUnit(kind, fieldUnit) : findUnit(kind, unitText);
  if (!unit) {
    const is = kindsOf(unitText)[0];
    return {
      ok: false,
      problem: is
        ? { code: 'wrong-kind', unit: unitText.trim(), kind, is }
        : { code: 'unknown-unit', unit: unitText.trim(), kind },
    };
  }
  const value = toBase(written, kind, unit.symbol);
  if (range && (value < range.min || value > range.max)) {
    return { ok: false, problem: { code: 'out-of-range', value, min: range.min, max: range.max, kind } };
  }
  return { ok: true, value, unit: unit.symbol, written };
}

const KIND_WORD: Readonly<Record<QuantityKind, string>> = {
  pressure: 'a pressure',
  temperature: 'a temperature',
  volume: 'a volume',
  flow: 'a flow',
  dailyVolume: 'litres a day',
  concentration: 'a concentration',
  hardness: 'a hardness',
  length: 'a length',
  run: 'a length',
  duration: 'a time',
  acidity: 'a pH',
  turbidity: 'a turbidity',
  count: 'a number',
};

/** What is wrong with a typed quantity and what would be right, in one sentence. */
export function quantityMessage(p: QuantityProblem): string {
  switch (p.code) {
    case 'empty':
      return 'Nothing typed yet.';
    case 'not-a-number':
      return `"${p.text}" does not read as a number. Write it like 3.2 or 3,2 or 3/8, then the unit.`;
    case 'ambiguous-comma':
      return `"${p.text}" could mean ${p.text.replace(',', '')} or ${p.text.replace(',', '.')}. Write one of these.`;
    case 'unknown-unit':
      return `"${p.unit}" is not a unit of ${KIND_WORD[p.kind].replace(/^an? /, '')}. Use ${unitList(p.kind)}.`;
    case 'wrong-kind':
      return `"${p.unit}" measures ${KIND_WORD[p.is]}; this field wants ${KIND_WORD[p.kind]} in ${unitList(p.kind)}.`;
    case 'out-of-range':
      return `Outside ${figure(p.min)} to ${figure(p.max)} ${baseUnit(p.kind)}: check the figure and its unit.`.replace(
        ' :',
        ':',
      );
  }
}

function unitList(kind: QuantityKind): string {
  const s = UNITS[kind].map((u) => u.symbol).filter(Boolean);
  return s.length === 0
    ? 'a plain number'
    : s.length === 1
      ? (s[0] ?? '')
      : `${s.slice(0, -1).join(', ')} or ${s.at(-1) ?? ''}`;
}

function figure(v: number): string {
  return String(Math.round(v * 100) / 100);
}
