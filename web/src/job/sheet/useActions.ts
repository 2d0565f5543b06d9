import {
  fillPace,
  formatMinutes,
  lookRound,
  pacedMinutes,
  readProblem,
  type RunStep,
  type SystemView,
} from '@katharos/core';
import { useJob } from '../useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { longer } from './FillPace.tsx';
import { looked } from './LookRound.tsx';
import type { Ticking } from './useTicking.ts';

/** One thing that may be done with the step in hand. */
export interface Action {
  readonly label: string;
  readonly act: () => void;
  /** why it cannot be done yet */
  readonly not?: string | undefined;
}

/** What may be done with a step: the one large thing first. */
export interface Actions {
  readonly primary: Action;
  readonly others: readonly Action[];
  readonly note: readonly [string, (note: string) => void];
  /** what is read, as it was typed */
  readonly read: readonly [string, (read: string) => void];
}

/** No strip and no pen a step asks for reads more. */
const MOST_READ = 1000;

/**
 * What may be done with the step in hand now.
 * @param now the page's clock, ms since 1970 @param held why the step cannot be done yet, from what is written down beside it
 */
export function useActions(view: SystemView, step: RunStep, ticking: Ticking, now: number, held?: string): Actions {
  const { record, add, id } = useJob();
  const note = useDraft(`${id}.note.${step.key}`);
  const read = useDraft(`${id}.read.${step.key}`);
  const timer = record.timers[step.key];
  const over = timer !== undefined && Date.parse(timer.dueAt) <= now;
  const figure = read[0].trim() === '' ? undefined : Number(read[0].trim().replace(',', '.'));
  const done = (label: string): Action => ({
    label,
    not: held ?? (step.reads ? (figure !== undefined && !(figure >= 0 && figure <= MOST_READ) ? 'A figure, such as 0.5.' : (readProblem(step, figure, record) ?? undefined)) : undefined),
    act: () => {
      ticking.tick(step, {
        ...(note[0].trim() === '' ? {} : { note: note[0].trim() }),
        ...(step.reads && figure !== undefined ? { read: figure } : {}),
      });
    },
  });
  const actions = (primary: Action, ...others: Action[]): Actions => ({ primary, others, note, read });
  if (step.kind === 'look') {
    const round = lookRound(step, view.joints, record);
    const [first, last] = [round.joints[0], round.joints.at(-1)].map((j) => String(j?.joint.number ?? ''));
    const all = round.joints.length === view.joints.length ? `Joints ${first ?? ''} to ${last ?? ''} are dry` : `Its ${String(round.joints.length)} joints are dry`;
    const n = round.drips.length;
    return actions({
      label: round.open.length === 0 ? 'The round is done' : round.open.length === round.joints.length ? all : 'All others are dry',
      not: n > 0 && round.open.length === 0 ? `${n === 1 ? 'A joint still drips' : `${String(n)} joints still drip`}: looked at again before the round closes.` : undefined,
      act: () => {
        if (round.open.length > 0) add(...round.open.map((j) => looked(step.key, j, 'dry', '')));
        if (n === 0) done('').act();
      },
    });
  }
  if (step.kind === 'do') return actions(done('Done'));
  if (!timer)
    return actions(
      {
        label: `Start the clock, ${formatMinutes(pacedMinutes(step, fillPace(view.sheet, record)))}`,
        act: () => {
          ticking.start(step);
        },
      },
      done('Done'),
    );
  const notFull: Action = {
    label: 'Not full yet',
    act: () => {
      add({ kind: 'timer', step: step.key, action: 'start', minutes: longer(timer, now), startedAt: timer.startedAt });
    },
  };
  return actions(done(over ? 'Done' : 'Done already'), ...(over && step.fillsToL !== undefined ? [notFull] : []));
} // oxfmt-ignore
