import type { Decision } from '@katharos/core';
import type { ReactElement } from 'react';
import { useBeside } from '../../job/useBeside.ts';

/** Whether softening before the membrane would pay at this house; nothing where the water is soft. */
export function Softening({ decision }: { decision: Decision }): ReactElement | null {
  const advice = useBeside('softening', decision).value;
  if (!advice) return null;
  return (
    <section>
      <h2 className="zone-title">Softening first?</h2>
      <details open={advice.pays}>
        <summary>{advice.sentence}</summary>
        <ul className="plain-list small">
          {advice.reasons.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      </details>
    </section>
  );
}
