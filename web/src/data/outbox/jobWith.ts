import type { Household, Job } from '@katharos/contract';
import { editedTexts, householdTexts, type HouseholdTexts } from '@katharos/core';
import type { Entry } from './entries.ts';

/** A job as the server has it with what of it waits on this device; null where neither has it. */
export function jobWith(server: Job | undefined, pending: readonly Entry[], id: string): Job | null {
  const own = pending.filter((e) => e.jobId === id);
  const born = own.find((e) => e.write === 'household-new');
  const base = server ?? (born?.write === 'household-new' ? newJob(born.body, id) : null);
  if (!base || own.length === 0) return base;
  const facts = new Set(base.facts.map((f) => f.id));
  const designs = new Set(base.designs.map((d) => d.id));
  return {
    ...base,
    household: own.reduce<Household>((h, e) => (e.write === 'household' ? { ...h, ...editedTexts(h, e.body) } : h), base.household),
    facts: [...base.facts, ...own.flatMap((e) => (e.write === 'fact' && !facts.has(e.id) ? [e.body] : []))],
    designs: [...base.designs, ...own.flatMap((e) => (e.write === 'design' && !designs.has(e.id) ? [e.body] : []))],
  };
} // oxfmt-ignore

/** Puts into a job what the server has taken of it. Changes the job it is given. */
export function putSent(job: Job, entries: readonly Entry[]): void {
  for (const e of entries) {
    if (e.write === 'fact' && !job.facts.some((f) => f.id === e.id)) job.facts.push(e.body);
    if (e.write === 'design' && !job.designs.some((d) => d.id === e.id)) job.designs.push(e.body);
    if (e.write === 'household')
      Object.assign(job, {
        household: { ...editedTexts(job.household, e.body), id: e.householdId, version: e.body.version + 1 },
      });
  }
}

const newJob = (body: HouseholdTexts & { readonly id: string }, id: string): Job => ({
  id,
  household: { id: body.id, ...householdTexts(body), version: 0 },
  facts: [],
  designs: [],
  unreadable: [],
});
