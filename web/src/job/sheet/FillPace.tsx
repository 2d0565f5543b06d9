import { FILL_CAUSES, fillPace, formatMinutes, type RunStep, type SystemView, type TimerState } from '@katharos/core';
import { Button, NumberInput } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { useJob } from '../useJob.ts';
import { nowMs } from '../../ui/clock.ts';

/** A fill found not full is given a quarter more of what it took so far, min. */
export const longer = (timer: TimerState, now: number): number =>
  Math.ceil((1.25 * (now - Date.parse(timer.startedAt))) / 60000);

/** Where a clock stands on its step's plan, min: one that was given longer fills as much slower. */
export function elapsedInPlan(timer: TimerState, step: RunStep, now: number): number {
  const [began, due] = [Date.parse(timer.startedAt), Date.parse(timer.dueAt)];
  return (step.minutes * (now - began)) / Math.max(1, due - began);
}

/** What the last fill took, where it was otherwise than planned, and what that may come from. */
export function PaceNote({ view }: { view: SystemView }): ReactElement | null {
  const { record } = useJob();
  const pace = fillPace(view.sheet, record);
  if (!pace) return null;
  return (
    <>
      <p className={pace.finding ? 'note' : 'small'}>
        {pace.step.title} took {formatMinutes(pace.tookMin)}, planned {formatMinutes(pace.plannedMin)}: later fills and
        the time they may drink follow it.
        {pace.finding ? ' That is a finding, not a plan: look at what makes it so.' : ''}
      </p>
      {pace.finding && <Causes of={pace.finding} />}
    </>
  );
}

/** What a fill off its plan may come from. */
export function Causes({ of }: { of: 'slow' | 'fast' }): ReactElement {
  return (
    <ul className="causes" aria-label={of === 'slow' ? 'Why it may be slow' : 'Why it may be fast'}>
      {FILL_CAUSES[of].map((c) => (
        <li key={c}>{c}</li>
      ))}
    </ul>
  );
}

/** A clock nobody started in time: said afterwards, in minutes. */
export function BeganEarlier({ step, minutes }: { step: RunStep; minutes: number }): ReactElement {
  const { add } = useJob();
  const [open, setOpen] = useState(false);
  const [ago, setAgo] = useState<number | string>('');
  if (!open)
    return (
      <Button className="began-earlier-open"
        size="compact-sm" variant="subtle" onClick={() => { setOpen(true); }}>
        It began earlier
      </Button>
    );
  const begin = (): void => {
    if (typeof ago !== 'number') return;
    add({ kind: 'timer', step: step.key, action: 'start', minutes, startedAt: new Date(nowMs() - ago * 60000).toISOString() });
    setOpen(false);
  };
  return (
    <form className="began-earlier" onSubmit={(e) => { e.preventDefault(); begin(); }}>
      <NumberInput label="It began so many minutes ago" value={ago} onChange={setAgo} min={0} max={2880} allowDecimal={false} size="md" />
      <Button type="submit" size="md" disabled={typeof ago !== 'number'}>
        Start it from then
      </Button>
    </form>
  );
} // oxfmt-ignore
