import type { ReactElement, ReactNode } from 'react';
import { JobContext, JobFactsContext, useSteady } from './useJob.ts';

/** Gives a page its job: all of it, and apart from that what stands while figures are tried. */
export function JobProvider({ job, children }: { job: JobContext; children: ReactNode }): ReactElement {
  return (
    <JobFactsContext value={useSteady(job)}>
      <JobContext value={job}>{children}</JobContext>
    </JobFactsContext>
  );
}
