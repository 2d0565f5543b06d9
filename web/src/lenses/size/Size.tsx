import type { Decision, OtherWay } from '@katharos/core';
import { Button } from '@mantine/core';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { useJob } from '../../job/useJob.ts';
import { usePrinting } from '../../ui/usePrinting.ts';
import { Approve } from './Approve.tsx';
import { CustomerSheet } from './CustomerSheet.tsx';
import { KnownValues } from './KnownValues.tsx';
import { NothingFits } from './NothingFits.tsx';
import { Referred } from './Referred.tsx';
import { Recommended } from './Recommended.tsx';
import { ApprovedWhen, Differences, PrintForHousehold, useSince } from './Standing.tsx';
import { TrialBanner } from './TrialBanner.tsx';
import './size.css';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;

/** What will do: the decision first, then what it hangs on, then the others. */
export default function Size(): ReactElement {
  const { decision } = useJob();
  const d = decision.value;
  const printing = usePrinting();
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
        {d && printing && <CustomerSheet decision={d} />}
      </div>
    </div>
  );
}

function NotSized({ decision: d }: { decision: Exclude<Decision, Recommendation> }): ReactElement {
  const { id, approved, trial } = useJob();
  const standing = trial ? null : approved;
  return (
    <div className="size-page">
      <p className="headline">{standing?.judged.sentence ?? d.sentence}</p>
      <TrialBanner />
      {standing && <StandsAsApproved leadsTo={d.sentence} />}
      {d.kind === 'needs' && (
        <Button component={Link} to={`/jobs/${id}/gauge`}>
          Go on gauging
        </Button>
      )}
      {d.kind === 'other-way' && <Otherwise decision={d} />}
      {d.kind === 'referral' && <Referred decision={d} />}
      {d.kind === 'nothing-fits' && <NothingFits decision={d} />}
    </div>
  );
}

/** What was approved before the readings led elsewhere: it stands until somebody approves another. */
function StandsAsApproved({ leadsTo }: { leadsTo: string }): ReactElement | null {
  const { approved } = useJob();
  const since = useSince();
  if (!approved || !since) return null;
  return (
    <>
      <p>From the readings now: {leadsTo}</p>
      <div className="size-actions no-print">
        <ApprovedWhen since={since} />
        <PrintForHousehold />
      </div>
      {since.parts.length + since.edits.length > 0 && (
        <Differences since={since} approved={approved} leadsTo={leadsTo} />
      )}
    </>
  );
}

/** Something else answers what they want: why, what to do, and where that is a system of filters, its approval. */
function Otherwise({ decision: d }: { decision: OtherWay }): ReactElement {
  const { approved } = useJob();
  const since = useSince();
  const edited = since !== null && since.parts.length + since.edits.length > 0;
  const stored = d.system?.choice.picks.some((p) => p.kind === 'vented-tank') === true;
  return (
    <>
      {d.system && (
        <div className="size-actions no-print">
          <Approve
            proposal={{ assembly: d.system }}
            decision={d}
            label={approved ? 'Approve as a new version' : stored ? 'Approve this system' : 'Approve these filters'}
            disabled={approved !== null && !edited}
          />
          {!approved && (
            <>
              <PrintForHousehold />
              <ApprovedWhen since={null} />
            </>
          )}
        </div>
      )}
      <p className="zone-title">Why</p>
      <ul className="plain-list">
        {d.reasons.map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
      {d.instead.length > 0 && (
        <>
          <p className="zone-title">What to do instead</p>
          <ul className="plain-list">
            {d.instead.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
