import { cautionsOf, type Caution, type SystemView } from '@katharos/core';
import type { ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { Agreed } from './Agreed.tsx';

/** What must be settled at this house before a tool is taken up; nothing where nothing is in the way. */
export function Before({ view }: { view: SystemView }): ReactElement | null {
  const { record } = useJob();
  const cautions: readonly Caution[] = cautionsOf(view.system, record.known, view.site);
  const all = view.drainProblem === null ? cautions : [...cautions, { code: 'drain', text: view.drainProblem, asks: null }];
  if (all.length === 0) return null;
  return (
    <ul className="before">
      {all.map((c) => (
        <li key={c.code}>
          <p className="caution">{c.text}</p>
          {c.asks !== null && <Agreed step={c.asks} what="The earth bond is bridged, or asked about and not needed" label="Asked and settled" />}
        </li>
      ))}
    </ul>
  );
} // oxfmt-ignore
