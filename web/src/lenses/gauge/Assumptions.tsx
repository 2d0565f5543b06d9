import { gaugeField, weightOf, type FlipPoint, type SiteResult } from '@katharos/core';
import { useMemo, type ReactElement } from 'react';
import { assumedWords } from './fieldWords.ts';

/** What nobody read: the figure taken, why, and how much the decision hangs on it; the heaviest first. */
export function Assumptions({ site, flips }: { site: SiteResult; flips: readonly FlipPoint[] | null }): ReactElement {
  const rows = useMemo(
    () =>
      site.assumed
        .map((a) => ({ a, weight: weightOf(a, flips) }))
        .sort((x, y) => Number(y.weight?.decides ?? false) - Number(x.weight?.decides ?? false)),
    [site.assumed, flips],
  );
  return (
    <>
      <h2 className="zone-title">Assumed, not read</h2>
      {rows.length === 0 && <p className="empty">{site.ok ? 'Nothing: every figure was read.' : 'Nothing yet.'}</p>}
      <ul className="assumptions">
        {rows.map(({ a, weight }) => (
          <li key={a.field} data-decides={weight?.decides ?? false}>
            <details>
              <summary>
                <span className="assumed">
                  {gaugeField(a.field).label}: <b>{assumedWords(a)}</b>
                </span>
                {weight !== null && weight.words !== '' && <small>{weight.words}</small>}
              </summary>
              <small>{a.why}</small>
            </details>
          </li>
        ))}
      </ul>
    </>
  );
}
