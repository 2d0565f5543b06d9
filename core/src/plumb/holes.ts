import type { Site } from '../gauge/site.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { PartOf } from '../parts/catalogue.ts';
import { ofKind, partIn, type System } from '../system/system.ts';

/** A hole to be made, with its bit and what can go wrong. */
export interface Hole {
  readonly key: 'tap' | 'second-tap' | 'drain' | 'frame' | 'way';
  readonly where: string;
  readonly diameterMm: number;
  /** drilled first, mm; null where none is */
  readonly pilotMm: number | null;
  readonly bit: string;
  /** hand tool it is made with */
  readonly tool: string;
  /** how fast, and what cools it */
  readonly speed: string;
  readonly how: string;
  readonly caution: string;
  /** what is looked for behind or under it first */
  readonly under: string;
  /** a mask is worn: its dust harms */
  readonly dusty: boolean;
  /** it is cooled with water: no mains tool near it */
  readonly wet: boolean;
}

type Material = Omit<Hole, 'key' | 'where' | 'diameterMm' | 'under'>;

const BATTERY = 'battery drill';
const BITS: Readonly<Record<string, Material>> = {
  steel: {
    bit: 'step drill or cobalt bit',
    pilotMm: 4,
    tool: BATTERY,
    speed: 'slow, with cutting oil',
    how: 'Punch, 4 mm pilot, then the step drill slowly with cutting oil; deburr both edges.',
    caution: 'Goggles. Swarf is sharp and rusts: sweep every curl out of the basin.',
    dusty: false,
    wet: false,
  },
  laminate: {
    bit: 'hole saw or spade bit',
    pilotMm: 4,
    tool: BATTERY,
    speed: 'middling, dry',
    how: 'Tape over the mark, 4 mm pilot, then from above; seal the cut edge against water.',
    caution: 'Goggles. Feel below for pipes and wiring first.',
    dusty: false,
    wet: false,
  },
  wood: {
    bit: 'spade bit or hole saw',
    pilotMm: 4,
    tool: BATTERY,
    speed: 'middling, dry',
    how: '4 mm pilot through, half from above, half from below; oil the cut edge.',
    caution: 'Goggles. Feel below for pipes and wiring first.',
    dusty: false,
    wet: false,
  },
  stone: {
    bit: 'wet diamond core bit',
    pilotMm: null,
    tool: BATTERY,
    speed: 'slow, no hammer, water on it all the time',
    how: 'Frame of putty filled with water, start on the slant, no hammer, slow and with little push; stop often.',
    caution:
      'Goggles, mask, water on the bit all the time; stone dust harms the lungs. No mains drill near the water: battery only.',
    dusty: true,
    wet: true,
  },
  ceramic: {
    bit: 'wet diamond core bit',
    pilotMm: null,
    tool: BATTERY,
    speed: 'slow, no hammer, water on it all the time',
    how: 'Tape, start on the slant, water, no hammer, hardly any push.',
    caution: 'Goggles. It cracks: tell the household before you begin. Battery drill only.',
    dusty: true,
    wet: true,
  },
  composite: {
    bit: 'hole saw, or the sink’s own knock-out',
    pilotMm: 4,
    tool: BATTERY,
    speed: 'slow, dry',
    how: 'Look underneath for a knock-out first; else pilot and hole saw from above, slowly.',
    caution: 'Goggles and mask. Some need a diamond bit: try on the underside.',
    dusty: true,
    wet: false,
  },
};
const UNKNOWN: Material = {
  bit: 'not known: find out the material first',
  pilotMm: null,
  tool: BATTERY,
  speed: 'as the material asks',
  how: 'Look at the underside or an edge. The material decides the bit.',
  caution: 'A wrong bit cracks stone and ceramic.',
  dusty: true,
  wet: false,
};
const SPARE: Material = {
  bit: 'none: use the spare hole',
  pilotMm: null,
  tool: 'none',
  speed: 'no drilling',
  how: 'Take out the blanking plug, measure the hole, add a cover plate if it is larger.',
  caution: 'A smaller hole than needed is opened as its material asks.',
  dusty: false,
  wet: false,
};

/** A bracket's screws with their plugs, mm. */
const BRACKET_MM = 6;
const BRACKET: Material = {
  bit: 'masonry bit, or wood bit in a panel, with plugs of the wall’s kind',
  pilotMm: null,
  tool: BATTERY,
  speed: 'slow, without hammer in tiles',
  how: 'Bracket level, marks through it, tape over tiles; plugs, bracket, then the tap on it. The tube comes up behind the basin.',
  caution: 'Goggles. Detector for wires and pipes first; a tile cracks under the hammer.',
  dusty: true,
  wet: false,
};
/** The hole in the waste pipe, mm: the tube passes it, the seal sits round it; a wider one for the tube from an air gap. */
const DRAIN_MM = 7;
const WIDE_DRAIN_MM = 10;
const NARROW_TUBE_MM = 8;
/** What a frame hangs on: a screw for a plug in a wall, or straight into a panel, mm. */
const SCREW_PILOT_MM = 2.5;

/** Three tubes side by side with a grommet round them, mm. */
const WAY_MM = 25;

/** The hole the tubes pass to a second place by; an old one is used as it is. */
function wayHole({ second, placed }: Site): Hole[] {
  if (!second) return [];
  const floor = second.lies === 'below';
  const here = {
    key: 'way' as const,
    where: `the tubes’ way to ${second.words}, through the ${floor ? 'floor' : 'panel'}`,
    diameterMm: WAY_MM,
    dusty: false,
    wet: false,
  };
  if (placed.hole)
    return [
      {
        ...here,
        pilotMm: null,
        bit: 'none: there is a hole',
        tool: 'none',
        speed: 'no drilling',
        how: 'Pass a tube of each bore through it first. A grommet, or its edge rounded; what stays open round the tubes is closed.',
        caution: 'What runs in it already is not pinched. A sharp edge cuts a tube that drums.',
        under: 'What the hole was made for: nothing live in it.',
      },
    ];
  return [
    {
      ...here,
      pilotMm: 4,
      bit: floor ? 'long wood bit, or masonry bit in a solid floor' : 'hole saw or spade bit',
      tool: BATTERY,
      speed: 'middling, dry',
      how: floor
        ? '4 mm pilot from above, found again below, clear of beams; then the hole, a sleeve in it, sealed against water and fire as the local code asks.'
        : '4 mm pilot, half from either side so that neither face breaks out; a grommet in it.',
      caution: `Goggles. ${floor ? 'Somebody below keeps clear. A floor with heating in it, or one that holds the building up, is not drilled.' : 'The other side is cleared first: what stands there is hit.'}`,
      under: floor
        ? 'Pipes, wires and heating in the floor: from above with the detector and from below by eye.'
        : 'Wires and pipes along the panel, on both sides.',
      dusty: floor,
    },
  ];
} // oxfmt-ignore

/** Holes for the tap, the drain, the frame's screws and the way to a second place. An unknown worktop asks for the material before a bit is named. */
export function holesOf(system: System, site: Site, rules: HouseRules): Hole[] {
  const tap = partIn(system, 'tap');
  if (!tap) return [];
  const bracket = site.tapMount === 'bracket';
  const material = bracket ? BRACKET : site.worktop === 'spare-hole' ? SPARE : (BITS[site.worktop] ?? UNKNOWN);
  const holes: Hole[] = [
    {
      key: 'tap',
      where: bracket ? 'two screws for the tap’s bracket' : 'tap',
      diameterMm: bracket ? BRACKET_MM : tap.holeMm,
      under: bracket
        ? 'Pipes and wires in the wall: a detector first, and nothing right above or below a socket or a tap.'
        : 'Pipes, wiring, the dishwasher, drawers: look and feel from below before the mark is made.',
      ...material,
      how:
        site.tapMount === 'above'
          ? `${material.how} The tap is let in and held from above: its plate and seal first.`
          : material.how,
    },
  ];
  for (const second of ofKind(system, 'second-tap'))
    if (second.part?.kind === 'tap')
      holes.push({
        key: 'second-tap',
        where: 'second tap',
        diameterMm: second.part.holeMm,
        under: 'Pipes, wiring, drawers: look and feel from below before the mark is made.',
        ...(BITS[site.worktop] ?? UNKNOWN),
      });
  const drain = partIn(system, 'drain');
  // where it cannot be, no hole is offered
  if (drain && (drain.way ?? 'clamp') === 'clamp' && drainProblem(site, rules) === null)
    holes.push(drainHole(site, rules, drain));
  if (partIn(system, 'frame'))
    holes.push({
      key: 'frame',
      where:
        site.screwWalls === 'none' && !site.second
          ? 'two screws for the frame, in the board that stands for a wall'
          : 'two screws for the frame',
      diameterMm: SCREW_PILOT_MM,
      pilotMm: null,
      bit: 'twist drill for wood with a depth stop',
      tool: BATTERY,
      speed: 'middling, dry',
      how: 'Stop at two thirds of the panel’s thickness: the neighbour’s side stays whole. Into a wall with a plug of its kind.',
      caution: 'Goggles. A detector for pipes and wires first; no screw above or below a socket or a stop valve.',
      under: 'Pipes and wires behind the panel, the thickness of the panel.',
      dusty: false,
      wet: false,
    });
  return [...holes, ...wayHole(site)];
}

function drainHole(site: Site, rules: HouseRules, drain: PartOf<'drain'>): Hole {
  const vertical = (site.drainRun === 'none' ? rules.drainRun : site.drainRun) === 'vertical';
  return {
    key: 'drain',
    where: 'drain, in the waste pipe on the basin’s side of the trap',
    diameterMm: Number.parseFloat(drain.ports[0]?.size ?? '') > NARROW_TUBE_MM ? WIDE_DRAIN_MM : DRAIN_MM,
    pilotMm: 3,
    bit: 'twist drill with a depth stop',
    tool: BATTERY,
    speed: 'slow, dry',
    how: `${vertical ? 'Low on the vertical run, above where water stands' : 'In the upper half of the horizontal run, inclined upward'}; one wall only. ${site.disposalUnit ? 'Away from the disposal unit’s outlet and its splash. ' : ''}${rules.drainDrill === 'first' ? 'Drill, deburr, then the clamp:' : 'Clamp on first, then drill through it with the depth stop:'} seal round the hole, tube into the bore and clear of the far wall.`,
    caution:
      'The trap’s water keeps sewer gas out of the house: never after the trap. Stop the bit before the far wall.',
    under: 'The far wall of the pipe: a stop on the bit.',
    dusty: false,
    wet: false,
  };
}

/** Where the drain cannot go as it stands, and what can be done; null where it can. */
export function drainProblem(site: Pick<Site, 'drainWay' | 'drainRun'>, rules: Pick<HouseRules, 'drainSpigot'>): string | null {
  if (site.drainWay === 'spigot')
    return rules.drainSpigot
      ? null
      : 'The house rule does not take the dishwasher’s spigot: ask the local code, then change the rule, or fit a clamp on the basin’s side of the trap.';
  if (site.drainWay === 'standpipe' || site.drainRun !== 'none') return null;
  return `There is no room between basin and trap. Lower the trap, fit a tailpiece with a side inlet, or lead it to a stand-pipe or floor drain with an air gap${rules.drainSpigot ? ', or to the dishwasher’s spigot' : ''}; a hole after the trap would let sewer gas in and is not offered.`;
} // oxfmt-ignore
