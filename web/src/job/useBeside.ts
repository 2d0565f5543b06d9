import type { Decision } from '@katharos/core';
import { houseKey, type Questions } from '../data/coreWorkers.ts';
import { useCore, type Answer } from '../data/useCore.ts';
import { BESIDE, type BesideName } from './beside.ts';
import { useJob } from './useJob.ts';

/**
 * What is told beside a decision of the job at hand: asked once that holds for the readings as they are, not of an older design
 * among newer readings. @param d nothing is asked without one
 */
export function useBeside<K extends BesideName>(name: K, d: Decision | null | undefined): Answer<ReturnType<Questions[K]>> {
  const { parts, rules, record, known, errors, standing, decision } = useJob();
  const house = { key: houseKey(parts, rules, record.placed), known, errors, standing };
  return useCore(name, d ? BESIDE[name](house, d) : null, decision.fresh ? undefined : null);
} // oxfmt-ignore
