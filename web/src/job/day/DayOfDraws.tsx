import { dayTotals, formatNumber, type Draw } from '@katharos/core';
import { Button } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { memo, useRef, useState, type KeyboardEvent, type PointerEvent, type ReactElement } from 'react';
import { clock } from './clock.ts';
import './day.css';

const HEIGHT = 104;
const TOP = 12;
const BASE = HEIGHT - 20;
const STEP_MIN = 5;
const STEP_L = 0.05;
/** What a draw can be, L. */
const LEAST_L = 0.05;
const MOST_L = 60;
/** As many as a day is kept with. */
const MOST_DRAWS = 120;
/** A hand takes the draw within this many pixels. */
const NEAR_PX = 14;

const onStep = (v: number, step: number): number => Number((Math.round(v / step) * step).toFixed(2));
const within = (v: number, low: number, high: number): number => Math.min(high, Math.max(low, v));
const tidy = ({ minute, litres }: Draw): Draw => ({
  minute: within(Math.round(minute), 0, 1439),
  litres: within(onStep(litres, 0.01), LEAST_L, MOST_L),
});

export interface DayOfDrawsProps {
  readonly draws: readonly Draw[];
  /** whether it is the household's own day, drawn by somebody, or the usual one */
  readonly drawn: boolean;
  /** the day as the hand moves it; null once it rests */
  readonly onTry: (draws: readonly Draw[] | null) => void;
  /** the day as it is to stand; null goes back to the usual one */
  readonly onKeep: (draws: readonly Draw[] | null) => void;
  /** room at both sides, so that it stands under a chart's axis */
  readonly left?: number;
  readonly right?: number;
}

/**
 * A day of draws, each a bar at its time: dragged sideways to another time, up and down to more or fewer litres; by keys
 * the same. What is moved is tried at once and kept when the hand lets go.
 */
export const DayOfDraws = memo(function DayOfDraws(p: DayOfDrawsProps): ReactElement {
  const { draws, drawn, onTry, onKeep, left = 8, right = 8 } = p;
  const { ref, width } = useElementSize<HTMLDivElement>();
  const [moving, setMoving] = useState<readonly Draw[] | null>(null);
  const [at, setAt] = useState(0);
  const [before, setBefore] = useState<readonly (readonly Draw[] | null)[]>([]);
  const held = useRef<{ x: number; y: number; from: Draw; top: number } | null>(null);
  const bar = useRef<SVGRectElement>(null);
  const day = moving ?? draws;
  const picked = Math.min(at, day.length - 1);
  const inner = Math.max(1, width - left - right);
  const [frozenTop, setFrozenTop] = useState<number | null>(null);
  const top = frozenTop ?? Math.max(1, 1.15 * dayTotals(draws).largestDrawL);
  const x = (minute: number): number => left + (inner * minute) / 1440;
  const y = (litres: number): number => BASE - ((BASE - TOP) * Math.min(litres, top)) / top;
  const move = (list: readonly Draw[]): void => {
    setMoving(list);
    onTry(list);
  };
  const keep = (list: readonly Draw[]): void => {
    const tidied = list.map(tidy).sort((a, b) => a.minute - b.minute || a.litres - b.litres);
    const mine = list[picked] && tidy(list[picked]);
    setBefore([...before, drawn ? draws : null]);
    setMoving(null);
    setFrozenTop(null);
    if (mine)
      setAt(
        Math.max(
          0,
          tidied.findIndex((d) => d.minute === mine.minute && d.litres === mine.litres),
        ),
      );
    onTry(null);
    onKeep(tidied);
    // the bar in hand may stand elsewhere in the order now
    requestAnimationFrame(() => bar.current?.focus());
  };
  const put = (change: Partial<Draw>): void => {
    move(day.map((d, i) => (i === picked ? tidy({ ...d, ...change }) : d)));
  };
  const down = (e: PointerEvent<SVGSVGElement>): void => {
    const px = e.clientX - e.currentTarget.getBoundingClientRect().left;
    const nearest = day.map((d, i) => ({ i, far: Math.abs(x(d.minute) - px) })).sort((a, b) => a.far - b.far)[0];
    if (!nearest || nearest.far > NEAR_PX) return;
    const from = day[nearest.i];
    if (!from) return;
    e.preventDefault();
    setAt(nearest.i);
    setFrozenTop(top);
    e.currentTarget.setPointerCapture(e.pointerId);
    held.current = { x: e.clientX, y: e.clientY, from, top };
  };
  const drag = (e: PointerEvent<SVGSVGElement>): void => {
    const h = held.current;
    if (!h) return;
    const dx = e.clientX - h.x;
    const dy = h.y - e.clientY;
    if (moving === null && Math.abs(dx) < 3 && Math.abs(dy) < 3) return;
    put({
      minute: onStep(h.from.minute + (1440 * dx) / inner, STEP_MIN),
      litres: Math.abs(dy) < 3 ? h.from.litres : onStep(h.from.litres + (h.top * dy) / (BASE - TOP), STEP_L),
    });
  };
  const up = (): void => {
    if (!held.current) return;
    held.current = null;
    if (moving) keep(moving);
    else {
      setFrozenTop(null);
      bar.current?.focus();
    }
  };
  const remove = (): void => {
    if (day.length > 1) keep(day.filter((_, i) => i !== picked));
  };
  const add = (): void => {
    const list = [...day, { minute: 720, litres: 1 }];
    setAt(list.length - 1);
    keep(list);
    setAt(list.map(tidy).sort((a, b) => a.minute - b.minute || a.litres - b.litres).findIndex((d) => d.minute === 720 && d.litres === 1)); // oxfmt-ignore
  };
  const key = (e: KeyboardEvent): void => {
    const d = day[picked];
    if (!d) return;
    const acts: Record<string, () => void> = {
      ArrowLeft: () => {
        put({ minute: onStep(d.minute - STEP_MIN, STEP_MIN) });
      },
      ArrowRight: () => {
        put({ minute: onStep(d.minute + STEP_MIN, STEP_MIN) });
      },
      ArrowUp: () => {
        put({ litres: onStep(d.litres + STEP_L, STEP_L) });
      },
      ArrowDown: () => {
        put({ litres: onStep(d.litres - STEP_L, STEP_L) });
      },
      PageUp: () => {
        setAt(Math.max(0, picked - 1));
      },
      PageDown: () => {
        setAt(Math.min(day.length - 1, picked + 1));
      },
      Delete: remove,
    };
    const act = acts[e.key];
    if (!act) return;
    e.preventDefault();
    e.stopPropagation();
    act();
  };
  const one = day[picked];
  const totals = dayTotals(day);
  return (
    <div className="day" ref={ref}>
      <svg
        width={width}
        height={HEIGHT}
        role="group"
        aria-label="A day of draws"
        onPointerDown={down}
        onPointerMove={drag}
        onPointerUp={up}
        onPointerCancel={up}
      >
        {(inner < 260 ? [0, 12, 24] : [0, 6, 12, 18, 24]).map((h) => (
          <g key={h}>
            <line className="day-hour" x1={x(60 * h)} x2={x(60 * h)} y1={TOP - 6} y2={BASE + 3} />
            <text
              className="day-tick"
              x={x(60 * h)}
              y={HEIGHT - 4}
              textAnchor={h === 0 ? 'start' : h === 24 ? 'end' : 'middle'}
            >
              {h}:00
            </text>
          </g>
        ))}
        <line className="day-base" x1={left} x2={left + inner} y1={BASE} y2={BASE} />
        {day.map((d, i) => (
          <rect
            key={i}
            ref={i === picked ? bar : undefined}
            className="day-draw"
            data-picked={i === picked}
            role="slider"
            tabIndex={i === picked ? 0 : -1}
            aria-label={`Draw ${String(i + 1)} of ${String(day.length)}`}
            aria-valuemin={LEAST_L}
            aria-valuemax={MOST_L}
            aria-valuenow={d.litres}
            aria-valuetext={`${clock(d.minute)}, ${formatNumber(d.litres, 2)} L`}
            x={x(d.minute) - 3}
            width={6}
            y={y(d.litres)}
            height={Math.max(2, BASE - y(d.litres))}
            onKeyDown={key}
            onKeyUp={(e) => {
              if (e.key.startsWith('Arrow') && moving) keep(moving);
            }}
          />
        ))}
      </svg>
      <div className="day-foot">
        <span className="small day-words">
          {one && (
            <b>
              {clock(one.minute)}, {formatNumber(one.litres, 2)} L
            </b>
          )}{' '}
          of {day.length} draws, {formatNumber(totals.litresADay, 3)} L in all{drawn || moving ? '' : ', a usual day'}.
        </span>
        <Button size="compact-xs" variant="default" disabled={day.length >= MOST_DRAWS} onClick={add}>
          Add a draw
        </Button>
        <Button size="compact-xs" variant="default" disabled={day.length <= 1} onClick={remove}>
          Remove this one
        </Button>
        {before.length > 0 && (
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => {
              const last = before.at(-1);
              setBefore(before.slice(0, -1));
              onKeep(last ?? null);
            }}
          >
            Undo
          </Button>
        )}
        {drawn && (
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => {
              setBefore([...before, draws]);
              onKeep(null);
            }}
          >
            Back to a usual day
          </Button>
        )}
      </div>
    </div>
  );
});
