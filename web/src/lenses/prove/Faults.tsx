import { formatNumber, type ProofReadings } from '@katharos/core';
import type { ReactElement } from 'react';
import { useCore } from '../../data/useCore.ts';
import { useJob } from '../../job/useJob.ts';

/** Below this a fault is not worth a line. */
const WORTH_NAMING = 0.04;

/** What may be wrong, each fault simulated and compared with all that was read: most likely first. */
export function Faults({ readings }: { readings: ProofReadings }): ReactElement | null {
  const { built } = useJob();
  const asked = built
    ? ([readings, built.system, built.version.judged.known, built.version.judged.rules] as const)
    : null;
  const ranked = useCore('faults', asked && [...asked]).value ?? [];
  const named = ranked.filter((f) => f.likelihood >= WORTH_NAMING);
  if (named.length === 0 || named[0]?.code === 'none') return null;
  return (
    <>
      <h2 className="zone-title">What explains all readings together</h2>
      <ul className="faults">
        {named.map((f) => (
          <li key={f.code}>
            <span className="fault-share" aria-hidden="true">
              <span style={{ width: `${String(100 * f.likelihood)}%` }} />
            </span>
            <b>{formatNumber(100 * f.likelihood, 2)} %</b> {f.name}
            {f.code !== 'none' && <small>{f.check}</small>}
          </li>
        ))}
      </ul>
    </>
  );
}
