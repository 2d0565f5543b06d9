import { partOf, partsOf, type Catalogue, type JointKind, type Part, type Port } from '../parts/catalogue.ts';
import type { Site } from '../gauge/site.ts';
import type { Design } from './design.ts';

export type Role =
  | 'stop-valve'
  | 'feed'
  | 'leak-valve'
  | 'limiter'
  | 'sediment'
  | 'iron'
  | 'carbon'
  | 'feed-valve'
  | 'pump'
  | 'shut-off'
  | 'gauge'
  | 'membrane'
  | 'non-return'
  | 'join'
  | 'permeate-pump'
  | 'sample'
  | 'tank-tee'
  | 'tank'
  | 'polish'
  | 'mineral'
  | 'lamp'
  | 'branch'
  | 'delivery-pump'
  | 'tap'
  | 'fridge'
  | 'restrictor'
  | 'drain';

/** Where in the water's path: told by words and line texture, never by colour alone. */
export type Branch = 'feed' | 'product' | 'tank' | 'fridge' | 'concentrate';

/** One thing the water passes, in flow order. */
export interface LineElement {
  readonly id: string;
  readonly role: Role;
  readonly branch: Branch;
  readonly label: string;
  /** catalogue part; null for what the house already has */
  readonly partId: string | null;
  readonly ports: readonly Port[];
}

/** A run of tube between two ports. */
export interface Tube {
  readonly number: number;
  readonly branch: Branch;
  readonly from: string;
  readonly to: string;
  readonly boreMm: number;
  readonly partId: string;
  /** cut length with slack to pull the unit out where it needs it, m */
  readonly lengthM: number;
}

/** Where a tube or a thread meets a part; numbered in flow order. */
export interface Joint {
  readonly number: number;
  readonly at: string;
  readonly port: Port['name'];
  readonly kind: JointKind;
  readonly size: string;
  readonly tube: number | null;
  readonly branch: Branch;
}

/** The one model of a system: what it is made of, in the order the water meets it. */
export interface Line {
  readonly elements: readonly LineElement[];
  readonly tubes: readonly Tube[];
  readonly joints: readonly Joint[];
}

const LABELS: Readonly<Record<Role, string>> = {
  'stop-valve': 'stop valve',
  feed: 'feed tee',
  'leak-valve': 'leak valve',
  limiter: 'limiting valve',
  sediment: 'sediment',
  iron: 'iron',
  carbon: 'carbon',
  'feed-valve': 'electric valve',
  pump: 'pump',
  'shut-off': 'shut-off',
  gauge: 'gauge point',
  membrane: 'membrane',
  'non-return': 'non-return',
  join: 'product tee',
  'permeate-pump': 'permeate pump',
  sample: 'sample port',
  'tank-tee': 'tank tee',
  tank: 'tank',
  polish: 'polish',
  mineral: 'minerals',
  lamp: 'lamp',
  branch: 'branch tee',
  'delivery-pump': 'delivery pump',
  tap: 'tap',
  fridge: 'fridge',
  restrictor: 'restrictor',
  drain: 'drain',
};

const PUSH: Port[] = [
  { name: 'in', joint: 'push-fit', size: '6 mm' },
  { name: 'out', joint: 'push-fit', size: '6 mm' },
];

/** The line's parts that the catalogue holds one of, whatever the design. @throws RangeError where the shelf has none */
function onlyPart(
  catalogue: Catalogue,
  kind: 'sample' | 'gauge' | 'tank-tee' | 'branch' | 'leak-valve' | 'housing' | 'frame',
): Part {
  const part = partsOf(catalogue, kind)[0];
  if (!part) throw new RangeError(`the catalogue has no ${kind}`);
  return part;
}

/** Elements in flow order: feed side, product side with tank and fridge, then concentrate. */
function elementsOf(design: Design, catalogue: Catalogue): LineElement[] {
  const out: LineElement[] = [];
  const add = (role: Role, branch: Branch, part: Part | null, ports?: readonly Port[], label = LABELS[role]): void => {
    const same = out.filter((e) => e.role === role).length;
    out.push({
      id: same === 0 ? role : `${role}-${String(same + 1)}`,
      role,
      branch,
      label,
      partId: part?.id ?? null,
      ports: ports ?? part?.ports ?? [],
    });
  };
  const housing = onlyPart(catalogue, 'housing');
  const feed = partOf(catalogue, 'feed', design.feedId);
  add('stop-valve', 'feed', null, []);
  add('feed', 'feed', feed, undefined, feed.way === 'tee' ? 'feed tee' : 'feed clamp');
  if (design.leakValve) add('leak-valve', 'feed', onlyPart(catalogue, 'leak-valve'));
  if (design.limiterId) add('limiter', 'feed', partOf(catalogue, 'limiter', design.limiterId));
  add('sediment', 'feed', partOf(catalogue, 'sediment', design.sedimentId), housing.ports);
  if (design.ironId) add('iron', 'feed', partOf(catalogue, 'iron', design.ironId), housing.ports);
  for (const c of design.carbonIds) add('carbon', 'feed', partOf(catalogue, 'carbon', c), housing.ports);
  if (design.pumpId) {
    // a pump that stands still does not stop the house's own pressure: a valve it powers does
    const valve = partsOf(catalogue, 'solenoid')[0];
    if (valve) add('feed-valve', 'feed', valve);
    add('pump', 'feed', partOf(catalogue, 'pump', design.pumpId));
  } else add('shut-off', 'feed', partOf(catalogue, 'shut-off', design.shutOffId), PUSH);
  add('gauge', 'feed', onlyPart(catalogue, 'gauge'));
  const element = partOf(catalogue, 'element', design.elementId);
  for (let i = 0; i < design.elementCount; i++) add('membrane', 'feed', element);
  add('non-return', 'product', partOf(catalogue, 'non-return', design.nonReturnId));
  // every further element's product joins the first one's
  for (let i = 1; i < design.elementCount; i++) add('join', 'product', onlyPart(catalogue, 'tank-tee'));
  add('sample', 'product', onlyPart(catalogue, 'sample'));
  if (design.permeatePumpId) add('permeate-pump', 'product', partOf(catalogue, 'permeate-pump', design.permeatePumpId));
  if (design.tankId !== null) {
    add('tank-tee', 'product', onlyPart(catalogue, 'tank-tee'));
    add('tank', 'tank', partOf(catalogue, 'tank', design.tankId));
  }
  add('polish', 'product', partOf(catalogue, 'polish', design.polishId));
  if (design.mineralId) add('mineral', 'product', partOf(catalogue, 'mineral', design.mineralId));
  if (design.lampId) add('lamp', 'product', partOf(catalogue, 'lamp', design.lampId));
  if (design.fridge) {
    add('branch', 'product', onlyPart(catalogue, 'branch'));
    if (design.deliveryPumpId)
      add('delivery-pump', 'fridge', partOf(catalogue, 'delivery-pump', design.deliveryPumpId));
    add('fridge', 'fridge', null, [{ name: 'in', joint: 'compression', size: '6 mm' }]);
  }
  const tap = partOf(catalogue, 'tap', design.tapId);
  add('tap', 'product', tap);
  add('restrictor', 'concentrate', partOf(catalogue, 'restrictor', design.restrictorId));
  add('drain', 'concentrate', partOf(catalogue, 'drain', design.drainId));
  return out;
}

/** A tube between two parts of the frame, m. */
const SHORT_M = 0.25;
/** From the stop valve to the frame, m: slack to pull the unit out. */
const FEED_M = 1.2;
/** From the branch tee to the fridge, m, until somebody measures it. */
export const FRIDGE_TUBE_M = 4;
/** Length of tube that loses as much as a fitting does, m. */
const FITTING_M = 0.12;

/** Tube on the feed side up to the membrane with its fittings as length, m; what the Line lays out, without building it. */
export function feedTubeM(
  design: Pick<Design, 'leakValve' | 'limiterId' | 'ironId' | 'carbonIds' | 'pumpId' | 'elementCount'>,
): number {
  // leak valve, limiter, sediment, iron, carbons, electric valve and pump or shut-off, gauge point, elements
  const tubes =
    (design.leakValve ? 1 : 0) +
    (design.limiterId === null ? 0 : 1) +
    (design.ironId === null ? 0 : 1) +
    (design.pumpId === null ? 0 : 1) +
    design.carbonIds.length +
    3 +
    design.elementCount;
  return FEED_M + (tubes - 1) * SHORT_M + tubes * FITTING_M;
}

/** Tube lengths in m by what they join; slack lets the unit be pulled out of the cupboard. */
function tubeLengthM(from: LineElement, to: LineElement, site: Pick<Site, 'tapLengthM'>): number {
  if (from.role === 'feed') return FEED_M;
  if (to.role === 'tank') return 1.0;
  if (to.role === 'tap') return Math.max(0.5, site.tapLengthM);
  if (to.role === 'fridge') return FRIDGE_TUBE_M;
  if (to.role === 'drain') return 1.2;
  return SHORT_M;
}

/**
 * Builds the Line from a design: elements in flow order, every tube with its cut length, every joint numbered. A
 * four-port shut-off passes the product too; its product pair stands between membrane and tank tee.
 * @throws RangeError when the design names a part the catalogue lacks (see `missingParts`)
 */
export function buildLine(design: Design, catalogue: Catalogue, site: Pick<Site, 'tapLengthM'>): Line {
  const elements = elementsOf(design, catalogue);
  const tubePart = partOf(catalogue, 'tube', design.tubeId);
  const byId = new Map(elements.map((e) => [e.id, e]));
  const tubes: Tube[] = [];
  const joints: Joint[] = [];
  const portOf = (e: LineElement, name: Port['name']): Port | undefined => e.ports.find((p) => p.name === name);
  const joint = (e: LineElement, name: Port['name'], tube: number | null, branch: Branch): void => {
    const port = portOf(e, name) ?? PUSH[0];
    if (port)
      joints.push({ number: joints.length + 1, at: e.id, port: name, kind: port.joint, size: port.size, tube, branch });
  };
  const connect = (
    a: LineElement | undefined,
    b: LineElement | undefined,
    branch: Branch,
    fromPort: Port['name'] = 'out',
  ): void => {
    if (!a || !b) return;
    const number = tubes.length + 1;
    const length = tubeLengthM(a, b, site);
    tubes.push({ number, branch, from: a.id, to: b.id, boreMm: tubePart.boreMm, partId: tubePart.id, lengthM: length });
    joint(a, fromPort, number, branch);
    joint(b, 'in', number, branch);
  };
  const feed = byId.get('feed');
  if (feed) joint(feed, 'in', null, 'feed');
  const feedSide = elements.filter((e) => e.branch === 'feed' && e.role !== 'stop-valve');
  feedSide.forEach((e, i) => {
    const last = feedSide[i - 1];
    // a further element is fed by the concentrate of the one before
    if (last) connect(last, e, 'feed', last.role === 'membrane' ? 'drain' : 'out');
  });
  const product = elements.filter((e) => e.branch === 'product');
  const membranes = elements.filter((e) => e.role === 'membrane');
  const membrane = membranes.at(-1);
  // the non-return valve screws straight into the membrane housing: a thread, no tube
  const nonReturn = byId.get('non-return');
  if (nonReturn) joint(nonReturn, 'in', null, 'product');
  const shutOff = byId.get('shut-off');
  product.forEach((e, i) => {
    const before = product[i - 1];
    if (!before) return;
    if (shutOff && e.role === (design.tankId === null ? 'polish' : 'tank-tee')) {
      // product in and out of the four-port valve
      connectThrough(before, shutOff, e);
      return;
    }
    connect(before, e, 'product');
  });
  function connectThrough(a: LineElement, via: LineElement, b: LineElement): void {
    const first = tubes.length + 1;
    const common = { branch: 'product' as const, boreMm: tubePart.boreMm, partId: tubePart.id, lengthM: SHORT_M };
    tubes.push({ ...common, number: first, from: a.id, to: via.id });
    joint(a, 'out', first, 'product');
    joint(via, 'branch', first, 'product');
    tubes.push({ ...common, number: first + 1, from: via.id, to: b.id });
    joint(via, 'branch', first + 1, 'product');
    joint(b, 'in', first + 1, 'product');
  }
  membranes.slice(1).forEach((e, i) => {
    const join = byId.get(i === 0 ? 'join' : `join-${String(i + 1)}`);
    if (!join) return;
    const number = tubes.length + 1;
    tubes.push({
      number,
      branch: 'product',
      from: e.id,
      to: join.id,
      boreMm: tubePart.boreMm,
      partId: tubePart.id,
      lengthM: SHORT_M,
    });
    joint(e, 'out', number, 'product');
    joint(join, 'branch', number, 'product');
  });
  connect(byId.get('tank-tee'), byId.get('tank'), 'tank', 'branch');
  const lift = byId.get('delivery-pump');
  if (lift) {
    connect(byId.get('branch'), lift, 'fridge', 'branch');
    connect(lift, byId.get('fridge'), 'fridge');
  } else if (byId.has('fridge')) connect(byId.get('branch'), byId.get('fridge'), 'fridge', 'branch');
  const permeatePump = byId.get('permeate-pump');
  if (permeatePump) {
    // the concentrate drives it on its way to the restrictor
    connect(membrane, permeatePump, 'concentrate', 'drain');
    connect(permeatePump, byId.get('restrictor'), 'concentrate', 'drain');
  } else connect(membrane, byId.get('restrictor'), 'concentrate', 'drain');
  const tap = byId.get('tap');
  const drain = byId.get('drain');
  const airGap = partOf(catalogue, 'tap', design.tapId).airGap;
  if (airGap && tap) {
    const number = tubes.length + 1;
    const restrictor = byId.get('restrictor');
    if (restrictor && drain) {
      const run = { branch: 'concentrate' as const, boreMm: tubePart.boreMm, partId: tubePart.id };
      tubes.push({ ...run, number, from: restrictor.id, to: tap.id, lengthM: Math.max(0.5, site.tapLengthM) });
      joint(restrictor, 'out', number, 'concentrate');
      joint(tap, 'drain', number, 'concentrate');
      const wide = partsOf(catalogue, 'tube').reduce((m, t) => (t.boreMm > m.boreMm ? t : m), tubePart);
      tubes.push({
        ...run,
        number: number + 1,
        from: tap.id,
        to: drain.id,
        boreMm: wide.boreMm,
        partId: wide.id,
        lengthM: Math.max(0.5, site.tapLengthM),
      });
      joint(tap, 'out', number + 1, 'concentrate');
      joint(drain, 'in', number + 1, 'concentrate');
    }
  } else connect(byId.get('restrictor'), drain, 'concentrate');
  return { elements, tubes, joints };
}

/** What is not legal in a Line, in words; an empty list says the order holds. */
export function lineFaults(line: Line): string[] {
  const faults: string[] = [];
  const at = (role: Role): number => line.elements.findIndex((e) => e.role === role);
  const before = (a: Role, b: Role, why: string): void => {
    if (at(a) >= 0 && at(b) >= 0 && at(a) > at(b)) faults.push(why);
  };
  const must = (role: Role, why: string): void => {
    if (at(role) < 0) faults.push(why);
  };
  must('membrane', 'There is no membrane.');
  must('restrictor', 'Without a restrictor all water leaves by the drain.');
  must('drain', 'The concentrate has nowhere to go.');
  must('sample', 'Without a sample port before the minerals Prove reads the wrong water.');
  must('gauge', 'Without a gauge point before the membrane Prove guesses the pressure.');
  before('sediment', 'carbon', 'Sediment protects the carbon: it comes first.');
  before('sediment', 'iron', 'Sediment protects the iron cartridge: it comes first.');
  before('iron', 'carbon', 'Iron clogs the carbon: it is taken out before it.');
  before('carbon', 'membrane', 'Carbon protects the membrane: it comes first.');
  before('limiter', 'sediment', 'A limiting valve protects the housings: it comes first.');
  before('gauge', 'membrane', 'The gauge point reads the pressure before the membrane.');
  before('membrane', 'non-return', 'The non-return valve belongs on the product.');
  before(
    'non-return',
    'tank-tee',
    'The non-return valve keeps the tank’s push off the membrane: it comes before the tank.',
  );
  before('sample', 'mineral', 'The sample port comes before the minerals.');
  before('tank-tee', 'polish', 'The polishing carbon comes after the tank.');
  before('polish', 'mineral', 'Minerals come after the polishing carbon.');
  before('membrane', 'lamp', 'A lamp wants clear, soft water: it comes after the membrane.');
  before('polish', 'lamp', 'The lamp comes last, so that nothing after it grows.');
  before('lamp', 'branch', 'What goes to the fridge passes the lamp too.');
  if (at('pump') < 0) must('shut-off', 'Nothing stops the water when no more is wanted.');
  const tubed = new Set(line.tubes.flatMap((t) => [t.from, t.to]));
  for (const e of line.elements)
    if (e.role !== 'stop-valve' && !tubed.has(e.id)) faults.push(`No tube reaches the ${e.label}.`);
  return faults;
}
