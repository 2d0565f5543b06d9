import { useRef, type KeyboardEvent, type PointerEvent, type ReactElement } from 'react';

export interface ScrubProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  /** the figure with its unit, as shown and as a screen reader says it */
  readonly text: string;
  /** whether it stands elsewhere than read */
  readonly changed: boolean;
  readonly onScrub: (value: number) => void;
  readonly onReset: () => void;
}

/** Pixels of the hand that carry a figure over its whole range. */
const TRAVEL_PX = 420;

/** A round step of about a two-hundredth of a range: 1, 2 or 5 times a power of ten. */
export function stepOf(min: number, max: number): number {
  const raw = Math.max(1e-9, max - min) / 200;
  const ten = 10 ** Math.floor(Math.log10(raw));
  const lead = raw / ten;
  return (lead < 1.5 ? 1 : lead < 3.5 ? 2 : lead < 7.5 ? 5 : 10) * ten;
}

const onStep = (value: number, step: number): number => Number((Math.round(value / step) * step).toPrecision(12));

/**
 * A figure that is dragged sideways, or stepped by arrow keys, to see what follows from it. Page keys take ten steps, Home
 * and a double click go back to what was read.
 */
export function Scrub({ label, value, min, max, text, changed, onScrub, onReset }: ScrubProps): ReactElement {
  const step = stepOf(min, max);
  const held = useRef<{ x: number; value: number } | null>(null);
  const frame = useRef(0);
  const to = (v: number): void => {
    onScrub(Math.min(max, Math.max(min, onStep(v, step))));
  };
  const down = (e: PointerEvent<HTMLSpanElement>): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    held.current = { x: e.clientX, value };
  };
  const move = (e: PointerEvent<HTMLSpanElement>): void => {
    const from = held.current;
    if (!from) return;
    const x = e.clientX;
    // once a frame is as often as anything can be seen
    cancelAnimationFrame(frame.current);
    frame.current = requestAnimationFrame(() => {
      to(from.value + ((x - from.x) * (max - min)) / TRAVEL_PX);
    });
  };
  const up = (): void => {
    held.current = null;
  };
  const key = (e: KeyboardEvent): void => {
    const by: Record<string, number> = {
      ArrowRight: 1,
      ArrowUp: 1,
      ArrowLeft: -1,
      ArrowDown: -1,
      PageUp: 10,
      PageDown: -10,
    };
    const steps = by[e.key];
    if (steps !== undefined) {
      e.preventDefault();
      to(value + steps * step);
    } else if (e.key === 'Home') {
      e.preventDefault();
      onReset();
    }
  };
  return (
    <span
      className="scrub"
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={value}
      aria-valuetext={text}
      data-changed={changed}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onDoubleClick={onReset}
      onKeyDown={key}
    >
      {text}
    </span>
  );
}
