import { isDone, type SystemView } from '@katharos/core';
import { Checkbox } from '@mantine/core';
import type { ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';

/** What goes into the van. */
export function PickList({ view }: { view: SystemView }): ReactElement {
  const { record, add } = useJob();
  const left = view.picks.filter((p) => !isDone(record, `pick:${p.key}`)).length;
  return (
    <>
      <h2 className="zone-title">
        Pick list, {left === 0 ? 'all in the van' : `${String(left)} of ${String(view.picks.length)} still to load`}
      </h2>
      <ul className="picks">
        {view.picks.map((p) => {
          const done = isDone(record, `pick:${p.key}`);
          return (
            <li key={p.key}>
              <Checkbox
                checked={done}
                label={
                  <>
                    <b>{p.amount}</b> {/^\d+$/.exec(p.amount) ? '× ' : ''}
                    {p.name}
                  </>
                }
                description={p.note}
                onChange={() => {
                  add({ kind: 'tick', step: `pick:${p.key}`, done: !done });
                }}
              />
            </li>
          );
        })}
      </ul>
    </>
  );
}
