import type { FactOf } from '../facts/facts.ts';
import { visitMs, type JobRecord } from '../facts/record.ts';
import { isKind, kindRow } from '../parts/kinds.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { Component } from '../system/system.ts';

const DAY_MS = 86_400_000;

/** One line of a visit's bill. */
export interface BillLine {
  readonly of: 'part' | 'work' | 'travel';
  readonly what: string;
  readonly amount: number;
  readonly unit: 'piece' | 'min';
  /** the firm's money; null where the shelf or the rules have no price */
  readonly each: number | null;
  readonly sum: number | null;
}

/** A visit's bill: what went in, and the time it took. */
export interface Bill {
  readonly lines: readonly BillLine[];
  /** of all that has a price */
  readonly total: number;
  /** something on it has none */
  readonly unpriced: boolean;
}

const cents = (sum: number): number => Math.round(100 * sum) / 100;

/** Time a visit took by its run sheet: what hands do, to five minutes; null where it had none. */
export function handsMinutes(visit: FactOf<'visit'>, record: Pick<JobRecord, 'changes'>): number | null {
  const change = record.changes.find((c) => c.id === visit.change);
  if (!change) return null;
  const hands = change.sheet.filter((s) => s.kind !== 'wait').reduce((sum, s) => sum + s.minutes, 0);
  return 5 * Math.max(1, Math.round(hands / 5));
}

/**
 * What a visit is billed: each part that went in, by its label where one was read off that day, and its minutes by the firm's hour.
 * @param components the system's, for what was changed without a label @param minutes, travelMin 0 or more
 */
export function billOf(
  visit: FactOf<'visit'>,
  record: Pick<JobRecord, 'labels'>,
  components: readonly Component[],
  rules: Pick<HouseRules, 'hourPrice'>,
  minutes: number,
  travelMin: number,
): Bill {
  const put = visit.changed.flatMap((id) => {
    const c = components.find((x) => x.id === id);
    // what is only cleaned costs its minutes
    if (c && isKind(c.kind) && kindRow(c.kind).serviced === true) return [];
    const label = record.labels.findLast((f) => f.component === id && Math.abs(Date.parse(f.at) - visitMs(visit)) < DAY_MS);
    const part = label?.part ?? c?.part;
    return part ? [{ part, serial: label?.serial ?? '' }] : [];
  });
  const groups = new Map<string, { readonly what: string; readonly each: number | null; amount: number }>();
  for (const { part, serial } of put) {
    // one with a serial of its own is a line of its own
    const key = serial === '' ? part.id : `${part.id} ${serial}`;
    const group = groups.get(key) ?? { what: serial === '' ? part.name : `${part.name}, ${serial}`, each: part.price ?? null, amount: 0 };
    groups.set(key, { ...group, amount: group.amount + 1 });
  }
  const line = (of: BillLine['of'], what: string, amount: number, unit: BillLine['unit'], each: number | null): BillLine => ({
    of, what, amount, unit, each, sum: each === null ? null : cents(amount * each),
  });
  const minute = rules.hourPrice > 0 ? rules.hourPrice / 60 : null;
  const lines = [
    ...[...groups.values()].map((g) => line('part', g.what, g.amount, 'piece', g.each)),
    ...(minutes > 0 ? [line('work', 'Work', minutes, 'min', minute)] : []),
    ...(travelMin > 0 ? [line('travel', 'Travel', travelMin, 'min', minute)] : []),
  ];
  return { lines, total: cents(lines.reduce((s, l) => s + (l.sum ?? 0), 0)), unpriced: lines.some((l) => l.each === null) };
} // oxfmt-ignore
