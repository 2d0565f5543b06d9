import type { Design } from '@katharos/core';
import type { ReactElement } from 'react';
import { houseKey } from '../../data/coreWorkers.ts';
import { useCore } from '../../data/useCore.ts';
import { useJob } from '../../job/useJob.ts';

/** Whether softening before the membrane would pay at this house; nothing where the water is soft. */
export function Softening({ design }: { design: Design }): ReactElement | null {
  const { parts, rules, record, known } = useJob();
  const advice = useCore('softening', [houseKey(parts, rules, record.placed), known, design]).value;
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
