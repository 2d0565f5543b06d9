import { designInWords, type Decision } from '@katharos/core';
import { Button } from '@mantine/core';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { useJob } from '../../job/useJob.ts';
import { KnownValues } from './KnownValues.tsx';
import { OpenQuestions } from './OpenQuestions.tsx';
import { Recommended } from './Recommended.tsx';
import { TrialBanner } from './TrialBanner.tsx';
import './size.css';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;

/** What will do: the decision first, then what it hangs on, then the others. */
export default function Size(): ReactElement {
  const { decision } = useJob();
  const d = decision.value;
  if (decision.error !== null)
    return (
      <p role="alert" className="caution size-error">
        The sizing could not be worked out: {decision.error}
      </p>
    );
  return (
    <div className="two-zones size">
      <div>
        <KnownValues />
      </div>
      <div aria-live="polite">
        {!d && <p className="empty">Working it out.</p>}
        {d && d.kind !== 'recommendation' && <NotSized decision={d} />}
        {d?.kind === 'recommendation' && <Recommended decision={d} />}
      </div>
    </div>
  );
}

function NotSized({ decision: d }: { decision: Exclude<Decision, Recommendation> }): ReactElement {
  const { id, parts } = useJob();
  return (
    <>
      <p className="headline">{d.sentence}</p>
      <TrialBanner />
      {d.kind === 'needs' && (
        <Button component={Link} to={`/jobs/${id}/gauge`}>
          Go on gauging
        </Button>
      )}
      {d.kind === 'other-way' && (
        <>
          <p className="zone-title">Why</p>
          <ul className="plain-list">
            {d.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
          <p className="zone-title">What to do instead</p>
          <ul className="plain-list">
            {d.instead.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </>
      )}
      {d.kind === 'referral' && (
        <>
          {d.reasons.map((r) => (
            <p key={r} className="caution">
              {r}
            </p>
          ))}
          <p>
            <b>What to do.</b> {d.next}
          </p>
        </>
      )}
      {d.kind === 'nothing-fits' && (
        <>
          <p className="zone-title">Why</p>
          <ul className="plain-list">
            {d.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
          {d.nearest && (
            <p>
              The nearest is {designInWords(d.nearest.design, parts)}. What could change it: a socket for a pump, a
              softer feed, fewer litres, more room, or another part on the shelf.
            </p>
          )}
          <OpenQuestions design={null} />
        </>
      )}
    </>
  );
}
