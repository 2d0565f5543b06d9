import { formatMinutes, type RunStep } from '@katharos/core';
import { Modal } from '@mantine/core';
import { useEffect, type ReactElement } from 'react';
import { time } from './times.ts';
import type { Actions } from './useActions.ts';

/** Keys that stand for the large button: the space bar, and what a foot switch sends. */
const GO: ReadonlySet<string> = new Set([' ', 'Enter', 'PageDown']);

/** The next thing alone on the screen, for one wet hand, a foot or the space bar. */
export function OneHand(p: {
  readonly step: RunStep;
  readonly actions: Actions;
  readonly dueMs: number | null;
  readonly now: number;
  /** something else is asked just now: keys are its own */
  readonly busy: boolean;
  readonly onClose: () => void;
}): ReactElement {
  const { step, actions, dueMs, now, busy } = p;
  const { primary, others } = actions;
  const blocked = primary.not !== undefined;
  useEffect(() => {
    const go = (e: KeyboardEvent): void => {
      if (busy || blocked || e.repeat || e.defaultPrevented || !GO.has(e.key)) return;
      if (e.target instanceof HTMLInputElement && e.key === ' ') return;
      // a button that has the focus is pressed by the key itself
      if (e.target instanceof HTMLButtonElement && e.key !== 'PageDown') return;
      e.preventDefault();
      primary.act();
    };
    window.addEventListener('keydown', go);
    return () => {
      window.removeEventListener('keydown', go);
    };
  }, [primary, busy, blocked]);
  const leftMin = dueMs === null ? 0 : (dueMs - now) / 60000;
  return (
    <Modal opened fullScreen onClose={p.onClose} closeOnEscape={!busy} title="With one hand" classNames={{ body: 'one-hand' }} closeButtonProps={{ size: 64, iconSize: 36, 'aria-label': 'Back to the sheet' }}>
      <p className="one-hand-title">{step.title}</p>
      {dueMs !== null && (
        <p className="one-hand-clock" data-over={leftMin <= 0}>
          {time(dueMs)}
          <small>{leftMin > 0 ? `${formatMinutes(leftMin)} to go` : `due ${formatMinutes(-leftMin)} ago`}</small>
        </p>
      )}
      <p className="one-hand-detail">{step.detail}</p>
      {step.caution !== undefined && <p className="caution">{step.caution}</p>}
      {step.reads && (
        <label className="one-hand-read">
          {step.reads.label}, {step.reads.unit}
          <input inputMode="decimal" value={actions.read[0]} onChange={(e) => { actions.read[1](e.currentTarget.value); }} />
        </label>
      )}
      {primary.not !== undefined && <p className="note">{primary.not}</p>}
      <div className="one-hand-acts">
        {others.map((a) => (
          <button key={a.label} type="button" disabled={a.not !== undefined} onClick={a.act}>
            {a.label}
          </button>
        ))}
        <button type="button" className="one-hand-go" disabled={blocked} onClick={primary.act}>
          {primary.label}
        </button>
      </div>
    </Modal>
  );
} // oxfmt-ignore
