import { dayTotals, householdDay, siteFrom, type Draw } from '@katharos/core';
import { useCallback, useMemo } from 'react';
import { useAppDispatch } from '../../data/store.ts';
import { useJob } from '../useJob.ts';
import { tried } from '../../data/session.ts';

/** The household's day, and what the hand does with it: what is moved is tried, what is let go is kept. */
export function useDay(): {
  /** null until the household's litres are known or may be assumed */
  readonly draws: readonly Draw[] | null;
  readonly drawn: boolean;
  readonly onTry: (draws: readonly Draw[] | null) => void;
  readonly onKeep: (draws: readonly Draw[] | null) => void;
} {
  const { id, record, known, rules, trial, add } = useJob();
  const dispatch = useAppDispatch();
  const site = useMemo(() => siteFrom(known, rules), [known, rules]);
  const scrubbing = trial?.by === 'scrubbing';
  const at = site.ok ? site.site : null;
  const { litresADay, largestDrawL, mealsADay, bottlesADay, iceLADay, secondTapLADay } = at ?? NOBODY;
  const draws = useMemo(
    () =>
      litresADay === 0
        ? null
        : householdDay(record.habits, {
            litresADay,
            largestDrawL,
            mealsADay,
            bottlesADay,
            iceLADay,
            secondTapLADay,
          }),
    [record.habits, litresADay, largestDrawL, mealsADay, bottlesADay, iceLADay, secondTapLADay],
  );
  const onTry = useCallback(
    (moved: readonly Draw[] | null) => {
      // what is being scrubbed stays as it is: only the day itself follows then
      if (!scrubbing) dispatch(tried(moved && { jobId: id, values: dayTotals(moved), by: 'typing' }));
    },
    [dispatch, id, scrubbing],
  );
  const onKeep = useCallback(
    (kept: readonly Draw[] | null) => {
      add({ kind: 'habits', draws: kept ? [...kept] : [] });
    },
    [add],
  );
  return { draws, drawn: record.habits !== null, onTry, onKeep };
}

const NOBODY = {
  litresADay: 0,
  largestDrawL: 0,
  mealsADay: undefined,
  bottlesADay: undefined,
  iceLADay: undefined,
  secondTapLADay: undefined,
} as const;
