import { kindRow } from '../parts/kinds.ts';
import type { JobSummary } from '../record/summary.ts';

const DAY_MS = 86_400_000;
/** So far ahead the van and the store are looked through, days. */
export const FORTNIGHT_DAYS = 14;

/**
 * Parts that the visits of some days ahead take, by their id on the shelf: of what is planned, what it changes; of what nobody has
 * planned, what falls due by then. A membrane lives by its readings and is taken only where somebody planned it.
 * @param summaries jobs as they stand now @param nowMs the caller's clock @param days ahead, above 0
 */
export function takenWithin(summaries: readonly Pick<JobSummary, 'lives' | 'visits'>[], nowMs: number, days: number): Record<string, number> {
  const takes: Record<string, number> = {};
  const take = (part: string): void => {
    takes[part] = (takes[part] ?? 0) + 1;
  };
  const until = nowMs + days * DAY_MS;
  for (const { lives, visits } of summaries) {
    const planned = new Set<string>();
    for (const v of visits) {
      if (v.work.length === 0) continue;
      // what is planned for later is not taken now, whatever is due of it
      for (const c of v.fact.toChange ?? []) planned.add(c);
      if (Date.parse(v.on) < until) v.brings.forEach(take);
    }
    for (const l of lives)
      if (l.dueMs < until && !planned.has(l.componentId) && l.kind !== 'membrane' && kindRow(l.kind).serviced !== true) take(l.partId);
  }
  return takes;
} // oxfmt-ignore
