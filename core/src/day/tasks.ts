import type { JobRecord } from '../facts/record.ts';
import type { RunStep } from '../facts/step.ts';
import { keptSteps } from '../flush/order.ts';
import { scheduleOf } from '../flush/schedule.ts';
import type { Task } from './plan.ts';

/** A wait this long leaves time for another house, min; a shorter one is waited for. */
export const AWAY_MIN = 45;
/** What a visit takes that nobody made a sheet for: readings, looks, a word with the household, min. */
export const PLAIN_VISIT: readonly Task[] = [{ handsMin: 30, waitMin: 0 }];

/**
 * The work of what is open on a run sheet, without a clock: stays at the house, and the waits between them that are long enough to
 * drive away. A clock that runs already is taken as over: what comes after it begins the work.
 * @returns empty where nothing is open
 */
export function tasksIn(sheet: readonly RunStep[], record: Pick<JobRecord, 'ticks' | 'timers' | 'clocks'>): Task[] {
  const left = keptSteps(sheet, (s) => record.ticks[s.key]?.done !== true && record.timers[s.key] === undefined);
  const { open } = scheduleOf(left, { ticks: {}, timers: {}, clocks: {} } as unknown as JobRecord, 0);
  const hands = open
    .filter((o) => left.find((s) => s.key === o.key)?.kind !== 'wait')
    .sort((a, b) => a.startMs - b.startMs);
  const stays: { fromMs: number; toMs: number }[] = [];
  for (const h of hands) {
    const last = stays.at(-1);
    if (last && h.startMs - last.toMs < AWAY_MIN * 60000) last.toMs = Math.max(last.toMs, h.endMs);
    else stays.push({ fromMs: h.startMs, toMs: h.endMs });
  }
  return stays.map((s, i) => {
    const next = stays[i + 1];
    return {
      handsMin: Math.ceil((s.toMs - s.fromMs) / 60000),
      waitMin: next ? Math.round((next.fromMs - s.toMs) / 60000) : 0,
    };
  });
}
