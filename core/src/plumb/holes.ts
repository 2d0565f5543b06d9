import type { Site } from '../gauge/site.ts';
import type { HouseRules } from '../rules/rules.ts';
import { partIn, type System } from '../system/system.ts';

/** A hole to be made, with its bit and what can go wrong. */
export interface Hole {
  readonly where: string;
  readonly diameterMm: number;
  readonly bit: string;
  readonly how: string;
  readonly caution: string;
}

const BITS: Readonly<Record<string, { bit: string; how: string; caution: string }>> = {
  steel: {
    bit: 'step drill or cobalt bit',
    how: 'Punch, 4 mm pilot, then the step drill slowly with cutting oil; deburr both edges.',
    caution: 'Goggles. Swarf is sharp and rusts: sweep every curl out of the basin.',
  },
  laminate: {
    bit: 'hole saw or spade bit',
    how: 'Tape over the mark, 4 mm pilot, then from above; seal the cut edge against water.',
    caution: 'Goggles. Feel below for pipes and wiring first.',
  },
  wood: {
    bit: 'spade bit or hole saw',
    how: '4 mm pilot through, half from above, half from below; oil the cut edge.',
    caution: 'Goggles. Feel below for pipes and wiring first.',
  },
  stone: {
    bit: 'wet diamond core bit',
    how: 'Frame of putty filled with water, start on the slant, no hammer, slow and with little push; stop often.',
    caution:
      'Goggles, mask, water on the bit all the time; stone dust harms the lungs. No mains drill near the water: battery only.',
  },
  ceramic: {
    bit: 'wet diamond core bit',
    how: 'Tape, start on the slant, water, no hammer, hardly any push.',
    caution: 'Goggles. It cracks: tell the household before you begin. Battery drill only.',
  },
  composite: {
    bit: 'hole saw, or the sink’s own knock-out',
    how: 'Look underneath for a knock-out first; else pilot and hole saw from above, slowly.',
    caution: 'Goggles and mask. Some need a diamond bit: try on the underside.',
  },
};

/** Holes for the tap and for the drain. An unknown worktop asks for the material before a bit is named. */
export function holesOf(system: System, site: Site, rules: HouseRules): Hole[] {
  const tap = partIn(system, 'tap');
  const holes: Hole[] = [];
  if (!tap) return holes;
  if (site.worktop === 'spare-hole')
    holes.push({
      where: 'tap',
      diameterMm: tap.holeMm,
      bit: 'none: use the spare hole',
      how: 'Take out the blanking plug, measure the hole, add a cover plate if it is larger.',
      caution: 'A smaller hole than needed is opened as its material asks.',
    });
  else {
    const known = BITS[site.worktop] ?? {
      bit: 'not known: find out the material first',
      how: 'Look at the underside or an edge. The material decides the bit.',
      caution: 'A wrong bit cracks stone and ceramic.',
    };
    holes.push({ where: 'tap', diameterMm: tap.holeMm, ...known });
  }
  if (!partIn(system, 'drain')) return holes;
  const vertical = (site.drainRun === 'none' ? rules.drainRun : site.drainRun) === 'vertical';
  holes.push({
    where: 'drain, in the waste pipe on the basin’s side of the trap',
    diameterMm: 7,
    bit: 'twist drill with a depth stop',
    how: `${vertical ? 'Low on the vertical run, above where water stands' : 'In the upper half of the horizontal run, inclined upward'}; one wall only. ${site.disposalUnit ? 'Away from the disposal unit’s outlet and its splash. ' : ''}${rules.drainDrill === 'first' ? 'Drill, deburr, then the clamp:' : 'Clamp on first, then drill through it with the depth stop:'} seal round the hole, tube into the bore and clear of the far wall.`,
    caution:
      'The trap’s water keeps sewer gas out of the house: never after the trap. Stop the bit before the far wall.',
  });
  return holes;
}

/** Where the drain cannot go as it stands. */
export function drainProblem(site: Site): string | null {
  return site.drainRun === 'none'
    ? 'There is no room between basin and trap. Lower the trap or fit a tailpiece with a side inlet; a hole after the trap would let sewer gas in and is not offered.'
    : null;
}
