import type { DesignVersion, Household } from '@katharos/contract';
import type { Fact } from '@katharos/core';

/** One job of the made-up firm. */
export interface DemoJob {
  readonly household: Household;
  readonly jobId: string;
  readonly facts: readonly Fact[];
  readonly designs: readonly DesignVersion[];
}
