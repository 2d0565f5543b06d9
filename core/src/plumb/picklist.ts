import type { Part } from '../parts/catalogue.ts';
import { kindRow } from '../parts/kinds.ts';
import type { HouseRules } from '../rules/rules.ts';
import {
  alongTheWater,
  componentOf,
  jointsOf,
  ofKind,
  ofWork,
  partIn,
  portsOf,
  type System,
} from '../system/system.ts';
import { rollsOf } from './cuts.ts';
import type { Hole } from './holes.ts';
import { adapterAt } from './joints.ts';

/** Boxes of a van, in the order they are loaded. */
export const BOXES = {
  parts: 'Parts',
  tube: 'Tube and fittings',
  fixing: 'Fixings',
  tools: 'Tools',
  bits: 'Bits and cores',
  meters: 'Meters',
  consumables: 'Consumables',
  protection: 'For yourself and the house',
} as const;
export type VanBox = keyof typeof BOXES;

/** One thing to load into the van. */
export interface PickItem {
  readonly key: string;
  readonly box: VanBox;
  readonly name: string;
  readonly amount: string;
  readonly note: string;
  /** id of the catalogue's part; null for what is no part of it */
  readonly part: string | null;
  /** how many, or metres, as a figure */
  readonly count: number;
  /** what all of it costs the household, in the firm's money; null where the shelf does not say */
  readonly price: number | null;
}

/** The step that is ticked once it is in the van, and once it was looked at in the house. */
export const pickStep = (key: string): string => `pick:${key}`;
export const checkStep = (key: string): string => `check:${key}`;

const thing = (box: VanBox, key: string, name: string, amount: string, note = '', count = 1): PickItem => ({
  key, box, name, amount, note, part: null, count, price: null,
}); // oxfmt-ignore

/** Everything that goes into the van, with counts and lengths, so that nothing is fetched twice. */
export function pickList(system: System, rules: HouseRules, holes: readonly Hole[], thread = 'unknown'): PickItem[] {
  return [
    ...partItems(system),
    ...tubeItems(system),
    ...fittingItems(system, rules),
    ...adapterItems(system, thread),
    ...fixingItems(system),
    ...toolItems(system, holes),
    ...bitItems(holes),
    ...meterItems(system),
    ...consumableItems(rules),
    ...protectionItems(system, holes),
  ];
}

function partItems(system: System): PickItem[] {
  const counts = new Map<string, { readonly part: Part; n: number }>();
  const count = (part: Part | null | undefined): void => {
    if (!part) return;
    const there = counts.get(part.id);
    if (there) there.n++;
    else counts.set(part.id, { part, n: 1 });
  };
  for (const c of alongTheWater(system)) count(c.part);
  for (const c of system.components) count(c.housing);
  for (const c of system.components) if (kindRow(c.kind).chain === 'stands') count(c.part);
  const items = [...counts].map(([id, { part, n }]): PickItem => ({
    ...thing('parts', id, part.name, String(n), part.fitting ?? '', n),
    part: id,
    price: part.price === undefined ? null : n * part.price,
  }));
  if (partIn(system, 'pump'))
    items.push(
      thing('parts', 'pump-electrics', `${partIn(system, 'transformer') ? '' : 'Transformer, '}low-pressure switch, pressure switch`.replace(/^l/, 'L'), '1 set', partIn(system, 'transformer') ? '' : 'Transformer off the floor, on a protected socket.'),
    );
  if (ofWork(system, 'stores').some((c) => c.part?.kind === 'tank'))
    items.push(thing('parts', 'tank-valve', 'Tank valve', '1', 'by hand only: plastic splits'));
  if (system.components.some((c) => c.kind === 'fridge'))
    items.push(thing('parts', 'fridge-adapter', 'Adapter to the fridge’s own thread', '1', 'with its gasket; no tape'));
  return items;
} // oxfmt-ignore

/** Tube by its bore, a tenth to spare, and how it is cut. */
function tubeItems(system: System): PickItem[] {
  const ids = [...new Set(rollsOf(system).map((r) => r.part.id))];
  return ids.map((id): PickItem => {
    const rolls = rollsOf(system).filter((r) => r.part.id === id);
    const cuts = rolls.flatMap((r) => r.cuts);
    const metres = cuts.reduce((m, c) => m + c.tube.lengthM, 0);
    const take = Math.ceil(metres * 1.1 * 2) / 2;
    const part = rolls[0]?.part;
    return {
      ...thing('tube', id, part?.name ?? id, `${take.toFixed(1)} m`, `${cuts.length === 1 ? 'one cut' : `${String(cuts.length)} cuts`}, ${metres.toFixed(2)} m in all, a tenth to spare`, take),
      part: id,
      price: part?.price === undefined ? null : take * part.price,
    };
  });
} // oxfmt-ignore

/** A tube needs a fitting where it meets a tapered thread: an elbow at what hangs in a row, a straight stem elsewhere. */
function fittingItems(system: System, rules: HouseRules): PickItem[] {
  const items: PickItem[] = [];
  const stems = new Map<string, { n: number; elbow: boolean; size: string; tube: string }>();
  for (const link of system.links) {
    if (!link.tube) continue;
    for (const ref of [link.from, link.to]) {
      const c = componentOf(system, ref.component);
      const port = c && portsOf(c).find((p) => p.name === ref.port);
      if (port?.joint !== 'taper-thread') continue;
      const elbow = c?.housing !== undefined || kindRow(c?.kind ?? '').work === 'separates';
      // a tank brings its own valve, with the tube's fitting on it
      if (c?.part?.kind === 'tank') continue;
      const tube = link.tube.name.replace(/^Tube /, '');
      const key = [elbow ? 'elbow' : 'stem', port.size, tube].join(' ');
      const there = stems.get(key);
      stems.set(key, { n: (there?.n ?? 0) + 1, elbow, size: port.size, tube });
    }
  }
  for (const [key, { n, elbow, size, tube }] of stems)
    items.push(
      thing('tube', `fitting-${key.replaceAll(/[^a-z0-9]+/g, '-')}`, `${elbow ? 'Elbow' : 'Straight fitting'}, ${size} to ${tube} push-fit`, String(n), 'without metal after the membrane', n),
    );
  const of = (kind: string): number => jointsOf(system).filter((j) => j.kind === kind).length;
  const push = of('push-fit');
  items.push(
    thing('tube', 'clips', 'Locking clips for push-fit', String(push), `for ${String(push)} push-fit ${push === 1 ? 'joint' : 'joints'}`, push),
  );
  const compression = of('compression');
  if (compression > 0)
    items.push(
      thing('tube', 'inserts', 'Nuts, ferrules, tube inserts', `${String(compression)} ${compression === 1 ? 'set' : 'sets'}`, partIn(system, 'drain') ? 'the drain’s without insert' : '', compression),
    );
  items.push(
    thing('consumables', 'tape', 'PTFE tape', '1 roll', `${String(rules.tapeTurns)} turns on each of ${String(of('taper-thread'))} tapered threads`),
  );
  return items;
} // oxfmt-ignore

/** Tubes are fastened so often, m. */
const CLIP_EVERY_M = 0.4;

/** What goes between sizes that do not meet. */
function adapterItems(system: System, thread: string): PickItem[] {
  const found = new Map<string, { name: string; note: string; n: number }>();
  for (const joint of jointsOf(system)) {
    const a = adapterAt(system, joint, thread);
    if (a) found.set(a.key, { name: a.name, note: a.key === 'feed' ? a.how : '', n: (found.get(a.key)?.n ?? 0) + 1 });
  }
  return [...found].map(([key, a]) => thing('tube', `adapter-${key}`, a.name, a.name.startsWith('Adapters') ? '1 each' : String(a.n), a.note, a.n));
} // oxfmt-ignore

function fixingItems(system: System): PickItem[] {
  const metres = rollsOf(system).reduce((m, r) => m + r.lengthM - r.leftM, 0);
  const clips = Math.ceil(metres / CLIP_EVERY_M);
  const hung = system.components.filter((c) => c.kind === 'frame' || kindRow(c.kind).drums === true || kindRow(c.kind).drawnOut !== undefined).length;
  return [
    ...(hung > 0 ? [thing('fixing', 'screws', 'Screws with washers, plugs for a wall', String(2 * hung), 'shorter than the panel is thick', 2 * hung)] : []),
    thing('fixing', 'tube-clips', 'Tube clips', String(clips), `one every ${String(100 * CLIP_EVERY_M)} cm along the walls`, clips),
  ];
} // oxfmt-ignore

function toolItems(system: System, holes: readonly Hole[]): PickItem[] {
  const housings = system.components.filter((c) => c.housing).length;
  const drills = holes.some((h) => h.tool !== 'none');
  return [
    thing('tools', 'tube-cutter', 'Tube cutter', '1', 'a blade that cuts square; no side cutter'),
    thing('tools', 'spanners', 'Two adjustable spanners', '1 pair', 'one holds while the other turns'),
    ...(housings > 0 ? [thing('tools', 'housing-spanner', 'Spanner for the housings', '1')] : []),
    ...(drills ? [thing('tools', 'drill', 'Battery drill with a charged spare', '1', 'no mains tool near water')] : []),
    thing('tools', 'hand-tools', 'Screwdrivers, tape measure, spirit level, marker, deburrer', '1 each'),
    thing('tools', 'light', 'Lamp for under the sink', '1'),
    ...(drills ? [thing('tools', 'detector', 'Detector for pipes and wires', '1')] : []),
  ];
}

const BIT_FOR: Readonly<Record<Hole['key'], string>> = {
  tap: 'tap',
  'second-tap': 'second tap',
  drain: 'drain',
  frame: 'frame’s screws',
  way: 'tubes’ way',
};

/** Every bit and core the holes need. */
function bitItems(holes: readonly Hole[]): PickItem[] {
  const items = new Map<string, PickItem>();
  for (const h of holes) {
    if (h.tool === 'none') continue;
    const size = String(h.diameterMm);
    const name = `${h.bit.charAt(0).toUpperCase()}${h.bit.slice(1)}`;
    items.set(`bit-${h.key}`, thing('bits', `bit-${h.key}`, `${name}, ${size} mm`, '1', `for the ${BIT_FOR[h.key]}: ${h.speed}`));
    if (h.pilotMm !== null)
      items.set(`pilot-${String(h.pilotMm)}`, thing('bits', `pilot-${String(h.pilotMm).replace('.', '-')}`, `Pilot bit, ${String(h.pilotMm)} mm`, '1'));
  }
  if (holes.some((h) => h.wet))
    items.set('putty', thing('bits', 'putty', 'Putty and a wash bottle', '1', 'a ring of putty holds the water round the core'));
  return [...items.values()];
} // oxfmt-ignore

function meterItems(system: System): PickItem[] {
  const membrane = ofWork(system, 'separates').length > 0;
  const tank = partIn(system, 'tank');
  return [
    ...(membrane ? [thing('meters', 'tds-meter', 'TDS meter', '1', 'the same for feed and product')] : []),
    thing('meters', 'pressure-gauge', 'Pressure gauge for the gauge point', '1'),
    thing('meters', 'thermometer', 'Thermometer', '1'),
    thing('meters', 'jug', 'Jug with marks, and a watch', '1'),
    ...(ofKind(system, 'carbon').length > 0 ? [thing('meters', 'strips', 'Strips for total chlorine', '1 tube', 'between carbon and membrane: below 0.1 mg/L')] : []),
    ...(tank ? [thing('meters', 'air-pump', 'Air pump with a gauge for low pressure', '1', `the tank’s air: ${String(tank.airChargeBar)} bar, empty and before it is joined`)] : []),
  ];
} // oxfmt-ignore

function consumableItems(rules: HouseRules): PickItem[] {
  return [
    thing('consumables', 'grease', 'Silicone grease for O-rings', '1', 'food grade; housings and membrane'),
    thing('consumables', 'labels', 'Labels, waterproof', '1 sheet', 'cold, drain, date of each cartridge'),
    ...(rules.sanitise
      ? [thing('consumables', 'bleach', 'Unscented bleach, test strips', '1 each', `${String(rules.bleachStrengthPercent)} %; never with the membrane in, never with acid`)]
      : []),
  ];
} // oxfmt-ignore

function protectionItems(system: System, holes: readonly Hole[]): PickItem[] {
  const powered = system.components.some((c) => kindRow(c.kind).powered === true);
  return [
    thing('protection', 'goggles', 'Goggles and gloves', '1 each'),
    ...(holes.some((h) => h.dusty) ? [thing('protection', 'mask', 'Mask against fine dust', '1', 'fine dust harms the lungs: stone, composite, masonry')] : []),
    thing('protection', 'towel', 'Bucket, towels, paper towels', '1 each'),
    ...(powered ? [thing('protection', 'rcd', 'Tester for the socket’s residual-current protection', '1')] : []),
  ];
} // oxfmt-ignore

/** What of the shelf a system takes, by part: pieces, and metres of tube. */
export function partsNeeded(picks: readonly PickItem[]): Record<string, number> {
  const out: Record<string, number> = {};
  for (const p of picks) if (p.part !== null) out[p.part] = (out[p.part] ?? 0) + p.count;
  return out;
}

/** What of it was not taken out of the firm's stock yet. @param taken parts and counts as they were taken */
export function stillNeeded(
  needs: Readonly<Record<string, number>>,
  taken: readonly { readonly part: string; readonly count: number }[],
): Record<string, number> {
  const left: Record<string, number> = { ...needs };
  for (const { part, count } of taken) left[part] = (left[part] ?? 0) - count;
  return Object.fromEntries(Object.entries(left).filter(([, n]) => n > 0));
}
