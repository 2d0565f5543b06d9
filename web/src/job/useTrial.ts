import { moved, siteFrom, type FieldKey, type Known } from '@katharos/core';
import { useCallback, useMemo } from 'react';
import { tried, type Trial } from '../data/session.ts';
import { useAppDispatch } from '../data/store.ts';
import { useJob } from './useJob.ts';

/** Tries readings in place of those taken, and goes back to them. */
export function useTrial(): {
  /** moves one reading, and what cannot stay where it is; null puts it back as it was read */
  readonly scrub: (field: FieldKey, value: number | string | null) => void;
  readonly end: () => void;
} {
  const { id, record, rules, trial } = useJob();
  const dispatch = useAppDispatch();
  const site = useMemo(() => siteFrom(record.known, rules), [record.known, rules]);
  const values = trial?.by === 'scrubbing' ? trial.values : NONE;
  const scrub = useCallback(
    (field: FieldKey, value: number | string | null) => {
      const kept = Object.fromEntries(Object.entries(values).filter(([k]) => k !== field)) as Known;
      const next: Known =
        value === null
          ? kept
          : typeof value === 'number' && site.ok
            ? differences(record.known, moved({ ...record.known, ...kept }, site.site, field, value))
            : { ...kept, [field]: value };
      const trialNow: Trial | null = Object.keys(next).length > 0 ? { jobId: id, values: next, by: 'scrubbing' } : null;
      dispatch(tried(trialNow));
    },
    [dispatch, id, record.known, site, values],
  );
  const end = useCallback(() => {
    dispatch(tried(null));
  }, [dispatch]);
  return { scrub, end };
}

const NONE: Known = {};

/** What is in one set of readings and not, or otherwise, in the other. */
function differences(from: Known, to: Known): Known {
  return Object.fromEntries(Object.entries(to).filter(([k, v]) => from[k as FieldKey] !== v));
}
