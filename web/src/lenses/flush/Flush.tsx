import {
  fillPace,
  formatMinutes,
  formatNumber,
  pacedMinutes,
  scheduleOf,
  type NewFact,
  type RunStep,
  type Schedule,
  type SystemView,
} from '@katharos/core';
import { Button, Checkbox, Modal, NumberInput, Textarea } from '@mantine/core';
import dayjs from 'dayjs';
import { useEffect, useState, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { NeedsDesign } from '../../job/NeedsDesign.tsx';
import { useNow } from '../../ui/useNow.ts';
import { nowMs } from '../../ui/clock.ts';
import { BeganEarlier, Causes, elapsedInPlan, longer, PaceNote } from './FillPace.tsx';
import './flush.css';

const time = (ms: number): string => dayjs(ms).format(dayjs(ms).isSame(dayjs(nowMs()), 'day') ? 'HH:mm' : 'ddd HH:mm');

/** Wet it in the right order: the next thing in large type, clocks that survive, the rest of the day beside it. */
export default function Flush(): ReactElement {
  const job = useJob();
  const now = useNow(1000);
  const { view, approved, record } = job;
  const [drip, setDrip] = useState<RunStep | null>(null);
  if (!view || !approved) return <NeedsDesign what="Flush" />;
  const schedule = scheduleOf(view.sheet, record, now);
  return (
    <div className="two-zones flush">
      <div className="flush-list">
        <StepList view={view} schedule={schedule} />
      </div>
      <div>
        <Current view={view} schedule={schedule} now={now} onDrip={setDrip} />
      </div>
      {drip && (
        <DripDialog
          step={drip}
          view={view}
          onClose={() => {
            setDrip(null);
          }}
        />
      )}
    </div>
  );
}

function StepList({ view, schedule }: { view: SystemView; schedule: Schedule }): ReactElement {
  const { record, add, personName } = useJob();
  const phases = [...new Set(view.sheet.map((s) => s.phase))];
  return (
    <>
      {phases.map((phase) => (
        <details
          key={phase}
          className="phase"
          open={!view.sheet.every((s) => s.phase !== phase || record.ticks[s.key]?.done === true)}
        >
          <summary>
            {phase}
            {view.sheet.every((s) => s.phase !== phase || record.ticks[s.key]?.done === true) && ', done'}
          </summary>
          <ul className="steps">
            {view.sheet
              .filter((s) => s.phase === phase)
              .map((s) => {
                const tick = record.ticks[s.key];
                const done = tick?.done === true;
                const planned = schedule.open.find((o) => o.key === s.key);
                return (
                  <li key={s.key} data-next={schedule.next?.key === s.key}>
                    <Checkbox
                      checked={done}
                      label={s.title}
                      description={
                        done
                          ? `${time(Date.parse(tick.at))}, ${personName(tick.by)}${tick.note ? `: ${tick.note}` : ''}`
                          : planned
                            ? `about ${time(planned.startMs)}, ${formatMinutes(s.minutes)}`
                            : ''
                      }
                      onChange={() => {
                        add({ kind: 'tick', step: s.key, done: !done });
                        if (!done && record.timers[s.key])
                          add({ kind: 'timer', step: s.key, action: 'stop', minutes: 0 });
                      }}
                    />
                  </li>
                );
              })}
          </ul>
        </details>
      ))}
    </>
  );
}

interface CurrentProps {
  readonly view: SystemView;
  readonly schedule: Schedule;
  readonly now: number;
  readonly onDrip: (step: RunStep) => void;
}

function Current({ view, schedule, now, onDrip }: CurrentProps): ReactElement {
  const { record, add, id } = useJob();
  const step = schedule.next;
  const [note, setNote] = useDraft(`${id}.note.${step?.key ?? 'done'}`);
  const timer = step ? record.timers[step.key] : undefined;
  const leftMin = timer ? (Date.parse(timer.dueAt) - now) / 60000 : 0;
  const over = timer !== undefined && leftMin <= 0;
  useEffect(() => {
    const before = document.title;
    if (over) document.title = `Time: ${step?.title ?? ''}`;
    return () => {
      document.title = before;
    };
  }, [over, step?.title]);
  if (!step)
    return (
      <>
        <p className="headline">
          {view.sheet.length === 0
            ? 'This version changes no part: nothing to flush.'
            : 'Flushed and wet. Prove it next.'}
        </p>
        <p>
          Looks still to come: tomorrow, and during the first week. The baseline is read again after the first days’
          use.
        </p>
      </>
    );
  const planned = schedule.open.find((o) => o.key === step.key);
  const rest = schedule.open.slice(1, 5);
  const titleOf = (key: string): string => view.sheet.find((s) => s.key === key)?.title ?? key;
  const tickDone = (): void => {
    add({ kind: 'tick', step: step.key, done: true, ...(note.trim() ? { note: note.trim() } : {}) });
    if (timer) add({ kind: 'timer', step: step.key, action: 'stop', minutes: 0 });
    setNote('');
  };
  const minutes = pacedMinutes(step, fillPace(view.sheet, record));
  const count = view.joints.length;
  const drips =
    step.kind === 'look' ? Object.values(record.looks[step.key] ?? {}).filter((l) => l.result === 'drip') : [];
  const numberOf = (joint: string): string => {
    const at = view.joints.find((j) => j.joint.id === joint);
    return at ? `Joint ${String(at.joint.number)}, ${at.where},` : joint;
  };
  const allDry = (): void => {
    add(
      ...view.joints.map(({ joint: j }) => ({
        kind: 'look' as const,
        round: step.key,
        joint: j.id,
        result: 'dry' as const,
      })),
    );
    tickDone();
  };
  return (
    <>
      <p className="flush-title">{step.title}</p>
      <p className="flush-detail">{step.detail}</p>
      {step.caution !== undefined && <p className="caution">{step.caution}</p>}
      <PaceNote view={view} />
      {timer && (
        <>
          <p className="small">{over ? 'time was' : 'be back at'}</p>
          <p
            className="big-clock"
            data-over={over}
            role="timer"
            aria-label={over ? 'Time is up' : `Be back at ${time(Date.parse(timer.dueAt))}`}
          >
            {time(Date.parse(timer.dueAt))}
          </p>
          <p className="small">{over ? `over for ${formatMinutes(-leftMin)}` : `${formatMinutes(leftMin)} to go`}</p>
        </>
      )}
      {step.fillsToL !== undefined && (
        <TankDrawing view={view} step={step} elapsedMin={timer ? elapsedInPlan(timer, step, now) : 0} />
      )}
      {timer && record.clocks[step.key]?.extended === true && <Causes of="slow" />}
      {step.kind === 'wait' && <BeganEarlier key={step.key} step={step} minutes={minutes} />}
      {step.meanwhile !== undefined && step.meanwhile !== '' && (
        <p className="small">
          <b>Meanwhile.</b> {step.meanwhile}
        </p>
      )}
      {drips.map((l) => (
        <p key={l.id} className="caution">
          {numberOf(l.joint)} drips{l.note ? `: ${l.note}` : ''}. Shut, release, re-cut or re-seat; then look again.
        </p>
      ))}
      <table className="quiet-table flush-times">
        <caption className="visually-hidden">What comes next, and when</caption>
        <tbody>
          {rest.map((o) => (
            <tr key={o.key}>
              <td>{titleOf(o.key)}</td>
              <td className="num">{time(o.startMs)}</td>
            </tr>
          ))}
          <tr className="flush-drink">
            <td>They may drink</td>
            <td className="num">{schedule.drinkableAtMs === null ? 'now' : time(schedule.drinkableAtMs)}</td>
          </tr>
        </tbody>
      </table>
      <Textarea
        label="Note on this step"
        size="sm"
        autosize
        minRows={1}
        maxLength={2000}
        value={note}
        onChange={(e) => {
          setNote(e.currentTarget.value);
        }}
      />
      <div className="thumb-bar">
        {step.kind === 'wait' && !timer && (
          <Button
            size="lg"
            onClick={() => {
              add({ kind: 'timer', step: step.key, action: 'start', minutes });
            }}
          >
            Start the clock, {formatMinutes(minutes)}
          </Button>
        )}
        {timer && over && step.fillsToL !== undefined && (
          <Button
            size="lg"
            variant="default"
            onClick={() => {
              add({
                kind: 'timer',
                step: step.key,
                action: 'start',
                minutes: longer(timer, now),
                startedAt: timer.startedAt,
              });
            }}
          >
            Not full yet
          </Button>
        )}
        {step.kind === 'wait' && (
          <Button size="lg" variant={timer ? 'filled' : 'default'} onClick={tickDone}>
            {timer && !over ? 'Done already' : 'Done'}
          </Button>
        )}
        {step.kind === 'do' && (
          <Button size="lg" onClick={tickDone}>
            Done
          </Button>
        )}
        {step.kind === 'look' && (
          <>
            <Button size="lg" onClick={allDry}>
              Joints 1 to {count} are dry
            </Button>
            <Button
              size="lg"
              variant="default"
              onClick={() => {
                onDrip(step);
              }}
            >
              A drip
            </Button>
          </>
        )}
      </div>
      {planned && !timer && step.kind !== 'wait' && <p className="small">about {formatMinutes(step.minutes)}</p>}
    </>
  );
}

/** Content of the tank as the computation has it at this moment of the fill. */
function TankDrawing({
  view,
  step,
  elapsedMin,
}: {
  view: SystemView;
  step: RunStep;
  elapsedMin: number;
}): ReactElement {
  const curve = view.today.fill.curve;
  const full = view.today.fill.waterL;
  const i = curve.findIndex((p) => p.minutes >= elapsedMin);
  const b = i < 0 ? curve.at(-1) : curve[i];
  const a = i > 0 ? curve[i - 1] : undefined;
  const content = !b
    ? 0
    : a && i > 0
      ? a.waterL + ((b.waterL - a.waterL) * (elapsedMin - a.minutes)) / Math.max(1e-9, b.minutes - a.minutes)
      : i < 0
        ? full
        : b.waterL;
  const goal = step.fillsToL ?? full;
  const litres = Math.min(content, goal);
  const h = 110;
  const y = h - (h - 16) * (litres / full);
  const yGoal = h - (h - 16) * (goal / full);
  return (
    <svg
      className="tank-drawing"
      viewBox={`0 0 300 ${String(h)}`}
      role="img"
      aria-label={`About ${formatNumber(litres, 2)} of ${formatNumber(goal, 2)} litres in the tank`}
    >
      <rect x="0.5" y={y} width="299" height={h - y} className="tank-water" />
      <rect x="0.5" y="0.5" width="299" height={h - 1} className="tank-wall" />
      <line x1="0" x2="300" y1={yGoal} y2={yGoal} className="line-limit" />
      <text x="294" y={yGoal - 3} textAnchor="end" className="tank-text">
        {formatNumber(goal, 2)} L
      </text>
      <text x="8" y={Math.min(h - 6, y + 16)} className="tank-text tank-now">
        about {formatNumber(litres, 2)} L
      </text>
    </svg>
  );
}

function DripDialog({ step, view, onClose }: { step: RunStep; view: SystemView; onClose: () => void }): ReactElement {
  const { add, id } = useJob();
  const [joint, setJoint] = useState<number | string>('');
  const [note, setNote] = useDraft(`${id}.drip`);
  const count = view.joints.length;
  const at = view.joints.find((j) => j.joint.number === joint);
  const save = (): void => {
    if (!at) return;
    const fact: NewFact = {
      kind: 'look',
      round: step.key,
      joint: at.joint.id,
      result: 'drip',
      ...(note.trim() ? { note: note.trim() } : {}),
    };
    add(fact);
    setNote('');
    onClose();
  };
  return (
    <Modal opened onClose={onClose} title="Which joint drips?">
      <p className="caution">Shut the feed, open the tap until the pressure is gone, then touch the joint.</p>
      <NumberInput
        label={`Joint, 1 to ${String(count)}`}
        value={joint}
        onChange={setJoint}
        min={1}
        max={count}
        allowDecimal={false}
        size="md"
        data-autofocus
        description={at?.where}
        error={joint !== '' && !at ? `This Line has joints 1 to ${String(count)}.` : undefined}
      />
      <Textarea
        mt="sm"
        label="What was seen, what was done"
        value={note}
        maxLength={2000}
        onChange={(e) => {
          setNote(e.currentTarget.value);
        }}
      />
      <Button mt="md" size="md" disabled={!at} onClick={save}>
        Write it down
      </Button>
    </Modal>
  );
}
