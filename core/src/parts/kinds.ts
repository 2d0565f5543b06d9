import type { PumpCurve } from '../hydraulics/train.ts';
import type { Part, PartKind, PartOf, Port } from './catalogue.ts';

/**
 * Where in the water's path a kind stands. Feed: from the stop valve to the membranes. Permeate: from the membranes to the
 * storage's tee. Delivery: from there to the tap. Storage hangs off the tee, a branch off its own tee, concentrate runs from
 * the last membrane to the drain. What only stands there is on no path.
 */
export type Chain = 'feed' | 'permeate' | 'storage' | 'delivery' | 'branch' | 'concentrate' | 'stands';

/** What a kind does to water that passes, as the hydraulics take it; none means that it lets it pass. */
export type Effect =
  /** loses with the flow; what clogs loses more with the litres it has seen */
  | { readonly does: 'loses'; readonly barPerLMin: number; readonly clogs: boolean }
  /** loses the same at any flow */
  | { readonly does: 'drops'; readonly bar: number }
  /** loses with the square of the flow */
  | { readonly does: 'throttles'; readonly barPerLMin2: number }
  /** never lets more pressure through than this */
  | { readonly does: 'limits'; readonly bar: number }
  | { readonly does: 'boosts'; readonly curve: PumpCurve }
  /** adds the same pressure at any flow it is made for */
  | { readonly does: 'lifts'; readonly bar: number };

/** A kind that joins two waters, or makes one of another: the solver reads it by this, not by its name. */
export type Work =
  | 'separates'
  | 'restricts'
  | 'stores'
  | 'shuts'
  | 'switches'
  | 'lifts-product'
  | 'joins'
  | 'branches'
  | 'opens'
  | 'ends';

/** How something worn is changed, as it is told on the sheet of a visit. */
export interface ChangeWords {
  readonly out: string;
  readonly in: string;
  readonly mistakes: string;
  readonly caution?: string;
}

/** One kind of thing that stands in a system. */
export interface KindRow {
  /** as people say it: "carbon" */
  readonly label: string;
  /** kind of its part in the catalogue; null for what the house already has */
  readonly partKind: PartKind | null;
  readonly chain: Chain;
  /** legal place along its chain */
  readonly rank: number;
  readonly ports: (part: Part | null) => readonly Port[];
  /** stands in a housing of its own: the housing's ports, and one more to fetch */
  readonly inHousing?: true;
  /** water it holds when it is full, L; what a tank holds is no part of it */
  readonly waterL?: number;
  readonly effect?: (part: Part) => Effect;
  readonly work?: Work;
  /** why changing it in time matters; none for what lasts */
  readonly wear?: string;
  /** how it is changed, and what goes wrong; its own book's way where nothing is said */
  readonly change?: ChangeWords;
  /** cleaned or descaled in time rather than replaced: its service costs no part */
  readonly serviced?: true;
  /** flushed into the bucket before the membrane goes in, until this */
  readonly flushed?: string;
  /** it draws power: its part says how much */
  readonly powered?: true;
  /** stands on the floor; what has a body of its own and does not hangs on a wall */
  readonly onFloor?: true;
  /** may stand or hang on its side as well as upright */
  readonly mayLie?: true;
  /** what is drawn out of its top to service it, as a share of its height */
  readonly drawnOut?: number;
  /** against a side panel it drums */
  readonly drums?: true;
  /** what the sentence of a design calls it; none leaves it out of the sentence */
  readonly inSentence?: (part: Part) => string;
  /** counts among the few words a design is known by */
  readonly inWords?: true;
}

const PUSH: Port['joint'] = 'push-fit';
const SIX = '6 mm';
const port = (name: Port['name'], joint: Port['joint'] = PUSH, size = SIX): Port => ({ name, joint, size });
const THROUGH: readonly Port[] = [port('in'), port('out')];

/** The part's own ports, else in and out by push-fit. */
const own = (part: Part | null): readonly Port[] => (part && part.ports.length > 0 ? part.ports : THROUGH);
const cartridge =
  (clogs: boolean) =>
  (part: Part): Effect => ({
    does: 'loses',
    barPerLMin: 'barPerLMin' in part ? part.barPerLMin : 0,
    clogs,
  });
const as = <K extends PartKind>(part: Part, kind: K): PartOf<K> => {
  if (part.kind !== kind) throw new RangeError(`a ${part.kind} in the place of a ${kind}`);
  return part as PartOf<K>;
};
/** A valve that passes what a dispenser fills itself with at its least pressure. */
const throttleOf = (p: PartOf<'dispenser'>): Effect => ({
  does: 'throttles',
  barPerLMin2: Math.max(0.05, p.minInletBar) / (p.fillLMin * p.fillLMin),
});
const lower = (part: Part): string => part.name.charAt(0).toLowerCase() + part.name.slice(1);
const aTank = (part: Part): string =>
  `${/^Tank (8|11|18)/.test(part.name) ? 'an' : 'a'} ${part.name.replace(/^Tank /, '').replace(', slim', ' slim')} tank`;

/** What stands in a housing of its own. */
const IN_HOUSING: ChangeWords = {
  out: 'Its button pressed until nothing comes, towel under it, housing spanner. Look at what comes out: brown, slimy, black, torn. The bowl looked at for hairline cracks: a cracked one is not screwed on again.',
  in: 'Bowl rinsed, wrapper off, seated over its ring at both ends. O-ring wiped, looked at, greased with silicone, in its groove.',
  mistakes: 'Wrapper left on, cartridge beside its ring, O-ring pinched or left in the old bowl, two bowls mixed up.',
};
/** What is pushed into the tube's way. */
const IN_LINE: ChangeWords = {
  out: 'Ring pressed in, tube drawn out, towel under it.',
  in: 'Caps off, flow arrow with the water, tubes cut square and pushed home to the mark.',
  mistakes: 'Arrow against the water, a tube not home, a cap left on.',
};

/** Every kind there is, along the water. Build, legality, hydraulics, drawing, lists, lives and words read this. */
const TABLE = {
  'stop-valve': { label: 'stop valve', partKind: null, chain: 'feed', rank: 0, ports: () => [port('out', 'gasket-thread', 'G 1/2')] },
  feed: { label: 'feed tee', partKind: 'feed', chain: 'feed', rank: 1, ports: own },
  backflow: {
    label: 'backflow valve', partKind: 'backflow', chain: 'feed', rank: 1.5, ports: own,
    effect: (p) => ({ does: 'drops', bar: as(p, 'backflow').barLoss }),
  },
  'leak-valve': {
    label: 'leak valve', partKind: 'leak-valve', chain: 'feed', rank: 2, ports: own, serviced: true,
    wear: 'its pad hardens, and one that was wet once does not close again',
  },
  limiter: {
    label: 'limiting valve', partKind: 'limiter', chain: 'feed', rank: 3, ports: own, inWords: true,
    effect: (p) => ({ does: 'limits', bar: as(p, 'limiter').setBar }), inSentence: () => 'a limiting valve',
  },
  // before the filters: with the one before the membrane it tells what they take
  'first-gauge': { label: 'first gauge point', partKind: 'gauge', chain: 'feed', rank: 3.5, ports: own },
  sediment: {
    label: 'sediment', partKind: 'sediment', chain: 'feed', rank: 4, ports: own, inHousing: true, waterL: 0.9, effect: cartridge(true),
    wear: 'clogged it starves the membrane of pressure', change: IN_HOUSING, flushed: 'Membrane still out, what follows not yet in. Until it runs clear.',
  },
  iron: {
    label: 'iron', partKind: 'iron', chain: 'feed', rank: 5, ports: own, inHousing: true, waterL: 0.9, effect: cartridge(true), inWords: true,
    wear: 'full, iron reaches the membrane and stays there', change: IN_HOUSING, flushed: 'Membrane still out, what follows not yet in. Until it runs clear.',
    inSentence: () => 'an iron cartridge',
  },
  carbon: {
    label: 'carbon', partKind: 'carbon', chain: 'feed', rank: 6, ports: own, inHousing: true, waterL: 0.9, effect: cartridge(true),
    wear: 'late, chlorine reaches the membrane and the damage adds up', change: IN_HOUSING, flushed: 'Membrane still out. Until no black fines come.',
  },
  // a pump that stands still does not stop the house's own pressure: a valve it powers does
  'feed-valve': { label: 'electric valve', partKind: 'solenoid', chain: 'feed', rank: 7, ports: own, powered: true },
  pump: {
    label: 'pump', partKind: 'pump', chain: 'feed', rank: 8, ports: own, work: 'switches', powered: true, drums: true, inWords: true,
    effect: (p) => ({ does: 'boosts', curve: as(p, 'pump').curve }), inSentence: () => 'a booster pump',
  },
  // four ports: the feed passes it, and the product that shuts it
  'shut-off': {
    label: 'shut-off', partKind: 'shut-off', chain: 'feed', rank: 9, work: 'shuts',
    ports: () => [port('in'), port('out'), port('product-in'), port('product-out')],
  },
  gauge: { label: 'gauge point', partKind: 'gauge', chain: 'feed', rank: 10, ports: own },
  membrane: {
    label: 'membrane', partKind: 'element', chain: 'feed', rank: 11, ports: own, waterL: 0.5, work: 'separates', inWords: true,
    wear: 'by its rejection and flow; this date is when to look hard',
    change: {
      out: 'Tubes marked, cap off its housing, drawn out by its stem with pliers. Brine seal and O-rings looked at: rolled, torn, missing. The housing wiped.',
      in: 'Its name and batch read off the label first. Brine seal towards the feed end, both O-rings wetted with clean water, pushed home until it seats.',
      mistakes: 'Not pushed home, so that salt passes at the O-ring; the seal at the wrong end; another element than the restrictor is for.',
      caution: 'Pressure gone before the cap is opened. Clean hands on the membrane.',
    },
    inSentence: (p) => p.name.replace(/^Element/, 'element').replace(/, (.*)$/, ' ($1)'),
  },
  'non-return': {
    label: 'non-return', partKind: 'non-return', chain: 'permeate', rank: 0, ports: own,
    effect: (p) => ({ does: 'drops', bar: as(p, 'non-return').barLoss }),
  },
  // every further element's product joins the first one's
  join: { label: 'product tee', partKind: 'tank-tee', chain: 'permeate', rank: 1, ports: own, work: 'joins' },
  sample: { label: 'sample port', partKind: 'sample', chain: 'permeate', rank: 2, ports: own },
  'permeate-pump': {
    label: 'permeate pump', partKind: 'permeate-pump', chain: 'permeate', rank: 3, work: 'lifts-product', drums: true, inWords: true, wear: 'worn, the tank pushes on the membrane again',
    ports: () => [port('in'), port('out'), port('drain-in'), port('drain-out')], inSentence: () => 'a permeate pump',
  },
  'tank-tee': { label: 'tank tee', partKind: 'tank-tee', chain: 'delivery', rank: 0, ports: own, work: 'branches' },
  tank: { label: 'tank', partKind: 'tank', chain: 'storage', rank: 0, ports: own, work: 'stores', inSentence: aTank, inWords: true, onFloor: true, mayLie: true },
  // open to the air: nothing pushes back on the membrane, and a pump of its own takes the water on
  'vented-tank': {
    label: 'vented tank', partKind: 'vented-tank', chain: 'delivery', rank: 0, ports: own, work: 'stores', inWords: true, serviced: true, onFloor: true,
    wear: 'its vent filter clogged and its walls not wiped, what floats in the air settles in it', inSentence: (p) => `a ${lower(p)}`,
  },
  'tank-pump': {
    label: 'tank pump', partKind: 'delivery-pump', chain: 'delivery', rank: 0.5, ports: own, powered: true, drums: true, inWords: true,
    effect: (p) => ({ does: 'lifts', bar: as(p, 'delivery-pump').boostBar }), inSentence: () => 'a pump of its own',
  },
  polish: {
    label: 'polish', partKind: 'polish', chain: 'delivery', rank: 1, ports: own, waterL: 0.3, effect: cartridge(false), wear: 'taste', change: IN_LINE,
  },
  mineral: {
    label: 'minerals', partKind: 'mineral', chain: 'delivery', rank: 2, ports: own, waterL: 0.3, effect: cartridge(false), inWords: true, mayLie: true,
    wear: 'spent, the water attacks metal again', change: IN_LINE, inSentence: () => 'minerals',
  },
  lamp: {
    label: 'lamp', partKind: 'lamp', chain: 'delivery', rank: 3, ports: own, waterL: 0.5, effect: cartridge(false), powered: true, drawnOut: 0.9, mayLie: true, inWords: true,
    wear: 'its light fades long before it goes out',
    change: {
      out: 'Plug out, some minutes to cool. Drawn out by its ends; then the sleeve: looked at for scale and cracks, cleaned with citric acid, rinsed.',
      in: 'Gloves or a cloth: no bare fingers on the glass. Its date written on it, its counter set back, plugged in only once it is full of water.',
      mistakes: 'A finger on the glass, a sleeve put back with scale on it, the counter not set back.',
      caution: 'A spent lamp holds mercury: whole to the collection point, never into the bin. Broken: window open, everybody out for a quarter of an hour, picked up with gloves and card, no vacuum cleaner.',
    },
    inSentence: () => 'an ultraviolet lamp',
  },
  branch: { label: 'branch tee', partKind: 'branch', chain: 'delivery', rank: 4, ports: own, work: 'branches' },
  'delivery-pump': {
    label: 'delivery pump', partKind: 'delivery-pump', chain: 'branch', rank: 0, ports: own, powered: true, drums: true, inWords: true,
    effect: (p) => ({ does: 'lifts', bar: as(p, 'delivery-pump').boostBar }), inSentence: () => 'a delivery pump for the fridge',
  },
  fridge: { label: 'fridge', partKind: null, chain: 'branch', rank: 1, work: 'opens', ports: () => [port('in', 'compression')] },
  dispenser: {
    label: 'dispenser', partKind: 'dispenser', chain: 'branch', rank: 2, ports: own, work: 'opens', powered: true, inWords: true, serviced: true,
    effect: (p) => throttleOf(as(p, 'dispenser')), wear: 'scale in its heater, and its cold tank wants wiping out',
    inSentence: () => 'a branch to a dispenser',
  },
  'second-tap': {
    label: 'second tap', partKind: 'tap', chain: 'branch', rank: 3, ports: own, work: 'opens',
    effect: (p) => ({ does: 'throttles', barPerLMin2: as(p, 'tap').resistance }),
  },
  tap: {
    label: 'tap', partKind: 'tap', chain: 'delivery', rank: 9, ports: own, work: 'opens',
    effect: (p) => ({ does: 'throttles', barPerLMin2: as(p, 'tap').resistance }),
  },
  restrictor: { label: 'restrictor', partKind: 'restrictor', chain: 'concentrate', rank: 0, ports: own, work: 'restricts', inWords: true },
  drain: { label: 'drain', partKind: 'drain', chain: 'concentrate', rank: 1, ports: own, work: 'ends' },
  frame: { label: 'frame', partKind: 'frame', chain: 'stands', rank: 0, ports: () => [] },
  // off the floor and away from drips: the pump itself runs on what it gives
  transformer: { label: 'transformer', partKind: 'transformer', chain: 'stands', rank: 1, ports: () => [], powered: true },
} as const satisfies Record<string, KindRow>; // oxfmt-ignore

/** The kinds that ship. */
export type KindName = keyof typeof TABLE;
export const KIND_NAMES = Object.keys(TABLE) as KindName[];

const rows = new Map<string, KindRow>(Object.entries(TABLE));

/** What is known of a kind. @throws RangeError for one there is none of */
export function kindRow(kind: string): KindRow {
  const row = rows.get(kind);
  if (!row) throw new RangeError(`no kind "${kind}"`);
  return row;
}

/** Whether there is such a kind. */
export const isKind = (kind: string): boolean => rows.has(kind);

/** Adds a kind of a firm's own, or a test's. @returns takes it away again. @throws RangeError where there is one of that name */
export function addKind(kind: string, row: KindRow): () => void {
  if (rows.has(kind)) throw new RangeError(`there is a kind "${kind}" already`);
  rows.set(kind, row);
  return () => {
    rows.delete(kind);
  };
}

/** Where a chain's water belongs on the drawing and in the lists. */
export type Branch = 'feed' | 'product' | 'tank' | 'fridge' | 'concentrate';
export const BRANCH_OF: Readonly<Record<Exclude<Chain, 'stands'>, Branch>> = {
  feed: 'feed',
  permeate: 'product',
  delivery: 'product',
  storage: 'tank',
  branch: 'fridge',
  concentrate: 'concentrate',
};

/** The part's name in the middle of a sentence. */
export const partInSentence = lower;
