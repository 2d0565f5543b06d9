import {
  cupboardOf,
  CUPBOARD_THINGS,
  inSentence,
  insideCupboard,
  thingsOf,
  usualSpot,
  type CupboardSize,
  type CupboardThing,
  type Placed,
  type Spot,
} from '@katharos/core';
import { Button } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { memo, useRef, useState, type PointerEvent, type ReactElement } from 'react';
import { useJobFacts } from '../../job/useJob.ts';
import { QuantityField } from '../../ui/QuantityField.tsx';

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

/** The cupboard by its measures, from the front and from above; what stands in it is dragged to its place or typed. */
export const Cupboard = memo(function Cupboard(): ReactElement {
  const { id, record, add } = useJobFacts();
  const { known, placed } = record;
  const size = cupboardOf(known);
  const [moving, setMoving] = useState<{ thing: CupboardThing; spot: Spot } | null>(null);
  if (!size)
    return (
      <p className="small">
        With the cupboard’s width, depth and height it is drawn here, and trap, valve and socket are placed in it.
      </p>
    );
  const things = thingsOf(known);
  const place = (thing: CupboardThing, spot: Spot | null): void => {
    add({ kind: 'place', thing, spot: spot && insideCupboard(thing, spot, size) });
  };
  const spots: Placed = moving ? { ...placed, [moving.thing]: moving.spot } : placed;
  return (
    <div className="cupboard">
      <Views
        size={size}
        spots={spots}
        onMove={(thing, spot) => {
          setMoving({ thing, spot: insideCupboard(thing, spot, size) });
        }}
        onDrop={() => {
          if (moving) place(moving.thing, moving.spot);
          setMoving(null);
        }}
      />
      <ul className="cupboard-things">
        {things.map((thing) => {
          const spot = spots[thing];
          const name = CUPBOARD_THINGS[thing].label;
          return (
            <li key={thing}>
              <b>{name}</b>
              {spot ? (
                <>
                  {MEASURES.map(([axis, words]) => (
                    <QuantityField
                      key={axis}
                      draftKey={`${id}.place.${thing}.${axis}`}
                      label={
                        <>
                          <span className="visually-hidden">{name}, </span>
                          {words}
                        </>
                      }
                      kind="length"
                      unit="mm"
                      min={0}
                      max={3000}
                      current={String(spot[axis])}
                      onTake={(v) => {
                        place(thing, v === null ? null : { ...spot, [axis]: v });
                      }}
                    />
                  ))}
                  <Button
                    size="compact-xs"
                    variant="default"
                    aria-label={`Take the ${inSentence(name)} off the drawing`}
                    onClick={() => {
                      place(thing, null);
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
                    place(thing, usualSpot(thing, size));
                  }}
                >
                  Place the {inSentence(name)}
                </Button>
              )}
            </li>
          );
        })}
      </ul>
    </div>
  );
});

/** Front and plan at one scale. */
function Views({
  size,
  spots,
  onMove,
  onDrop,
}: {
  size: CupboardSize;
  spots: Placed;
  onMove: (thing: CupboardThing, spot: Spot) => void;
  onDrop: () => void;
}): ReactElement {
  const { ref, width } = useElementSize<HTMLDivElement>();
  const held = useRef<{ thing: CupboardThing; x: number; y: number; spot: Spot } | null>(null);
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
    const boxes = (Object.entries(spots) as [CupboardThing, Spot][]).map(([thing, spot]) => {
      const t = CUPBOARD_THINGS[thing];
      const wide = px(t.widthMm);
      const tall = px(kind === 'front' ? t.heightMm : t.depthMm);
      const left = 1 + px(spot.xMm) - wide / 2;
      const top = 1 + (kind === 'front' ? px(size.heightMm - spot.zMm) - tall : px(spot.yMm) - tall / 2);
      return { thing, spot, left, top, wide, high: tall };
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
            key={thing}
            className="cupboard-thing"
            data-thing={thing}
            x={left}
            y={top}
            width={wide}
            height={h}
            onPointerDown={(e) => {
              e.preventDefault();
              e.currentTarget.ownerSVGElement?.setPointerCapture(e.pointerId);
              held.current = { thing, x: e.clientX, y: e.clientY, spot };
            }}
          />
        ))}
        {boxes.map(({ thing, left, top, wide, high: h }) => (
          <text
            key={thing}
            className="cupboard-name"
            x={left + wide / 2}
            // under a thing too narrow for its name
            y={wide < NAME_PX ? top + h + 13 : top + h / 2 + 4}
            textAnchor="middle"
          >
            {inSentence(CUPBOARD_THINGS[thing].label)}
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
