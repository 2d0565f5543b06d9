import { consequencesOf, newFaults, type System } from '@katharos/core';
import type { ReactElement } from 'react';
import { useCore } from '../data/useCore.ts';
import { useJob } from './useJob.ts';

/** What a change of the approved system would do, worked out before it is taken. */
export function Consequences({ changed }: { changed: System }): ReactElement | null {
  const { built, rules } = useJob();
  const judged = built?.version.judged;
  const before = useCore('viewBuilt', built && judged ? [built.system, judged.known, judged.rules] : null).value;
  const after = useCore('viewBuilt', judged ? [changed, judged.known, judged.rules] : null).value;
  if (!before?.ok || !after?.ok) return <p className="small">Working out what it does.</p>;
  const told = consequencesOf(before.view, after.view, rules.currency);
  const faults = newFaults(before.view, after.view);
  return (
    <>
      {told.length === 0 ? (
        <p className="small">It moves no figure that is shown.</p>
      ) : (
        <dl className="consequences">
          {told.map((c) => (
            <div key={c.what}>
              <dt>{c.what}</dt>
              <dd>
                {c.from} → <b>{c.to}</b>
              </dd>
            </div>
          ))}
        </dl>
      )}
      {faults.map((f) => (
        <p key={f} className="caution">
          {f}
        </p>
      ))}
    </>
  );
}
