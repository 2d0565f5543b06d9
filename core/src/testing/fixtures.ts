import { CatalogueSchema, type Catalogue } from '../parts/catalogue.ts';
import { HouseRulesSchema, type HouseRules } from '../rules/rules.ts';
import { buildSystem } from '../system/build.ts';
import { choiceOf, type Design } from '../system/design.ts';
import type { System } from '../system/system.ts';
import type { Known } from '../gauge/fields.ts';
import { analysisFrom, waterState } from '../water/analysis.ts';
import type { Composition } from '../water/composition.ts';
import type { ElementRating } from '../membrane/element.ts';
import partsJson from '../../../shelf/parts.json' with { type: 'json' };
import rulesJson from '../../../shelf/house-rules.json' with { type: 'json' };

/** The shipped shelf, as tests of the core use it. */
export const shelf: Catalogue = CatalogueSchema.parse(partsJson);
export const rules: HouseRules = HouseRulesSchema.parse(rulesJson);

export const rating: ElementRating = {
  permeateLDay: 284,
  rejection: 0.96,
  test: { pressureBar: 3.45, temperatureC: 25, tdsMgL: 500, recovery: 0.15 },
};

/** An ordinary house: enough pressure, medium water, a socket. */
export const house: Known = {
  source: 'mains',
  feedTdsMgL: 320,
  hardnessMgL: 150,
  alkalinityMgL: 120,
  pH: 7.6,
  silicaMgL: 8,
  nitrateMgL: 10,
  disinfectant: 'chlorine',
  chlorineMgL: 0.3,
  temperatureC: 14,
  coldestC: 8,
  warmestC: 20,
  coldLine: 'yes',
  staticPressureBar: 4,
  runningPressureBar: 3.5,
  runningFlowLMin: 8,
  highestPressureBar: 4.8,
  stopValveHolds: 'yes',
  people: 3,
  litresADay: 10,
  largestDrawL: 3,
  fridge: 'no',
  metalAfter: 'no',
  socket: 'yes',
  cupboardWidthMm: 1000,
  cupboardDepthMm: 550,
  cupboardHeightMm: 650,
  worktop: 'steel',
  drainRun: 'vertical',
  disposalUnit: 'no',
  airGap: 'no',
  tapLengthM: 1.5,
  tapRiseM: 0.6,
};

/** A mains water of which only two figures are known. */
export function mains(tdsMgL: number, hardnessMgL: number): Composition {
  return waterState(analysisFrom({ source: 'mains', tdsMgL, hardnessMgL, temperatureC: 15 }).analysis).composition;
}

/** The system a design stands for, in a kitchen of ordinary measures. */
export function systemOf(design: Design, site = { tapLengthM: 1.5, tapRiseM: 0.6 }): System {
  return buildSystem(choiceOf(design, shelf), shelf, site);
}

/** A system for that house which stays what it is, whatever would be recommended. */
export const usual: Design = {
  limiterId: null,
  mineralId: null,
  lampId: null,
  ironId: null,
  dispenserId: null,
  sedimentId: 'sediment-5',
  carbonIds: ['carbon-block', 'carbon-block'],
  polishId: 'polish-inline',
  shutOffId: 'shut-off-valve',
  nonReturnId: 'non-return-valve',
  backflowId: null,
  feedId: 'feed-tee',
  drainId: 'drain-clamp',
  tapId: 'tap-plain',
  tubeId: 'tube-6',
  fridge: false,
  leakValve: false,
  pumpId: null,
  permeatePumpId: 'permeate-pump',
  deliveryPumpId: null,
  elementId: 'element-230-tight',
  elementCount: 1,
  restrictorId: 'restrictor-430',
  tankId: 'tank-8',
};
