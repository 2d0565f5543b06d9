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

/** What to do with the next field: one asks a choice and reads a figure. */
function headOf(next: Exclude<NextReading, { kind: 'settled' }>): string {
  if (next.kind === 'again') return 'Read again';
  const verb = isAsked(next.field) ? 'Ask' : 'Read';
  return `${verb} ${next.kind === 'needed' ? 'first' : 'next'}`;
}

/** What the sheet does with the next reading: goes to its field, or sets it aside for now. */
export interface Leading {
  readonly next: NextReading | null;
  readonly goTo: (field: FieldKey) => void;
  readonly skip: (field: FieldKey) => void;
}

/** What follows from the readings as they are typed, and the next one that would decide most. */
export function Conclusion(leading: Leading): ReactElement {
  const { decision, sentence, id } = useJob();
  const d = decision.value;
  return (
    <section aria-label="What follows">
      <h2 className="zone-title">What follows</h2>
      {!d && <p className="empty">Working it out.</p>}
      {d && (
        <div aria-live="polite">
          <p className="gauge-sentence" aria-busy={!decision.fresh}>
            {sentence}
          </p>
          {d.kind === 'referral' &&
            d.reasons.map((r) => (
              <p key={r} className="caution">
                {r}
              </p>
            ))}
          <Next {...leading} sized={d.kind === 'recommendation'} />
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
export function useNext(
  study: DesignStudy | null,
  turns: Turns | null,
  skipped: ReadonlySet<FieldKey>,
): NextReading | null {
  const { decision, known } = useJob();
  const d = decision.value;
  return d ? nextReading(d, study, turns, (f) => known[f] !== undefined, skipped) : null;
}

function Next({ next, goTo, skip, sized }: Leading & { sized: boolean }): ReactElement | null {
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
      </button>{' '}
      <span className="gauge-next-keys">
        <kbd>N</kbd>
        <button
          type="button"
          className="gauge-next-skip"
          onClick={() => {
            skip(next.field);
          }}
        >
          Skip it for now
        </button>
      </span>
      <small>{next.why}</small>
    </p>
  );
}

/** On a phone, within the thumb's reach: what follows in a line, and the next thing to do. */
export function ThumbNext({ next, goTo, skip }: Leading): ReactElement {
  const { decision, sentence, id } = useJob();
  return (
    <div className="thumb-bar gauge-thumb">
      <p className="gauge-thumb-sentence" aria-busy={!decision.fresh}>
        {sentence ?? 'Working it out.'}
      </p>
      {next && next.kind !== 'settled' ? (
        <div className="gauge-thumb-next">
          <Button
            onClick={() => {
              goTo(next.field);
            }}
          >
            {headOf(next)}: {gaugeField(next.field).label}
          </Button>
          <Button
            variant="default"
            onClick={() => {
              skip(next.field);
            }}
          >
            Skip
          </Button>
        </div>
      ) : (
        <Button component={Link} to={`/jobs/${id}/size`} variant="default">
          {next ? 'Settled: see the sizing' : 'See the sizing'}
        </Button>
      )}
    </div>
  );
}
