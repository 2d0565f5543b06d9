import type { FlipPoint } from '@katharos/core';
import type { ReactElement } from 'react';

const W = 250;

/** A short scale: where the design holds, the reading with its error on it, and the flip in red. */
export function FlipScale({ flip: f }: { flip: FlipPoint }): ReactElement {
  // a square-root scale keeps small readings apart without pushing large ones off
  const x = (v: number): number => (W * Math.sqrt(Math.max(0, v - f.min))) / Math.sqrt(f.max - f.min);
  const low = x(Math.max(f.min, f.reading - f.error));
  const high = x(Math.min(f.max, f.reading + f.error));
  const from = f.holdsFrom === null ? 0 : x(f.holdsFrom);
  const to = f.holdsTo === null ? W : x(f.holdsTo);
  return (
    <div className="flip" data-near={f.near}>
      <span className="flip-label">{f.label}</span>
      <svg width={W + 8} height={22} viewBox={`-4 0 ${String(W + 8)} 22`} aria-hidden="true">
        <rect x={from} y={7} width={Math.max(0, to - from)} height={8} className="flip-holds" />
        <line x1={0} x2={W} y1={11} y2={11} className="flip-axis" />
        <line x1={low} x2={high} y1={11} y2={11} className="flip-error" />
        <circle cx={x(f.reading)} cy={11} r={5} className="flip-dot" />
        {f.holdsFrom !== null && <line x1={from} x2={from} y1={1} y2={21} className="flip-edge" />}
        {f.holdsTo !== null && <line x1={to} x2={to} y1={1} y2={21} className="flip-edge" />}
      </svg>
      <span className="flip-words">
        {f.sentence}
        {f.near && <b> Read again: it decides.</b>}
      </span>
    </div>
  );
}
