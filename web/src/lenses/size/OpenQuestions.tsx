import { gaugeField, inSentence, type Decision } from '@katharos/core';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { useBeside } from '../../job/useBeside.ts';
import { useJob } from '../../job/useJob.ts';

/** What nobody has asked yet though another answer would lead to other parts, or to something where nothing fits. */
export function OpenQuestions({ decision }: { decision: Decision }): ReactElement | null {
  const { id } = useJob();
  const turns = useBeside('turns', decision).value?.turns ?? [];
  if (turns.length === 0) return null;
  const fields = [...new Set(turns.map((t) => t.field))];
  return (
    <>
      <p className="flip-again">
        Worth asking, it decides: {fields.map((f) => inSentence(gaugeField(f).label)).join(', ')}.{' '}
        <Link to={`/jobs/${id}/gauge`} className="no-print">
          Gauge
        </Link>
      </p>
      <ul className="plain-list small">
        {turns.map((t) => (
          <li key={t.field + t.answer}>
            {gaugeField(t.field).label}, if “{t.answer}”: {t.becomes}
          </li>
        ))}
      </ul>
    </>
  );
}
