import { feedWaterAt, type Site } from '../../gauge/site.ts';
import { solveTrain } from '../../hydraulics/train.ts';
import type { ElementOutput } from '../../membrane/element.ts';
import { designInHouse, seasonTemperatureC, trainOf, type InHouse } from '../../system/inHouse.ts';
import { operate, operateDirect, type Operating } from '../../run/operate.ts';
import type { Design } from '../../system/design.ts';
import { formatMinutes } from '../../quantity/format.ts';
import { partOf, type Catalogue } from '../../parts/catalogue.ts';
import type { HouseRules } from '../../rules/rules.ts';
import { COARSE_MAP, COARSEST_MAP, FINE_MAP, operatingMap, type OperatingMap } from '../../run/fill.ts';
import {
  earlyFailures,
  highestRecovery,
  highPressureFailure,
  physicalFailures,
  saltyFailure,
  type Failure,
} from './failures.ts';
import { missedShare } from './needs.ts';
import { careOf, NEAR_SCALE_FROM, weightsOf } from './weights.ts';
import { directYear, yearFigures, yearMaps, type YearFigures, type YearMaps } from './year.ts';

const { max, min } = Math;

/** A design judged at this house in its worst season. */
export interface Evaluation {
  readonly design: Design;
  readonly worst: Operating;
  /** most of the feed it keeps at a moment, running open in the warmest water, 0 to 1 */
  readonly warmRecovery: number;
  readonly failures: readonly Failure[];
  /** figures of a mean year; null where the design fails before a year is worth working out */
  readonly year: YearFigures | null;
  /** lower is better; comparable within one house */
  readonly score: number;
}

/** What the element makes against no back-pressure in the warmest water on an ordinary moment: where scale is nearest. */
export function warmOpen(design: Design, catalogue: Catalogue, site: Site, slices?: number): ElementOutput {
  const train = trainOf(design, catalogue, site, 'today');
  return solveTrain(train, feedWaterAt(site, site.warmestC), 0, undefined, slices).out;
}

/** Points by what they are for; their sum ranks the designs of a house. */
export interface Points {
  /** pumps and elements beyond the first: things that can fail */
  readonly devices: number;
  readonly room: number;
  /** how near the membrane comes to scale */
  readonly scale: number;
  readonly drain: number;
  readonly wait: number;
  readonly purity: number;
  readonly money: number;
  /** of what was only guessed of the household, what is missed */
  readonly missed: number;
  /** taken off for output beyond the need */
  readonly spare: number;
}

export const sumOf = (p: Points): number =>
  p.devices + p.room + p.scale + p.drain + p.wait + p.purity + p.money + p.missed + p.spare;

/** Points that need no fill and no year: devices, room, nearness to scale. @param tankL 0 for none; @param warm null leaves scale out */
export function certainPoints(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: Pick<HouseRules, 'worth'>,
  tankL: number,
  warm: Pick<ElementOutput, 'recovery'> | null,
): Pick<Points, 'devices' | 'room' | 'scale'> {
  const element = partOf(catalogue, 'element', design.elementId);
  const ofSafe = (warm?.recovery ?? 0) / max(1e-6, highestRecovery(site, element));
  const nearScale = max(0, (ofSafe - NEAR_SCALE_FROM) / (1 - NEAR_SCALE_FROM));
  const times = careOf(site);
  const w = weightsOf(rules);
  const further = w.furtherElement * (design.elementCount - 1);
  return {
    devices:
      times('electricity') * (design.pumpId === null ? 0 : w.pump) +
      (design.permeatePumpId === null ? 0 : w.permeatePump) +
      times('room') * further,
    room: times('room') * w.perTankLitre * tankL,
    scale: w.nearScale * min(2, nearScale),
  };
}

/** Points of a working design by what they are for; see `Weights`. */
export function pointsOf(
  design: Design,
  catalogue: Catalogue,
  w: Operating,
  warm: Pick<ElementOutput, 'recovery'>,
  site: Site,
  rules: Pick<HouseRules, 'spareCapacity' | 'worth'>,
  year: Pick<YearFigures, 'wasteRatio' | 'tdsMgL' | 'cost'> | null,
): Points {
  const tankL = design.tankId === null ? 0 : partOf(catalogue, 'tank', design.tankId).volumeL;
  const times = careOf(site);
  const weights = weightsOf(rules);
  return {
    ...certainPoints(design, catalogue, site, rules, tankL, warm),
    drain: times('waste') * weights.perWasteLitre * min(50, year?.wasteRatio ?? w.wasteRatio),
    wait:
      times('wait') *
      (weights.perRefillHour * (w.fill.minutes / 60) +
        weights.perTapMinute * (site.largestDrawL / max(0.05, w.tapFlowLMin))),
    purity: times('purity') * weights.perProductMgL * (year?.tdsMgL ?? w.fill.tankTdsMgL),
    money: times('cost') * weights.perYearCost * (year?.cost ?? 0),
    missed: weights.perMissed * 100 * missedShare(w, site, rules),
    spare: -weights.spare * min(3, w.litresADay / site.litresADay),
  };
}

/** The sum of a working design's points. */
function scoreOf(...of: Parameters<typeof pointsOf>): number {
  return sumOf(pointsOf(...of));
}

/** What designs that differ only in their tank share; each is worked out when it is first asked for. */
export interface Shared {
  readonly map: OperatingMap;
  readonly warm: ElementOutput;
  /** operating maps of an ordinary moment at the year's three temperatures */
  readonly year: () => YearMaps;
}

/** Works out what a family of designs shares. @param warm its open flow in the warmest water, where it is known already */
export function sharedOf(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  detail = FINE_MAP,
  warm: ElementOutput = warmOpen(design, catalogue, site, detail.slices),
): Shared {
  const water = feedWaterAt(site, seasonTemperatureC(site, 'worst'));
  let year: YearMaps | null = null;
  if (design.tankId === null) throw new RangeError('only designs with a tank share a map');
  return {
    map: operatingMap(trainOf(design, catalogue, site, 'worst'), water, detail),
    warm,
    year: () =>
      (year ??= yearMaps(
        trainOf(design, catalogue, site, 'today'),
        site,
        detail === COARSE_MAP ? COARSEST_MAP : detail,
        detail === COARSE_MAP ? 'mean' : 'each',
      )),
  };
}

/** When a search gives a design up: its points cannot come below the limit, whatever its year is. */
export interface GiveUp {
  readonly above: number;
  /** the least a year of its family can come to */
  readonly year: Pick<YearFigures, 'wasteRatio' | 'tdsMgL' | 'cost'>;
}

/**
 * Judges a design with a tank for a search, from its family's maps.
 * @returns null where it does but its points must be above the limit: its year is then not worked out
 */
export function evaluateWithin(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  family: Shared,
  giveUp: GiveUp | null,
): Evaluation | null {
  const plant = designInHouse(design, catalogue, site, 'worst');
  if (!plant.tank) throw new RangeError('only designs with a tank share a map');
  const worst = operate(plant, site, 'worst', site.wantedTapFlowLMin, family.map, 'map');
  const failures = failuresOf(design, catalogue, worst, family.warm, site, rules);
  const warmRecovery = family.warm.recovery;
  const score = (year: GiveUp['year'] | null): number =>
    scoreOf(design, catalogue, worst, family.warm, site, rules, year);
  if (failures.length > 0) return { design, worst, warmRecovery, failures, year: null, score: score(null) };
  if (giveUp && score(giveUp.year) > giveUp.above) return null;
  const year = yearFigures(design, catalogue, site, rules, plant.tank, family.year());
  return { design, worst, warmRecovery, failures: saltyFailure(year, site, rules), year, score: score(year) };
}

/** Judges one design at a house. @param shared what its family shares; not for a design without a tank */
export function evaluate(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  shared?: Shared,
  middleFrom: 'solved' | 'map' = 'solved',
): Evaluation {
  const plant = designInHouse(design, catalogue, site, 'worst');
  if (!plant.tank)
    return evaluateDirect(design, catalogue, site, rules, plant, middleFrom === 'map' ? COARSE_MAP.slices : undefined);
  const family = shared ?? sharedOf(design, catalogue, site);
  const worst = operate(plant, site, 'worst', site.wantedTapFlowLMin, family.map, middleFrom);
  const failures = failuresOf(design, catalogue, worst, family.warm, site, rules);
  const year = failures.length > 0 ? null : yearFigures(design, catalogue, site, rules, plant.tank, family.year());
  const score = scoreOf(design, catalogue, worst, family.warm, site, rules, year);
  return {
    design,
    worst,
    warmRecovery: family.warm.recovery,
    failures: year ? saltyFailure(year, site, rules) : failures,
    year,
    score,
  };
}

function failuresOf(
  design: Design,
  catalogue: Catalogue,
  worst: Operating,
  warm: ElementOutput,
  site: Site,
  rules: HouseRules,
): Failure[] {
  const pressure = highPressureFailure(design, catalogue, site, worst);
  return [
    ...earlyFailures(design, catalogue, site, rules),
    ...(pressure ? [pressure] : []),
    ...physicalFailures(design, catalogue, worst, warm, site, rules),
  ];
}

/** A design without a tank, judged while it runs at the open tap. @param slices fewer for searches */
function evaluateDirect(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  rules: HouseRules,
  plant: InHouse,
  slices?: number,
): Evaluation {
  const temperatureC = seasonTemperatureC(site, 'worst');
  const worst = operateDirect(plant, feedWaterAt(site, temperatureC), temperatureC, slices);
  const warm = warmOpen(design, catalogue, site, slices);
  const failures = failuresOf(design, catalogue, worst, warm, site, rules);
  const year = failures.length > 0 ? null : directYear(design, catalogue, site, rules, slices);
  const score = scoreOf(design, catalogue, worst, warm, site, rules, year);
  return { design, worst, warmRecovery: warm.recovery, failures, year, score };
}

/** Refill time in words, that there is none, or that it never ends. */
export function refillWords(e: Evaluation): string {
  if (e.worst.direct) return e.worst.direct.shuts ? 'none' : 'never';
  return e.worst.fill.reason === null ? formatMinutes(e.worst.fill.minutes) : 'never';
}
