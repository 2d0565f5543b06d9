import type { Point } from '@katharos/core';
import type { MouseEvent, ReactElement } from 'react';
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

/** Across a mark, and across one of many on a small drawing, px. */
const MARK_PX = 19;
const DOT_PX = 9;
/** Marks that would cover more of a drawing than this share are dots; only the chosen one keeps its number. */
const CROWDED = 0.25;

interface MarksProps {
  readonly marks: readonly DrawnMark[];
  readonly onMark?: ((key: string) => void) | undefined;
  readonly width: number;
  readonly height: number;
  readonly point: (at: Point) => [number, number];
}

/** Numbered marks; those that would cover each other stand beside what they mark, or are dots, the nearest of which a tap takes. */
export function Marks(p: MarksProps): ReactElement {
  const crowded = p.marks.length * MARK_PX ** 2 > CROWDED * p.width * p.height;
  return crowded ? <Dots {...p} /> : <Numbers {...p} />;
}

function Numbers(p: MarksProps): ReactElement {
  const spread = apart(p.marks.map((m) => p.point(m.at)), MARK_PX, p.width, p.height);
  return (
    <>
      {spread.map(({ at: [ax, ay], drawn: [x, y] }, i) => (
        <path key={p.marks[i]?.key} className="cupboard-mark-of" d={`M${String(ax)} ${String(ay)}L${String(x)} ${String(y)}`} />
      ))}
      {spread.map(({ drawn }, i) => {
        const m = p.marks[i];
        return m && <Mark key={m.key} mark={m} at={drawn} px={MARK_PX} onMark={p.onMark} />;
      })}
    </>
  );
} // oxfmt-ignore

function Dots(p: MarksProps): ReactElement {
  const dots = p.marks.map((mark) => ({ mark, at: p.point(mark.at) }));
  const chosenLast = [...dots].sort((a, b) => Number(a.mark.chosen) - Number(b.mark.chosen));
  const nearest = (e: MouseEvent<SVGRectElement>): void => {
    const box = e.currentTarget.getBoundingClientRect();
    const x = ((e.clientX - box.left) / box.width) * p.width;
    const y = ((e.clientY - box.top) / box.height) * p.height;
    const far = (d: (typeof dots)[number]): number => Math.hypot(d.at[0] - x, d.at[1] - y);
    const [first] = dots;
    if (first) p.onMark?.(dots.reduce((a, b) => (far(b) < far(a) ? b : a), first).mark.key);
  };
  return (
    <>
      {chosenLast.map(({ mark, at }) => (
        <Mark key={mark.key} mark={mark} at={at} px={mark.chosen ? MARK_PX : DOT_PX} onMark={p.onMark} />
      ))}
      <rect className="cupboard-taps" width={p.width} height={p.height} onClick={nearest} />
    </>
  );
}

/** One mark; its number only where there is room for it. */
function Mark(p: {
  readonly mark: DrawnMark;
  readonly at: readonly [number, number];
  readonly px: number;
  readonly onMark: MarksProps['onMark'];
}): ReactElement {
  const { mark: m } = p;
  const [x, y] = p.at;
  const act = (): void => p.onMark?.(m.key);
  return (
    <g
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
      <circle cx={x} cy={y} r={p.px / 2 - 0.5} />
      {p.px >= MARK_PX && <text x={x} y={y + 3.8} textAnchor="middle">{m.number}</text>}
    </g>
  );
} // oxfmt-ignore
