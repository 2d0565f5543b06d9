import { boxOf, inSentence, insideCupboard, type Body, type CupboardSize, type Spot } from '@katharos/core';
import { Button } from '@mantine/core';
import type { ReactElement } from 'react';
import { QuantityField } from '../../ui/QuantityField.tsx';
import { CupboardViews } from './CupboardViews.tsx';
import { useMoving } from './useMoving.ts';

const MEASURES = [
  ['xMm', 'from the left'],
  ['yMm', 'from the back'],
  ['zMm', 'above the floor'],
] as const;

const NO_BODY: Body = { widthMm: 0, depthMm: 0, heightMm: 0 };

/** Something that stands in the cupboard already. */
export interface Thing {
  readonly key: string;
  /** "Trap" */
  readonly label: string;
  readonly body: Body;
  /** null while it has no place */
  readonly spot: Spot | null;
  /** where it goes to begin with */
  readonly usual: () => Spot;
  /** few cupboards have one: it is offered in a line with the others */
  readonly seldom: boolean;
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
  const place = (t: Thing, spot: Spot | null): void => {
    p.onPlace(t.key, spot && insideCupboard(t.body, spot, size));
  };
  const thing = (key: string): Thing | undefined => p.things.find((t) => t.key === key);
  const hand = useMoving<Spot>(
    (key) => thing(key)?.spot ?? null,
    (key, spot) => insideCupboard(thing(key)?.body ?? NO_BODY, spot, size),
    p.onPlace,
  );
  const { moving } = hand;
  const things = p.things.map((t) => (t.key === moving?.key ? { ...t, spot: moving.pose } : t));
  const seldom = things.filter((t) => t.seldom && !t.spot);
  return (
    <div className="cupboard">
      <CupboardViews
        size={size}
        name="The cupboard"
        bodies={things.flatMap((t) =>
          t.spot ? [{ key: t.key, label: inSentence(t.label), box: boxOf(t.body, t.spot) }] : [],
        )}
        hand={hand}
      />
      <ul className="cupboard-things">
        {things
          .filter((t) => !seldom.includes(t))
          .map((t) => (
            <Place key={t.key} thing={t} draftKey={p.draftKey} onPlace={place} />
          ))}
      </ul>
      {seldom.length > 0 && (
        <p className="cupboard-more">
          Also there?
          {seldom.map((t) => (
            <Button
              key={t.key}
              size="compact-xs"
              variant="default"
              onClick={() => {
                place(t, t.usual());
              }}
            >
              Place the {inSentence(t.label)}
            </Button>
          ))}
        </p>
      )}
    </div>
  );
}

/** A thing's place in figures. */
function Place(p: {
  readonly thing: Thing;
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
            p.onPlace(thing, thing.usual());
          }}
        >
          Place the {inSentence(label)}
        </Button>
      )}
    </li>
  );
}
