import { feedWaterAt, highestIsKnown, type Site } from '../../gauge/site.ts';
import { tapFlowLMin } from '../../hydraulics/outlet.ts';
import { restrictorFlowLDay } from '../../hydraulics/restrictor.ts';
import { feedPressures, solveTrain, type Train, type Working } from '../../hydraulics/train.ts';
import type { ElementOutput } from '../../membrane/element.ts';
import { temperatureFactor } from '../../membrane/temperature.ts';
import type { Design } from '../../system/design.ts';
import { outletOf, seasonTemperatureC, trainOf } from '../../system/inHouse.ts';
import { partOf, partsOf, type Catalogue, type PartOf } from '../../parts/catalogue.ts';
import { COARSE_MAP } from '../../run/fill.ts';
import type { HouseRules } from '../../rules/rules.ts';
import { settle, type Settled, type SizeInput, type Use } from './candidates.ts';
import { certainPoints } from '../judge/evaluate.ts';
import { careOf, weightsOf } from '../judge/weights.ts';
import { branchOutlets, earlyFailures, highestRecovery, RECOVERY_RANGE, type FailureCode } from '../judge/failures.ts';
import { needsOf } from '../judge/needs.ts';
import { leastYear, yearCost } from '../judge/year.ts';

const { max, min } = Math;

const byId = <T extends { id: string }>(parts: readonly T[]): T[] =>
  [...parts].sort((a, b) => a.id.localeCompare(b.id));

/** Designs that share everything but the tank, and so their operating maps; or one design without a tank. */
export interface Family {
  /** as many as there are tanks that fit, without their restrictor */
  readonly cores: readonly Design[];
  readonly restrictorId: string;
  readonly direct: boolean;
  /** against no product pressure, in the worst season */
  readonly open: ElementOutput;
  /** the same in the warmest water on an ordinary moment */
  readonly warm: ElementOutput;
}

/** The designs of a family. */
export function designsOf({ cores, restrictorId }: Pick<Family, 'cores' | 'restrictorId'>): Design[] {
  return cores.map((d) => ({ ...d, restrictorId }));
}

type Drive = Pick<Design, 'pumpId' | 'permeatePumpId' | 'deliveryPumpId'>;

/**
 * Pump or not: a booster, or a permeate pump on a system without one, or neither. Each brings a delivery pump, where there is
 * a socket for it, if the emptiest tank from which its shut-off has not yet reopened would not open a fridge's valve: the
 * fridge would run short and nothing start the refill.
 */
function drives({ catalogue }: SizeInput, site: Site, dispenserId: string | null): Drive[] {
  const [first] = branchOutlets({ fridge: site.fridge, dispenserId }, catalogue, site);
  const lift = first && site.socket !== 'no' ? byId(partsOf(catalogue, 'delivery-pump'))[0] : undefined;
  const share = Math.max(0, ...partsOf(catalogue, 'shut-off').map((p) => p.reopenRatio));
  const delivery = (reopenBar: number): string | null =>
    lift && first && reopenBar - FRIDGE_WAY_BAR < first.minBar ? lift.id : null;
  return [
    { pumpId: null, permeatePumpId: null, deliveryPumpId: delivery(share * site.worstBar) },
    ...byId(partsOf(catalogue, 'pump')).map((p) => ({
      pumpId: p.id,
      permeatePumpId: null,
      deliveryPumpId: delivery(p.reopenBar),
    })),
    ...byId(partsOf(catalogue, 'permeate-pump')).map((p) => ({
      pumpId: null,
      permeatePumpId: p.id,
      deliveryPumpId: delivery(p.reopenRatio * site.worstBar),
    })),
  ];
}

/** Lost on the way to a fridge, taken on the safe side before it is worked out, bar. */
const FRIDGE_WAY_BAR = 0.4;

/** More than an element can make here even without salt and back-pressure: asked before anything is solved. */
function mostLDay(train: Train, temperatureC: number): number {
  const p = train.permeability;
  return (
    p.waterLDayBar *
    (p.inSeries ?? 1) *
    temperatureFactor(temperatureC) *
    feedPressures(train, 0, temperatureC).inletBar
  );
}

/** One to three elements of a kind with a drive: what the restrictors and tanks are tried on. */
export interface Core {
  readonly fitting: readonly Design[];
  /** the same without a tank; null where that is ruled out before anything is solved */
  readonly direct: Design | null;
}

/** What every design of a house has alike, by how it is used. */
function alikeOf({ catalogue, rules, known }: SizeInput, site: Site): Readonly<Record<Use, Settled['design']>> {
  const tank = settle(catalogue, site, rules, highestIsKnown(known)).design;
  const open = settle(catalogue, site, rules, highestIsKnown(known), 'open-tap').design;
  // what feeds an open tap runs fast: the widest tube there is
  const wide = byId(partsOf(catalogue, 'tube')).reduce((a, b) => (b.boreMm > a.boreMm ? b : a));
  return { tank, 'open-tap': { ...tank, sedimentId: open.sedimentId, carbonIds: open.carbonIds, tubeId: wide.id } };
}

/**
 * A design as it would be put in at a house that differs: element, restrictor, tank and pump as they are, what needs no search
 * settled anew. Null where its pump cannot be had.
 */
export function settledAnew(design: Design, input: SizeInput, site: Site): Design | null {
  const alike = alikeOf(input, site)[design.tankId === null ? 'open-tap' : 'tank'];
  const drive = drives(input, site, alike.dispenserId).find(
    (d) => d.pumpId === design.pumpId && d.permeatePumpId === design.permeatePumpId,
  );
  const { elementId, elementCount, restrictorId, tankId } = design;
  return drive ? { ...untried(alike, drive, elementId, elementCount), restrictorId, tankId } : null;
}

/**
 * A design before its restrictor and its tank are tried. Place by place: hundreds are made in a search, and to copy objects of
 * so many places into one another took a twentieth of it.
 */
function untried(alike: Settled['design'], drive: Drive, elementId: string, elementCount: number): Design {
  return {
    limiterId: alike.limiterId,
    mineralId: alike.mineralId,
    lampId: alike.lampId,
    ironId: alike.ironId,
    dispenserId: alike.dispenserId,
    sedimentId: alike.sedimentId,
    carbonIds: alike.carbonIds,
    polishId: alike.polishId,
    shutOffId: alike.shutOffId,
    nonReturnId: alike.nonReturnId,
    feedId: alike.feedId,
    drainId: alike.drainId,
    backflowId: alike.backflowId,
    tapId: alike.tapId,
    tubeId: alike.tubeId,
    fridge: alike.fridge,
    leakValve: alike.leakValve,
    pumpId: drive.pumpId,
    permeatePumpId: drive.permeatePumpId,
    deliveryPumpId: drive.deliveryPumpId,
    elementId,
    elementCount,
    restrictorId: '',
    tankId: null,
  };
}

/** What may be put in at a house before restrictors are tried. */
function coresOf(input: SizeInput, site: Site, passes: (d: Design) => boolean): Core[] {
  const { catalogue } = input;
  const alike = alikeOf(input, site);
  const tanks = byId(partsOf(catalogue, 'tank'));
  return drives(input, site, alike.tank.dispenserId).flatMap((drive) => {
    const pump = drive.pumpId === null ? null : partOf(catalogue, 'pump', drive.pumpId);
    return [1, 2, 3].flatMap((elementCount) =>
      byId(partsOf(catalogue, 'element')).map((element): Core => {
        const madeForBoth = (use: Use): boolean => (element.madeFor ?? use) === use && (pump?.madeFor ?? use) === use;
        // a permeate pump keeps a tank's push off, and without a tank there is none; what is made for an open tap rinses itself
        // after each draw, and without power it cannot
        const runsOpen = drive.permeatePumpId === null && (drive.pumpId !== null || element.madeFor !== 'open-tap');
        // none of the early reasons knows the restrictor
        const base = untried(alike.tank, drive, element.id, elementCount);
        const tankless = untried(alike['open-tap'], drive, element.id, elementCount);
        return {
          fitting: madeForBoth('tank') ? tanks.map((t) => ({ ...base, tankId: t.id })).filter(passes) : [],
          direct: runsOpen && madeForBoth('open-tap') && passes(tankless) ? tankless : null,
        };
      }),
    );
  });
}

/** A restrictor with what it lets out where scale is nearest, for the order they are tried in. */
function byWarmFlow(restrictors: readonly PartOf<'restrictor'>[], site: Site): PartOf<'restrictor'>[] {
  const flow = new Map(restrictors.map((r) => [r.id, restrictorFlowLDay(r.flow, 4, site.warmestC)]));
  return byId(restrictors).sort((a, b) => (flow.get(b.id) ?? 0) - (flow.get(a.id) ?? 0));
}

/** What one core comes to with each restrictor, against no product pressure; null where it does not do. */
type Opened = ReadonlyMap<string, { readonly open: ElementOutput; readonly warm: ElementOutput } | null>;

/**
 * Tries the restrictors from the widest to the tightest: the tighter, the more of the feed is kept, so that after the
 * first that keeps too much the rest need no solve.
 */
function openAll(core: Design, input: SizeInput, site: Site, restrictors: readonly PartOf<'restrictor'>[]): Opened {
  const { catalogue, rules } = input;
  const first = { ...core, restrictorId: restrictors[0]?.id ?? '' };
  const worst = trainOf(first, catalogue, site, 'worst');
  const today = trainOf(first, catalogue, site, 'today');
  const cold = feedWaterAt(site, seasonTemperatureC(site, 'worst'));
  const hot = feedWaterAt(site, site.warmestC);
  const highest = highestRecovery(site, partOf(catalogue, 'element', core.elementId));
  const out = new Map<string, { open: ElementOutput; warm: ElementOutput } | null>();
  let warmNear: Working | undefined;
  let openNear: Working | undefined;
  let tooMuch = false;
  for (const { id, flow } of restrictors) {
    out.set(id, null);
    if (tooMuch) continue;
    warmNear = solveTrain({ ...today, restrictor: flow }, hot, 0, warmNear, COARSE_MAP.slices);
    const warm = warmNear.out;
    // a pump that cuts out has no figures worth comparing; a tighter restrictor takes less
    if (warmNear.starved) continue;
    if (warm.recovery > highest) {
      // an orifice and a capillary may change places at another pressure: leave that much room before giving up
      tooMuch = warm.recovery > 1.15 * highest;
      continue;
    }
    // colder water under less pressure is kept less of still
    if (warm.recovery < RECOVERY_RANGE.min) continue;
    openNear = solveTrain({ ...worst, restrictor: flow }, cold, 0, openNear, COARSE_MAP.slices);
    const open = openNear.out;
    if (openNear.starved || open.recovery < RECOVERY_RANGE.min || open.permeateTdsMgL > rules.productTdsMaxMgL)
      continue;
    out.set(id, { open, warm });
  }
  return out;
}

/** The catalogue at a house, opened core by core as a search asks for it. */
export interface Families {
  readonly cores: readonly Core[];
  /** first text of each reason that needed no physics */
  readonly early: ReadonlyMap<FailureCode, string>;
  /** combinations of parts there are */
  readonly looked: number;
  /** the least points a core can have before anything is solved */
  readonly leastOf: (core: Core) => number;
  readonly open: (core: Core) => OpenedCore;
}

/** A core's families, sorted out by what one or two solves each say of them. */
export interface OpenedCore {
  /** nothing speaks against them yet */
  readonly hopeful: readonly Family[];
  /** designs with a tank that fall short, keep too much or too little of the feed, or pass too much salt */
  readonly aside: readonly Pick<Family, 'cores' | 'restrictorId'>[];
  /** the tankless design that comes nearest among those set aside, with what it gives */
  readonly nearestDirect: { readonly design: Design; readonly openLDay: number } | null;
}

/** Lays the catalogue out for a house; nothing is solved yet. */
export function familiesOf(input: SizeInput, site: Site): Families {
  const { catalogue, rules } = input;
  const early = new Map<FailureCode, string>();
  const passes = (design: Design): boolean => {
    const reasons = earlyFailures(design, catalogue, site, rules);
    for (const r of reasons) if (!early.has(r.code)) early.set(r.code, r.text);
    return reasons.length === 0;
  };
  const worstC = seasonTemperatureC(site, 'worst');
  const needs = needsOf(site, rules);
  const needTank = needs.litresADay.least;
  const needDirect = 1440 * needs.tapLMin.least;
  const restrictors = byWarmFlow(partsOf(catalogue, 'restrictor'), site);
  const middle = restrictors[Math.floor(restrictors.length / 2)];
  const cores = coresOf(input, site, passes);
  // open flow hardly knows a permeate pump: what is said of a core without one holds for it too
  const opened = new Map<string, Opened>();
  const openedOf = (core: Design): Opened => {
    const kind = core.tankId === null ? 'direct' : 'tank';
    const key = `${kind} ${core.elementId} ${core.pumpId ?? ''} ${String(core.elementCount)}`;
    const known = opened.get(key) ?? openAll(core, input, site, restrictors);
    opened.set(key, known);
    return known;
  };
  const most = (core: Design): number =>
    mostLDay(trainOf({ ...core, restrictorId: middle?.id ?? '' }, catalogue, site, 'worst'), worstC);
  const openTanks = (fitting: readonly Design[], hopeful: Family[], aside: OpenedCore['aside'][number][]): void => {
    const first = fitting[0];
    if (!first) return;
    const found = most(first) < needTank ? null : openedOf(first);
    for (const { id } of restrictors) {
      const family = { cores: fitting, restrictorId: id };
      const at = found?.get(id) ?? null;
      if (at && at.open.permeateLDay >= needTank) hopeful.push({ ...family, direct: false, ...at });
      else aside.push(family);
    }
  };
  const openDirect = (direct: Design, hopeful: Family[]): OpenedCore['nearestDirect'] => {
    // half of what is wanted at the most: not worth a word
    if (most(direct) < 0.5 * needDirect) return null;
    let nearest: OpenedCore['nearestDirect'] = null;
    const found = openedOf(direct);
    for (const { id } of restrictors) {
      const at = found.get(id) ?? null;
      const openLDay = at?.open.permeateLDay ?? 0;
      if (at && openLDay >= needDirect) hopeful.push({ cores: [direct], restrictorId: id, direct: true, ...at });
      // a single element that keeps a bearable share of its feed is the one to tell of
      else if (direct.elementCount === 1 && openLDay >= (nearest?.openLDay ?? 0))
        nearest = { design: { ...direct, restrictorId: id }, openLDay };
    }
    return nearest;
  };
  return {
    cores,
    early,
    looked: cores.length * restrictors.length * (partsOf(catalogue, 'tank').length + 1),
    leastOf: (core) => leastOfCore(core, catalogue, site, rules),
    open: ({ fitting, direct }) => {
      const hopeful: Family[] = [];
      const aside: OpenedCore['aside'][number][] = [];
      openTanks(fitting, hopeful, aside);
      return { hopeful, aside, nearestDirect: direct ? openDirect(direct, hopeful) : null };
    },
  };
}

/** The least tank volume among designs, L; 0 where one has none. */
function leastTankL(designs: readonly Design[], catalogue: Catalogue): number {
  return min(...designs.map((d) => (d.tankId === null ? 0 : partOf(catalogue, 'tank', d.tankId).volumeL)));
}

/** Least points of a core: certain ones, the least waste its recovery limit allows, the dearest spare, no salt. */
function leastOfCore({ fitting, direct }: Core, catalogue: Catalogue, site: Site, rules: HouseRules): number {
  const designs = direct ? [...fitting, direct] : fitting;
  const design = designs[0];
  if (!design) return Infinity;
  const waste = 1 / max(1e-6, highestRecovery(site, partOf(catalogue, 'element', design.elementId))) - 1;
  const times = careOf(site);
  const w = weightsOf(rules);
  const certain = certainPoints(design, catalogue, site, rules, leastTankL(designs, catalogue), null);
  return (
    certain.devices +
    certain.room +
    times('waste') * w.perWasteLitre * min(50, waste) +
    times('cost') * w.perYearCost * yearCost(design, catalogue, site, rules, waste, 0) -
    3 * w.spare
  );
}

const fastest = new WeakMap<Site, Map<string, number>>();

/** Flow at the tap from a tank that stands as high as supply or pump switch ever push it, L/min; kept while a house is searched. */
function fastestTapLMin(design: Design, catalogue: Catalogue, site: Site): number {
  const known = fastest.get(site) ?? new Map<string, number>();
  fastest.set(site, known);
  const key = `${design.tubeId} ${design.polishId} ${design.mineralId ?? ''} ${design.lampId ?? ''} ${design.pumpId ?? ''}`;
  const found = known.get(key);
  if (found !== undefined) return found;
  const bar = design.pumpId === null ? site.worstBar : partOf(catalogue, 'pump', design.pumpId).closeBar;
  const flow = max(0.05, tapFlowLMin(outletOf(design, catalogue, site), bar, seasonTemperatureC(site, 'worst')));
  known.set(key, flow);
  return flow;
}

/**
 * The least points any design of a family can have: what it has for certain (pump, elements, tank), the least its year can
 * come to, the shortest refill, the most spare its open flow allows, the fastest tap its pressures allow. A search may stop
 * where this is more than the best design found has.
 */
export function leastScore(family: Family, catalogue: Catalogue, site: Site, rules: HouseRules): number {
  const { open, warm, direct } = family;
  const design = family.cores[0];
  if (!design) return Infinity;
  const year = leastYear(family, design, catalogue, site, rules);
  const times = careOf(site);
  const tankL = leastTankL(family.cores, catalogue);
  // what works holds the largest draw at least, and never fills faster than against nothing
  const refillHours = direct ? 0 : (24 * site.largestDrawL) / open.permeateLDay;
  const tapMinutes = direct
    ? (1440 * site.largestDrawL) / open.permeateLDay
    : site.largestDrawL / fastestTapLMin(design, catalogue, site);
  const w = weightsOf(rules);
  const certain = certainPoints(design, catalogue, site, rules, tankL, warm);
  return (
    certain.devices +
    certain.room +
    certain.scale +
    times('waste') * w.perWasteLitre * min(50, year.wasteRatio) +
    times('wait') * (w.perRefillHour * refillHours + w.perTapMinute * tapMinutes) +
    times('purity') * w.perProductMgL * year.tdsMgL +
    times('cost') * w.perYearCost * year.cost -
    w.spare * min(3, (1.02 * open.permeateLDay) / site.litresADay)
  );
}
