export * from './quantity/units.ts';
export * from './quantity/parse.ts';
export * from './quantity/format.ts';
export * from './water/properties.ts';
export * from './water/species.ts';
export * from './water/composition.ts';
export * from './water/conductivity.ts';
export * from './water/carbonate.ts';
export * from './water/saturation.ts';
export * from './water/analysis.ts';
export * from './membrane/temperature.ts';
export * from './membrane/permeability.ts';
export * from './membrane/channel.ts';
export * from './membrane/element.ts';
export * from './hydraulics/tube.ts';
export * from './hydraulics/restrictor.ts';
export * from './hydraulics/train.ts';
export * from './hydraulics/outlet.ts';
export * from './treatment/minerals.ts';
export * from './treatment/scaling.ts';
export * from './treatment/carbon.ts';
export * from './treatment/lamp.ts';
export * from './membrane/stand.ts';
export * from './membrane/passage.ts';
export * from './demand/random.ts';
export * from './demand/draws.ts';
export * from './hydraulics/tank.ts';
export * from './run/fill.ts';
export * from './run/openTap.ts';
export * from './run/months.ts';
export * from './run/live.ts';
export * from './run/step.ts';
export * from './run/withoutMembrane.ts';
export * from './run/liveDirect.ts';
export * from './parts/catalogue.ts';
export * from './rules/rules.ts';
export * from './rules/ruleTexts.ts';
export * from './parts/sense.ts';
export * from './parts/csv.ts';
export * from './gauge/fields.ts';
export * from './gauge/conductivity.ts';
export * from './gauge/doubts.ts';
export * from './gauge/instruments.ts';
export * from './gauge/lab.ts';
export * from './gauge/place.ts';
export * from './gauge/site.ts';
export {
  choiceOf as choiceOfDesign,
  designDifferences,
  designInWords,
  DesignSchema,
  elementInWords,
  missingParts,
  partsAsked,
  sameDesign,
  type Design,
  type DesignDifference,
} from './system/design.ts';
export * from './system/carbon.ts';
export * from './parts/kinds.ts';
export * from './hydraulics/way.ts';
export * from './system/system.ts';
export { buildSystem, FRIDGE_TUBE_M, type Choice, type Picked } from './system/build.ts';
export * from './system/compile.ts';
export * from './system/legal.ts';
export * from './system/load.ts';
export * from './system/membranes.ts';
export * from './system/state.ts';
export * from './system/solve.ts';
export * from './system/project.ts';
export * from './system/plant.ts';
export * from './system/profile.ts';
export * from './size/kinds/candidates.ts';
export * from './size/judge/failures.ts';
export * from './size/judge/evaluate.ts';
export * from './size/judge/year.ts';
export * from './size/judge/figures.ts';
export * from './size/judge/product.ts';
export * from './size/kinds/families.ts';
export * from './size/search/search.ts';
export * from './size/kinds/referral.ts';
export * from './size/kinds/otherWay.ts';
export * from './size/explain/alternatives.ts';
export * from './size/decide.ts';
export * from './size/judge/readings.ts';
export * from './size/judge/bands.ts';
export * from './size/judge/study.ts';
export * from './size/judge/turns.ts';
export * from './size/explain/next.ts';
export * from './size/judge/operating.ts';
export * from './size/judge/day.ts';
export * from './size/judge/seasons.ts';
export * from './record/text.ts';
export * from './record/version.ts';
export * from './record/lift.ts';
export * from './record/liftDesign.ts';
export * from './record/asBuilt.ts';
export * from './record/approve.ts';
export * from './record/since.ts';
export * from './record/open.ts';
export * from './record/jobfile.ts';
export * from './prove/kept.ts';
export * from './plumb/joints.ts';
export * from './plumb/holes.ts';
export * from './plumb/picklist.ts';
export * from './record/facts.ts';
export * from './record/record.ts';
export * from './flush/runsheet.ts';
export * from './flush/schedule.ts';
export * from './prove/fields.ts';
export * from './prove/verdict.ts';
export * from './prove/faults.ts';
export * from './keep/life.ts';
export * from './record/view.ts';
export * from './record/summary.ts';
export { CALCULATORS } from './calc/all.ts';
export type { Calculator, CalcResult, Shelf } from './calc/calculator.ts';
export { CORE_VERSION } from './coreVersion.ts';
