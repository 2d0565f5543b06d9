import { inSentence } from '../quantity/format.ts';
import { baseUnit, findUnit, toBase, type QuantityKind } from '../quantity/units.ts';
import { fieldAccepts, gaugeField, type FieldKey } from './fields.ts';

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
  /** turned from a conductivity: a figure of dissolved solids itself goes before it */
  readonly turned?: true;
}

/** Headings of the three columns in several languages, lower case, as they begin. */
const HEADINGS = {
  name: ['parameter', 'analyte', 'determinand', 'substance', 'name', 'messgröße', 'messgroesse', 'stoff', 'paramètre', 'parametre', 'parámetro', 'parametro', 'ämne', 'stof'],
  value: ['value', 'result', 'measured', 'messwert', 'wert', 'ergebnis', 'valeur', 'résultat', 'resultat', 'valor', 'resultado', 'valore', 'risultato', 'waarde', 'uitkomst', 'värde'],
  unit: ['unit', 'einheit', 'unité', 'unite', 'unidad', 'unità', 'unita', 'eenheid', 'enhet'],
} as const; // oxfmt-ignore

/** Names of what laboratories report, in several languages, lower case without blanks; the longest that fits wins. */
const NAMES: readonly (readonly [FieldKey, readonly string[]])[] = [
  ['feedTdsMgL', ['tds', 'totaldissolvedsolids', 'dissolvedsolids', 'gelöstestoffe', 'matièresdissoutes', 'sólidosdisueltos', 'solididisciolti']],
  ['hardnessMgL', ['hardness', 'totalhardness', 'summeerdalkalien', 'erdalkalien', 'calciumplusmagnesium', 'calciumandmagnesium', 'summecalcium', 'gesamthärte', 'härte', 'dureté', 'th', 'dureza', 'durezza', 'hardheid', 'hårdhet']],
  ['alkalinityMgL', ['alkalinity', 'alkalinität', 'säurekapazität', 'säurekapazitätbisph4,3', 'säurekapazitätks4,3', 'acidcapacity', 'ks4,3', 'ks4.3', 'm-wert', 'tac', 'alcalinité', 'alcalinidad', 'alcalinità', 'alkaliniteit']],
  ['pH', ['ph', 'ph-wert', 'phwert', 'zuurgraad']],
  ['silicaMgL', ['silica', 'sio2', 'kieselsäure', 'silice', 'sílice', 'kiezelzuur']],
  ['nitrateMgL', ['nitrate', 'no3', 'nitrat', 'nitrates', 'nitrato', 'nitrati', 'nitraat']],
  ['chlorineMgL', ['chlorine', 'totalchlorine', 'freechlorine', 'chlor', 'gesamtchlor', 'chlore', 'cloro', 'chloor', 'klor']],
  ['ironMgL', ['iron', 'fe', 'eisen', 'fer', 'hierro', 'ferro', 'ijzer', 'järn']],
  ['manganeseMgL', ['manganese', 'mn', 'mangan', 'manganèse', 'manganeso', 'manganese', 'mangaan']],
  ['turbidityNTU', ['turbidity', 'trübung', 'turbidité', 'turbidez', 'torbidità', 'troebelheid', 'grumlighet']],
  ['temperatureC', ['temperature', 'temperatur', 'température', 'temperatura', 'temperatuur']],
  ['laboratory', ['e.coli', 'ecoli', 'escherichiacoli', 'coliforms', 'coliform', 'coliforme', 'coliformes', 'enterococci', 'enterokokken', 'totalcoliforms']],
]; // oxfmt-ignore

const squeeze = (s: string): string => s.toLowerCase().replace(/[\s_]+/g, '');

/** Guesses which column holds what, by its heading; null where none looks like it. */
export function guessColumns(headings: readonly string[]): LabColumns {
  const find = (words: readonly string[]): string | null =>
    headings.find((h) => words.some((w) => squeeze(h).startsWith(squeeze(w)))) ?? null;
  return { name: find(HEADINGS.name), value: find(HEADINGS.value), unit: find(HEADINGS.unit) };
}

/** The reading a laboratory's name stands for; null for what this sheet does not take. */
export function guessField(name: string): FieldKey | null {
  const n = squeeze(name).replace(/\(.*?\)/g, '');
  let best: { field: FieldKey; length: number } | null = null;
  for (const [field, words] of NAMES)
    for (const w of words) {
      const word = squeeze(w);
      const fits = n === word || (word.length > 3 && n.includes(word));
      if (fits && (!best || word.length > best.length)) best = { field, length: word.length };
    }
  return best?.field ?? null;
}

/** A laboratory's figure: below its detection or not, with the unit where one stands behind it. */
export interface LabNumber {
  readonly value: number;
  readonly below: boolean;
  readonly unit: string;
}

const NOT_FOUND = /^(nd|n\.d\.|not ?detected|nicht ?nachweisbar|n\.n\.|nn|absent|none|nachgewiesen: nein|0)$/i;

/** "1.250,5", "1,250.5", "0,05", "<0.05", "23 mg/l" and "0/100 ml" as numbers. @returns null for what is none */
export function labNumber(text: string): LabNumber | null {
  const t = text.trim();
  if (NOT_FOUND.test(t)) return { value: 0, below: false, unit: '' };
  const below = /^[<≤]/.test(t);
  const m = /^[<≤>≥]?\s*(\d[\d.,' ]*?(?:e[+-]?\d+)?)\s*([^\d.,'\s].*)?$/i.exec(t);
  if (!m) return null;
  let digits = (m[1] ?? '').replace(/[\s']/g, '');
  const comma = digits.lastIndexOf(',');
  const point = digits.lastIndexOf('.');
  if (comma >= 0 && point >= 0)
    digits = comma > point ? digits.replace(/\./g, '').replace(',', '.') : digits.replace(/,/g, '');
  else digits = digits.replace(',', '.');
  if (!/^\d+(\.\d+)?(e[+-]?\d+)?$/i.test(digits)) return null;
  const unit = (m[2] ?? '').trim();
  // "1-2" and "3 to 5" are ranges, no figures
  if (/^(-|–|to\b|bis\b)/i.test(unit)) return null;
  return { value: Number(digits), below, unit };
}

/** Milligrams of dissolved solids for each µS/cm where neither meter nor make-up says: the middle of what waters have. */
const USUAL_PER_USCM = 0.6;
const CONDUCTIVITY = ['conductivity', 'electricalconductivity', 'specificconductance', 'leitfähigkeit', 'elektrischeleitfähigkeit', 'conductivité', 'conductividad', 'conducibilità', 'conduttività', 'geleidbaarheid', 'geleidingsvermogen', 'konduktivitet'] as const; // oxfmt-ignore

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
 * @param fields what a person said of a row, by its number, over what its name suggests
 * @param perUSCm mg/L for each µS/cm, where a report gives a conductivity in place of dissolved solids
 */
export function readLab(
  rows: readonly LabRow[],
  columns: LabColumns,
  fields: Readonly<Record<number, FieldKey | null>> = {},
  perUSCm: number = USUAL_PER_USCM,
): LabValue[] {
  return rows.map((r, i): LabValue => {
    const row = i + 1;
    const get = (c: string | null): string => (c === null ? '' : (r[c] ?? '').trim());
    const name = get(columns.name);
    const text = get(columns.value);
    const number = labNumber(text);
    const unit = get(columns.unit) || (number?.unit ?? '');
    const asConductivity = CONDUCTIVITY.some((w) => squeeze(name).startsWith(squeeze(w)));
    const guess = asConductivity ? 'feedTdsMgL' : guessField(name);
    const field = row in fields ? (fields[row] ?? null) : guess;
    const base = { row, name, text, unit, field, below: false };
    if (field === null) return { ...base, value: null, fault: null };
    if (!number) return { ...base, value: null, fault: `"${text}" does not read as a figure` };
    const below = number.below;
    const f = gaugeField(field);
    if (f.type === 'choice') {
      // "<1" means that none grew
      const found = number.value > 0 && !below;
      return { ...base, below, value: found ? 'unsafe' : 'clean', fault: null };
    }
    if (asConductivity && field === 'feedTdsMgL') {
      const tds = fromConductivity(number.value, unit, perUSCm);
      return tds === null
        ? { ...base, below, value: null, fault: `"${unit}" is not a unit of conductivity` }
        : { ...base, below, value: tds, fault: null, turned: true };
    }
    if (field === 'alkalinityMgL' && /^(mmol|mval|meq)\/l$/i.test(unit.replace(/\s/g, '')))
      return { ...base, below, value: number.value * MEQ_CACO3, fault: null };
    const symbol = labUnit(f.kind, unit);
    if (symbol === null)
      return { ...base, below, value: null, fault: `"${unit}" is not a unit of ${inSentence(f.label)}` };
    const value = toBase(number.value, f.kind, symbol);
    if (!fieldAccepts(field, value))
      return { ...base, below, value: null, fault: `outside ${String(f.min)} to ${String(f.max)} ${baseUnit(f.kind)}` };
    return { ...base, below, value, fault: null };
  });
}

/** Hardness as CaCO3 in a milligram of each, and in a millimole (their molar masses 40.08, 24.31 and 100.09). */
const HARDNESS_IN = [
  { names: ['calcium', 'ca', 'kalzium', 'calcio', 'kalcium'], perMg: 2.497 },
  { names: ['magnesium', 'mg', 'magnésium', 'magnesio'], perMg: 4.117 },
] as const;
const PER_MMOL = 100.09;

/** Hardness from calcium and magnesium where a report gives these alone; null where it lacks one, or their units are others. */
function hardnessFromIons(values: readonly LabValue[]): LabReading | null {
  const found = HARDNESS_IN.map(({ names, perMg }) => {
    const row = values.find((v) => names.some((n) => squeeze(v.name).replace(/\(.*?\)|2\+|\+\+/g, '') === n));
    const number = row && labNumber(row.text);
    const unit = (row?.unit ?? '').replace(/\s/g, '').toLowerCase();
    const per = unit === 'mg/l' || unit === '' ? perMg : unit === 'mmol/l' ? PER_MMOL : null;
    return row && number && per !== null ? { mgL: number.value * per, words: `${row.name} ${row.text}` } : null;
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
 */
export function labReadings(values: readonly LabValue[]): LabReading[] {
  const out = new Map<FieldKey, LabReading>();
  for (const v of values) {
    if (v.field === null || v.value === null || v.fault !== null) continue;
    const before = out.get(v.field);
    if (v.field === 'laboratory' && before?.value === 'unsafe') continue;
    if (v.turned && before) continue;
    const typed = v.field === 'laboratory' ? `${v.name}: ${v.text} ${v.unit}`.trim() : `${v.text} ${v.unit}`.trim();
    out.set(v.field, { field: v.field, value: v.value, typed: typed.slice(0, 60) });
  }
  const hardness = out.has('hardnessMgL') ? null : hardnessFromIons(values);
  if (hardness) out.set('hardnessMgL', hardness);
  return [...out.values()];
}
