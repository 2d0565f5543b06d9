import {
  designInWords,
  formatMinutes,
  formatNumber,
  partOf,
  type Decision,
  type Design,
  type Evaluation,
} from '@katharos/core';
import { Button } from '@mantine/core';
import type { ReactElement } from 'react';
import { useJob } from '../../app/useJob.ts';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;

/** The others that do, side by side with the recommended one, each with the figure it wins on. */
export function Alternatives({
  decision: d,
  onTake,
}: {
  decision: Recommendation;
  onTake: (design: Design) => void;
}): ReactElement {
  const { parts, approved } = useJob();
  const n = formatNumber;
  const columns = (e: Evaluation): ReactElement => (
    <>
      <td className="num">{n(e.worst.litresADay, 2)}</td>
      <td className="num">{e.worst.direct ? 'none' : n(e.worst.usableL, 2)}</td>
      <td className="num">{e.worst.direct ? 'none' : formatMinutes(e.worst.fill.minutes)}</td>
      <td className="num">{n(e.worst.tapFlowLMin, 2)}</td>
      <td className="num">{n(e.worst.fill.tankTdsMgL, 2)}</td>
      <td className="num">{n(e.worst.wasteRatio, 2)}</td>
      <td className="num">
        {e.design.pumpId === null ? 'none' : `${n(partOf(parts, 'pump', e.design.pumpId).powerW, 2)} W`}
      </td>
    </>
  );
  return (
    <>
      <h2 className="zone-title">Others that do, in the worst season</h2>
      <table className="quiet-table alternatives">
        <thead>
          <tr>
            <th>design</th>
            <th className="num">makes, L/day</th>
            <th className="num">in store, L</th>
            <th className="num">refill</th>
            <th className="num">tap, L/min</th>
            <th className="num">TDS, mg/L</th>
            <th className="num">to drain, L/L</th>
            <th className="num">pump</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr className="alternatives-chosen">
            <td>
              <b>Recommended</b>
              <small>{designInWords(d.chosen.design, parts)}</small>
            </td>
            {columns(d.chosen)}
            <td />
          </tr>
          {d.alternatives.map((a) => (
            <tr key={JSON.stringify(a.evaluation.design)}>
              <td>
                <b>{a.title}</b>: {a.winsOn}
                <small>{designInWords(a.evaluation.design, parts)}</small>
              </td>
              {columns(a.evaluation)}
              <td>
                <Button
                  size="compact-sm"
                  variant="default"
                  disabled={
                    approved !== null && JSON.stringify(approved.design) === JSON.stringify(a.evaluation.design)
                  }
                  onClick={() => {
                    onTake(a.evaluation.design);
                  }}
                >
                  Take this
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
