import { gaugeField, nextReading, type DesignStudy } from '@katharos/core';
import { Button } from '@mantine/core';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { useJob } from '../../app/useJob.ts';
import { fieldId } from './fieldWords.ts';

const HEADS = {
  needed: 'Read first',
  decides: 'Read next: it decides',
  again: 'Read again: it decides',
  asked: 'Ask next',
} as const;

/** What follows from the readings as they are typed, and the next one that would decide most. */
export function Conclusion({ study }: { study: DesignStudy | null }): ReactElement {
  const { decision, id, known } = useJob();
  const d = decision.value;
  return (
    <section aria-label="What follows">
      <h2 className="zone-title">What follows</h2>
      {!d && <p className="empty">Working it out.</p>}
      {d && (
        <div aria-live="polite">
          <p className="gauge-sentence">{d.sentence}</p>
          {d.kind === 'referral' &&
            d.reasons.map((r) => (
              <p key={r} className="caution">
                {r}
              </p>
            ))}
          <Next study={study} />
          {d.kind !== 'needs' && (
            <Button component={Link} to={`/jobs/${id}/size`} size="xs" variant="default">
              See the sizing
            </Button>
          )}
        </div>
      )}
    </section>
  );

  function Next({ study: s }: { study: DesignStudy | null }): ReactElement | null {
    if (!d || (d.kind === 'recommendation' && !s)) return null;
    const next = nextReading(d, s, (f) => known[f] !== undefined);
    if (next.kind === 'settled')
      return d.kind === 'recommendation' ? <p className="gauge-next settled">{next.why}</p> : null;
    return (
      <p className="gauge-next">
        <b>{HEADS[next.kind]}: </b>
        <button
          type="button"
          className="gauge-next-field"
          onClick={() => {
            // the browser brings what it focuses into sight
            document.getElementById(fieldId(next.field))?.focus();
          }}
        >
          {gaugeField(next.field).label}
        </button>
        <small>{next.why}</small>
      </p>
    );
  }
}
