import { CAME_OUT_WORDS, type Component, type FactOf } from '@katharos/core';
import { SegmentedControl } from '@mantine/core';
import type { ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';

/** How the one that came out looked: it decides when the next one is due in this house. */
export function CameOut({ into, since }: { readonly into: Component; readonly since: string }): ReactElement | null {
  const { approved, record, add } = useJob();
  const last = record.cameOut.findLast((f) => f.component === into.id && f.at >= since);
  if (!approved) return null;
  return (
    <div className="came-out">
      <p className="small">The {into.slot} that came out was</p>
      <SegmentedControl
        fullWidth
        orientation="vertical"
        size="md"
        aria-label={`How the ${into.slot} that came out looked`}
        value={last?.state ?? ''}
        data={Object.entries(CAME_OUT_WORDS).map(([value, label]) => ({ value, label }))}
        onChange={(state) => {
          add({
            kind: 'came-out',
            design: approved.id,
            component: into.id,
            state: state as keyof typeof CAME_OUT_WORDS,
            ...(last ? { corrects: last.id } : {}),
          });
        }}
      />
    </div>
  );
}

/** Asks of everything that was changed and that nobody told of yet, once the visit is about to be closed. */
export function AskCameOut({ change, changed }: { readonly change: FactOf<'change'>; readonly changed: readonly string[] }): ReactElement | null {
  const { record, view } = useJob();
  const untold = (view?.system.components ?? []).filter((c) => changed.includes(c.id) && !record.cameOut.some((f) => f.component === c.id && f.at >= change.at));
  if (untold.length === 0) return null;
  return (
    <section aria-label="How what came out looked">
      <p>
        <b>How did what came out look?</b> It decides when the next is due in this house.
      </p>
      {untold.map((c) => (
        <CameOut key={c.id} into={c} since={change.at} />
      ))}
    </section>
  );
} // prettier-ignore
