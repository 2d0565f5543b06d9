import { osmoticBarPerMgL, sodiumChloride } from '../water/composition.ts';
import { march, SLICES, type Channel, type ElementSite, type Slice } from './channel.ts';
import { activated, type ElementTraits, type Permeability } from './permeability.ts';

const { abs, max, min } = Math;

/** What a maker states of an element, at the maker's own test conditions. */
export interface ElementRating extends ElementTraits {
  /** product at the test, L/day */
  readonly permeateLDay: number;
  /** 1 - product TDS / feed TDS at the test, 0.5 to 0.999 */
  readonly rejection: number;
  readonly test: {
    /** gauge, at the inlet; product side open */
    readonly pressureBar: number;
    readonly temperatureC: number;
    /** NaCl, mg/L */
    readonly tdsMgL: number;
    /** permeate / feed; 0.15 is usual for elements */
    readonly recovery: number;
  };
}

/** What an element makes. Water and salt balance to rounding. */
export interface ElementOutput {
  readonly permeateLDay: number;
  readonly concentrateLDay: number;
  readonly feedLDay: number;
  /** permeate / feed at this moment */
  readonly recovery: number;
  readonly permeateTdsMgL: number;
  readonly concentrateTdsMgL: number;
  /** 1 - permeate / feed concentration */
  readonly rejection: number;
  /** mean over the area, bar */
  readonly netDrivingPressureBar: number;
}

/** Feed-side conditions that follow from the flow: what a supply, its valves and a restrictor make of it. */
export interface FeedSide {
  readonly feedPressureBar: number;
  /** let out at that pressure, L/day, above 0 */
  readonly concentrateLDay: number;
  /** more than the feed side can bring as it works: a pump cuts out here */
  readonly beyond?: boolean;
}

/** The product side and the water, which do not depend on the flow. */
export type Held = Omit<ElementSite, 'feedPressureBar' | 'concentrateLDay'>;

/** Of the miss against the feed: -1.02 to -1.12 in most houses, steeper where the supply pipe is narrow. */
const USUAL_SLOPE = -1.05;

/**
 * Solves elements whose feed side answers to their own flow: the feed at which product and concentrate add up to it. One
 * search for supply and membrane together, bracketed, so that it always ends.
 * @param sideAt conditions at a feed flow, L/day; pressure must not rise with the flow
 * @param near a feed flow close by, L/day; it changes the effort, not the answer
 * @param tolerance relative miss of the feed
 * @returns the output, the conditions it was found at, and whether the feed side brings no more
 */
export function solveWith(
  p: Permeability,
  held: Held,
  sideAt: (feedLDay: number) => FeedSide,
  options: {
    readonly near?: number | undefined;
    readonly tolerance?: number;
    readonly slices?: number;
    readonly note?: Slice[] | undefined;
    /** the highest feed that is not beyond, L/day, asked for only where one below `beyondLDay` was; needed where a side says so */
    readonly edge?: (beyondLDay: number) => number;
  } = {},
): { readonly out: ElementOutput; readonly side: FeedSide; readonly atEdge: boolean } {
  const { tolerance = 1e-10, slices = SLICES, note } = options;
  const { a, b } = activated(p, held.temperatureC);
  const strings = p.inParallel ?? 1;
  const area = strings * (p.inSeries ?? 1);
  const osmotic = held.osmoticBarPerMgL * held.tdsMgL;
  const back = held.permeatePressureBar;
  const still = sideAt(0);
  let low = 0;
  let high = still.concentrateLDay + area * a * max(0, still.feedPressureBar - back);
  let feed = options.near ?? 0;
  if (!(feed > low && feed < high))
    feed = still.concentrateLDay + 0.9 * area * a * max(0, still.feedPressureBar - back - 1.3 * osmotic);
  let side = still;
  // one object for all tries: a solve is asked for ten thousand times in a search
  const here = {
    feedPressureBar: still.feedPressureBar,
    permeatePressureBar: back,
    temperatureC: held.temperatureC,
    tdsMgL: held.tdsMgL,
    osmoticBarPerMgL: held.osmoticBarPerMgL,
  };
  let ch: Channel | null = null;
  let lastFeed = 0;
  let lastMiss = 0;
  let atEdge = false;
  for (let n = 0; n < 80; n++) {
    side = sideAt(feed);
    const edging = side.beyond === true && options.edge !== undefined;
    if (edging) {
      high = options.edge(feed);
      feed = high;
      side = sideAt(feed);
    }
    here.feedPressureBar = side.feedPressureBar;
    ch = march(a, b, p, here, feed / strings, slices);
    const miss = strings * ch.permeateLDay + side.concentrateLDay - feed;
    // it would take more than the feed side brings: what it gets lies at the edge
    atEdge = edging && miss > 0;
    if (atEdge || abs(miss) <= tolerance * feed || high - low <= 1e-13 * high) break;
    if (miss > 0) low = feed;
    else high = feed;
    // the miss falls by a little more than its own size with each litre fed; the secant knows better from the second step on
    const slope = n === 0 ? USUAL_SLOPE : (miss - lastMiss) / (feed - lastFeed);
    lastFeed = feed;
    lastMiss = miss;
    let next = feed - miss / (slope < -0.05 ? slope : USUAL_SLOPE);
    // a nearly dry channel answers in a bend the secant creeps along: halving gets over it
    if (!(next > low && next < high) || (n > 6 && n % 2 === 0)) next = 0.5 * (low + high);
    feed = next;
  }
  if (!ch) throw new RangeError('an element without an answer');
  if (note) {
    note.length = 0;
    march(a, b, p, here, feed / strings, slices, note);
  }
  const permeateLDay = strings * ch.permeateLDay;
  const concentrateLDay = strings * ch.outLDay;
  const permeateTds = ch.permeateLDay > 0 ? ch.permeateSalt / ch.permeateLDay : held.tdsMgL;
  return {
    side,
    atEdge,
    out: {
      permeateLDay,
      concentrateLDay,
      feedLDay: permeateLDay + concentrateLDay,
      recovery: permeateLDay / (permeateLDay + concentrateLDay),
      permeateTdsMgL: permeateTds,
      concentrateTdsMgL: ch.permeateLDay > 0 ? ch.outTds : held.tdsMgL,
      rejection: held.tdsMgL > 0 ? 1 - permeateTds / held.tdsMgL : 0,
      netDrivingPressureBar: ch.meanNdp,
    },
  };
}

/**
 * Solves one element, or up to three, by solution-diffusion with film-theory polarisation in slices along the channel.
 * The channel's own pressure drop counts where the rating states it (some hundredths of a bar in domestic elements).
 * @param site pressures 0 to 20 bar, 0.1 to 45 C, TDS 0 to 45 000 mg/L, concentrate above 0; flows are those of all
 * elements together
 * @param note is filled with the slices of the solution
 * @returns zero permeate where product pressure is not below the feed's; between that and the osmotic pressure only the
 * salty trickle that solution-diffusion leaves (its product is nearly as salty as the feed); never a negative flow
 */
export function solveElement(
  p: Permeability,
  site: ElementSite,
  slices: number = SLICES,
  note?: Slice[],
): ElementOutput {
  return solveWith(p, site, () => site, { slices, note }).out;
}

/**
 * Fits water and salt permeability to a rating so that the solver returns the rating at its own test conditions.
 * @throws RangeError when no permeability gives the rating (its pressure is below the test water's osmotic pressure)
 */
export function fitPermeability(r: ElementRating): Permeability {
  const k = osmoticBarPerMgL(sodiumChloride(r.test.tdsMgL), r.test.temperatureC);
  const feed = r.permeateLDay / r.test.recovery;
  const target = (1 - r.rejection) * r.test.tdsMgL;
  const site: ElementSite = {
    feedPressureBar: r.test.pressureBar,
    permeatePressureBar: 0,
    temperatureC: r.test.temperatureC,
    tdsMgL: r.test.tdsMgL,
    osmoticBarPerMgL: k,
    concentrateLDay: feed - r.permeateLDay,
  };
  const ndp = r.test.pressureBar - k * r.test.tdsMgL;
  if (ndp <= 0) throw new RangeError('test pressure does not exceed the osmotic pressure of the test water');
  const base: Permeability = {
    waterLDayBar: 1,
    saltLDay: 1,
    ...(r.saltActivationK === undefined ? {} : { saltActivationK: r.saltActivationK }),
    ...(r.massTransfer === undefined ? {} : { massTransfer: r.massTransfer }),
    ...(r.channelDrop === undefined ? {} : { channelDrop: r.channelDrop }),
  };
  const unit = activated(base, r.test.temperatureC);
  let a = r.permeateLDay / ndp;
  let b = (r.permeateLDay * (1 - r.rejection)) / r.rejection;
  let off = 1;
  for (let n = 0; n < 400 && off > 1e-13; n++) {
    const ch = march(a, b, base, site, feed, SLICES);
    const flowRatio = r.permeateLDay / ch.permeateLDay;
    const tdsRatio = (target * ch.permeateLDay) / ch.permeateSalt;
    a *= min(2, flowRatio);
    b *= tdsRatio * min(2, flowRatio);
    off = max(abs(flowRatio - 1), abs(tdsRatio - 1));
  }
  if (!(off < 1e-6)) throw new RangeError('no permeability gives this rating at its own test conditions');
  return { ...base, waterLDayBar: a / unit.a, saltLDay: b / unit.b };
}
