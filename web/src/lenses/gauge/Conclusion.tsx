import {
  gaugeField,
  isAsked,
  nextReading,
  type DesignStudy,
  type FieldKey,
  type NextReading,
  type Turns,
} from '@katharos/core';
import { Button } from '@mantine/core';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { useJob } from '../../job/useJob.ts';
import { fieldId } from './fieldWords.ts';

/** What to do with the next field: one asks a choice and reads a figure. */
function headOf(next: Exclude<NextReading, { kind: 'settled' }>): string {
  if (next.kind === 'again') return 'Read again';
  const verb = isAsked(next.field) ? 'Ask' : 'Read';
  return `${verb} ${next.kind === 'needed' ? 'first' : 'next'}`;
}

/** What follows from the readings as they are typed, and the next one that would decide most. */
export function Conclusion({ next }: { next: NextReading | null }): ReactElement {
  const { decision, id } = useJob();
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
          <Next next={next} sized={d.kind === 'recommendation'} />
          {d.kind !== 'needs' && (
            <Button component={Link} to={`/jobs/${id}/size`} size="xs" variant="default">
              See the sizing
            </Button>
          )}
        </div>
      )}
    </section>
  );
}

/** The next reading that would decide most; null while it is not known. */
export function useNext(study: DesignStudy | null, turns: Turns | null): NextReading | null {
  const { decision, known } = useJob();
  const d = decision.value;
  return d ? nextReading(d, study, turns, (f) => known[f] !== undefined) : null;
}

/** Goes to a reading's field: the browser brings what it focuses into sight. */
function goTo(field: FieldKey): void {
  document.getElementById(fieldId(field))?.focus();
}

function Next({ next, sized }: { next: NextReading | null; sized: boolean }): ReactElement | null {
  if (!next) return null;
  if (next.kind === 'settled') return sized ? <p className="gauge-next settled">{next.why}</p> : null;
  return (
    <p className="gauge-next">
      <b>{headOf(next)}: </b>
      <button
        type="button"
        className="gauge-next-field"
        onClick={() => {
          goTo(next.field);
        }}
      >
        {gaugeField(next.field).label}
      </button>
      <small>{next.why}</small>
    </p>
  );
}

/** On a phone, within the thumb's reach: what follows in a line, and the next thing to do. */
export function ThumbNext({ next }: { next: NextReading | null }): ReactElement {
  const { decision, id } = useJob();
  return (
    <div className="thumb-bar gauge-thumb">
      <p className="gauge-thumb-sentence">{decision.value?.sentence ?? 'Working it out.'}</p>
      {next && next.kind !== 'settled' ? (
        <Button
          onClick={() => {
            goTo(next.field);
          }}
        >
          {headOf(next)}: {gaugeField(next.field).label}
        </Button>
      ) : (
        <Button component={Link} to={`/jobs/${id}/size`} variant="default">
          {next ? 'Settled: see the sizing' : 'See the sizing'}
        </Button>
      )}
    </div>
  );
}
