import type { Point } from '@katharos/core';
import type { ReactElement } from 'react';
import { apart } from './apart.ts';

/** A numbered mark on the drawing, tapped to choose what it marks. */
export interface DrawnMark {
  readonly key: string;
  readonly number: string;
  readonly at: Point;
  /** how it is, in words of the drawing's own: a look of its own for each */
  readonly state: string;
  readonly chosen: boolean;
  /** what a reader of the screen hears */
  readonly label: string;
}

/** Across a mark, px. */
const MARK_PX = 19;

/** Numbered marks; those that would cover each other stand beside what they mark. */
export function Marks(p: {
  readonly marks: readonly DrawnMark[];
  readonly onMark?: ((key: string) => void) | undefined;
  readonly width: number;
  readonly height: number;
  readonly point: (at: Point) => [number, number];
}): ReactElement {
  const spread = apart(p.marks.map((m) => p.point(m.at)), MARK_PX, p.width, p.height);
  return (
    <>
      {spread.map(({ at: [ax, ay], drawn: [x, y] }, i) => (
        <path key={p.marks[i]?.key} className="cupboard-mark-of" d={`M${String(ax)} ${String(ay)}L${String(x)} ${String(y)}`} />
      ))}
      {spread.map(({ drawn: [x, y] }, i) => {
        const m = p.marks[i];
        if (!m) return null;
        const act = (): void => p.onMark?.(m.key);
        return (
          <g
            key={m.key}
            className="cupboard-mark"
            data-state={m.state}
            data-chosen={m.chosen}
            role="button"
            tabIndex={0}
            aria-label={m.label}
            aria-pressed={m.chosen}
            onClick={act}
            onKeyDown={(e) => {
              if (e.key !== 'Enter' && e.key !== ' ') return;
              e.preventDefault();
              e.stopPropagation();
              act();
            }}
          >
            <circle cx={x} cy={y} r={MARK_PX / 2 - 0.5} />
            <text x={x} y={y + 3.8} textAnchor="middle">{m.number}</text>
          </g>
        );
      })}
    </>
  );
} // prettier-ignore
