import type { Decision } from '@katharos/core';
import type { ReactElement } from 'react';
import { useBeside } from '../../job/useBeside.ts';

type Referral = Extract<Decision, { kind: 'referral' }>;

/** A water referred first: why, what to do, what a laboratory is asked for, and what would do if it comes back clean. */
export function Referred({ decision: d }: { decision: Referral }): ReactElement {
  const provisional = useBeside('provisional', d).value;
  return (
    <>
      {d.reasons.map((r) => (
        <p key={r} className="caution">
          {r}
        </p>
      ))}
      <p>
        <b>What to do.</b> {d.next}
      </p>
      <h2 className="zone-title">Ask the laboratory for</h2>
      <ul className="plain-list">
        {d.wanted.map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
      {provisional && (
        <div className="provisional">
          <p>
            <b>{provisional.sentence}</b>
          </p>
          <p className="small">
            If {provisional.if.join(', ')}. To speak of it only: it is sized anew from the report, and nothing is
            approved before.
          </p>
        </div>
      )}
    </>
  );
}
