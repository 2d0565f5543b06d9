import { gaugeField, weightOf, type Assumed, type FlipPoint, type SiteResult, type Turns } from '@katharos/core';
import { useMemo, type ReactElement } from 'react';
import { assumedWords } from './fieldWords.ts';

/** What nobody read: the figure taken, why, and how much the decision hangs on it. What decides stands first, in the open. */
export function Assumptions({
  site,
  flips,
  turns,
}: {
  site: SiteResult;
  flips: readonly FlipPoint[] | null;
  turns: Turns | null;
}): ReactElement {
  const rows = useMemo(
    () => site.assumed.map((a): Row => ({ a, weight: weightOf(a, flips, turns) })),
    [site.assumed, flips, turns],
  );
  const deciding = rows.filter((r) => r.weight?.decides === true);
  const rest = rows.filter((r) => r.weight?.decides !== true);
  const known = flips !== null && turns !== null;
  return (
    <>
      <h2 className="zone-title">Assumed, not read</h2>
      {rows.length === 0 && <p className="empty">{site.ok ? 'Nothing: every figure was read.' : 'Nothing yet.'}</p>}
      <List rows={deciding} />
      {rest.length > 0 && (
        <details className="assumptions-rest">
          <summary>
            {rest.length} {deciding.length > 0 ? 'more' : ''} assumed{known ? ', none of which turns the design' : ''}
          </summary>
          <List rows={rest} />
        </details>
      )}
    </>
  );
}

interface Row {
  readonly a: Assumed;
  readonly weight: ReturnType<typeof weightOf>;
}

function List({ rows }: { rows: readonly Row[] }): ReactElement {
  return (
    <ul className="assumptions">
      {rows.map(({ a, weight }) => (
        <li key={a.field} data-decides={weight?.decides ?? false}>
          <span className="assumed">
            {gaugeField(a.field).label}: <b>{assumedWords(a)}</b>
          </span>
          {weight !== null && weight.words !== '' && <small className="assumption-weight">{weight.words}</small>}
          <small>{a.why}</small>
        </li>
      ))}
    </ul>
  );
}
