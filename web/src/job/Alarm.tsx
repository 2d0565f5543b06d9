import { formatMinutes, type RunStep } from '@katharos/core';
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
}

const NO_SHEET: readonly RunStep[] = [];

/** The clocks that run, in the sheet's order. */
export function useRunning(): readonly RunningClock[] {
  const { record, view } = useJob();
  const sheet = view?.sheet ?? NO_SHEET;
  return useMemo(
    () =>
      sheet.flatMap((s) => {
        const timer = record.timers[s.key];
        return timer ? [{ key: s.key, title: s.title, dueMs: Date.parse(timer.dueAt) }] : [];
      }),
    [sheet, record.timers],
  );
}

/** Rings whatever part of the job is open; where the clock itself is not seen, says which is due and leads there. */
export function Alarm({ seen }: { readonly seen: boolean }): ReactElement | null {
  const { id } = useJob();
  const running = useRunning();
  const now = useNow(1000);
  useAlarm(running, now);
  const due = running.filter((c) => c.dueMs <= now);
  if (seen || due.length === 0) return null;
  return (
    <p className="alarm no-print" role="alert">
      {due.map((c) => (
        <Link key={c.key} to={`/jobs/${id}/flush`}>
          {c.title}: due {formatMinutes((now - c.dueMs) / 60000)} ago
        </Link>
      ))}
    </p>
  );
}
