import { designInWords, mayBeTaken, type Decision } from '@katharos/core';
import { Button } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { useBeside } from '../../job/useBeside.ts';
import { useJob } from '../../job/useJob.ts';
import { TakeOther } from './Approve.tsx';
import { OpenQuestions } from './OpenQuestions.tsx';

type Refusal = Extract<Decision, { kind: 'nothing-fits' }>;

/** Nothing on the shelf does: what would have to change, why, and what comes nearest, which may be taken all the same. */
export function NothingFits({ decision: d }: { decision: Refusal }): ReactElement {
  const { parts, trial } = useJob();
  const remedies = useBeside('remedies', d);
  const [taking, setTaking] = useState(false);
  return (
    <>
      <h2 className="zone-title">What would change it</h2>
      {!remedies.value && remedies.error === null && <p className="empty">Trying what would.</p>}
      {remedies.value?.length === 0 && (
        <p>
          No single change, nor two together, of those tried: a socket, softer feed, more room, more carbon, patience, a
          store or none.
        </p>
      )}
      {remedies.value && remedies.value.length > 0 && (
        <dl className="remedies">
          {remedies.value.map((r) => (
            <div key={r.code}>
              <dt>{r.change}</dt>
              <dd>{r.becomes}</dd>
            </div>
          ))}
        </dl>
      )}
      <OpenQuestions decision={d} />
      <h2 className="zone-title">Why</h2>
      <ul className="plain-list">
        {d.reasons.map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
      {d.nearest && (
        <div className="nearest">
          <p>
            <b>The nearest.</b> {designInWords(d.nearest.design, parts)}.{' '}
            {d.nearest.failures.map((f) => f.text).join(' ')}
          </p>
          {mayBeTaken(d.nearest.failures) ? (
            <Button
              variant="default"
              size="xs"
              className="no-print"
              disabled={trial !== null}
              onClick={() => {
                setTaking(true);
              }}
            >
              Take it against the advice
            </Button>
          ) : (
            <p className="small">It is not to be taken: what speaks against it is a danger, or it cannot run.</p>
          )}
          {taking && (
            <TakeOther
              proposal={{ design: d.nearest.design }}
              decision={d}
              onClose={() => {
                setTaking(false);
              }}
            />
          )}
        </div>
      )}
    </>
  );
}
