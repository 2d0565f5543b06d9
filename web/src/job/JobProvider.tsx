import type { ReactElement, ReactNode } from 'react';
import { JobContext, JobFactsContext, type JobFacts } from './useJob.ts';

/** Gives a page its job: all of it, and apart from that what stands while figures are tried. */
export function JobProvider(p: { job: JobContext; facts: JobFacts; children: ReactNode }): ReactElement {
  return (
    <JobFactsContext value={p.facts}>
      <JobContext value={p.job}>{p.children}</JobContext>
    </JobFactsContext>
  );
}
