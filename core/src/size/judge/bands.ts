import { feedWaterAt, siteFrom, type Assumed, type Site } from '../../gauge/site.ts';
import { type FieldKey, type Known } from '../../gauge/fields.ts';
import { bell, seeded, type Random } from '../../demand/random.ts';
import type { Design } from '../../system/design.ts';
import { designInHouse, seasonTemperatureC } from '../../system/inHouse.ts';
import { operate, operateDirect } from '../../run/operate.ts';
import { COARSE_MAP, operatingMap } from '../../run/fill.ts';
import { warmOpen } from './evaluate.ts';
import { liveSample } from './year.ts';
import { physicalFailures } from './failures.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import { figureError } from './readings.ts';

const { floor, max, min } = Math;

/** Half-widths (two standard deviations) of what parts differ by from their sheets. */
export const PART_SPREAD = {
  /** product flow of an element, share */
  elementFlow: 0.15,
  /** salt passage of an element, share */
  elementPassage: 0.35,
  /** restrictor flow, share */
  restrictor: 0.12,
} as const;

/** Where a figure lies in nine of ten draws, and in the middle one. */
export interface Band {
  readonly low: number;
  readonly middle: number;
  readonly high: number;
}

/** What a design comes to when readings and parts are what they may be. */
export interface Bands {
  readonly draws: number;
  /** share of the draws in which the design does, 0 to 1 */
  readonly holds: number;
  readonly litresADay: Band;
  readonly fillMinutes: Band;
  readonly tankTdsMgL: Band;
  readonly wasteRatio: Band;
  readonly usableL: Band;
  readonly tapFlowLMin: Band;
}

function band(values: number[]): Band {
  const sorted = values.sort((a, b) => a - b);
  const at = (p: number): number => sorted[min(sorted.length - 1, floor(p * sorted.length))] ?? 0;
  return { low: at(0.05), middle: at(0.5), high: at(0.95) };
}

/** A house as it may really be: each reading off by its own error. */
function anotherSite(
  site: Site,
  known: Known,
  errors: SizeInput['errors'],
  assumed: readonly Assumed[],
  random: Random,
): Site {
  const off = (field: FieldKey, value: number): number => {
    const { error } = figureError(field, value, known, site, assumed, errors);
    return value + (bell(random) / 2) * error;
  };
  const worstBar = max(0.1, off('runningPressureBar', site.worstBar));
  const staticBar = max(worstBar, off('staticPressureBar', site.staticBar));
  const coldestC = max(0.5, off('coldestC', site.coldestC));
  return {
    ...site,
    worstBar,
    staticBar,
    coldestC,
    warmestC: max(coldestC, off('warmestC', site.warmestC)),
    tdsMgL: max(1, off('feedTdsMgL', site.tdsMgL)),
    litresADay: max(0.5, off('litresADay', site.litresADay)),
    largestDrawL: max(0.2, off('largestDrawL', site.largestDrawL)),
    tapRiseM: off('tapRiseM', site.tapRiseM),
  };
}

/** How much more a litre costs the drain, and carries, as the design is lived with than in a fill from empty in the worst season. */
function livedAgainstFill(
  design: Design,
  input: SizeInput,
  site: Site,
): { readonly waste: number; readonly tds: number } {
  const plant = designInHouse(design, input.catalogue, site, 'worst');
  if (!plant.tank) return { waste: 1, tds: 1 };
  const water = feedWaterAt(site, seasonTemperatureC(site, 'worst'));
  const map = operatingMap(plant.train, water, COARSE_MAP);
  const o = operate(plant, site, 'worst', site.wantedTapFlowLMin, map, 'map');
  const l = liveSample(plant, plant.tank, site, map, water);
  if (!(l.madeL > 0 && Number.isFinite(o.wasteRatio) && o.wasteRatio > 0)) return { waste: 1, tds: 1 };
  return { waste: l.wasteL / l.madeL / o.wasteRatio, tds: l.tdsMgL / o.fill.tankTdsMgL };
}

/**
 * Draws readings and parts at random within their errors and works the design out for each.
 * @param draws 500 or more for steady bands
 * @param seed the same seed gives the same bands
 * @returns null where the house is not known well enough to size
 */
export function bandsOf(input: SizeInput, design: Design, draws = 500, seed = 1): Bands | null {
  const result = siteFrom(input.known, input.rules);
  if (!result.ok) return null;
  const { site, assumed } = result;
  const random = seeded(seed);
  const kept = {
    litres: [] as number[],
    minutes: [] as number[],
    tds: [] as number[],
    waste: [] as number[],
    usable: [] as number[],
    tap: [] as number[],
  };
  const lived = livedAgainstFill(design, input, site);
  let holds = 0;
  for (let i = 0; i < draws; i++) {
    const s = anotherSite(site, input.known, input.errors, assumed, random);
    const share = (halfWidth: number): number => max(0.2, 1 + (bell(random) / 2) * halfWidth);
    const plant = designInHouse(design, input.catalogue, s, 'worst');
    const p = plant.train.permeability;
    const train = {
      ...plant.train,
      permeability: {
        ...p,
        waterLDayBar: p.waterLDayBar * share(PART_SPREAD.elementFlow),
        saltLDay: p.saltLDay * share(PART_SPREAD.elementPassage),
      },
      restrictor: {
        ...plant.train.restrictor,
        flowLDay: plant.train.restrictor.flowLDay * share(PART_SPREAD.restrictor),
      },
    };
    const temperatureC = seasonTemperatureC(s, 'worst');
    const water = feedWaterAt(s, temperatureC);
    const other = { ...plant, train };
    const o = plant.tank
      ? operate(other, s, 'worst', s.wantedTapFlowLMin, operatingMap(train, water, COARSE_MAP), 'map')
      : operateDirect(other, water, temperatureC, COARSE_MAP.slices);
    const warm = warmOpen(design, input.catalogue, s, COARSE_MAP.slices);
    if (physicalFailures(design, input.catalogue, o, warm, s, input.rules).length === 0) holds++;
    kept.litres.push(o.litresADay);
    kept.minutes.push(o.fill.minutes);
    kept.tds.push(o.fill.tankTdsMgL * lived.tds);
    kept.waste.push(Number.isFinite(o.wasteRatio) ? o.wasteRatio * lived.waste : 1000);
    kept.usable.push(o.usableL);
    kept.tap.push(o.tapFlowLMin);
  }
  return {
    draws,
    holds: holds / draws,
    litresADay: band(kept.litres),
    fillMinutes: band(kept.minutes),
    tankTdsMgL: band(kept.tds),
    wasteRatio: band(kept.waste),
    usableL: band(kept.usable),
    tapFlowLMin: band(kept.tap),
  };
}
