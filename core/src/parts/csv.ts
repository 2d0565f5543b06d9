import { partDoubts } from './sense.ts';
import { PartSchema, type Catalogue, type Part } from './catalogue.ts';

/** A part as a table shows it: a column for each figure, named by its path ("rating.permeateLDay"). */
export type PartRow = Readonly<Record<string, string>>;

/** Columns that come first, in this order; the rest follow as parts bring them. */
const FIRST = ['id', 'kind', 'name', 'retired', 'price', 'maxPressureBar', 'life.months', 'life.litres'] as const;

function flatten(value: unknown, path: string, out: Record<string, string>): void {
  if (value === undefined || value === null) return;
  // ports are a list: they go into one cell as they are
  if (Array.isArray(value)) out[path] = value.length === 0 ? '' : JSON.stringify(value);
  else if (typeof value === 'object')
    for (const [k, v] of Object.entries(value)) flatten(v, path === '' ? k : `${path}.${k}`, out);
  else if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean')
    out[path] = String(value);
}

/** A part's figures by path. */
export function partRow(part: Part): PartRow {
  const out: Record<string, string> = {};
  flatten(part, '', out);
  return out;
}

/** Parts as rows with the columns they need between them. */
export function partsTable(parts: Catalogue): {
  readonly columns: readonly string[];
  readonly rows: readonly PartRow[];
} {
  const rows = parts.map(partRow);
  const seen = new Set(rows.flatMap((r) => Object.keys(r)));
  const rest = [...seen].filter((c) => !(FIRST as readonly string[]).includes(c)).sort();
  return { columns: [...FIRST.filter((c) => seen.has(c)), ...rest], rows };
}

/** What is wrong with a row, at its column. */
export interface RowFault {
  /** 1 is the first row under the headings */
  readonly row: number;
  readonly column: string;
  readonly message: string;
}

const NUMBER = /^[+-]?\d+(?:[.,]\d+)?(?:e[+-]?\d+)?$/i;
/** Columns that stay text though they may look like numbers. */
const TEXT = new Set(['id', 'name', 'kind', 'fitting', 'contents']);

function cell(column: string, text: string): unknown {
  if (TEXT.has(column)) return text;
  if (text.startsWith('[')) {
    try {
      return JSON.parse(text);
    } catch {
      return text;
    }
  }
  if (text === 'true' || text === 'false') return text === 'true';
  return NUMBER.test(text) ? Number(text.replace(',', '.')) : text;
}

/** A text as it stood before it was marked as one for spreadsheets, which would run it as a formula. */
const asWritten = (text: string): string => text.replace(/^'(?=[=+\-@])/, '');

function unflatten(row: PartRow): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const [path, text] of Object.entries(row)) {
    if (text.trim() === '') continue;
    const keys = path.split('.');
    const last = keys.pop() ?? path;
    let at = out;
    for (const k of keys) {
      const next = at[k];
      at[k] = typeof next === 'object' && next !== null ? next : {};
      at = at[k] as Record<string, unknown>;
    }
    at[last] = cell(path, asWritten(text.trim()));
  }
  if (out.ports === undefined) out.ports = [];
  return out;
}

/** Reads one row back into a part; blank cells are figures the part does not have. */
export function partFromRow(
  row: PartRow,
): { readonly part: Part } | { readonly faults: readonly Omit<RowFault, 'row'>[] } {
  const parsed = PartSchema.safeParse(unflatten(row));
  if (parsed.success) return { part: parsed.data };
  return {
    faults: parsed.error.issues.map((i) => ({ column: i.path.join('.') || 'kind', message: i.message })),
  };
}

/** One part a table changes: what was and what would be, by column. */
export interface PartChange {
  readonly part: Part;
  readonly columns: readonly { readonly column: string; readonly from: string; readonly to: string }[];
}

/** What bringing a table in would do. Nothing is to be taken where there are faults. */
export interface TableReview {
  readonly added: readonly Part[];
  readonly changed: readonly PartChange[];
  readonly same: number;
  readonly faults: readonly RowFault[];
  /** ratings that do not sit well, by part */
  readonly doubts: readonly { readonly id: string; readonly text: string }[];
}

/** Compares a table with the shelf as it is. Parts the table leaves out stay. */
export function reviewTable(rows: readonly PartRow[], now: Catalogue): TableReview {
  const faults: RowFault[] = [];
  const added: Part[] = [];
  const changed: PartChange[] = [];
  let same = 0;
  const byId = new Map(now.map((p) => [p.id, p]));
  const seen = new Map<string, number>();
  rows.forEach((row, i) => {
    const n = i + 1;
    const result = partFromRow(row);
    if ('faults' in result) {
      faults.push(...result.faults.map((f) => ({ row: n, ...f })));
      return;
    }
    const { part } = result;
    const first = seen.get(part.id);
    if (first !== undefined) {
      faults.push({ row: n, column: 'id', message: `"${part.id}" stands in row ${String(first)} already` });
      return;
    }
    seen.set(part.id, n);
    const before = byId.get(part.id);
    if (!before) {
      added.push(part);
      return;
    }
    if (before.kind !== part.kind) {
      faults.push({ row: n, column: 'kind', message: `"${part.id}" is a ${before.kind}: designs name it as one` });
      return;
    }
    const a = partRow(before);
    const b = partRow(part);
    const columns = [...new Set([...Object.keys(a), ...Object.keys(b)])]
      .filter((c) => (a[c] ?? '') !== (b[c] ?? ''))
      .map((column) => ({ column, from: a[column] ?? '', to: b[column] ?? '' }));
    if (columns.length === 0) same++;
    else changed.push({ part, columns });
  });
  const doubts = [...added, ...changed.map((c) => c.part)].flatMap((p) =>
    partDoubts(p).map((text) => ({ id: p.id, text })),
  );
  return { added, changed, same, faults, doubts };
}
