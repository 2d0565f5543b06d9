import type { Fact, FactOf } from '../facts/facts.ts';
import { isDone, readJob } from '../facts/record.ts';
import type { RunStep } from '../facts/step.ts';
import type { DesignVersion } from './version.ts';

/** A step that was done before the design was changed in the middle of the work, and does not stand as done now. */
export interface WorkBefore {
  readonly step: RunStep;
  readonly tick: FactOf<'tick'>;
  /** the new sheet asks for it once more; or it is not on it any more */
  readonly now: 'again' | 'gone';
}

/**
 * What of the work before the newest version does not count in it, nearest version first: it stays on record, and is shown
 * beside the sheet. Empty where the version was not approved in the middle of that work.
 * @param versions all of a job, oldest first
 */
export function workBefore(versions: readonly DesignVersion[], facts: readonly Fact[]): WorkBefore[] {
  const newest = versions.at(-1);
  const seen = new Set<string>();
  return (newest?.goesOn ?? []).flatMap(({ design, steps }): WorkBefore[] => {
    const earlier = versions.find((v) => v.id === design);
    if (!newest || !earlier) return [];
    const record = readJob(facts, earlier);
    return earlier.sheet.flatMap((step): WorkBefore[] => {
      const tick = record.ticks[step.key];
      if (!tick || !isDone(record, step.key) || steps.includes(step.key) || seen.has(step.key)) return [];
      seen.add(step.key);
      return [{ step, tick, now: newest.sheet.some((s) => s.key === step.key) ? 'again' : 'gone' }];
    });
  });
}
