import { gaugeField, inSentence, type Contender, type Design } from '@katharos/core';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { useJob } from '../../job/useJob.ts';
import { houseKey } from '../../data/coreWorkers.ts';
import { useCore } from '../../data/useCore.ts';

/**
 * What nobody has asked yet though another answer would lead to other parts, or to something where nothing fits.
 * @param design what is decided; null where nothing fits; @param contenders what stood next in line, @param risk its points
 */
export function OpenQuestions({
  design,
  contenders = [],
  risk = 0,
}: {
  design: Design | null;
  contenders?: readonly Contender[];
  risk?: number;
}): ReactElement | null {
  const { id, parts, rules, record, known } = useJob();
  const turns =
    useCore('turns', [houseKey(parts, rules, record.placed), known, design, contenders, risk]).value?.turns ?? [];
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
