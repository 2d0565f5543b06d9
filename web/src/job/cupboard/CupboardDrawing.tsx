import { inSentence, insideCupboard, type Body, type CupboardSize, type Spot } from '@katharos/core';
import { Button } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { useRef, useState, type PointerEvent, type ReactElement } from 'react';
import { QuantityField } from '../../ui/QuantityField.tsx';
import './cupboard.css';

const GAP = 28;
const LABEL = 18;
/** A drawing is no higher than this, px. */
const MOST_PX = 250;
/** A box narrower than this has no room for its name, px. */
const NAME_PX = 56;
const MEASURES = [
  ['xMm', 'from the left'],
  ['yMm', 'from the back'],
  ['zMm', 'above the floor'],
] as const;

/** Something that is placed in the cupboard, or that stands there already. */
export interface Thing {
  readonly key: string;
  /** "Trap" */
  readonly label: string;
  readonly body: Body;
  /** null while it has no place */
  readonly spot: Spot | null;
  /** where it goes to begin with; none for what is placed elsewhere, and only drawn here */
  readonly usual?: () => Spot;
}

/** The cupboard by its measures, from the front and from above; what stands in it is dragged to its place or typed. */
export function CupboardDrawing(p: {
  readonly size: CupboardSize;
  readonly things: readonly Thing[];
  /** prefix of what is kept of an unfinished measure */
  readonly draftKey: string;
  readonly onPlace: (key: string, spot: Spot | null) => void;
}): ReactElement {
  const { size } = p;
  const [moving, setMoving] = useState<{ key: string; spot: Spot } | null>(null);
  const place = (t: Thing, spot: Spot | null): void => {
    p.onPlace(t.key, spot && insideCupboard(t.body, spot, size));
  };
  const things = p.things.map((t) => (t.key === moving?.key ? { ...t, spot: moving.spot } : t));
  return (
    <div className="cupboard">
      <Views
        size={size}
        things={things}
        onMove={(t, spot) => {
          setMoving({ key: t.key, spot: insideCupboard(t.body, spot, size) });
        }}
        onDrop={() => {
          if (moving) p.onPlace(moving.key, moving.spot);
          setMoving(null);
        }}
      />
      <ul className="cupboard-things">
        {things.map(
          (t) => t.usual && <Place key={t.key} thing={t} usual={t.usual} draftKey={p.draftKey} onPlace={place} />,
        )}
      </ul>
    </div>
  );
}

/** A thing's place in figures. */
function Place(p: {
  readonly thing: Thing;
  readonly usual: () => Spot;
  readonly draftKey: string;
  readonly onPlace: (t: Thing, spot: Spot | null) => void;
}): ReactElement {
  const { thing } = p;
  const { spot, label } = thing;
  return (
    <li>
      <b>{label}</b>
      {spot ? (
        <>
          {MEASURES.map(([axis, words]) => (
            <QuantityField
              key={axis}
              draftKey={`${p.draftKey}.${thing.key}.${axis}`}
              label={
                <>
                  <span className="visually-hidden">{label}, </span>
                  {words}
                </>
              }
              kind="length"
              unit="mm"
              min={0}
              max={3000}
              current={String(spot[axis])}
              onTake={(v) => {
                p.onPlace(thing, v === null ? null : { ...spot, [axis]: v });
              }}
            />
          ))}
          <Button
            size="compact-xs"
            variant="default"
            aria-label={`Take the ${inSentence(label)} off the drawing`}
            onClick={() => {
              p.onPlace(thing, null);
            }}
          >
            Take off
          </Button>
        </>
      ) : (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => {
            p.onPlace(thing, p.usual());
          }}
        >
          Place the {inSentence(label)}
        </Button>
      )}
    </li>
  );
}

/** Front and plan at one scale. */
function Views({
  size,
  things,
  onMove,
  onDrop,
}: {
  size: CupboardSize;
  things: readonly Thing[];
  onMove: (thing: Thing, spot: Spot) => void;
  onDrop: () => void;
}): ReactElement {
  const { ref, width } = useElementSize<HTMLDivElement>();
  const held = useRef<{ thing: Thing; x: number; y: number; spot: Spot } | null>(null);
  // each drawing is as wide as its walls, and their lines
  const room = Math.max(120, width - 4);
  const stacked = room < 460;
  const scale = Math.min((stacked ? room : (room - GAP) / 2) / size.widthMm, MOST_PX / Math.max(size.heightMm, size.depthMm)); // prettier-ignore
  const px = (mm: number): number => mm * scale;
  const view = (kind: 'front' | 'plan'): ReactElement => {
    const high = px(kind === 'front' ? size.heightMm : size.depthMm);
    const move = (e: PointerEvent): void => {
      const h = held.current;
      if (!h) return;
      const dx = (e.clientX - h.x) / scale;
      const dy = (e.clientY - h.y) / scale;
      onMove(
        h.thing,
        kind === 'front'
          ? { ...h.spot, xMm: h.spot.xMm + dx, zMm: Math.max(0, h.spot.zMm - dy) }
          : { ...h.spot, xMm: h.spot.xMm + dx, yMm: h.spot.yMm + dy },
      );
    };
    const drop = (): void => {
      if (held.current) onDrop();
      held.current = null;
    };
    const w = String(Math.round(size.widthMm));
    const other = String(Math.round(kind === 'front' ? size.heightMm : size.depthMm));
    const boxes = things.flatMap((thing) => {
      const { spot, body } = thing;
      if (!spot) return [];
      const wide = px(body.widthMm);
      const tall = px(kind === 'front' ? body.heightMm : body.depthMm);
      const left = 1 + px(spot.xMm) - wide / 2;
      const top = 1 + (kind === 'front' ? px(size.heightMm - spot.zMm) - tall : px(spot.yMm) - tall / 2);
      return [{ thing, spot, left, top, wide, high: tall }];
    });
    return (
      <svg
        width={px(size.widthMm) + 2}
        height={high + LABEL + 2}
        role="img"
        aria-label={`The cupboard ${kind === 'front' ? 'from the front' : 'from above'}, ${w} mm wide, ${other} mm ${kind === 'front' ? 'high' : 'deep'}`}
        onPointerMove={move}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        <rect className="cupboard-wall" x={1} y={1} width={px(size.widthMm)} height={high} />
        <text className="cupboard-words" x={px(size.widthMm) / 2} y={high + LABEL - 3} textAnchor="middle">
          {kind === 'front'
            ? `from the front, ${w} × ${other} mm high`
            : `from above, back wall on top, ${other} mm deep`}
        </text>
        {boxes.map(({ thing, spot, left, top, wide, high: h }) => (
          <rect
            key={thing.key}
            className="cupboard-thing"
            data-thing={thing.key}
            data-fixed={thing.usual === undefined}
            x={left}
            y={top}
            width={wide}
            height={h}
            onPointerDown={(e) => {
              if (!thing.usual) return;
              e.preventDefault();
              e.currentTarget.ownerSVGElement?.setPointerCapture(e.pointerId);
              held.current = { thing, x: e.clientX, y: e.clientY, spot };
            }}
          />
        ))}
        {boxes.map(({ thing, left, top, wide, high: h }) => (
          <text
            key={thing.key}
            className="cupboard-name"
            x={left + wide / 2}
            // under a thing too narrow for its name
            y={wide < NAME_PX ? top + h + 13 : top + h / 2 + 4}
            textAnchor="middle"
          >
            {inSentence(thing.label)}
          </text>
        ))}
      </svg>
    );
  };
  return (
    <div className="cupboard-views" ref={ref} data-stacked={stacked}>
      {width > 0 && (
        <>
          {view('front')}
          {view('plan')}
        </>
      )}
    </div>
  );
}
