import type { Site } from '../../gauge/site.ts';
import { tapFlowLMin } from '../../hydraulics/outlet.ts';
import { feedPressures } from '../../hydraulics/train.ts';
import { wayDropBar } from '../../hydraulics/way.ts';
import { agentOf, carbonOf } from '../../system/carbon.ts';
import { elementInWords, type Design } from '../../system/design.ts';
import { branchWayOf, outletOf, trainOf } from '../../system/inHouse.ts';
import { type Operating } from '../../run/operate.ts';
import type { ElementOutput } from '../../membrane/element.ts';
import { formatApart, formatNumber, formatReading } from '../../quantity/format.ts';
import { findPart, partOf, type Catalogue, type Part, type PartOf } from '../../parts/catalogue.ts';
import type { HouseRules } from '../../rules/rules.ts';
import { carbonWork } from '../../treatment/carbon.ts';
import { lampWork, UV_DOSE } from '../../treatment/lamp.ts';
import { PRODUCT_TRANSMITTANCE, weakestPart } from '../kinds/candidates.ts';
import { needsOf } from './needs.ts';
import { roomProblemOf } from './room.ts';
import type { YearFigures } from './year.ts';

const { max, min } = Math;

/** Momentary recovery: below `min` it is only waste; above `max` no domestic element is meant to work, soft as the water may be. */
export const RECOVERY_RANGE = { min: 0.08, max: 0.45 } as const;

/** Most of the feed an element may keep at this house, 0 to 1: its own limit, or what scales first. */
export function highestRecovery(site: Pick<Site, 'safe'>, element?: Pick<PartOf<'element'>, 'maxRecovery'>): number {
  return min(element?.maxRecovery ?? RECOVERY_RANGE.max, site.safe.recovery);
}

export type FailureCode =
  | 'feed-too-salty'
  | 'no-socket'
  | 'no-room'
  | 'pressure-too-high'
  | 'pump-starves'
  | 'permeate-pump-stalls'
  | 'feed-too-warm'
  | 'recovery-too-high'
  | 'recovery-too-low'
  | 'never-shuts'
  | 'too-little'
  | 'store-too-small'
  | 'tap-too-slow'
  | 'product-too-salty'
  | 'carbon-too-brief'
  | 'below-unpumped-minimum'
  | 'fridge-too-weak'
  | 'fridge-wants-store'
  | 'lamp-without-power'
  | 'dispenser-without-power'
  | 'lamp-too-weak'
  | 'tank-not-wanted'
  | 'tank-wanted';

/** Failures nobody may take against advice: something would burst, burn, or let microbes by, or it cannot run at all. */
const DANGERS: ReadonlySet<FailureCode> = new Set([
  'pressure-too-high',
  'feed-too-warm',
  'no-socket',
  'lamp-without-power',
  'lamp-too-weak',
  'dispenser-without-power',
]);

/** Whether a design that does not do may be put in against the advice: none of what speaks against it is a danger. */
export const mayBeTaken = (failures: readonly Failure[]): boolean => failures.every((f) => !DANGERS.has(f.code));

/** Why a design does not do here, with its figures in words. */
export interface Failure {
  readonly code: FailureCode;
  readonly text: string;
}

/** Reasons that need no physics, so that they are asked first. */
export function earlyFailures(design: Design, catalogue: Catalogue, site: Site, rules: HouseRules): Failure[] {
  const out: Failure[] = [];
  const element = partOf(catalogue, 'element', design.elementId);
  if (site.tdsMgL > element.maxTdsMgL) {
    const [has, most] = formatApart(site.tdsMgL, element.maxTdsMgL);
    out.push({
      code: 'feed-too-salty',
      text: `${element.name} is made for up to ${most} mg/L; this water has ${has}.`,
    });
  }
  const tender = tenderest(design, catalogue, site.warmestC);
  if (tender && site.warmestC > tender.maxTemperatureC) {
    const [comes, bears] = formatApart(site.warmestC, tender.maxTemperatureC);
    out.push({
      code: 'feed-too-warm',
      text: `${tender.name} bears water up to ${bears} °C; here it comes with ${comes} °C in summer.`,
    });
  }
  if (design.pumpId !== null && site.socket === 'no')
    out.push({ code: 'no-socket', text: 'A pump needs a socket, and there is none in the cupboard.' });
  if (design.lampId !== null && site.socket === 'no')
    out.push({
      code: 'lamp-without-power',
      text: 'This water wants a lamp, a lamp needs a socket, and there is none in the cupboard.',
    });
  if (design.tankId !== null && site.storeWish === 'none')
    out.push({ code: 'tank-not-wanted', text: 'The household wants no tank.' });
  if (design.tankId === null && site.storeWish === 'tank')
    out.push({ code: 'tank-wanted', text: 'Without a tank: the household, or the house rule, wants a store.' });
  if (design.dispenserId !== null && site.socket === 'no')
    out.push({
      code: 'dispenser-without-power',
      text: 'A dispenser that heats and cools needs a socket of its own, and there is none in the cupboard.',
    });
  if (design.tankId === null && (design.fridge || design.dispenserId !== null))
    out.push({
      code: 'fridge-wants-store',
      text: `Without a tank: a ${design.fridge ? 'fridge' : 'dispenser'} takes small sips, and each would start the pump and bring the salty first water. It wants a tank.`,
    });
  if (design.pumpId === null && site.worstBar < rules.unpumpedMinBar) {
    const [has, wanted] = formatApart(site.worstBar, rules.unpumpedMinBar);
    out.push({
      code: 'below-unpumped-minimum',
      text: `Without a pump the house rule wants ${wanted} bar at the worst hour; there are ${has}.`,
    });
  }
  const room = roomProblemOf(design, catalogue, site);
  if (room !== null) out.push({ code: 'no-room', text: room });
  return out;
}

const leastWarmth = new WeakMap<Catalogue, number>();

/** The part of a design that bears the least warmth, where the house is warmer than some part on the shelf bears. */
function tenderest(design: Design, catalogue: Catalogue, warmestC: number): Part | undefined {
  const least = leastWarmth.get(catalogue) ?? min(...catalogue.map((p) => p.maxTemperatureC));
  leastWarmth.set(catalogue, least);
  if (warmestC <= least) return undefined;
  return Object.values(design)
    .flat()
    .flatMap((id) => (typeof id === 'string' ? (findPart(catalogue, id) ?? []) : []))
    .reduce<Part | undefined>((m, p) => (m && m.maxTemperatureC <= p.maxTemperatureC ? m : p), undefined);
}

/** What a permeate pump strokes at where its sheet is silent: bar at the membrane, L/min of concentrate. */
const USUAL_STROKE = { minFeedBar: 2, minConcentrateLMin: 0.12 } as const;

/** A permeate pump that the feed or the concentrate is too weak to drive, in the worst season. */
function strokeFailure(design: Design, catalogue: Catalogue, w: Operating): Failure | null {
  if (design.permeatePumpId === null) return null;
  const pump = partOf(catalogue, 'permeate-pump', design.permeatePumpId);
  const { minFeedBar = USUAL_STROKE.minFeedBar, minConcentrateLMin = USUAL_STROKE.minConcentrateLMin } = pump;
  const drain = w.middle.out.concentrateLDay / 1440;
  const bar = formatApart(w.middle.inletBar, minFeedBar);
  const flow = formatApart(drain, minConcentrateLMin);
  const weak =
    w.middle.inletBar < minFeedBar
      ? `${bar[1]} bar at the membrane; there are ${bar[0]} at the worst hour`
      : drain < minConcentrateLMin
        ? `${flow[1]} L/min of concentrate; there are ${flow[0]}`
        : null;
  return weak === null
    ? null
    : { code: 'permeate-pump-stalls', text: `The permeate pump does not stroke: it wants ${weak}.` };
}

/** A pump on top of the night-time pressure must stay below what the weakest part bears. */
export function highPressureFailure(design: Design, catalogue: Catalogue, site: Site, w: Operating): Failure | null {
  const train = trainOf(design, catalogue, { ...site, worstBar: site.highestBar }, 'worst');
  const most = feedPressures(train, w.middle.out.feedLDay / 1440, w.temperatureC).inletBar;
  const weakest = weakestPart(catalogue);
  if (most <= weakest.maxPressureBar) return null;
  const [seen, bears] = formatApart(most, weakest.maxPressureBar);
  return {
    code: 'pressure-too-high',
    text: `With the supply at its highest, ${formatNumber(site.highestBar, 2)} bar, the membrane would see ${seen} bar; the weakest part bears ${bears}.`,
  };
}

/** Judges a running design against the household's needs. */
export function physicalFailures(
  design: Design,
  catalogue: Catalogue,
  w: Operating,
  warm: ElementOutput,
  site: Site,
  rules: HouseRules,
): Failure[] {
  const out: Failure[] = [];
  const first = w.map.points[0]?.out;
  const element = partOf(catalogue, 'element', design.elementId);
  const own = element.maxRecovery ?? RECOVERY_RANGE.max;
  const highest = highestRecovery(site, element);
  if (warm.recovery > highest) {
    const [kept, most] = formatApart(warm.recovery * 100, highest * 100);
    out.push({
      code: 'recovery-too-high',
      text: `In ${formatReading(site.warmestC)} °C water it would keep ${kept} % of the feed; ${
        highest < own
          ? `above ${most} % ${site.safe.limitedBy ?? 'scale'} drops on the membrane here`
          : `this element is not meant to keep over ${most} %`
      }.`,
    });
  }
  if (first && first.recovery < RECOVERY_RANGE.min)
    out.push({
      code: 'recovery-too-low',
      text: `It would keep only ${formatNumber(first.recovery * 100, 2)} % of the feed and send the rest to the drain.`,
    });
  if (w.middle.starved || w.map.points[0]?.starved === true)
    out.push({
      code: 'pump-starves',
      text: `The pump would take more than the supply brings: at ${formatNumber((w.map.points[0] ?? w.middle).out.feedLDay / 1440, 2)} L/min its inlet is down to ${formatNumber((w.map.points[0] ?? w.middle).filteredBar, 2)} bar, where it cuts out and starts again. A tighter restrictor or a smaller element takes less.`,
    });
  if (w.fill.reason !== null)
    out.push({
      code: 'never-shuts',
      text: w.direct
        ? `Once the tap is shut its product does not reach the ${formatNumber(w.fill.closeBar, 2)} bar that stops it: the drain would run on.`
        : w.fill.reason === 'closes-below-air-charge'
          ? `The shut-off would close at ${formatNumber(w.fill.closeBar, 2)} bar, below the tank’s air charge: no water is stored.`
          : `At ${formatNumber(w.middle.inletBar, 2)} bar and ${formatReading(w.temperatureC)} °C the tank does not reach the ${formatNumber(w.fill.closeBar, 2)} bar that shuts it within a day: the drain would run on.`,
    });
  const stalls = strokeFailure(design, catalogue, w);
  if (stalls) out.push(stalls);
  const { litresADay: need, drawL, tapLMin } = needsOf(site, rules);
  if (w.direct && w.tapFlowLMin < tapLMin.least) {
    const [gives, wanted] = formatApart(w.tapFlowLMin, tapLMin.wanted);
    out.push({
      code: 'tap-too-slow',
      text: `Without a tank: in the worst season ${elementInWords(design, catalogue)} gives ${gives} L/min at the tap, a glass in ${formatNumber(w.direct.glassSeconds, 2)} s; ${wanted} L/min are wanted.`,
    });
  }
  if (!w.direct && w.litresADay < need.least) {
    const [fills, wanted] = formatApart(w.litresADay, need.wanted);
    out.push({
      code: 'too-little',
      text: `It fills the tank at ${fills} L a day in the worst season; ${formatReading(site.litresADay)} L are used, ${wanted} with the spare the house rule wants.`,
    });
  }
  if (!w.direct && w.usableL < drawL.least) {
    const [gives, wanted] = formatApart(w.usableL, drawL.wanted);
    out.push({
      code: 'store-too-small',
      text: `A full tank gives ${gives} L at the wanted flow; the largest draw is ${wanted} L.`,
    });
  }
  if (w.fill.tankTdsMgL > rules.productTdsMaxMgL) {
    const [holds, most] = formatApart(w.fill.tankTdsMgL, rules.productTdsMaxMgL);
    out.push({
      code: 'product-too-salty',
      text: `The tank would hold ${holds} mg/L; the house rule accepts up to ${most}.`,
    });
  }
  out.push(...carbonFailures(design, catalogue, w, warm, site), ...outletFailures(design, catalogue, w, site));
  return out;
}

/** What is drunk too salty as a tank is lived with, in the season that is worst for it. */
export function saltyFailure(year: Pick<YearFigures, 'cold' | 'warm'>, site: Site, rules: HouseRules): Failure[] {
  const { season, c } =
    year.warm.tdsMgL > year.cold.tdsMgL
      ? { season: year.warm, c: site.warmestC }
      : { season: year.cold, c: site.coldestC };
  if (season.tdsMgL <= rules.productTdsMaxMgL) return [];
  const [carries, most] = formatApart(season.tdsMgL, rules.productTdsMaxMgL);
  return [
    {
      code: 'product-too-salty',
      text: `Of what is drunk from its tank a litre would carry ${carries} mg in ${formatReading(c)} °C water, with what creeps through while it stands; the house rule accepts up to ${most}.`,
    },
  ];
}

/** Flow through the carbon when most passes it: running open in the warmest water, or now, L/min. */
export function carbonFlowLMin(w: Operating, warm: ElementOutput): number {
  const now = w.map.points[0]?.out.feedLDay ?? 0;
  return max(now, warm.feedLDay) / 1440;
}

/** Whether the carbon has the time its disinfectant asks: a minute for chloramine, seconds for chlorine. */
function carbonFailures(
  design: Design,
  catalogue: Catalogue,
  w: Operating,
  warm: ElementOutput,
  site: Site,
): Failure[] {
  const agent = agentOf(site);
  if (agent === 'none') return [];
  const flow = carbonFlowLMin(w, warm);
  const work = carbonWork(carbonOf(design, catalogue), max(1e-6, flow), agent, site.chlorineMgL, 1);
  if (work.enough) return [];
  const [has, wanted] = formatApart(work.contactSeconds, work.wantedSeconds);
  return [
    {
      code: 'carbon-too-brief',
      text: `${w.direct ? 'Without a tank: ' : ''}at ${formatNumber(flow, 2)} L/min the water has ${has} s in the carbon; ${agent} wants ${wanted} s, and what is left of it eats the membrane.`,
    },
  ];
}

/** Flow a fridge's valve takes, L/min. */
export const FRIDGE_FLOW_LMIN = 0.5;

/** Something on a branch of its own that fills only from a least pressure on. */
export interface BranchOutlet {
  readonly outlet: 'fridge' | 'dispenser';
  /** it asks for, bar */
  readonly minBar: number;
  readonly flowLMin: number;
}

/** What of a design hangs on branches, in the order a delivery pump goes to them. */
export function branchOutlets(
  design: Pick<Design, 'fridge' | 'dispenserId'>,
  catalogue: Catalogue,
  site: Site,
): BranchOutlet[] {
  const part = design.dispenserId === null ? null : partOf(catalogue, 'dispenser', design.dispenserId);
  return [
    ...(design.fridge ? [{ outlet: 'fridge' as const, minBar: site.fridgeMinBar, flowLMin: FRIDGE_FLOW_LMIN }] : []),
    ...(part ? [{ outlet: 'dispenser' as const, minBar: part.minInletBar, flowLMin: part.fillLMin }] : []),
  ];
}

/** Pressure an outlet on a branch sees from a tank at a pressure: less the filters and the tubes on the way, bar. */
export function branchBar(
  at: BranchOutlet,
  design: Design,
  catalogue: Catalogue,
  site: Pick<Site, 'fridgeLengthM' | 'fridgeRiseM'>,
  tankBar: number,
  temperatureC: number,
): number {
  // a dispenser's own valve is part of its way: what it loses there is what it sees
  const valve = at.outlet === 'dispenser' ? at.minBar : 0;
  return tankBar - wayDropBar(branchWayOf(design, catalogue, at.outlet, site), at.flowLMin, temperatureC) + valve;
}

/** A fridge that a full tank does not serve; a lamp too weak for the tap's first rush. */
function outletFailures(design: Design, catalogue: Catalogue, w: Operating, site: Site): Failure[] {
  const out: Failure[] = [];
  for (const at of w.direct ? [] : branchOutlets(design, catalogue, site)) {
    const bar = branchBar(at, design, catalogue, site, w.fill.closeBar, w.temperatureC);
    if (bar < at.minBar) {
      const [sees, wants] = formatApart(max(0, bar), at.minBar);
      out.push({
        code: 'fridge-too-weak',
        text: `Even from a full tank the ${at.outlet} would see ${sees} bar; its valve wants ${wants}. A delivery pump would lift it.`,
      });
    }
  }
  if (design.lampId !== null) {
    const { lamp } = partOf(catalogue, 'lamp', design.lampId);
    const rush = w.direct
      ? w.tapFlowLMin
      : tapFlowLMin(outletOf(design, catalogue, site), w.fill.closeBar, w.temperatureC);
    const work = lampWork(lamp, max(0.05, rush), PRODUCT_TRANSMITTANCE, lamp.lifeHours);
    if (!work.meets) {
      const [gives, wanted] = formatApart(work.doseMJcm2, UV_DOSE.classA);
      out.push({
        code: 'lamp-too-weak',
        text: `At the tap’s ${formatNumber(rush, 2)} L/min the lamp would give ${gives} mJ/cm² at the end of its life; ${wanted} are wanted.`,
      });
    }
  }
  return out;
}
