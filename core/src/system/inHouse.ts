import { FRIDGE_TUBE_M, supplyOf, type Site } from '../gauge/site.ts';
import type { Outlet } from '../hydraulics/outlet.ts';
import type { AirTank, VentedTank } from '../hydraulics/tank.ts';
import type { Stretch, Train } from '../hydraulics/train.ts';
import { both, NO_WAY, type Way } from '../hydraulics/way.ts';
import { partOf, type Catalogue, type PartOf } from '../parts/catalogue.ts';
import { buildSystem, tapRun } from './build.ts';
import { pathsOf, stretchesOf, wayOf, type LossFactor, type Paths } from './compile.ts';
import { choiceOf, type Design } from './design.ts';
import { atLoad, HALF_WAY } from './load.ts';
import { inSeries, permeabilityOf, usualHoldUp, type HoldUp } from './membranes.ts';
import { factorIn } from './faulty.ts';
import { shutOffIn, trainIn } from './solve.ts';
import type { HouseNow, SystemState } from './state.ts';
import { ofWork, partIn, type System } from './system.ts';

const { max, min } = Math;

/** A design in a house, ready for the physics. */
export interface InHouse {
  readonly train: Train;
  /** null where water is made while it is drawn, or stands open to the air */
  readonly tank: AirTank | null;
  readonly vented?: VentedTank | undefined;
  /** beside the membrane while nothing runs, all elements together, L */
  readonly holdUp: HoldUp;
  readonly outlet: Outlet;
  /** of the air round the tank, absolute bar */
  readonly airBar: number;
}

/** When the plant is looked at. */
export type Season = 'worst' | 'today';

/** What of a design's plumbing hangs on neither element, restrictor, tank nor the house: made once for each. */
interface Plumbed {
  readonly feed: readonly Stretch[];
  /** from the membrane into the tank, the non-return valve's own loss left out; none without a tank */
  readonly permeate: Way;
  /** from the storage, or from the membrane where there is none, to the tube that leads to the tap */
  readonly toTap: Way;
  /** the tap with the tube that leads to it, at the measures it was built with */
  readonly tap: Way;
  /** from its branch tee to each thing that hangs on one, by its kind */
  readonly branches: Readonly<Record<string, Way>>;
}
const plumbed = new WeakMap<Catalogue, Map<string, Plumbed>>();
/** The places of a design that its plumbing hangs on: all but element, restrictor and tank. */
const PLUMBED = [
  'pumpId', 'permeatePumpId', 'limiterId', 'mineralId', 'lampId', 'ironId', 'deliveryPumpId', 'dispenserId', 'sedimentId', 'polishId',
  'shutOffId', 'nonReturnId', 'feedId', 'backflowId', 'drainId', 'tapId', 'tubeId',
] as const satisfies readonly (keyof Design)[]; // oxfmt-ignore
const NOMINAL = { tapLengthM: 1, tapRiseM: 0 };

/** What was asked of a design, by how loaded its filters are; of another catalogue it is asked anew. */
const asked = new WeakMap<Design, { readonly catalogue: Catalogue; readonly byLoad: Map<number, Plumbed> }>();

/** The plumbing of a design; what was asked of it is at hand. */
function plumbingOf(design: Design, catalogue: Catalogue, load: number): Plumbed {
  const before = asked.get(design);
  const known = before?.catalogue === catalogue ? before : { catalogue, byLoad: new Map<number, Plumbed>() };
  if (known !== before) asked.set(design, known);
  const found = known.byLoad.get(load);
  if (found) return found;
  const made = plumbingLike(design, catalogue, load);
  known.byLoad.set(load, made);
  return made;
}

/** The plumbing of a design: its system is built and walked once for all designs that share it. */
function plumbingLike(design: Design, catalogue: Catalogue, load: number): Plumbed {
  const known = plumbed.get(catalogue) ?? new Map<string, Plumbed>();
  plumbed.set(catalogue, known);
  const { elementCount, carbonIds, fridge, leakValve } = design;
  const key = [
    load, elementCount, fridge, leakValve, design.tankId !== null, carbonIds, ...PLUMBED.map((p) => design[p]),
  ].join(' '); // oxfmt-ignore
  const found = known.get(key);
  if (found) return found;
  const paths = pathsOf(buildSystem(choiceOf(design, catalogue), catalogue, NOMINAL));
  const share =
    design.permeatePumpId === null ? 1 : partOf(catalogue, 'permeate-pump', design.permeatePumpId).backShare;
  const made = plumbingAlong(paths, atLoad(load), design.tankId !== null, share);
  known.set(key, made);
  return made;
}

/** A tube beyond a permeate pump, as the membrane feels it. @param share of the pressure there that reaches it */
const felt = (w: Way, share: number): Way => ({
  ...w,
  tubes: w.tubes.map((t) => ({ ...t, lengthM: share * t.lengthM })),
});

/** Ways along a system's paths. Without a tank what the membrane makes runs the whole way to the tap by itself. */
function plumbingAlong(paths: Paths, factor: LossFactor, stored: boolean, share: number): Plumbed {
  const [tap = [], ...sides] = paths.outlets;
  const permeate = { ...wayOf(paths.permeate, factor), bar: 0 };
  return {
    feed: stretchesOf(paths.feed, factor),
    permeate: stored ? both(permeate, felt(wayOf(paths.storage, factor), share)) : NO_WAY,
    toTap: both(stored ? wayOf(paths.storage, factor) : permeate, wayOf(paths.trunk, factor)),
    tap: wayOf(tap, factor),
    branches: Object.fromEntries(sides.map((side) => [side.at(-1)?.component.kind ?? '', wayOf(side, factor)])),
  };
}

/** How a system stops: by the switch of its pump, or by its valve. */
function shutOffOf(pump: PartOf<'pump'> | null, shut: PartOf<'shut-off'>): Train['shutOff'] {
  return pump
    ? { kind: 'pressure-switch', closeBar: pump.closeBar, reopenBar: pump.reopenBar }
    : {
        kind: 'four-port',
        closeRatio: shut.closeRatio,
        reopenRatio: shut.reopenRatio,
        closeOffsetBar: shut.closeOffsetBar,
      };
}

/** The feed side of a design at a house, at the worst hour or on an ordinary moment today. */
export function trainOf(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  season: Season,
  load: number = HALF_WAY,
): Train {
  const pump = design.pumpId === null ? null : partOf(catalogue, 'pump', design.pumpId);
  const plumbing = plumbingOf(design, catalogue, load);
  const { rating } = partOf(catalogue, 'element', design.elementId);
  return {
    supply: supplyOf(site, season),
    feed: plumbing.feed,
    permeability: inSeries(permeabilityOf(rating), design.elementCount),
    restrictor: partOf(catalogue, 'restrictor', design.restrictorId).flow,
    shutOff: shutOffOf(pump, partOf(catalogue, 'shut-off', design.shutOffId)),
    permeatePump: design.permeatePumpId === null ? null : partOf(catalogue, 'permeate-pump', design.permeatePumpId),
    nonReturnBar: partOf(catalogue, 'non-return', design.nonReturnId).barLoss,
    permeate: plumbing.permeate,
  };
}

/** The product side from tank to tap. */
export function outletOf(design: Design, catalogue: Catalogue, site: Pick<Site, 'tapLengthM' | 'tapRiseM'>): Outlet {
  const { toTap, tap } = plumbingOf(design, catalogue, HALF_WAY);
  const here = tapRun(site);
  const nominal = tapRun(NOMINAL);
  // the tap's own tube is as long here as the house asks
  const tubes = tap.tubes.map((t) => ({
    ...t,
    lengthM: t.lengthM + here.lengthM - nominal.lengthM,
    riseM: t.riseM + here.riseM - nominal.riseM,
  }));
  return both(toTap, { ...tap, tubes });
}

/** From the tank through the trunk and its branch to a fridge or a dispenser, a delivery pump's lift taken off. */
export function branchWayOf(
  design: Design,
  catalogue: Catalogue,
  outlet: 'fridge' | 'dispenser',
  site: Pick<Site, 'fridgeLengthM' | 'fridgeRiseM'>,
): Way {
  const { toTap, branches } = plumbingOf(design, catalogue, HALF_WAY);
  const branch = branches[outlet] ?? NO_WAY;
  if (outlet !== 'fridge') return both(toTap, branch);
  // the fridge's own tube is as long, and rises as far, as the house asks
  const tubes = branch.tubes.map((t, i) =>
    i === 0
      ? { ...t, lengthM: max(0.1, t.lengthM + site.fridgeLengthM - FRIDGE_TUBE_M), riseM: t.riseM + site.fridgeRiseM }
      : t,
  );
  return both(toTap, { ...branch, tubes });
}

/** Everything the physics needs of a design in a house. */
export function designInHouse(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  season: Season,
  load: number = HALF_WAY,
): InHouse {
  const tank = design.tankId === null ? null : partOf(catalogue, 'tank', design.tankId);
  const element = partOf(catalogue, 'element', design.elementId);
  const holdUp = element.holdUp ?? usualHoldUp(element.rating);
  return {
    train: trainOf(design, catalogue, site, season, load),
    tank: tank && { volumeL: tank.volumeL, airChargeBar: tank.airChargeBar },
    holdUp: { productL: design.elementCount * holdUp.productL, feedL: design.elementCount * holdUp.feedL },
    outlet: outletOf(design, catalogue, site),
    airBar: site.airBar,
  };
}

/** Everything the physics needs of a system as it stands; null where it has no membrane. */
export function systemInHouse(system: System, site: Site, season: Season, load: number = HALF_WAY): InHouse | null {
  const membranes = ofWork(system, 'separates');
  const element = partIn(system, 'element');
  const restrictor = partIn(system, 'restrictor');
  if (!element || !restrictor) return null;
  const tank = partIn(system, 'tank');
  const vented = partIn(system, 'vented-tank');
  const holdUp = element.holdUp ?? usualHoldUp(element.rating);
  const share = partIn(system, 'permeate-pump')?.backShare ?? 1;
  const plumbing = plumbingAlong(pathsOf(system), atLoad(load), ofWork(system, 'stores').length > 0, share);
  return {
    train: {
      supply: supplyOf(site, season),
      feed: plumbing.feed,
      permeability: inSeries(permeabilityOf(element.rating), membranes.length),
      restrictor: restrictor.flow,
      shutOff: shutOffIn(system),
      permeatePump: partIn(system, 'permeate-pump') ?? null,
      nonReturnBar: partIn(system, 'non-return')?.barLoss ?? 0,
      permeate: plumbing.permeate,
    },
    tank: tank ? { volumeL: tank.volumeL, airChargeBar: tank.airChargeBar } : null,
    vented: vented && { volumeL: vented.volumeL, floatDropL: vented.floatDropL },
    holdUp: { productL: membranes.length * holdUp.productL, feedL: membranes.length * holdUp.feedL },
    outlet: both(plumbing.toTap, plumbing.tap),
    airBar: site.airBar,
  };
}

/** The feed side of a system in a state, loads and faults with it, for the fast tables; null without a membrane. */
export function trainOfSystem(system: System, house: HouseNow, state: SystemState): Train | null {
  const factor = factorIn(state);
  const stored = ofWork(system, 'stores').length > 0;
  const share = partIn(system, 'permeate-pump')?.backShare ?? 1;
  const plumbing = plumbingAlong(pathsOf(system), factor, stored, share);
  const train = trainIn(system, house, state, plumbing.feed);
  return train && { ...train, nonReturnBar: partIn(system, 'non-return')?.barLoss ?? 0, permeate: plumbing.permeate };
}

/** From the storage to the open tap, in a state, loads and faults with it. */
export function outletOfSystem(system: System, state: SystemState): Way {
  const stored = ofWork(system, 'stores').length > 0;
  const { toTap, tap } = plumbingAlong(pathsOf(system), factorIn(state), stored, 1);
  return both(toTap, tap);
}

/** The temperature a season is judged at, deg C. */
export function seasonTemperatureC(site: Site, season: Season): number {
  return season === 'worst' ? min(site.coldestC, site.todayC) : site.todayC;
}
