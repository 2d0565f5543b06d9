import type { Body } from './body.ts';
import { choiceOf, numberOf, type Known } from './fields.ts';

/** A second place for what does not go under the sink, and the way of a tube there. */
export interface Second {
  /** "the next cupboard" */
  readonly words: string;
  readonly lies: 'beside' | 'below';
  /** which way a next cupboard lies, as one kneels before it */
  readonly side: 'left' | 'right';
  readonly size: Body;
  /** from where the tube leaves the cupboard to where it enters the second place, m */
  readonly wayM: number;
  /** how much higher it enters there, m */
  readonly riseM: number;
}

/** A neighbouring cupboard as high and deep as the one measured, where nobody measured it itself, mm. */
const USUAL_WIDTH_MM = 450;
/** Room that is taken of a basement or a utility room, mm. */
const USUAL_ROOM: Body = { widthMm: 1000, depthMm: 600, heightMm: 1800 };
/** Through a panel, and through a floor and down the wall to the middle of a basement's, m. */
const THROUGH_PANEL_M = 0.05;
const THROUGH_FLOOR_M = 0.5;

/** The second place, as far as somebody said there is one. What was not measured of it is taken as usual. */
export function secondOf(known: Known): Second | null {
  const where = choiceOf(known, 'standsWhere');
  if (where !== 'beside' && where !== 'elsewhere') return null;
  const beside = where === 'beside';
  const usual: Body = beside
    ? {
        widthMm: USUAL_WIDTH_MM,
        depthMm: numberOf(known, 'cupboardDepthMm') ?? USUAL_ROOM.depthMm,
        heightMm: numberOf(known, 'cupboardHeightMm') ?? USUAL_ROOM.heightMm,
      }
    : USUAL_ROOM;
  return {
    words: beside ? 'the next cupboard' : 'the basement or utility room',
    lies: beside ? 'beside' : 'below',
    side: choiceOf(known, 'secondSide') === 'left' ? 'left' : 'right',
    size: {
      widthMm: numberOf(known, 'secondWidthMm') ?? usual.widthMm,
      depthMm: numberOf(known, 'secondDepthMm') ?? usual.depthMm,
      heightMm: numberOf(known, 'secondHeightMm') ?? usual.heightMm,
    },
    wayM: numberOf(known, 'wayLengthM') ?? (beside ? THROUGH_PANEL_M : THROUGH_FLOOR_M),
    riseM: numberOf(known, 'wayRiseM') ?? (beside ? 0 : -THROUGH_FLOOR_M),
  };
}
