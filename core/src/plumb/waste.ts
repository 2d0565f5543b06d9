import type { Site } from '../gauge/site.ts';
import type { HouseRules } from '../rules/rules.ts';
import { partIn, type System } from '../system/system.ts';
import type { Box } from './place/pose.ts';
import type { Room } from './place/room.ts';

const { max, min, round } = Math;

/** A stretch of the waste pipe, above the cupboard's floor, mm. */
export interface PipeStretch {
  readonly fromMm: number;
  readonly toMm: number;
}

/** The waste from the side: where its water stands, where the tube may come into it, and where not, with why. */
export interface Waste {
  readonly way: 'clamp' | 'spigot' | 'standpipe';
  readonly run: 'vertical' | 'horizontal' | 'none';
  /** trap, and the level its water stands at */
  readonly trap: PipeStretch;
  readonly waterMm: number;
  /** pipe between the basin and the trap */
  readonly pipe: PipeStretch | null;
  /** height of the disposal unit's outlet; null for none */
  readonly disposalMm: number | null;
  readonly forbidden: readonly (PipeStretch & { readonly why: string })[];
  readonly allowed: PipeStretch | null;
  /** middle of the clamp's hole; null where none may be */
  readonly holeMm: number | null;
  /** what is to be done, or what can be where nothing may be */
  readonly words: string;
}

/** Trap's water stands at this share of its height: at the weir of its outlet. */
const WEIR = 0.6;
/** Kept from the trap's nut, and from the basin's, mm. */
const NUT_MM = 25;
/** A clamp's height on the pipe, mm. */
const CLAMP_MM = 50;
/** A disposal unit's outlet is so far above its underside, and splashes so far up the pipe, mm. */
const OUTLET_ABOVE_MM = 180;
const SPLASH_MM = 60;

/** A waste pipe is so thick, and on a horizontal run a clamp is so far from a disposal unit, mm. */
const PIPE_MM = 40;
const UNIT_APART_MM = 170;

const has = (s: PipeStretch, mm: number): boolean => s.toMm - s.fromMm >= mm;

/** What of a house decides where its waste may be joined to. */
type Here = Pick<Site, 'drainRun' | 'drainWay' | 'disposalUnit'>;

/**
 * The waste from the side, from where trap, basin and disposal unit stand. Null where there is no drain, or the trap is not placed.
 * @param room with the trap as an obstacle in it
 */
export function wasteOf(system: System, room: Room, site: Here, rules: Pick<HouseRules, 'drainSpigot'>): Waste | null {
  const drain = partIn(system, 'drain');
  const box = (thing: string): Box | undefined => room.obstacles.find((o) => o.thing === thing)?.box;
  const trapBox = box('trap');
  if (!drain || !trapBox) return null;
  const trap = { fromMm: trapBox.z0, toMm: trapBox.z1 };
  const run: Waste['run'] = site.drainRun === 'none' || site.drainRun === 'horizontal' ? site.drainRun : 'vertical';
  const basinMm = min(room.size.heightMm, box('basin')?.z0 ?? room.size.heightMm);
  const pipe = { fromMm: trap.toMm, toMm: run === 'horizontal' ? trap.toMm + PIPE_MM : basinMm };
  const unit = box('disposal');
  const disposalMm = site.disposalUnit ? (unit ? unit.z0 + OUTLET_ABOVE_MM : (pipe.fromMm + basinMm) / 2) : null;
  const base = {
    run,
    trap,
    waterMm: trap.fromMm + WEIR * (trap.toMm - trap.fromMm),
    pipe: has(pipe, 1) ? pipe : null,
    disposalMm,
    holeMm: null,
    allowed: null,
  };
  const after = { fromMm: 0, toMm: trap.fromMm, why: 'after the trap: sewer gas comes in' };
  switch (drain.way) {
    case 'standpipe':
      return { ...base, way: 'standpipe', forbidden: [], words: 'Nothing is drilled here: the tube ends 25 mm above the stand-pipe’s rim, and that pipe has a trap of its own.' };
    case 'spigot':
      return rules.drainSpigot
        ? { ...base, way: 'spigot', forbidden: [after], allowed: { fromMm: base.waterMm, toMm: trap.toMm }, words: 'Onto the trap’s spigot, above its water: nothing is drilled.' }
        : { ...base, way: 'spigot', forbidden: [after], words: 'The house rule does not take the spigot: ask the local code first.' };
    default:
      return { ...base, way: 'clamp', ...clampOn(base, pipe, after, unit && apart(unit, trapBox)) };
  }
} // oxfmt-ignore

/** From side to side, seen from above, mm. */
const apart = (a: Box, b: Box): number => max(a.x0 - b.x1, b.x0 - a.x1, a.y0 - b.y1, b.y0 - a.y1, 0);

/** Where a clamp may come on the pipe before the trap. @param unitMm from the disposal unit to the trap; undefined where it is not placed */
function clampOn(
  { run, trap, disposalMm }: Pick<Waste, 'run' | 'trap' | 'disposalMm'>,
  pipe: PipeStretch,
  after: Waste['forbidden'][number],
  unitMm: number | undefined,
): Pick<Waste, 'forbidden' | 'allowed' | 'holeMm' | 'words'> {
  const forbidden = [after, { ...trap, why: 'in the trap: it clogs' }];
  const flat = run === 'horizontal';
  const pumps = disposalMm !== null && (!flat || (unitMm ?? 0) < UNIT_APART_MM);
  if (pumps)
    forbidden.push({ fromMm: pipe.fromMm, toMm: flat ? pipe.toMm : min(pipe.toMm, disposalMm + SPLASH_MM), why: 'where the disposal unit pumps past' });
  const free = flat
    ? pipe
    : { fromMm: max(pipe.fromMm + NUT_MM, pumps ? disposalMm + SPLASH_MM : 0), toMm: pipe.toMm - NUT_MM };
  if (run === 'none' || (flat && pumps) || (!flat && !has(free, CLAMP_MM)))
    return { forbidden, allowed: null, holeMm: null, words: `No place for a clamp here: ${pumps ? 'take the other basin’s tailpiece, before the unit joins it' : 'lower the trap, or fit a tailpiece with a side inlet'}; else a stand-pipe or floor drain with an air gap.` };
  return flat
    ? { forbidden, allowed: free, holeMm: round(free.fromMm + 0.75 * PIPE_MM), words: 'In the upper half of the horizontal run, the bore inclined upward, so that nothing stands in the tube.' }
    : { forbidden, allowed: free, holeMm: round(free.fromMm + CLAMP_MM / 2), words: 'Low on the vertical run: it splashes least there. One wall only, the tube clear of the far one.' };
} // oxfmt-ignore
