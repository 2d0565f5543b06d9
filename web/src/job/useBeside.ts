import type { Decision } from '@katharos/core';
import { houseKey, type Questions } from '../data/coreWorkers.ts';
import { useCore, type Answer } from '../data/useCore.ts';
import { BESIDE, type BesideName } from './beside.ts';
import { useJob } from './useJob.ts';

/** What is told beside a decision of the job at hand. @param d nothing is asked without one */
export function useBeside<K extends BesideName>(name: K, d: Decision | null | undefined): Answer<ReturnType<Questions[K]>> {
  const { parts, rules, record, known, errors, standing } = useJob();
  return useCore(name, d ? BESIDE[name]({ key: houseKey(parts, rules, record.placed), known, errors, standing }, d) : null);
} // oxfmt-ignore
