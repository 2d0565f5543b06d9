import type { FlipPoint } from '@katharos/core';
import type { ReactElement } from 'react';

const W = 380;

/** What comes beyond each scale's nearer edge, said once where several readings lead to the same. */
export function beyondEach(flips: readonly FlipPoint[]): (string | null)[] {
  const said = new Set<string>();
  return flips.map((f) => {
    const down = f.holdsFrom === null ? Infinity : f.reading - f.holdsFrom;
    const up = f.holdsTo === null ? Infinity : f.holdsTo - f.reading;
    const text = down <= up ? f.below : f.above;
    // the same words with other figures are the same reason
    const kind = text?.replace(/[\d.]+/g, '') ?? '';
    if (text === null || said.has(kind)) return null;
    said.add(kind);
    return text;
  });
}

const lowerFirst = (s: string): string => s.charAt(0).toLowerCase() + s.slice(1);

/** A short scale: where the design holds, the reading with its error on it, and the flip in red. */
export function FlipScale({ flip: f, beyond }: { flip: FlipPoint; beyond: string | null }): ReactElement {
  // a square-root scale keeps small readings apart without pushing large ones off
  const x = (v: number): number => (W * Math.sqrt(Math.max(0, v - f.min))) / Math.sqrt(f.max - f.min);
  const low = x(Math.max(f.min, f.reading - f.error));
  const high = x(Math.min(f.max, f.reading + f.error));
  const from = f.holdsFrom === null ? 0 : x(f.holdsFrom);
  const to = f.holdsTo === null ? W : x(f.holdsTo);
  return (
    <div className="flip" data-near={f.near}>
      <span className="flip-words">
        <span className="flip-label">{f.label}</span> {f.sentence}
      </span>
      <svg viewBox={`-4 0 ${String(W + 8)} 22`} preserveAspectRatio="xMinYMid meet" aria-hidden="true">
        <rect x={from} y={7} width={Math.max(0, to - from)} height={8} className="flip-holds" />
        <line x1={0} x2={W} y1={11} y2={11} className="flip-axis" />
        <line x1={low} x2={high} y1={11} y2={11} className="flip-error" />
        <ellipse cx={x(f.reading)} cy={11} rx={5} ry={5} className="flip-dot" />
        {f.holdsFrom !== null && <line x1={from} x2={from} y1={1} y2={21} className="flip-edge" />}
        {f.holdsTo !== null && <line x1={to} x2={to} y1={1} y2={21} className="flip-edge" />}
      </svg>
      {beyond !== null && <span className="flip-words flip-beyond">Beyond: {lowerFirst(beyond)}</span>}
    </div>
  );
}
