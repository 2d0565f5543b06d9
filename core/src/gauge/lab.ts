import { inSentence } from '../quantity/format.ts';
import { baseUnit, findUnit, toBase, type QuantityKind } from '../quantity/units.ts';
import { fieldAccepts, gaugeField, type FieldKey } from './fields.ts';
import { guessField, isConductivity, isUsual, squeeze } from './labNames.ts';
import { decimalSignOf, labNumber, type DecimalSign, type LabNumber } from './labNumber.ts';

/** A laboratory's row as it stands in its file, by column heading. */
export type LabRow = Readonly<Record<string, string>>;

/** Which column is which. */
export interface LabColumns {
  readonly name: string | null;
  readonly value: string | null;
  readonly unit: string | null;
}

/** What a row comes to. */
export interface LabValue {
  /** 1 is the first row under the headings */
  readonly row: number;
  readonly name: string;
  /** as it stands: "<0,05" */
  readonly text: string;
  readonly unit: string;
  /** the reading it is; null where this sheet has none */
  readonly field: FieldKey | null;
  /** in the field's base unit or its option; at the limit itself where it is below it */
  readonly value: number | string | null;
  /** below the laboratory's limit of detection */
  readonly below: boolean;
  readonly fault: string | null;
  /** nobody said what it is: its name did */
  readonly guessed: boolean;
  /** the two figures it may be, where neither it nor the sheet tells which sign stands before the decimals */
  readonly either?: readonly [number, number];
  /** turned from a conductivity: a figure of dissolved solids itself goes before it */
  readonly turned?: true;
}

/** Headings of the three columns in several languages, lower case, as they begin. */
const HEADINGS = {
  name: ['parameter', 'analyte', 'determinand', 'substance', 'name', 'messgröße', 'messgroesse', 'stoff', 'paramètre', 'parametre', 'parámetro', 'parametro', 'ämne', 'stof'],
  value: ['value', 'result', 'measured', 'messwert', 'wert', 'ergebnis', 'valeur', 'résultat', 'resultat', 'valor', 'resultado', 'valore', 'risultato', 'waarde', 'uitkomst', 'värde'],
  unit: ['unit', 'einheit', 'unité', 'unite', 'unidad', 'unità', 'unita', 'eenheid', 'enhet'],
} as const; // oxfmt-ignore

/** Guesses which column holds what, by its heading; null where none looks like it. */
export function guessColumns(headings: readonly string[]): LabColumns {
  const find = (words: readonly string[]): string | null =>
    headings.find((h) => words.some((w) => squeeze(h).startsWith(squeeze(w)))) ?? null;
  return { name: find(HEADINGS.name), value: find(HEADINGS.value), unit: find(HEADINGS.unit) };
}

/** Milligrams of dissolved solids for each µS/cm where neither meter nor make-up says: the middle of what waters have. */
const USUAL_PER_USCM = 0.6;

/** What a conductivity comes to as dissolved solids, mg/L; null for a unit that is none of it. */
function fromConductivity(value: number, unit: string, perUSCm: number): number | null {
  const u = unit.replace(/µ|μ/g, 'u').replace(/\s/g, '');
  const factor = /^us\/cm$/i.test(u) || u === '' ? 1 : /^mS\/cm$/.test(u) ? 1000 : /^mS\/m$/i.test(u) ? 10 : null;
  return factor === null ? null : value * factor * perUSCm;
}

/** The line of a sheet that names its columns: the first on which a substance's and a figure's heading stand. */
export function headingLine(lines: readonly (readonly string[])[]): number {
  const named = lines.findIndex((l) => {
    const c = guessColumns(l);
    return c.name !== null && c.value !== null;
  });
  if (named >= 0) return named;
  return Math.max(
    0,
    lines.findIndex((l) => l.filter((c) => c.trim() !== '').length >= 2),
  );
}

/** mg/L as CaCO3 in a milliequivalent: acid capacity to pH 4.3 in mmol/L is one. */
const MEQ_CACO3 = 50.04;

/** The sign before the decimals of a sheet, by its column of figures; null where the sheet does not tell. */
export const signOfSheet = (rows: readonly LabRow[], { value }: LabColumns): DecimalSign | null =>
  decimalSignOf(rows.flatMap((r) => (value === null ? [] : (r[value] ?? []))));

/** A figure that may be two is a question, never one of them unsaid. */
const openFigure = (text: string, n: LabNumber, orElse: number): Pick<LabValue, 'value' | 'fault' | 'either'> => ({
  value: null,
  fault: `"${text}" may be ${String(n.value)} or ${String(orElse)}: say which sign stands before the decimals`,
  either: [n.value, orElse],
});

/** Units as laboratories write them, beyond those people type. */
function labUnit(kind: QuantityKind, unit: string): string | null {
  const u = unit.trim().replace(/µ|μ/g, 'u');
  if (u === '' || u === '-') return baseUnit(kind);
  const plain = u.replace(/\s*(caco3|as caco3|no3)$/i, '').trim();
  return findUnit(kind, plain)?.symbol ?? findUnit(kind, plain.replace(/^°/, ''))?.symbol ?? null;
}

/**
 * Reads a laboratory's rows. What is below detection is kept as such and taken at its limit: the water is then no worse
 * than that. Counts of bacteria become the report's own word: clean only where none was found.
 * A figure is read by the sign that the whole sheet writes before decimals; one that may be two things is asked about. What is
 * guessed by its name and lies beyond what is usual for it is asked about too.
 * @param fields what a person said of a row, by its number, over what its name suggests
 * @param perUSCm mg/L for each µS/cm, where a report gives a conductivity in place of dissolved solids
 * @param sign before the decimals, where a person said it
 */
export function readLab(
  rows: readonly LabRow[],
  columns: LabColumns,
  fields: Readonly<Record<number, FieldKey | null>> = {},
  perUSCm: number = USUAL_PER_USCM,
  sign: DecimalSign | null = signOfSheet(rows, columns),
): LabValue[] {
  return rows.map((r, i): LabValue => {
    const row = i + 1;
    const get = (c: string | null): string => (c === null ? '' : (r[c] ?? '').trim());
    const name = get(columns.name);
    const text = get(columns.value);
    const number = labNumber(text, sign);
    const unit = get(columns.unit) || (number?.unit ?? '');
    const asConductivity = isConductivity(name);
    const guessed = !(row in fields);
    const field = guessed ? (asConductivity ? 'feedTdsMgL' : guessField(name)) : (fields[row] ?? null);
    const base = { row, name, text, unit, field, guessed, below: number?.below ?? false };
    if (field === null) return { ...base, value: null, fault: null };
    if (!number) return { ...base, value: null, fault: `"${text}" does not read as a figure` };
    const f = gaugeField(field);
    if (f.type === 'choice') {
      // "<1" means that none grew
      const found = number.value > 0 && !base.below;
      return { ...base, value: found ? 'unsafe' : 'clean', fault: null };
    }
    if (number.orElse !== undefined) return { ...base, ...openFigure(text, number, number.orElse) };
    const turned = asConductivity && field === 'feedTdsMgL';
    const read = turned ? fromConductivity(number.value, unit, perUSCm) : inBase(number.value, field, unit);
    if (read === null)
      return { ...base, value: null, fault: `"${unit}" is not a unit of ${turned ? 'conductivity' : inSentence(f.label)}` };
    if (!fieldAccepts(field, read))
      return { ...base, value: null, fault: `outside ${String(f.min)} to ${String(f.max)} ${baseUnit(f.kind)}` };
    if (guessed && !isUsual(field, read))
      return { ...base, value: null, fault: `${text} ${unit} is unusual for ${inSentence(f.label)}: choose what it is, or leave it out` };
    return { ...base, value: read, fault: null, ...(turned ? { turned: true as const } : {}) };
  });
} // oxfmt-ignore

/** A figure in a reading's base unit; null for a unit that is none of it. */
function inBase(value: number, field: FieldKey, unit: string): number | null {
  const f = gaugeField(field);
  if (f.type === 'choice') return null;
  if (field === 'alkalinityMgL' && /^(mmol|mval|meq)\/l$/i.test(unit.replace(/\s/g, ''))) return value * MEQ_CACO3;
  const symbol = labUnit(f.kind, unit);
  return symbol === null ? null : toBase(value, f.kind, symbol);
}

/** Hardness as CaCO3 in a milligram of each, and in a millimole (their molar masses 40.08, 24.31 and 100.09). */
const HARDNESS_IN = [
  { names: ['calcium', 'ca', 'kalzium', 'calcio', 'kalcium'], perMg: 2.497 },
  { names: ['magnesium', 'mg', 'magnésium', 'magnesio'], perMg: 4.117 },
] as const;
const PER_MMOL = 100.09;

/** Hardness from calcium and magnesium where a report gives these alone; null where it lacks one, or their units are others. */
function hardnessFromIons(values: readonly LabValue[], sign: DecimalSign | null): LabReading | null {
  const found = HARDNESS_IN.map(({ names, perMg }) => {
    const row = values.find((v) => names.some((n) => squeeze(v.name).replace(/\(.*?\)|2\+|\+\+/g, '') === n));
    const number = row && labNumber(row.text, sign);
    const unit = (row?.unit ?? '').replace(/\s/g, '').toLowerCase();
    const per = unit === 'mg/l' || unit === '' ? perMg : unit === 'mmol/l' ? PER_MMOL : null;
    return row && number && number.orElse === undefined && per !== null
      ? { mgL: number.value * per, words: `${row.name} ${row.text}` }
      : null;
  });
  const [calcium, magnesium] = found;
  if (!calcium || !magnesium) return null;
  const value = calcium.mgL + magnesium.mgL;
  if (!fieldAccepts('hardnessMgL', value)) return null;
  const typed = `${String(Math.round(value))} mg/L, of ${calcium.words} and ${magnesium.words}`;
  return { field: 'hardnessMgL', value, typed: typed.slice(0, 60) };
}

/** A reading as a report gives it. */
export interface LabReading {
  readonly field: FieldKey;
  readonly value: number | string;
  readonly typed: string;
}

/**
 * What is to be taken over: one value a reading; of several counts of bacteria the worst. Where calcium and magnesium stand
 * and no hardness, it is their sum.
 * @param sign before the decimals, where a person said it
 */
export function labReadings(values: readonly LabValue[], sign: DecimalSign | null = null): LabReading[] {
  const out = new Map<FieldKey, LabReading>();
  for (const v of values) {
    if (v.field === null || v.value === null || v.fault !== null) continue;
    const before = out.get(v.field);
    if (v.field === 'laboratory' && before?.value === 'unsafe') continue;
    if (v.turned && before) continue;
    const typed = v.field === 'laboratory' ? `${v.name}: ${v.text} ${v.unit}`.trim() : `${v.text} ${v.unit}`.trim();
    out.set(v.field, { field: v.field, value: v.value, typed: typed.slice(0, 60) });
  }
  const hardness = out.has('hardnessMgL')
    ? null
    : hardnessFromIons(values, sign ?? decimalSignOf(values.map((v) => v.text)));
  if (hardness) out.set('hardnessMgL', hardness);
  return [...out.values()];
}
