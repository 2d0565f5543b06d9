import {
  choiceWords,
  formatMinutes,
  formatNumber,
  gaugeField,
  baseUnit,
  formatReading,
  type Decision,
  type Evaluation,
  type FieldKey,
  inSentence,
} from '@katharos/core';
import { Button } from '@mantine/core';
import { useEffect, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { useTrial } from '../../job/useTrial.ts';
import { isTyping } from '../../ui/isTyping.ts';

const words = (key: FieldKey, value: number | string | undefined): string => {
  const f = gaugeField(key);
  if (value === undefined) return 'nothing';
  return f.type === 'choice' ? choiceWords(f, value) : `${formatReading(Number(value), 4)} ${baseUnit(f.kind)}`.trim();
};

const chosenOf = (d: Decision | undefined): Evaluation | null => (d?.kind === 'recommendation' ? d.chosen : null);

/** Ends what is under way by Escape, as long as it is. */
function useEscape(under: boolean, end: () => void): void {
  useEffect(() => {
    if (!under) return;
    const onKey = (e: KeyboardEvent): void => {
      if (e.key === 'Escape' && !isTyping(e)) end();
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [under, end]);
}

/** While other figures are tried: which, what they change, and the way back. */
export function TrialBanner(): ReactElement | null {
  const { trial, record, decision, asRead } = useJob();
  const { end } = useTrial();
  useEscape(trial !== null, end);
  if (!trial) return null;
  const before = chosenOf(asRead);
  const after = chosenOf(decision.value);
  const keys = Object.keys(trial.values) as FieldKey[];
  return (
    <section className="trial" aria-label="Other readings tried">
      <div className="trial-head">
        <p>
          <b>Trying</b>{' '}
          {keys
            .map(
              (k) =>
                `${inSentence(gaugeField(k).label)} ${words(k, trial.values[k])} (read ${words(k, record.known[k])})`,
            )
            .join('; ')}
          . Nothing of it is recorded.
        </p>
        <Button size="compact-sm" variant="default" onClick={end}>
          Back to the readings (Esc)
        </Button>
      </div>
      {asRead && asRead.sentence !== decision.value?.sentence && <p className="small">As read: {asRead.sentence}</p>}
      {before && after && (
        <table className="quiet-table trial-figures">
          <caption className="visually-hidden">What the tried readings change</caption>
          <thead>
            <tr>
              <th />
              <th className="num">makes</th>
              <th className="num">refill</th>
              <th className="num">tap</th>
              <th className="num">as drunk</th>
              <th className="num">to the drain</th>
              <th className="num">a year</th>
            </tr>
          </thead>
          <tbody>
            <Row name="as read" e={before} />
            <Row name="tried" e={after} />
          </tbody>
        </table>
      )}
    </section>
  );
}

function Row({ name, e }: { name: string; e: Evaluation }): ReactElement {
  const n = formatNumber;
  return (
    <tr>
      <th scope="row">{name}</th>
      <td className="num">{n(e.worst.litresADay, 2)} L/day</td>
      <td className="num">{e.worst.direct ? 'none' : formatMinutes(e.worst.fill.minutes)}</td>
      <td className="num">{n(e.worst.tapFlowLMin, 2)} L/min</td>
      <td className="num">{n(e.year?.tdsMgL ?? e.worst.fill.tankTdsMgL, 2)} mg/L</td>
      <td className="num">{n(e.year?.wasteRatio ?? e.worst.wasteRatio, 2)} L/L</td>
      <td className="num">{e.year ? n(e.year.cost, 3) : ''}</td>
    </tr>
  );
}
