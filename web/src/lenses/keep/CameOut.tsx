import { CAME_OUT_WORDS, type Component, type FactOf } from '@katharos/core';
import { NativeSelect, SegmentedControl } from '@mantine/core';
import type { ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';

const CAME_OUT_STATES = Object.keys(CAME_OUT_WORDS) as (keyof typeof CAME_OUT_WORDS)[];
const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

/** How the one that came out looked: it decides when the next one is due in this house. */
export function CameOut({
  into,
  since,
  short = false,
}: {
  readonly into: Component;
  readonly since: string;
  /** one line of many */ readonly short?: boolean;
}): ReactElement | null {
  const { approved, record, add } = useJob();
  const last = record.cameOut.findLast((f) => f.component === into.id && f.at >= since);
  if (!approved) return null;
  const told = (state: string): void => {
    const one = CAME_OUT_STATES.find((k) => k === state);
    if (one)
      add({
        kind: 'came-out',
        design: approved.id,
        component: into.id,
        state: one,
        ...(last ? { corrects: last.id } : {}),
      });
  };
  if (short)
    return (
      <NativeSelect
        className="came-out-line"
        size="md"
        label={capital(into.slot)}
        value={last?.state ?? ''}
        data={[
          { value: '', label: 'not told' },
          ...CAME_OUT_STATES.map((value) => ({ value, label: CAME_OUT_WORDS[value] })),
        ]}
        onChange={(e) => {
          told(e.currentTarget.value);
        }}
      />
    );
  return (
    <div className="came-out">
      <p className="small">The {into.slot} that came out was</p>
      <SegmentedControl
        fullWidth
        orientation="vertical"
        size="md"
        aria-label={`How the ${into.slot} that came out looked`}
        value={last?.state ?? ''}
        data={CAME_OUT_STATES.map((value) => ({ value, label: CAME_OUT_WORDS[value] }))}
        onChange={told}
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
        <CameOut key={c.id} into={c} since={change.at} short />
      ))}
    </section>
  );
} // oxfmt-ignore
