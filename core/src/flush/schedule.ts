import { isDone, type JobRecord } from '../facts/record.ts';
import { fillPace, pacedMinutes } from './pace.ts';
import type { RunStep } from './step.ts';

/** When an open step begins and ends if work goes on from now. */
export interface Scheduled {
  readonly key: string;
  readonly startMs: number;
  readonly endMs: number;
  /** a clock is running for it */
  readonly running: boolean;
}

export interface Schedule {
  readonly open: readonly Scheduled[];
  readonly next: RunStep | null;
  /** when the household may drink; null once they may */
  readonly drinkableAtMs: number | null;
  readonly doneAtMs: number;
}

/**
 * Lays the open steps of a run sheet on the clock from now: a running wait ends when its clock does, everything else
 * takes its minutes, a fill those the last one took.
 * @param nowMs the caller's clock, ms since 1970
 */
export function scheduleOf(sheet: readonly RunStep[], record: JobRecord, nowMs: number): Schedule {
  let cursor = nowMs;
  let drinkableAtMs: number | null = null;
  const open: Scheduled[] = [];
  const pace = fillPace(sheet, record);
  for (const step of sheet) {
    if (isDone(record, step.key)) continue;
    const timer = record.timers[step.key];
    const startMs = timer ? Date.parse(timer.startedAt) : cursor;
    const endMs = timer ? Math.max(cursor, Date.parse(timer.dueAt)) : cursor + pacedMinutes(step, pace) * 60000;
    cursor = endMs;
    open.push({ key: step.key, startMs, endMs, running: timer !== undefined });
    if (step.key === 'first-drink') drinkableAtMs = endMs;
  }
  return { open, next: sheet.find((s) => !isDone(record, s.key)) ?? null, drinkableAtMs, doneAtMs: cursor };
}

/** One thing that lies before the first litre to drink: a time it takes, or a clock that runs until a moment, ms. */
export type BeforeDrinking = { readonly takesMs: number } | { readonly untilMs: number };

/** What lies before drinking, in its order, without a clock; null once they may. */
export function beforeDrinking(sheet: readonly RunStep[], record: JobRecord): BeforeDrinking[] | null {
  const open = sheet.filter((s) => !isDone(record, s.key));
  const pace = fillPace(sheet, record);
  const drink = open.findIndex((s) => s.key === 'first-drink');
  if (drink < 0) return null;
  return open.slice(0, drink + 1).map((s) => {
    const timer = record.timers[s.key];
    return timer ? { untilMs: Date.parse(timer.dueAt) } : { takesMs: pacedMinutes(s, pace) * 60000 };
  });
}

/** When they may drink if work goes on from now, ms; null once they may. @param nowMs the caller's clock */
export const drinkableAt = (before: readonly BeforeDrinking[] | null, nowMs: number): number | null =>
  before === null ? null : before.reduce((at, b) => ('untilMs' in b ? Math.max(at, b.untilMs) : at + b.takesMs), nowMs);

/** Whether the whole sheet is done, and when its last step was ticked. */
export function commissionedAt(sheet: readonly Pick<RunStep, 'key'>[], record: JobRecord): string | null {
  if (sheet.length === 0 || !sheet.every((s) => isDone(record, s.key))) return null;
  return sheet.reduce((last, s) => {
    const at = record.ticks[s.key]?.at ?? '';
    return at > last ? at : last;
  }, '');
}

/** Elements that have been wetted by the steps done so far. */
export function wetElements(sheet: readonly RunStep[], record: JobRecord): Set<string> {
  return new Set(sheet.filter((s) => isDone(record, s.key)).flatMap((s) => s.wets));
}
