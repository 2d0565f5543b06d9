import * as z from 'zod';
import { text, uuid } from '../words/stored.ts';
import type { Travel } from './plan.ts';

const minute = z.number().int().min(0).max(1440);

/** What a day is planned by: the minutes between the firm's districts, and who drives out from where and when. */
export const DayTableSchema = z.object({
  /** the firm's districts, as they stand in a household's place */
  districts: z.array(text(120).min(1)).max(200),
  /** by "A | B", the two in order of their names */
  minutes: z.record(text(200), z.number().int().min(0).max(600)),
  /** within a district */
  withinMin: z.number().int().min(0).max(120),
  /** where the table has no minutes */
  elseMin: z.number().int().min(0).max(600),
  fitters: z
    .array(z.object({ person: uuid(), district: text(120), fromMin: minute, untilMin: minute }))
    .max(30)
    .refine((all) => all.every((f) => f.fromMin < f.untilMin), 'a day ends after it begins'),
});
export type DayTable = z.infer<typeof DayTableSchema>;

/** A firm that has written nothing down yet. */
export const NO_DAY_TABLE: DayTable = { districts: [], minutes: {}, withinMin: 8, elseMin: 25, fitters: [] };

/** A working day where nothing else was said, minutes from midnight. */
export const WORKING_DAY = { fromMin: 8 * 60, untilMin: 17 * 60 } as const;

/** The district of a place: the longest of the firm's that stands in it; else the place itself. */
export const districtOf = (place: string, { districts }: Pick<DayTable, 'districts'>): string =>
  districts
    .filter((d) => place.toLowerCase().includes(d.toLowerCase()))
    .reduce((a, b) => (b.length > a.length ? b : a), '') || place.trim();

/** How two districts are called in the table, whichever is named first. */
export const betweenKey = (a: string, b: string): string => [a, b].sort((x, y) => x.localeCompare(y)).join(' | ');

/** Driving by the table, min. */
export function travelBy(table: DayTable): Travel {
  return (from, to) => (from === to ? table.withinMin : (table.minutes[betweenKey(from, to)] ?? table.elseMin));
}

/** Pairs of districts that a plan drives between and the table has no minutes for. */
export function unknownWays(districts: readonly string[], table: DayTable): string[] {
  const all = [...new Set(districts)].sort((a, b) => a.localeCompare(b));
  return all.flatMap((a, i) => all.slice(i + 1).map((b) => betweenKey(a, b))).filter((k) => table.minutes[k] === undefined);
} // oxfmt-ignore
