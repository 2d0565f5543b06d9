import type { Body, Box, Point, Spot } from '@katharos/core';
import { DndContext, PointerSensor, useDraggable, useSensor, useSensors, type DragMoveEvent } from '@dnd-kit/core';
import { useElementSize, useWindowEvent } from '@mantine/hooks';
import { useRef, type KeyboardEvent, type ReactElement, type ReactNode } from 'react';
import { Marks, type DrawnMark } from './Marks.tsx';
import { namesApart } from './namesApart.ts';
import type { Moving } from './useMoving.ts';
import './cupboard.css';

const GAP = 28;
const LABEL = 18;
/** A drawing is no higher than this unless somebody says so, px. */
const MOST_PX = 250;
/** A box narrower than this has no room for its name, px. */
const NAME_PX = 56;
/** A drawing narrower than this has no room for all of its caption, px. */
const CAPTION_PX = 260;
/** Half of a letter’s breadth on the drawing, px. */
const HALF_LETTER_PX = 3.2;
/** What one press of an arrow key moves, mm; with the shift key, and with the alt key. */
const NUDGE_MM = 10;
const FAR_MM = 50;
const FINE_MM = 1;

export type View = 'front' | 'plan';

/** A place on a drawing, px. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly w: number;
  readonly h: number;
}

/** A body on the drawing. */
export interface DrawnBody {
  readonly key: string;
  readonly label: string;
  readonly box: Box;
  /** it is only drawn */
  readonly fixed?: boolean;
  readonly selected?: boolean;
  /** something is wrong with where it stands */
  readonly clash?: boolean;
  /** kept free for it */
  readonly free?: readonly Box[];
  /** what it looks like; a plain box if left out */
  readonly looks?: (view: View, at: Rect) => ReactNode;
}

/** A tube on the drawing. */
export interface DrawnTube {
  readonly key: string;
  readonly number: string;
  readonly way: readonly Point[];
  readonly colour: string;
  readonly role: string;
}

/** The middle of a word that is to stay between the walls. */
const within = (x: number, half: number, widthPx: number): number =>
  Math.max(1 + Math.min(half, widthPx / 2), Math.min(1 + widthPx - half, x));

const NONE: Spot = { xMm: 0, yMm: 0, zMm: 0 };

/** A box as one of the views shows it, mm from the left and from the top of the drawing. */
function seen(view: View, b: Box, size: Body): Rect {
  return view === 'front'
    ? { x: b.x0, y: size.heightMm - b.z1, w: b.x1 - b.x0, h: b.z1 - b.z0 }
    : { x: b.x0, y: b.y0, w: b.x1 - b.x0, h: b.y1 - b.y0 };
}

/** The cupboard from the front and from above at one scale; what may be moved is dragged, or moved by the arrow keys. */
export function CupboardViews(p: {
  readonly size: Body;
  readonly bodies: readonly DrawnBody[];
  readonly tubes?: readonly DrawnTube[];
  readonly marks?: readonly DrawnMark[];
  readonly onMark?: (key: string) => void;
  readonly mostPx?: number;
  /** "The cupboard" */
  readonly name: string;
  readonly onSelect?: (key: string) => void;
  /** what drags, nudges and lets go */
  readonly hand: Pick<Moving<Spot>, 'drag' | 'nudge' | 'drop'>;
  readonly onKey?: (key: string, e: KeyboardEvent) => void;
}): ReactElement {
  const { size } = p;
  const { ref, width } = useElementSize<HTMLDivElement>();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 3 } }));
  // each drawing is as wide as its walls, and their lines
  const room = Math.max(120, width - 4);
  const stacked = room < 460;
  const scale = Math.min(
    (stacked ? room : (room - GAP) / 2) / size.widthMm,
    (p.mostPx ?? MOST_PX) / Math.max(size.heightMm, size.depthMm),
  );
  const hand = useHand();
  const movedBy = (id: string, px: { x: number; y: number }): [string, Spot] => {
    const [view, ...key] = id.split(':');
    const dx = px.x / scale;
    const dy = px.y / scale;
    return [key.join(':'), { ...NONE, xMm: dx, ...(view === 'front' ? { zMm: -dy } : { yMm: dy }) }];
  };
  const follow = (e: DragMoveEvent): void => {
    if (hand.down()) p.hand.drag(...movedBy(String(e.active.id), hand.from(e.activatorEvent) ?? e.delta));
  };
  const letGo = (e: DragMoveEvent): void => {
    follow(e);
    hand.lift();
    p.hand.drop();
  };
  return (
    <DndContext
      sensors={sensors}
      autoScroll={false}
      onDragStart={(e) => {
        hand.press();
        p.onSelect?.(movedBy(String(e.active.id), { x: 0, y: 0 })[0]);
      }}
      onDragMove={follow}
      onDragEnd={letGo}
      onDragCancel={letGo}
    >
      <div className="cupboard-views" ref={ref} data-stacked={stacked}>
        {width > 0 &&
          (['front', 'plan'] as const).map((view) => <Drawing key={view} {...p} view={view} scale={scale} />)}
      </div>
    </DndContext>
  );
}

/**
 * Where the hand is. The drag package tells a move once it is drawn: a hand that lets go within the same frame was
 * put down where it had been a frame before, and the last move came after that.
 */
function useHand(): {
  readonly press: () => void;
  readonly lift: () => void;
  readonly down: () => boolean;
  /** from where a drag began, px; null before the pointer is known */
  readonly from: (began: Event) => { x: number; y: number } | null;
} {
  const at = useRef<{ x: number; y: number } | null>(null);
  const down = useRef(false);
  const seen = (e: PointerEvent): void => {
    at.current = { x: e.pageX, y: e.pageY };
  };
  useWindowEvent('pointermove', seen, { capture: true });
  useWindowEvent('pointerup', seen, { capture: true });
  return {
    press: () => {
      down.current = true;
    },
    lift: () => {
      down.current = false;
    },
    down: () => down.current,
    from: (began) =>
      at.current && began instanceof PointerEvent
        ? { x: at.current.x - began.pageX, y: at.current.y - began.pageY }
        : null,
  };
}

/** Both views at a scale of their own, to be looked at only: on paper. @param widthPx of the paper; stacked they are three quarters of it wide */
export function CupboardOnPaper(
  p: Pick<Parameters<typeof CupboardViews>[0], 'size' | 'bodies' | 'tubes' | 'name'> & {
    readonly widthPx: number;
    readonly stacked: boolean;
  },
): ReactElement {
  const scale = p.stacked
    ? Math.min((0.75 * p.widthPx) / p.size.widthMm, p.widthPx / (p.size.heightMm + p.size.depthMm))
    : Math.min(
        (p.widthPx - GAP - 8) / 2 / p.size.widthMm,
        (0.37 * p.widthPx) / Math.max(p.size.heightMm, p.size.depthMm),
      );
  const bodies = p.bodies.map((b) => ({ ...b, fixed: true }));
  return (
    <div className="cupboard-views" data-stacked={p.stacked}>
      {(['front', 'plan'] as const).map((view) => (
        <Drawing key={view} {...p} bodies={bodies} hand={NO_HAND} view={view} scale={scale} />
      ))}
    </div>
  );
}

const nothing = (): void => {
  // on paper nothing moves
};
const NO_HAND = { drag: nothing, nudge: nothing, drop: nothing };

/** One of the two views. */
function Drawing(
  p: Parameters<typeof CupboardViews>[0] & { readonly view: View; readonly scale: number },
): ReactElement {
  const { view, scale, size } = p;
  const px = (mm: number): number => mm * scale;
  const place = (b: Box): Rect => {
    const s = seen(view, b, size);
    return { x: 1 + px(s.x), y: 1 + px(s.y), w: px(s.w), h: px(s.h) };
  };
  const high = view === 'front' ? size.heightMm : size.depthMm;
  const [w, other] = [size.widthMm, high].map((mm) => String(Math.round(mm)));
  // what stands nearer covers what stands behind it, or below
  const near = (b: DrawnBody): number => (view === 'front' ? b.box.y1 : b.box.z1);
  const bodies = [...p.bodies].sort((a, b) => Number(b.fixed ?? false) - Number(a.fixed ?? false) || near(a) - near(b));
  const names = bodies.map(({ box, label }) => {
    const at = place(box);
    const half = HALF_LETTER_PX * label.length;
    // under a thing too narrow for its name
    const y = at.w < NAME_PX ? at.y + at.h + 13 : at.y + at.h / 2 + 4;
    return { x: within(at.x + at.w / 2, half, px(size.widthMm)), y, half };
  });
  const lines = namesApart(names, px(high));
  return (
    <svg
      width={px(size.widthMm) + 2}
      height={px(high) + LABEL + 2}
      role="group"
      aria-label={`${p.name} ${view === 'front' ? 'from the front' : 'from above'}, ${w ?? ''} mm wide, ${other ?? ''} mm ${view === 'front' ? 'high' : 'deep'}`}
    >
      <rect className="cupboard-wall" x={1} y={1} width={px(size.widthMm)} height={px(high)} />
      <text className="cupboard-words" x={px(size.widthMm) / 2} y={px(high) + LABEL - 3} textAnchor="middle">
        {view === 'front' ? `from the front, ${w ?? ''} × ${other ?? ''} mm high` : `from above, ${px(size.widthMm) < CAPTION_PX ? '' : 'back wall on top, '}${other ?? ''} mm deep`}
      </text>
      {bodies.map((b) => b.free?.map((f, i) => <Free key={`${b.key}.${String(i)}`} at={place(f)} />))}
      {bodies.map((b) => (
        <Thing key={b.key} body={b} at={place(b.box)} view={view} onSelect={p.onSelect} onNudge={p.hand.nudge} onKey={p.onKey} />
      ))}
      {bodies.filter((b) => b.selected).map((b) => <Measures key={b.key} box={b.box} at={place(b.box)} view={view} high={px(high)} />)}
      {p.tubes?.map((t) => <TubeLine key={t.key} tube={t} point={(q) => (view === 'front' ? [1 + px(q.x), 1 + px(size.heightMm - q.z)] : [1 + px(q.x), 1 + px(q.y)])} />)}
      {bodies.map((b, i) => (
        <text key={b.key} className="cupboard-name" data-fixed={b.fixed ?? false} x={names[i]?.x} y={lines[i]} textAnchor="middle">
          {b.label}
        </text>
      ))}
      {p.marks && <Marks marks={p.marks} onMark={p.onMark} width={px(size.widthMm) + 2} height={px(high) + 2} point={(q) => (view === 'front' ? [1 + px(q.x), 1 + px(size.heightMm - q.z)] : [1 + px(q.x), 1 + px(q.y)])} />}
    </svg>
  );
} // oxfmt-ignore

/** Kept free, to drop a cartridge or draw a sleeve. */
const Free = ({ at }: { at: Rect }): ReactElement => (
  <rect className="cupboard-free" x={at.x} y={at.y} width={at.w} height={at.h} />
);

/** Something that stands there: dragged, or moved by the arrow keys while it has the focus. */
function Thing(p: {
  readonly body: DrawnBody;
  readonly at: Rect;
  readonly view: View;
  readonly onSelect?: ((key: string) => void) | undefined;
  readonly onNudge: (key: string, by: Spot) => void;
  readonly onKey?: ((key: string, e: KeyboardEvent) => void) | undefined;
}): ReactElement {
  const { body, at, view } = p;
  const fixed = body.fixed === true;
  const { setNodeRef, listeners } = useDraggable({ id: `${view}:${body.key}`, disabled: fixed });
  const mark = { className: 'cupboard-thing', 'data-thing': body.key, 'data-fixed': fixed } as const;
  const shown = body.looks?.(view, at) ?? <rect x={at.x} y={at.y} width={at.w} height={at.h} />;
  if (fixed) return <g {...mark}>{shown}</g>;
  const nudge = (e: KeyboardEvent): void => {
    const mm = e.shiftKey ? FAR_MM : e.altKey ? FINE_MM : NUDGE_MM;
    const up = view === 'front' ? { zMm: mm } : { yMm: -mm };
    const down = view === 'front' ? { zMm: -mm } : { yMm: mm };
    const by = { ArrowLeft: { xMm: -mm }, ArrowRight: { xMm: mm }, ArrowUp: up, ArrowDown: down }[e.key];
    if (by) {
      e.preventDefault();
      e.stopPropagation();
      p.onNudge(body.key, { ...NONE, ...by });
    } else p.onKey?.(body.key, e);
  };
  const { x0, y0, z0 } = body.box;
  const [left, back, floor] = [x0, y0, z0].map((v) => String(Math.round(v)));
  return (
    <g
      {...mark}
      {...listeners}
      ref={(node) => {
        setNodeRef(node as unknown as HTMLElement | null);
      }}
      data-selected={body.selected ?? false}
      data-clash={body.clash ?? false}
      role="button"
      tabIndex={0}
      aria-roledescription="part that is moved by dragging or by the arrow keys"
      aria-label={`${body.label}, ${left ?? ''} mm from the left, ${back ?? ''} mm from the back, ${floor ?? ''} mm above the floor`}
      onFocus={() => p.onSelect?.(body.key)}
      onKeyDown={nudge}
    >
      {shown}
    </g>
  );
} // oxfmt-ignore

/** The selected thing's distances from the walls, as a drawing has them. */
function Measures({ box, at, view, high }: { box: Box; at: Rect; view: View; high: number }): ReactElement {
  const y = at.y + at.h / 2;
  const left = Math.round(box.x0);
  const other = Math.round(view === 'front' ? box.z0 : box.y0);
  const x = at.x + at.w / 2;
  return (
    <g className="cupboard-measures">
      {left > 20 && (
        <>
          <path d={`M1 ${String(y)}H${String(at.x)}`} />
          <text x={5} y={y - 4}>{left}</text>
        </>
      )}
      {other > 20 && (
        <>
          <path d={view === 'front' ? `M${String(x)} ${String(at.y + at.h)}V${String(high + 1)}` : `M${String(x)} 1V${String(at.y)}`} />
          <text x={x + 4} y={view === 'front' ? high - 4 : 14}>{other}</text>
        </>
      )}
    </g>
  );
} // oxfmt-ignore

/** A tube by its corners, rounded, with its number on its longest stretch. */
function TubeLine({ tube, point }: { tube: DrawnTube; point: (p: Point) => [number, number] }): ReactElement | null {
  const at = tube.way.map(point);
  const d = at.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join('');
  let longest = 0;
  let where: [number, number] | null = null;
  at.slice(1).forEach(([x, y], i) => {
    const [px, py] = at[i] ?? [x, y];
    const length = Math.abs(x - px) + Math.abs(y - py);
    if (length > longest) {
      longest = length;
      where = [(x + px) / 2 + 3, (y + py) / 2 - 3];
    }
  });
  const [x, y] = (where as [number, number] | null) ?? [0, 0];
  return (
    <g className="cupboard-tube" data-role={tube.role}>
      <path d={d} stroke={tube.colour} />
      {longest > 26 && (
        <text x={x} y={y} fill={tube.colour}>
          {tube.number}
        </text>
      )}
    </g>
  );
}
