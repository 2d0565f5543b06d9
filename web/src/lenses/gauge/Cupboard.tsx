import {
  cupboardOf,
  CUPBOARD_THINGS,
  MORE_THINGS,
  thingsOf,
  usualSpot,
  type CupboardThing,
  type Spot,
} from '@katharos/core';
import { memo, type ReactElement } from 'react';
import { CupboardDrawing } from '../../job/cupboard/CupboardDrawing.tsx';
import { useJobFacts } from '../../job/useJob.ts';

const spotOf = ({ xMm, yMm, zMm }: Spot): Spot => ({ xMm, yMm, zMm });

/** What stands in the cupboard already and the system has to go around. */
const Cupboard = memo(function Cupboard(): ReactElement {
  const { id, record, add } = useJobFacts();
  const { known, placed } = record;
  const size = cupboardOf(known);
  if (!size)
    return (
      <p className="small">
        With the cupboard’s width, depth and height it is drawn here, and trap, valve and socket are placed in it.
      </p>
    );
  return (
    <CupboardDrawing
      size={size}
      draftKey={`${id}.place`}
      things={thingsOf(known).map((key) => ({
        key,
        label: CUPBOARD_THINGS[key].label,
        body: placed[key]?.body ?? CUPBOARD_THINGS[key],
        spot: placed[key] ?? null,
        usual: () => usualSpot(key, size),
        seldom: MORE_THINGS.includes(key),
      }))}
      onPlace={(key, spot) => {
        const thing = key as CupboardThing;
        const body = placed[thing]?.body;
        add({ kind: 'place', thing, spot: spot && spotOf(spot), ...(body ? { body } : {}) });
      }}
    />
  );
});
export default Cupboard;
