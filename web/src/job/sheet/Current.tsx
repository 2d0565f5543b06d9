import { formatMinutes, type RunStep, type Schedule, type SystemView } from '@katharos/core';
import { Button, TextInput } from '@mantine/core';
import { IconHandFinger } from '../../ui/icons.ts';
import { useEffect, type ReactElement } from 'react';
import { whenWords } from '../drinking/drinkingWords.ts';
import { useDrinking } from '../drinking/useDrinking.ts';
import { useJob } from '../useJob.ts';
import { BeganEarlier, Causes, elapsedInPlan, PaceNote } from './FillPace.tsx';
import { LookRound } from './LookRound.tsx';
import { Meanwhile } from './Meanwhile.tsx';
import { OneHand } from './OneHand.tsx';
import { TankDrawing } from './TankDrawing.tsx';
import { time } from './times.ts';
import { useActions, type Actions } from './useActions.ts';
import type { Ticking } from './useTicking.ts';
import { GrowingText } from '../../ui/GrowingText.tsx';

/** So many of the steps that come are told beside the one in hand. */
const COMING = 4;

/** The step in hand: what it is, its clock, what may be done with it. */
export function Current({
  view,
  step,
  schedule,
  ticking,
  now,
  oneHand,
  onOneHand,
  beside,
  held,
}: {
  readonly view: SystemView;
  readonly step: RunStep;
  readonly schedule: Schedule;
  readonly ticking: Ticking;
  readonly now: number;
  /** the step stands alone on the screen */
  readonly oneHand: boolean;
  readonly onOneHand: (on: boolean) => void;
  /** what else is written down with this step */
  readonly beside?: ReactElement | null;
  /** why the step cannot be done yet, by what is written down beside it */
  readonly held?: string | undefined;
}): ReactElement {
  const { record } = useJob();
  const actions = useActions(view, step, ticking, now, held);
  const timer = record.timers[step.key];
  const dueMs = timer ? Date.parse(timer.dueAt) : null;
  const over = dueMs !== null && dueMs <= now;
  useEffect(() => {
    const before = document.title;
    if (over) document.title = `Time: ${step.title}`;
    return () => {
      document.title = before;
    };
  }, [over, step.title]);
  return (
    <>
      <p className="flush-title">{step.title}</p>
      <p className="flush-detail">{step.detail}</p>
      {step.caution !== undefined && <p className="caution">{step.caution}</p>}
      {beside}
      <PaceNote view={view} />
      <div className="flush-moments">
        {dueMs !== null && <BigClock dueMs={dueMs} now={now} />}
        <DrinkClock now={now} />
      </div>
      {step.fillsToL !== undefined && (
        <TankDrawing view={view} step={step} elapsedMin={timer ? elapsedInPlan(timer, step, now) : 0} />
      )}
      {timer && record.clocks[step.key]?.extended === true && <Causes of="slow" />}
      {step.kind === 'wait' && (
        <BeganEarlier step={step} minutes={schedule.open.find((o) => o.key === step.key)?.minutes ?? step.minutes} />
      )}
      {step.kind === 'look' && <LookRound view={view} step={step} />}
      {step.kind === 'wait' && <Meanwhile view={view} step={step} />}
      <Coming view={view} schedule={schedule} inHand={step.key} />
      {step.reads && (
        <TextInput
          label={`${step.reads.label}, ${step.reads.unit}`}
          description={step.reads.most === undefined ? undefined : `Done at ${String(step.reads.most)} or less.`}
          inputMode="decimal"
          size="md"
          maw={260}
          value={actions.read[0]}
          error={actions.read[0].trim() === '' ? undefined : actions.primary.not}
          onChange={(e) => {
            actions.read[1](e.currentTarget.value);
          }}
        />
      )}
      <GrowingText
        label="Note on this step"
        size="sm"
        maxLength={2000}
        value={actions.note[0]}
        onChange={(e) => {
          actions.note[1](e.currentTarget.value);
        }}
      />
      <Bar
        actions={actions}
        onOneHand={() => {
          onOneHand(true);
        }}
      />
      {!timer && step.kind !== 'wait' && <p className="small">about {formatMinutes(step.minutes)}</p>}
      {oneHand && (
        <OneHand
          step={step}
          actions={actions}
          dueMs={dueMs}
          now={now}
          busy={ticking.asked !== null}
          onClose={() => {
            onOneHand(false);
          }}
        />
      )}
    </>
  );
}

/** What each answer is in a word, beside the clock. */
const DRINK_WORDS = { yes: 'yes', 'not-yet': 'not yet', no: 'no', unknown: 'not known' } as const;

/** Whether they may drink, and from when, beside the step in hand. */
function DrinkClock({ now }: { readonly now: number }): ReactElement {
  const { answer, atMs } = useDrinking(now);
  return (
    <div>
      <p className="small">may they drink</p>
      <p className="drink-clock">{atMs === null ? DRINK_WORDS[answer] : `from ${whenWords(atMs, now)}`}</p>
    </div>
  );
}

/** When to be back, or since when it is over: read at arm’s length. */
function BigClock({ dueMs, now }: { readonly dueMs: number; readonly now: number }): ReactElement {
  const leftMin = (dueMs - now) / 60000;
  const over = leftMin <= 0;
  return (
    <div>
      <p className="small">{over ? 'time was' : 'be back at'}</p>
      <p
        className="big-clock"
        data-over={over}
        role="timer"
        aria-label={over ? 'Time is up' : `Be back at ${time(dueMs)}`}
      >
        {time(dueMs)}
      </p>
      <p className="small">{over ? `due ${formatMinutes(-leftMin)} ago` : `${formatMinutes(leftMin)} to go`}</p>
    </div>
  );
}

/** What comes next, and when. */
function Coming({
  view,
  schedule,
  inHand,
}: {
  readonly view: SystemView;
  readonly schedule: Schedule;
  readonly inHand: string;
}): ReactElement | null {
  const rest = schedule.open.filter((o) => o.key !== inHand && !o.running).slice(0, COMING);
  if (rest.length === 0) return null;
  return (
    <table className="quiet-table flush-times">
      <caption className="visually-hidden">What comes next, and when</caption>
      <tbody>
        {rest.map((o) => (
          <tr key={o.key}>
            <td>{view.sheet.find((s) => s.key === o.key)?.title ?? o.key}</td>
            <td className="num">{time(o.startMs)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What may be done, under the thumb. */
function Bar({ actions, onOneHand }: { readonly actions: Actions; readonly onOneHand: () => void }): ReactElement {
  const { primary, others } = actions;
  return (
    <>
      {primary.not !== undefined && <p className="note">{primary.not}</p>}
      <div className="thumb-bar">
        <Button size="lg" disabled={primary.not !== undefined} onClick={primary.act}>
          {primary.label}
        </Button>
        {others.map((a) => (
          <Button key={a.label} size="lg" variant="default" disabled={a.not !== undefined} onClick={a.act}>
            {a.label}
          </Button>
        ))}
        <Button
          size="lg"
          variant="default"
          className="one-hand-open"
          aria-label="With one hand: the next thing alone on the screen"
          onClick={onOneHand}
        >
          <IconHandFinger size={22} />
        </Button>
      </div>
    </>
  );
}
