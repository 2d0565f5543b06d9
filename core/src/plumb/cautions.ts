import type { Known } from '../gauge/fields.ts';
import type { Site } from '../gauge/site.ts';
import { ofWork, partIn, tubesOf, type System } from '../system/system.ts';
import { AGREED_STEP } from '../words/stored.ts';
import type { Hole } from './holes.ts';

/** What must be settled at this house before a tool is taken up. */
export interface Caution {
  readonly code:
    | 'valve-seized'
    | 'valve-leaks'
    | 'earth-bond'
    | 'lead-pipe'
    | 'clamp-not-here'
    | 'clamp-plastic'
    | 'clamp-size'
    | 'spigot'
    | 'standpipe'
    | 'bore'
    | 'tap-after-minerals';
  readonly text: string;
  /** the step under which the household's answer is written down; null where nothing is asked */
  readonly asks: string | null;
}

/** The step that keeps what a household agreed to. */
export const agreedStep = (what: 'holes' | 'earth-bond'): string => `${AGREED_STEP}${what}`;

/** What the household agrees to before the first hole: where, how large, in what. Empty where nothing is drilled. */
export function holesInWords(holes: readonly Hole[], worktop: string, tapAt: { xMm: number; yMm: number } | null): string {
  const at = tapAt ? `, ${String(Math.round(tapAt.xMm))} mm from the left and ${String(Math.round(tapAt.yMm))} mm from the back` : '';
  return holes
    .filter((h) => h.tool !== 'none')
    .map((h) => `${String(h.diameterMm)} mm for ${h.where}${h.key === 'tap' && h.where === 'tap' ? ` in ${worktop}${at}` : ''}`)
    .join('; ');
} // oxfmt-ignore

/** A clamp on a pipe it is not made for, mm. */
const CLAMP_APART_MM = 0.6;
/** A tube's end in a port made for another, mm. */
const BORE_APART_MM = 1;

/** Everything of this house that decides whether, and how, the work begins. */
export function cautionsOf(system: System, known: Known, site: Pick<Site, 'pipeMaterial'>): Caution[] {
  const out: Caution[] = [];
  const tell = (code: Caution['code'], text: string, asks: string | null = null): void => {
    out.push({ code, text, asks });
  };
  if (known.stopValveHolds === 'seized')
    tell('valve-seized', 'The stop valve does not turn: do not force it, it breaks open. The house’s main valve is shut, tried and held before anything is undone, and a plumber changes the stop valve first; nobody leaves a system that only the main valve can shut.');
  if (known.stopValveHolds === 'no')
    tell('valve-leaks', 'The stop valve does not hold: shut the house’s main valve and see the pressure die before anything is undone. Have the stop valve changed in the same visit, or the feed’s own valve is all there is between a leak and a flood.');
  const feed = partIn(system, 'feed');
  const metal = site.pipeMaterial === 'copper' || site.pipeMaterial === 'steel';
  if (metal && feed?.way === 'tee')
    tell('earth-bond', `The cold pipe is ${site.pipeMaterial === 'copper' ? 'copper' : 'steel'}. Where metal pipe is interrupted by plastic the house’s earth bond may end there: ask who knows its wiring, and bridge it before the pipe is parted.`, agreedStep('earth-bond'));
  if (site.pipeMaterial === 'lead')
    tell('lead-pipe', 'The cold pipe is lead. It is not joined to with what stands here: the waterworks or a plumber replaces it first. The other taps give lead too; infants and the pregnant drink from none of them.');
  if (feed?.way === 'clamp' && (site.pipeMaterial === 'steel' || site.pipeMaterial === 'lead'))
    tell('clamp-not-here', 'A piercing clamp does not go through steel and tears lead: take the tee at the stop valve.');
  if (feed?.way === 'clamp' && site.pipeMaterial === 'plastic')
    tell('clamp-plastic', 'On plastic pipe the clamp wants a pilot: feed off and drained, drilled through the mounted clamp with a stop on the bit. Pipe with metal in it is not drilled: take the tee.');
  const madeForMm = Number.parseFloat(feed?.ports.find((q) => q.joint === 'clamp')?.size ?? '');
  const pipeMm = known.pipeOutsideMm;
  if (feed?.way === 'clamp' && typeof pipeMm === 'number' && Math.abs(madeForMm - pipeMm) > CLAMP_APART_MM)
    tell('clamp-size', `${feed.name} is made for a pipe of ${String(madeForMm)} mm; this one is ${String(pipeMm)} mm. It would seep: another clamp, or the tee.`);
  const drain = partIn(system, 'drain');
  if (drain?.way === 'spigot')
    tell('spigot', 'The dishwasher’s spigot: its blind end is cut open, the machine’s hose keeps its place, and the tube runs up under the worktop before it comes down, so that waste water does not run back.');
  if (drain?.way === 'standpipe')
    tell('standpipe', 'Stand-pipe or floor drain: the tube ends 25 mm above the rim, never below, and the pipe has a trap of its own with water in it.');
  for (const t of tubesOf(system)) {
    const size = t.to.kind === 'drain' ? Number.parseFloat(t.to.part?.ports[0]?.size ?? '') : Number.NaN;
    if (t.part.outsideMm - size > BORE_APART_MM)
      tell('bore', `Tube ${String(t.number)} is ${t.part.name.replace(/^Tube /, '')} and ${t.to.part?.name ?? t.to.slot} takes ${String(size)} mm: a drain that falls by its own weight is never narrowed. Put one for that tube on the shelf.`);
  }
  if (ofWork(system, 'opens').some((c) => c.kind === 'second-tap') && partIn(system, 'mineral'))
    tell('tap-after-minerals', 'The second tap has minerals too: both draw on the one bed.');
  return out;
} // oxfmt-ignore
