import {
  askedBefore,
  fillPace,
  lookRound,
  pacedMinutes,
  type Asked,
  type JobRecord,
  type RunStep,
  type SystemView,
} from '@katharos/core';
import { useState } from 'react';
import { useJob } from '../useJob.ts';
import { nowMs } from '../../ui/clock.ts';

/** What is written down with a tick. */
export interface WithTick {
  readonly note?: string;
  readonly read?: number;
}

/** A step somebody wants ticked, and why it is not simply done. */
export interface Question extends Asked {
  readonly step: RunStep;
  readonly said: WithTick;
}

/** Ticks, clocks and what is asked before them. */
export interface Ticking {
  /** ticks a step; what it skips, or a clock that still runs, is asked about first */
  readonly tick: (step: RunStep, said?: WithTick) => void;
  /** takes a tick back: asks nothing, and its clock runs on */
  readonly untick: (step: RunStep) => void;
  readonly start: (step: RunStep) => void;
  readonly asked: Question | null;
  /** what was seen, in answer; null leaves the step as it is */
  readonly answer: (seen: string | null) => void;
}

/** How steps of a run sheet are ticked. @param onDone a step was ticked */
export function useTicking(view: SystemView, record: JobRecord, onDone: (step: RunStep) => void): Ticking {
  const { add } = useJob();
  const [asked, setAsked] = useState<Question | null>(null);
  const write = (step: RunStep, said: WithTick): void => {
    add({ kind: 'tick', step: step.key, done: true, ...said });
    if (record.timers[step.key]) add({ kind: 'timer', step: step.key, action: 'stop', minutes: 0 });
    onDone(step);
  };
  return {
    tick: (step, said = {}) => {
      const question = askedBefore(view.sheet, record, step, nowMs());
      const drips = step.kind === 'look' && lookRound(step, view.joints, record).drips.length > 0;
      if (question || drips) setAsked({ ...(question ?? { skips: [], earlyMin: null, barred: true }), step, said });
      else write(step, said);
    },
    untick: (step) => {
      add({ kind: 'tick', step: step.key, done: false });
    },
    start: (step) => {
      const minutes = pacedMinutes(step, fillPace(view.sheet, record));
      add({ kind: 'timer', step: step.key, action: 'start', minutes });
    },
    asked,
    answer: (seen) => {
      setAsked(null);
      if (!asked || seen === null) return;
      const note = [asked.said.note, seen].filter(Boolean).join('. ').slice(0, 2000);
      write(asked.step, { ...asked.said, note });
    },
  };
}
