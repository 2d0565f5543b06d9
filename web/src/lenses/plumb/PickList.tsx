import {
  BOXES,
  checkStep,
  formatNumber,
  isDone,
  pickStep,
  type PickItem,
  type SystemView,
  type VanBox,
} from '@katharos/core';
import { Checkbox, SegmentedControl } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { FromStock } from './FromStock.tsx';

/** What goes into the van, box by box: ticked at the van, and once more in the house before anything is shut. */
export function PickList({
  view,
  onReplace,
}: {
  readonly view: SystemView;
  /** goes to where a part is taken in another's place */
  readonly onReplace: (component: string) => void;
}): ReactElement {
  const { record, rules } = useJob();
  const [where, setWhere] = useState<'van' | 'house'>('van');
  const step = where === 'van' ? pickStep : checkStep;
  const left = view.picks.filter((p) => !isDone(record, step(p.key))).length;
  const all = String(view.picks.length);
  const priced = view.picks.flatMap((p) => (p.price === null ? [] : [p.price]));
  const unpriced = view.picks.filter((p) => p.part !== null && p.price === null).length;
  return (
    <section aria-label="Pick list">
      <p className="headline">
        {where === 'van'
          ? `Pick list, ${left === 0 ? 'all in the van' : `${String(left)} of ${all} still to load`}`
          : `Parts check, ${left === 0 ? 'all of it is here' : `${String(left)} of ${all} still to look at`}`}
      </p>
      <div className="pick-head no-print">
        <SegmentedControl
          size="xs"
          aria-label="Where it is ticked"
          value={where}
          onChange={(v) => {
            setWhere(v === 'house' ? 'house' : 'van');
          }}
          data={[
            { value: 'van', label: 'At the van' },
            { value: 'house', label: 'In the house' },
          ]}
        />
        <small>
          {where === 'house' && 'Everything is here and whole before anything is shut. '}
          {priced.length > 0 &&
            `Parts ${formatNumber(
              priced.reduce((a, b) => a + b, 0),
              3,
            )} ${rules.currency}${unpriced > 0 ? `, ${String(unpriced)} of them without a price on the shelf` : ''}.`}
        </small>
      </div>
      <FromStock view={view} />
      <div className="pick-boxes">
        {(Object.keys(BOXES) as VanBox[]).map((box) => {
          const items = view.picks.filter((p) => p.box === box);
          return (
            items.length > 0 && (
              <section key={box}>
                <h2 className="zone-title">{BOXES[box]}</h2>
                <ul className="picks">
                  {items.map((p) => (
                    <Pick key={p.key} item={p} step={step(p.key)} onReplace={replaceable(view, p, onReplace)} />
                  ))}
                </ul>
              </section>
            )
          );
        })}
      </div>
    </section>
  );
}

/** The way to another part in the place of one that is missing or damaged; none for what is no part of the system. */
function replaceable(view: SystemView, p: PickItem, go: (component: string) => void): (() => void) | null {
  const c = p.part === null ? undefined : view.system.components.find((x) => x.part?.id === p.part);
  return c ? () => { go(c.id); } : null;
} // oxfmt-ignore

function Pick({
  item: p,
  step,
  onReplace,
}: {
  item: PickItem;
  step: string;
  onReplace: (() => void) | null;
}): ReactElement {
  const { record, add } = useJob();
  const done = isDone(record, step);
  return (
    <li>
      <Checkbox
        checked={done}
        label={<PickWords item={p} />}
        description={p.note}
        onChange={() => {
          add({ kind: 'tick', step, done: !done });
        }}
      />
      {onReplace && !done && (
        <button
          type="button"
          className="plain no-print pick-replace"
          aria-label={`${p.name} is missing or damaged`}
          onClick={onReplace}
        >
          missing or damaged
        </button>
      )}
    </li>
  );
}

/** "2 × Carbon block", "9.5 m Tube 6 mm". */
export function PickWords({ item: p }: { item: PickItem }): ReactElement {
  return (
    <>
      <b>{p.amount}</b> {/^\d+$/.exec(p.amount) ? '× ' : ''}
      {p.name}
    </>
  );
}
