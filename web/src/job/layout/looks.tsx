import { ofKind, type Laid, type System } from '@katharos/core';
import type { ReactNode } from 'react';
import type { Rect, View } from '../cupboard/CupboardViews.tsx';

/** Where the heads of a frame's housings are, as a share of its height, and how high its membrane lies above them. */
const HEADS = 0.3;
const MEMBRANE = 0.16;

const rect = (x: number, y: number, w: number, h: number, r: number, key?: string): ReactNode => (
  <rect key={key} x={x} y={y} width={Math.max(0, w)} height={Math.max(0, h)} rx={Math.min(r, w / 2, h / 2)} />
);

/** What a part looks like on the drawing: a tank round, a frame with its housings and its membrane. */
export function looksOf(l: Laid, system: System): (view: View, at: Rect) => ReactNode {
  const { component } = l.carried;
  const lies = l.pose.lies === true;
  const across = (l.pose.turn ?? 0) % 180 !== 0;
  const tank = component.part?.kind === 'tank';
  const housings = system.components.filter((c) => c.housing).length;
  const membranes = ofKind(system, 'membrane').length;
  return (view, { x, y, w, h }) => {
    if (tank) {
      const round = view === 'plan' && !lies;
      return rect(x, y, w, h, round ? Math.min(w, h) / 2 : 0.28 * Math.min(w, h));
    }
    if (component.kind !== 'frame') return rect(x, y, w, h, 3);
    if (view === 'plan') return framePlan({ x, y, w, h }, housings, across);
    const seen = across ? 1 : housings;
    const each = w / Math.max(1, seen);
    return (
      <>
        <rect className="part-ghost" x={x} y={y} width={w} height={h} />
        {membranes > 0 && rect(x + 2, y + 2, w - 4, MEMBRANE * h, 8, 'membrane')}
        {rect(x, y + (HEADS - 0.06) * h, w, 0.06 * h, 1, 'heads')}
        {Array.from({ length: seen }, (_, i) =>
          rect(x + i * each + 3, y + HEADS * h, each - 6, (1 - HEADS) * h, 6, String(i)),
        )}
      </>
    );
  };
}

/** A frame from above: its plate, and its housings before it. */
function framePlan({ x, y, w, h }: Rect, housings: number, across: boolean): ReactNode {
  const n = Math.max(1, housings);
  const d = 0.82 * Math.min(across ? w : h, (across ? h : w) / n);
  return (
    <>
      <rect className="part-ghost" x={x} y={y} width={w} height={h} />
      {Array.from({ length: housings }, (_, i) => (
        <circle
          key={i}
          cx={across ? x + w / 2 : x + ((i + 0.5) * w) / n}
          cy={across ? y + ((i + 0.5) * h) / n : y + h / 2}
          r={d / 2}
        />
      ))}
    </>
  );
}
