import { feedWaterAt, type Site } from '../gauge/site.ts';
import { feedPressures, solveTrain } from '../hydraulics/train.ts';
import type { ElementOutput } from '../membrane/element.ts';
import { operate, plantOf, trainOf, type Operating } from '../line/plant.ts';
import type { Design } from '../line/design.ts';
import { formatMinutes, formatNumber, formatReading } from '../quantity/format.ts';
import { partOf, partsOf, type Catalogue } from '../shelf/parts.ts';
import type { HouseRules } from '../shelf/rules.ts';
import type { OperatingMap } from '../storage/fill.ts';
import { weakestPart } from './candidates.ts';

const { max, min, round } = Math;

/**
 * Momentary recovery against an empty tank: below `min` it is only waste; the most a domestic element bears falls from
 * `soft` to `hard` between the two hardnesses (mg/L CaCO3). A guard until scaling itself is judged.
 */
export const RECOVERY_RANGE = { min: 0.08, soft: 0.45, hard: 0.25, softMgL: 60, hardMgL: 350 } as const;

/** Most of the feed an element may keep at this hardness, 0 to 1. @param hardnessMgL as CaCO3, 0 or more */
export function highestRecovery(hardnessMgL: number): number {
  const r = RECOVERY_RANGE;
  const share = min(1, max(0, (hardnessMgL - r.softMgL) / (r.hardMgL - r.softMgL)));
  return r.soft + (r.hard - r.soft) * share;
}

export type FailureCode =
  | 'feed-too-salty'
  | 'no-socket'
  | 'no-room'
  | 'pressure-too-high'
  | 'recovery-too-high'
  | 'recovery-too-low'
  | 'never-shuts'
  | 'too-little'
  | 'store-too-small'
  | 'product-too-salty';

/** Why a design does not do here, with its figures in words. */
export interface Failure {
  readonly code: FailureCode;
  readonly text: string;
}

/** A design judged at this house in its worst season. */
export interface Evaluation {
  readonly design: Design;
  readonly worst: Operating;
  readonly failures: readonly Failure[];
  /** lower is better; comparable within one house */
  readonly score: number;
}

/** Weights of the score, in points. A pump costs a socket, noise and one more thing to fail. */
export const SCORE = {
  pump: 25,
  perWasteLitre: 5,
  perRefillHour: 3,
  perTankLitre: 0.6,
  perProductMgL: 0.25,
  /** points taken off for each whole multiple of the need the design can make, up to three */
  spare: 3,
} as const;

/** Whether frame, tank (and pump) stand side by side in the cupboard; null says nobody measured it. */
export function roomFailure(design: Design, catalogue: Catalogue, site: Site): Failure | null {
  const c = site.cupboard;
  if (!c) return null;
  const frame = partsOf(catalogue, 'frame')[0]?.size;
  const tank = partOf(catalogue, 'tank', design.tankId).size;
  if (!frame || !tank) return null;
  const below = partsOf(catalogue, 'frame')[0]?.clearance?.belowMm ?? 0;
  const pump = design.pumpId === null ? 0 : (partOf(catalogue, 'pump', design.pumpId).size?.widthMm ?? 0);
  const width = frame.widthMm + tank.widthMm + pump + 20;
  const height = max(frame.heightMm + below, tank.heightMm);
  const depth = max(frame.depthMm, tank.depthMm);
  const short =
    width > c.widthMm
      ? `${String(round(width))} mm wide, ${String(round(c.widthMm))} mm there`
      : height > c.heightMm
        ? `${String(round(height))} mm high with room below the housings, ${String(round(c.heightMm))} mm there`
        : depth > c.depthMm
          ? `${String(round(depth))} mm deep, ${String(round(c.depthMm))} mm there`
          : null;
  return short === null ? null : { code: 'no-room', text: `It does not stand in the cupboard: ${short}.` };
}

/** Reasons that need no physics, so that they are asked first. */
export function earlyFailures(design: Design, catalogue: Catalogue, site: Site): Failure[] {
  const out: Failure[] = [];
  const element = partOf(catalogue, 'element', design.elementId);
  if (site.tdsMgL > element.maxTdsMgL)
    out.push({
      code: 'feed-too-salty',
      text: `${element.name} is made for up to ${formatNumber(element.maxTdsMgL, 4)} mg/L; this water has ${formatNumber(site.tdsMgL, 4)}.`,
    });
  if (design.pumpId !== null && site.socket === 'no')
    out.push({ code: 'no-socket', text: 'A pump needs a socket, and there is none in the cupboard.' });
  const room = roomFailure(design, catalogue, site);
  if (room) out.push(room);
  return out;
}

/** A pump on top of the night-time pressure must stay below what the weakest part bears. */
export function highPressureFailure(design: Design, catalogue: Catalogue, site: Site, w: Operating): Failure | null {
  const train = trainOf(design, catalogue, { ...site, worstBar: site.highestBar }, 'worst');
  const most = feedPressures(train, w.middle.out.feedLDay / 1440).inletBar;
  const weakest = weakestPart(catalogue);
  return most <= weakest.maxPressureBar
    ? null
    : {
        code: 'pressure-too-high',
        text: `With the supply at its highest, ${formatNumber(site.highestBar, 2)} bar, the membrane would see ${formatNumber(most, 2)} bar; the weakest part bears ${formatNumber(weakest.maxPressureBar, 2)}.`,
      };
}

/** Judges a running design against the household's needs. */
export function physicalFailures(w: Operating, warm: ElementOutput, site: Site, rules: HouseRules): Failure[] {
  const out: Failure[] = [];
  const first = w.map.points[0]?.out;
  const highest = highestRecovery(site.hardnessMgL);
  if (warm.recovery > highest)
    out.push({
      code: 'recovery-too-high',
      text: `In ${formatReading(site.warmestC)} °C water it would keep ${formatNumber(warm.recovery * 100, 2)} % of the feed; at ${formatNumber(site.hardnessMgL)} mg/L hardness over ${formatNumber(highest * 100, 2)} % risks scale.`,
    });
  if (first && first.recovery < RECOVERY_RANGE.min)
    out.push({
      code: 'recovery-too-low',
      text: `It would keep only ${formatNumber(first.recovery * 100, 2)} % of the feed and send the rest to the drain.`,
    });
  if (!w.fill.shuts)
    out.push({
      code: 'never-shuts',
      text:
        w.fill.reason === 'closes-below-air-charge'
          ? `The shut-off would close at ${formatNumber(w.fill.closeBar, 2)} bar, below the tank’s air charge: no water is stored.`
          : `At ${formatNumber(w.middle.inletBar, 2)} bar and ${formatReading(w.temperatureC)} °C the tank does not reach the ${formatNumber(w.fill.closeBar, 2)} bar that shuts it within a day: the drain would run on.`,
    });
  const need = site.litresADay * rules.spareCapacity;
  if (w.litresADay < need)
    out.push({
      code: 'too-little',
      text: `It fills the tank at ${formatNumber(w.litresADay, 2)} L a day in the worst season; ${formatReading(site.litresADay)} L are used, ${formatNumber(need, 2)} with the spare the house rule wants.`,
    });
  if (w.usableL < site.largestDrawL)
    out.push({
      code: 'store-too-small',
      text: `A full tank gives ${formatNumber(w.usableL, 2)} L at the wanted flow; the largest draw is ${formatReading(site.largestDrawL)} L.`,
    });
  if (w.fill.tankTdsMgL > rules.productTdsMaxMgL)
    out.push({
      code: 'product-too-salty',
      text: `The tank would hold ${formatNumber(w.fill.tankTdsMgL, 2)} mg/L; the house rule accepts up to ${formatNumber(rules.productTdsMaxMgL, 3)}.`,
    });
  return out;
}

/** What the element makes against no back-pressure in the warmest water on an ordinary moment: where scale is nearest. */
export function warmOpen(design: Design, catalogue: Catalogue, site: Site): ElementOutput {
  const train = trainOf(design, catalogue, site, 'today');
  return solveTrain(train, feedWaterAt(site, site.warmestC), 0).out;
}

/** Points of a working design; see `SCORE`. */
export function scoreOf(design: Design, catalogue: Catalogue, w: Operating, site: Site): number {
  const tank = partOf(catalogue, 'tank', design.tankId);
  return (
    (design.pumpId === null ? 0 : SCORE.pump) +
    SCORE.perWasteLitre * min(50, w.wasteRatio) +
    SCORE.perRefillHour * (w.fill.minutes / 60) +
    SCORE.perTankLitre * tank.volumeL +
    SCORE.perProductMgL * w.fill.tankTdsMgL -
    SCORE.spare * min(3, w.litresADay / site.litresADay)
  );
}

/** Judges one design at a house; a map shared with designs that differ only in their tank may be passed. */
export function evaluate(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  map?: OperatingMap,
  warm: ElementOutput = warmOpen(design, catalogue, site),
  middleFrom: 'solved' | 'map' = 'solved',
): Evaluation {
  const plant = plantOf(design, catalogue, site, 'worst');
  const worst = operate(plant, site, 'worst', rules.wantedTapFlowLMin, map, middleFrom);
  const pressure = highPressureFailure(design, catalogue, site, worst);
  return {
    design,
    worst,
    failures: [
      ...earlyFailures(design, catalogue, site),
      ...(pressure ? [pressure] : []),
      ...physicalFailures(worst, warm, site, rules),
    ],
    score: scoreOf(design, catalogue, worst, site),
  };
}

/** Refill time in words, or that it never ends. */
export function refillWords(e: Evaluation): string {
  return e.worst.fill.shuts ? formatMinutes(e.worst.fill.minutes) : 'never';
}
