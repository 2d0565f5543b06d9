import { formatMinutes, openChange, type RunStep } from '@katharos/core';
import { useMemo, type ReactElement } from 'react';
import { Link } from 'react-router';
import { useNow } from '../ui/useNow.ts';
import { useAlarm } from './useAlarm.ts';
import { useJob } from './useJob.ts';

/** A clock of the run sheet that runs. */
export interface RunningClock {
  readonly key: string;
  readonly title: string;
  readonly dueMs: number;
  /** where its sheet is worked through */
  readonly lens: 'flush' | 'keep';
}

const NO_SHEET: readonly RunStep[] = [];

/** The clocks that run, in their sheets' order. */
export function useRunning(): readonly RunningClock[] {
  const { record, view } = useJob();
  const sheet = view?.sheet ?? NO_SHEET;
  const change = useMemo(() => openChange(record)?.sheet ?? NO_SHEET, [record]);
  return useMemo(() => {
    const on = (steps: readonly RunStep[], lens: 'flush' | 'keep'): RunningClock[] =>
      steps.flatMap((s) => {
        const timer = record.timers[s.key];
        return timer ? [{ key: s.key, title: s.title, dueMs: Date.parse(timer.dueAt), lens }] : [];
      });
    return [...on(sheet, 'flush'), ...on(change, 'keep')];
  }, [sheet, change, record.timers]);
}

/** Rings whatever part of the job is open; where the clock itself is not seen, says which is due and leads there. */
export function Alarm({ lens }: { readonly lens: string }): ReactElement | null {
  const { id } = useJob();
  const running = useRunning();
  const now = useNow(1000);
  useAlarm(running, now);
  const due = running.filter((c) => c.dueMs <= now && c.lens !== lens);
  if (due.length === 0) return null;
  return (
    <p className="alarm no-print" role="alert">
      {due.map((c) => (
        <Link key={c.key} to={`/jobs/${id}/${c.lens}`}>
          {c.title}: due {formatMinutes((now - c.dueMs) / 60000)} ago
        </Link>
      ))}
    </p>
  );
}
