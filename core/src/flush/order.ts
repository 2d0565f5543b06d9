import { isDone, type JobRecord } from '../facts/record.ts';
import { formatNumber } from '../quantity/format.ts';
import type { RunStep } from '../facts/step.ts';

/** What a record says of a sheet's steps. */
export type Ticked = Pick<JobRecord, 'ticks' | 'clocks'>;

/** A hold ticked this much before its time is asked about: a share of its minutes. */
const EARLY = 0.9;

/**
 * What each step needs before it, of what stands on the sheet: a step that names nothing needs the one before it, as on
 * sheets made before needs were told.
 */
export function needsIn(sheet: readonly RunStep[]): ReadonlyMap<string, readonly string[]> {
  const on = new Set(sheet.map((s) => s.key));
  return new Map(
    sheet.map((s, i): [string, readonly string[]] => {
      const before = sheet[i - 1]?.key;
      return [s.key, s.needs?.filter((k) => on.has(k)) ?? (before === undefined ? [] : [before])];
    }),
  );
}

/** All that comes before a step, nearest and furthest. @returns keys; empty for a step that is not on the sheet */
export function allBefore(sheet: readonly RunStep[], key: string): Set<string> {
  const needs = needsIn(sheet);
  const found = new Set<string>();
  const look = (k: string): void => {
    for (const n of needs.get(k) ?? [])
      if (!found.has(n) && n !== key) {
        found.add(n);
        look(n);
      }
  };
  look(key);
  return found;
}

/** Steps that are open though a step needs them, in the sheet's order: what ticking it now skips. */
export function skippedBy(sheet: readonly RunStep[], record: Ticked, key: string): RunStep[] {
  const before = allBefore(sheet, key);
  return sheet.filter((s) => before.has(s.key) && !isDone(record, s.key));
}

/** Open steps that another, done already, needed: they were passed over, and stay to be done. */
export function passedOver(sheet: readonly RunStep[], record: Ticked): RunStep[] {
  const done = sheet.filter((s) => isDone(record, s.key));
  const needed = new Set(done.flatMap((s) => [...allBefore(sheet, s.key)]));
  return sheet.filter((s) => needed.has(s.key) && !isDone(record, s.key));
}

/** Open steps with nothing open before them: several may be done side by side. */
export function readySteps(sheet: readonly RunStep[], record: Ticked): RunStep[] {
  return sheet.filter((s) => !isDone(record, s.key) && skippedBy(sheet, record, s.key).length === 0);
}

/** Why a step is not simply ticked. */
export interface Asked {
  /** barred: a reading must be written down first, whoever ticks; else what was seen is asked, and the tick is taken */
  readonly barred: boolean;
  /** what is open before it */
  readonly skips: readonly RunStep[];
  /** minutes its clock still had to run; a clock nobody started had all of them; null where its time is over */
  readonly earlyMin: number | null;
}

/** What is asked before a step is ticked now; null where nothing is. @param nowMs the caller's clock, ms since 1970 */
export function askedBefore(sheet: readonly RunStep[], record: Ticked, step: RunStep, nowMs: number): Asked | null {
  const skips = skippedBy(sheet, record, step.key);
  const barred = skips.some((s) => s.bars?.includes(step.key) === true);
  const clock = record.clocks[step.key];
  const dueMs = clock ? Date.parse(clock.dueAt) : nowMs + step.minutes * 60000;
  const wholeMs = clock ? dueMs - Date.parse(clock.startedAt) : step.minutes * 60000;
  const early = step.kind === 'wait' && nowMs < dueMs - (1 - EARLY) * wholeMs;
  if (skips.length === 0 && !early) return null;
  return { barred, skips, earlyMin: early ? Math.max(1, Math.round((dueMs - nowMs) / 60000)) : null };
}

/** Some steps of a sheet: what is left out hands what it needs on to those that needed it, so that the order stands. */
export function keptSteps(sheet: readonly RunStep[], keep: (s: RunStep) => boolean): RunStep[] {
  const kept = new Set(sheet.filter(keep).map((s) => s.key));
  const needs = needsIn(sheet);
  const handed = (key: string): string[] => (needs.get(key) ?? []).flatMap((n) => (kept.has(n) ? [n] : handed(n)));
  return sheet.filter((s) => kept.has(s.key)).map((s) => ({ ...s, needs: [...new Set(handed(s.key))] }));
}

/**
 * Why a step is not done with a figure that was read; null where it is, or reads nothing.
 * @param read in the step's own unit; undefined for none
 */
export function readProblem(step: RunStep, read: number | undefined, record: Pick<JobRecord, 'ticks'>): string | null {
  const { reads } = step;
  if (!reads) return null;
  if (read === undefined) return 'Write down what it reads.';
  const other = reads.mostOf === undefined ? undefined : record.ticks[reads.mostOf];
  const most = reads.most ?? (other?.done ? other.read : undefined);
  if (reads.mostOf !== undefined && most === undefined) return 'Dip a strip into the feed first: this is measured by what it reads.';
  if (most !== undefined && read > most)
    return `It reads ${formatNumber(read, 2)} ${reads.unit}, at most ${formatNumber(most, 2)} will do: rinse on, and dip again.`;
  return null;
} // oxfmt-ignore
