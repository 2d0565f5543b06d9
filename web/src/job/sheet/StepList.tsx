import {
  formatMinutes,
  isDone,
  passedOver,
  type RunStep,
  type Schedule,
  type SystemView,
  workBefore,
} from '@katharos/core';
import { Checkbox } from '@mantine/core';
import { useMemo, type ReactElement } from 'react';
import { useJob } from '../useJob.ts';
import { time } from './times.ts';
import type { Ticking } from './useTicking.ts';

/** Every step by its phase: what is done by whom and when, what comes when, what was passed over. */
export function StepList(p: {
  readonly view: SystemView;
  readonly schedule: Schedule;
  readonly ticking: Ticking;
  /** the step in hand */
  readonly inHand: string | null;
  readonly onTake: (key: string) => void;
}): ReactElement {
  const { view } = p;
  const { record, designs, facts } = useJob();
  const again = useMemo(
    () => new Set(workBefore(designs, facts).flatMap((w) => (w.now === 'again' ? [w.step.key] : []))),
    [designs, facts],
  );
  const over = new Set(passedOver(view.sheet, record).map((s) => s.key));
  const phases = [...new Set(view.sheet.map((s) => s.phase))];
  return (
    <>
      {phases.map((phase) => {
        const steps = view.sheet.filter((s) => s.phase === phase);
        const allDone = steps.every((s) => isDone(record, s.key));
        return (
          <details key={phase} className="phase" open={!allDone}>
            <summary>
              {phase}
              {allDone && ', done'}
            </summary>
            <ul className="steps">
              {steps.map((s) => (
                <Line
                  key={s.key}
                  {...p}
                  step={s}
                  open={again.has(s.key) ? 'once more; ' : over.has(s.key) ? 'passed over; ' : ''}
                />
              ))}
            </ul>
          </details>
        );
      })}
    </>
  );
}

function Line({
  view,
  schedule,
  ticking,
  inHand,
  onTake,
  step: s,
  open,
}: Parameters<typeof StepList>[0] & {
  readonly step: RunStep;
  /** why it is open though others after it are done */
  readonly open: '' | 'passed over; ' | 'once more; ';
}): ReactElement {
  const { record, personName } = useJob();
  const tick = record.ticks[s.key];
  const done = tick?.done === true;
  const planned = schedule.open.find((o) => o.key === s.key);
  const read = tick?.read === undefined ? '' : `, ${String(tick.read)} ${s.reads?.unit ?? ''}`;
  const about = planned ? `about ${time(planned.startMs)}, ${formatMinutes(s.minutes)}` : '';
  return (
    <li data-next={inHand === s.key} data-over={open !== ''}>
      <Checkbox
        checked={done}
        label={s.title}
        description={
          done
            ? `${time(Date.parse(tick.at))}, ${personName(tick.by)}${read}${tick.note ? `: ${tick.note}` : ''}`
            : `${open}${about}`
        }
        onChange={() => {
          if (done) ticking.untick(s);
          // what is read, or looked at, is not done by a tick in a list
          else if (s.reads || (s.kind === 'look' && !view.joints.every((j) => record.looks[s.key]?.[j.joint.id])))
            onTake(s.key);
          else ticking.tick(s);
        }}
      />
      {!done && inHand !== s.key && (
        <button
          type="button"
          className="take"
          aria-label={`Take in hand: ${s.title}`}
          onClick={() => {
            onTake(s.key);
          }}
        >
          take
        </button>
      )}
    </li>
  );
}
