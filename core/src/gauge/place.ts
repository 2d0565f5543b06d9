import type { Body } from './body.ts';
import { inSentence } from '../quantity/format.ts';
import type { Doubt } from './doubts.ts';
import { doubtsOf } from './doubts.ts';
import { choiceOf, numberOf, type Known } from './fields.ts';
import { secondOf } from './second.ts';

const { abs, max, min, round } = Math;

/** What stands in a cupboard already and the system has to go around. Sizes are those of common ones, mm. */
export const CUPBOARD_THINGS = {
  trap: { label: 'Trap', widthMm: 200, depthMm: 130, heightMm: 180 },
  disposal: { label: 'Disposal unit', widthMm: 210, depthMm: 210, heightMm: 340 },
  socket: { label: 'Socket', widthMm: 85, depthMm: 45, heightMm: 85 },
  valve: { label: 'Stop valve', widthMm: 60, depthMm: 70, heightMm: 90 },
  pipes: { label: 'Hot and cold pipes', widthMm: 130, depthMm: 40, heightMm: 320 },
  basin: { label: 'Basin', widthMm: 400, depthMm: 380, heightMm: 160 },
  shelf: { label: 'Shelf', widthMm: 400, depthMm: 300, heightMm: 18 },
  bin: { label: 'Bin', widthMm: 250, depthMm: 320, heightMm: 400 },
  tap: { label: 'Tap hole', widthMm: 60, depthMm: 60, heightMm: 60 },
  post: { label: 'Post or boxing', widthMm: 80, depthMm: 80, heightMm: 600 },
  drawer: { label: 'Drawer', widthMm: 400, depthMm: 450, heightMm: 140 },
  hoses: { label: 'Dishwasher’s hoses', widthMm: 90, depthMm: 60, heightMm: 350 },
  hole: { label: 'Hole to the second place', widthMm: 40, depthMm: 40, heightMm: 40 },
} as const;
export type CupboardThing = keyof typeof CUPBOARD_THINGS;
export const THING_KEYS = Object.keys(CUPBOARD_THINGS) as CupboardThing[];

/** Middle of a thing: from the left wall, from the back wall, and its underside above the floor, mm. */
export interface Spot {
  readonly xMm: number;
  readonly yMm: number;
  readonly zMm: number;
}
/** Where a thing stands, and what it takes up where somebody measured it. */
export interface PlacedThing extends Spot {
  readonly body?: Body | undefined;
}
export type Placed = Partial<Record<CupboardThing, PlacedThing>>;

/** Where a system's parts may stand: the cupboard under the sink, or the second place beside or below it. */
export type Space = 'cupboard' | 'second';

/** How far a thing is turned as seen from above, degrees clockwise; at 0 it faces the door. */
export type Quarter = 0 | 90 | 180 | 270;

/** How a thing stands: its middle from the left and from the back wall and its underside above the floor, mm. */
export interface Pose extends Spot {
  readonly turn?: Quarter | undefined;
  /** on its side, its top to the right as it faces the door */
  readonly lies?: boolean | undefined;
  readonly space?: Space | undefined;
}

/** A cupboard's inside, mm. */
export type CupboardSize = Body;

/** The cupboard, where all three measures are known. */
export function cupboardOf(known: Known): CupboardSize | null {
  const widthMm = numberOf(known, 'cupboardWidthMm');
  const depthMm = numberOf(known, 'cupboardDepthMm');
  const heightMm = numberOf(known, 'cupboardHeightMm');
  return widthMm === undefined || depthMm === undefined || heightMm === undefined
    ? null
    : { widthMm, depthMm, heightMm };
}

/** Things that stand in some cupboards; nobody is asked for them. */
export const MORE_THINGS: readonly CupboardThing[] = [
  'tap',
  'basin',
  'pipes',
  'shelf',
  'bin',
  'post',
  'drawer',
  'hoses',
  'hole',
];

/** The things there are to place: a socket, a disposal unit, a hole to a second place only where somebody said there is one. */
export function thingsOf(known: Known): CupboardThing[] {
  const socket = choiceOf(known, 'socket');
  return THING_KEYS.filter(
    (t) =>
      (t !== 'disposal' || choiceOf(known, 'disposalUnit') === 'yes') &&
      (t !== 'socket' || socket === 'yes' || socket === 'switched') &&
      (t !== 'hole' || secondOf(known) !== null),
  );
}

/** A spot with the body wholly inside the cupboard, to the millimetre; one larger than the cupboard stands in its middle. */
export function insideCupboard(t: Body, at: Spot, c: CupboardSize): Spot {
  const middle = (v: number, size: number, room: number): number =>
    round(size >= room ? room / 2 : min(room - size / 2, max(size / 2, v)));
  return {
    xMm: middle(at.xMm, t.widthMm, c.widthMm),
    yMm: middle(at.yMm, t.depthMm, c.depthMm),
    zMm: round(min(max(0, c.heightMm - t.heightMm), max(0, at.zMm))),
  };
}

/** A socket below this is reached by what runs out on the floor, mm. */
const SOCKET_LEAST_MM = 150;
/** Drips fall on what is nearer than this to the side, mm. */
const DRIP_MM = 60;
/** A disposal unit's outlet is about this far above its underside, mm: the trap it runs into may stand as much higher. */
const OUTLET_ABOVE_MM = 180;
/** What is drawn less than this beyond a wall is in it, mm. */
const OUTSIDE_MM = 20;
/** In a cupboard narrower than this everything hangs over everything: a socket is up at the top, mm. */
const NARROW_MM = 400;

/** Where a thing commonly is, to begin with: nowhere that would be doubted at once. */
export function usualSpot(thing: CupboardThing, c: CupboardSize): Spot {
  const spots: Record<CupboardThing, Spot> = {
    trap: { xMm: c.widthMm / 2, yMm: c.depthMm / 2, zMm: 0.45 * c.heightMm },
    disposal: { xMm: 0.3 * c.widthMm, yMm: c.depthMm / 2, zMm: c.heightMm },
    socket: {
      xMm: 0.85 * c.widthMm,
      yMm: 0,
      zMm: c.widthMm < NARROW_MM ? c.heightMm : max(SOCKET_LEAST_MM, 0.5 * c.heightMm),
    },
    valve: { xMm: 0.35 * c.widthMm, yMm: 0, zMm: 0.55 * c.heightMm },
    pipes: { xMm: 0.5 * c.widthMm, yMm: 0, zMm: c.heightMm },
    basin: { xMm: 0.5 * c.widthMm, yMm: c.depthMm / 2, zMm: c.heightMm },
    // behind the basin’s right corner
    tap: { xMm: min(c.widthMm - 60, c.widthMm / 2 + 260), yMm: 60, zMm: c.heightMm },
    shelf: { xMm: 0, yMm: 0, zMm: 0.5 * c.heightMm },
    bin: { xMm: c.widthMm, yMm: c.depthMm, zMm: 0 },
    post: { xMm: 0, yMm: 0, zMm: 0 },
    drawer: { xMm: c.widthMm, yMm: c.depthMm, zMm: c.heightMm },
    hoses: { xMm: c.widthMm, yMm: 0, zMm: 0.15 * c.heightMm },
    // through the panel or the floor, low at the back
    hole: { xMm: c.widthMm, yMm: 0, zMm: 0 },
  };
  return insideCupboard(CUPBOARD_THINGS[thing], spots[thing], c);
}

const besides = (a: number, aSize: number, b: number, bSize: number): number => abs(a - b) - (aSize + bSize) / 2;

/** What does not sit well about where things are. */
export function placeDoubts(placed: Placed): Doubt[] {
  const out: Doubt[] = [];
  const { socket } = placed;
  if (socket && socket.zMm < SOCKET_LEAST_MM)
    out.push({
      code: 'socket-low',
      fields: ['socket'],
      weight: 'doubt',
      text: `The socket stands ${String(round(socket.zMm))} mm above the floor: a leak reaches it. Have an electrician move it up, or keep pump and lamp off it.`,
    });
  for (const wet of ['trap', 'valve', 'disposal'] as const) {
    const at = placed[wet];
    if (!socket || !at || at.zMm < socket.zMm) continue;
    const s = CUPBOARD_THINGS.socket;
    const t = CUPBOARD_THINGS[wet];
    const side = max(
      besides(at.xMm, t.widthMm, socket.xMm, s.widthMm),
      besides(at.yMm, t.depthMm, socket.yMm, s.depthMm),
    );
    if (side < DRIP_MM)
      out.push({
        code: `socket-under-${wet}`,
        fields: ['socket'],
        weight: 'doubt',
        text: `The socket stands under the ${inSentence(CUPBOARD_THINGS[wet].label)}: what drips falls on it. Shield it or have it moved; plug in with dry hands only.`,
      });
  }
  const { trap, disposal } = placed;
  if (trap && disposal && disposal.zMm < trap.zMm - OUTLET_ABOVE_MM)
    out.push({
      code: 'disposal-below-trap',
      fields: ['disposalUnit'],
      weight: 'doubt',
      text: 'The disposal unit is drawn far lower than the trap its outlet runs into: water would stand in it. Look again.',
    });
  return out;
}

/** What is drawn beyond the walls: the cupboard was measured anew, or the thing never was. */
function outsideDoubts(known: Known, placed: Placed): Doubt[] {
  const c = cupboardOf(known);
  if (!c) return [];
  return THING_KEYS.flatMap((thing): Doubt[] => {
    const at = placed[thing];
    if (!at) return [];
    const body = at.body ?? CUPBOARD_THINGS[thing];
    const inside = insideCupboard(body, at, c);
    const off = max(abs(inside.xMm - at.xMm), abs(inside.yMm - at.yMm), abs(inside.zMm - at.zMm));
    if (off < OUTSIDE_MM) return [];
    return [
      {
        code: `outside-${thing}`,
        fields: ['cupboardWidthMm'],
        weight: 'doubt',
        text: `The ${inSentence(CUPBOARD_THINGS[thing].label)} is drawn ${String(round(off))} mm beyond the walls as they are measured: measure again, or put it where it is.`,
      },
    ];
  });
}

/** Everything that does not sit well: readings, and where things are. */
export function jobDoubts(known: Known, placed: Placed): Doubt[] {
  return [...doubtsOf(known), ...placeDoubts(placed), ...outsideDoubts(known, placed)];
}
