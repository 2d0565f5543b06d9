import { workBefore } from '@katharos/core';
import { useMemo, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { time } from '../../job/sheet/times.ts';

/** What was done before the design was changed in the middle of the work, and does not stand now; nothing where all of it does. */
export function WorkBefore(): ReactElement | null {
  const { designs, facts, personName } = useJob();
  const before = useMemo(() => workBefore(designs, facts), [designs, facts]);
  if (before.length === 0) return null;
  return (
    <details className="phase" open>
      <summary>Done before the design was changed</summary>
      <ul className="steps" aria-label="Done before the design was changed">
        {before.map(({ step, tick, now }) => (
          <li key={`${tick.id} ${step.key}`}>
            <div className="was-done">
              {step.title}
              <small>
                {time(Date.parse(tick.at))}, {personName(tick.by)}
                {tick.note ? `: ${tick.note}` : ''}; {now === 'again' ? 'to be done once more' : 'no longer asked for'}
              </small>
            </div>
          </li>
        ))}
      </ul>
    </details>
  );
}
