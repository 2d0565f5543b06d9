import { mayDrink, type MayDrink } from '@katharos/core';
import { useMemo } from 'react';
import { useJobFacts } from '../useJob.ts';

/** Whether the household of the page may drink. @param nowMs the page's clock */
export function useDrinking(nowMs: number): MayDrink {
  const { drinking } = useJobFacts();
  return useMemo(() => mayDrink(drinking, nowMs), [drinking, nowMs]);
}
