import { isDone, type JobRecord } from '../facts/record.ts';
import { allBefore, needsIn, readProblem, readySteps } from './order.ts';
import { fillPace, pacedMinutes } from './pace.ts';
import type { RunStep } from '../facts/step.ts';

/** The step of the first glass. Whether they may drink it is decided by `mayDrink` alone. */
export const DRINK_STEP = 'first-drink';

/** The step of the first glass on a sheet; undefined where it has none. */
export const drinkStepIn = (sheet: readonly RunStep[]): RunStep | undefined =>
  sheet.find((s) => s.key === DRINK_STEP || s.key.endsWith(`:${DRINK_STEP}`));

/** When an open step begins and ends if work goes on from now. */
export interface Scheduled {
  readonly key: string;
  readonly startMs: number;
  readonly endMs: number;
  /** what it takes, after what the last fill took */
  readonly minutes: number;
  /** a clock is running for it */
  readonly running: boolean;
}

export interface Schedule {
  /** in the sheet's order */
  readonly open: readonly Scheduled[];
  /** what the hands do next; a wait once nothing else can be done */
  readonly next: RunStep | null;
  readonly doneAtMs: number;
}

/** A time hands are busy, ms. */
type Busy = readonly [from: number, to: number];

/** The first moment from one on at which hands are free for so long. @param busy in their order */
function freeFrom(busy: readonly Busy[], from: number, ms: number): number {
  let at = from;
  for (const [start, end] of busy) if (at < end && at + ms > start) at = end;
  return at;
}

/** A hold that was ticked before its time: what follows still counts from when it was due. A fill took what it took. */
function heldUntil(step: RunStep, record: JobRecord): number {
  const clock = record.clocks[step.key];
  const tick = record.ticks[step.key];
  if (step.kind !== 'wait' || step.fillsToL !== undefined || !clock || !tick?.done) return -Infinity;
  return tick.at < clock.dueAt ? Date.parse(clock.dueAt) : -Infinity;
}

/** Steps whose time is over: ticked, and nothing open before them. One ticked over what it needs keeps its time until that is done. */
export function timesOver(sheet: readonly RunStep[], record: JobRecord): Set<string> {
  const needs = needsIn(sheet);
  const over = new Map<string, boolean>();
  const isTimeOver = (key: string): boolean => {
    const known = over.get(key);
    if (known !== undefined) return known;
    over.set(key, false);
    const mine = isDone(record, key) && (needs.get(key) ?? []).every(isTimeOver);
    over.set(key, mine);
    return mine;
  };
  return new Set(sheet.map((s) => s.key).filter(isTimeOver));
}

/**
 * Lays the open steps of a run sheet on the clock from now: each once what it needs is done, hands at one thing at a time,
 * waits beside them. A running wait ends when its clock does, everything else takes its minutes, a fill those the last one took.
 * @param nowMs the caller's clock, ms since 1970
 */
export function scheduleOf(sheet: readonly RunStep[], record: JobRecord, nowMs: number): Schedule {
  const needs = needsIn(sheet);
  const over = timesOver(sheet, record);
  const pace = fillPace(sheet, record);
  const ends = new Map<string, number>();
  let busy: Busy[] = [];
  const open: Scheduled[] = [];
  const lay = (step: RunStep): number => {
    const known = ends.get(step.key);
    if (known !== undefined) return known;
    // a sheet that needs itself is laid once
    ends.set(step.key, nowMs);
    const from = (needs.get(step.key) ?? []).reduce((at, k) => {
      const need = sheet.find((s) => s.key === k);
      return need ? Math.max(at, lay(need)) : at;
    }, nowMs);
    if (over.has(step.key)) {
      const end = Math.max(from, heldUntil(step, record));
      ends.set(step.key, end);
      return end;
    }
    const timer = record.timers[step.key];
    const ms = pacedMinutes(step, pace) * 60000;
    const hands = step.kind !== 'wait';
    const startMs = timer ? Date.parse(timer.startedAt) : hands ? freeFrom(busy, from, ms) : from;
    const endMs = timer ? Math.max(from, Date.parse(timer.dueAt)) : startMs + ms;
    if (hands && !timer) busy = [...busy, [startMs, endMs] as const].sort((a, b) => a[0] - b[0]);
    ends.set(step.key, endMs);
    if (!isDone(record, step.key))
      open.push({ key: step.key, startMs, endMs, minutes: ms / 60000, running: timer !== undefined });
    return endMs;
  };
  for (const step of sheet) lay(step);
  const ready = readySteps(sheet, record);
  const next =
    ready.find((s) => s.kind === 'wait' && isOver(record, s.key, nowMs)) ??
    ready.find((s) => !(s.kind === 'wait' && record.timers[s.key] !== undefined)) ??
    ready[0] ??
    null;
  const at = new Map(sheet.map((s, i) => [s.key, i]));
  return {
    open: open.sort((a, b) => (at.get(a.key) ?? 0) - (at.get(b.key) ?? 0)),
    next,
    doneAtMs: Math.max(nowMs, ...open.map((o) => o.endMs)),
  };
}

const isOver = (record: JobRecord, key: string, nowMs: number): boolean => {
  const timer = record.timers[key];
  return timer !== undefined && Date.parse(timer.dueAt) <= nowMs;
};

/**
 * Keys of the steps before the first glass, its own among them. A sheet without a first glass, as a later version's or one that
 * takes the system out, has all of them before it but those that leave the place right.
 */
function keysToDrink(sheet: readonly RunStep[]): ReadonlySet<string> {
  const drink = drinkStepIn(sheet);
  if (!drink) return new Set(sheet.flatMap((s) => (s.phase === 'Leave it right' ? [] : [s.key])));
  return new Set([...allBefore(sheet, drink.key), drink.key]);
}

/** Whether a step stands ticked without the reading that proves it. */
const isUnproved = (step: RunStep, record: JobRecord): boolean =>
  isDone(record, step.key) &&
  (step.reads?.most !== undefined || step.reads?.mostOf !== undefined) &&
  readProblem(step, record.ticks[step.key]?.read, record) !== null;

/** Steps before the first glass that are not over, or not proved by the reading they ask for; empty once all are. */
export function stepsToDrink(sheet: readonly RunStep[], record: JobRecord): RunStep[] {
  const before = keysToDrink(sheet);
  const over = timesOver(sheet, record);
  return sheet.filter((s) => before.has(s.key) && (!over.has(s.key) || isUnproved(s, record)));
}

/** One thing that lies before the first glass: a time it takes, or a clock that runs until a moment, ms. */
export type BeforeDrinking = { readonly takesMs: number } | { readonly untilMs: number };

/**
 * What lies before the first glass, without a clock: what goes on beside other things is passed over, as its end is not waited
 * for. Null once nothing does.
 */
export function beforeDrinking(sheet: readonly RunStep[], record: JobRecord): BeforeDrinking[] | null {
  const open = stepsToDrink(sheet, record);
  if (open.length === 0) return null;
  const pace = fillPace(sheet, record);
  const mine = keysToDrink(sheet);
  const held = Math.max(...sheet.map((s) => (mine.has(s.key) ? heldUntil(s, record) : -Infinity)));
  const steps = open.map((s): BeforeDrinking => {
    const timer = record.timers[s.key];
    return timer ? { untilMs: Date.parse(timer.dueAt) } : { takesMs: pacedMinutes(s, pace) * 60000 };
  });
  return held > -Infinity ? [{ untilMs: held }, ...steps] : steps;
}

/** When the first glass is due if work goes on from now, ms; null where nothing lies before it. @param nowMs the caller's clock */
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
