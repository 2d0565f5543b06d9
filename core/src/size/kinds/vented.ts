import type { Doubt } from '../../gauge/doubts.ts';
import type { Assumed, Site } from '../../gauge/site.ts';
import { feedWaterAt, siteFrom } from '../../gauge/site.ts';
import { solveTrain } from '../../hydraulics/train.ts';
import { partsOf, type PartOf } from '../../parts/catalogue.ts';
import { formatMinutes, formatNumber, formatReading } from '../../quantity/format.ts';
import { COARSE_MAP } from '../../run/fill.ts';
import { operate, type Operating } from '../../run/operate.ts';
import { buildSystem, type Choice } from '../../system/build.ts';
import { choiceOf, designInSentence, withArticle, type Design } from '../../system/design.ts';
import { systemInHouse } from '../../system/inHouse.ts';
import type { System } from '../../system/system.ts';
import { changesCostYear, usedUpIn } from '../../system/wear.ts';
import { pointsOf, sumOf, type Evaluation, type Points } from '../judge/evaluate.ts';
import { highestRecovery, type FailureCode } from '../judge/failures.ts';
import { roomProblem } from '../judge/room.ts';
import { needsOf } from '../judge/needs.ts';
import { trainAsIs, truthsOf, type Truth } from '../judge/truths.ts';
import { careOf, moneyOf, weightsOf } from '../judge/weights.ts';
import { DRAWS, riskOf } from '../judge/worth.ts';
import { ventedYear, type YearFigures } from '../judge/year.ts';
import type { Assembly, SizeInput } from './candidates.ts';
import type { OtherWay } from './otherWay.ts';

/** Kinds that a vented tank takes the place of, or that have nothing left to do beside one. */
const IN_ITS_PLACE: ReadonlySet<string> = new Set(['tank', 'permeate-pump', 'delivery-pump']);

/** A vented tank in the place of a design's store, judged as the designs of a search are. */
export interface Vented extends Assembly {
  /** what is put in, and what it does, where it is what is advised */
  readonly title: string;
  readonly year: YearFigures;
  readonly points: Points;
  /** share of the draws of readings and parts in which it does, 0 to 1 */
  readonly holds: number;
  /** points with what it may not do, comparable with a weighed design's */
  readonly worth: number;
}

/** One vented tank tried. */
interface Tried {
  readonly tank: PartOf<'vented-tank'>;
  readonly choice: Choice;
  readonly system: System;
  readonly worst: Operating;
}

/**
 * A design with a vented tank and its pump in the place of its store, judged like any other: what it makes in the worst
 * season, its year as it is lived, its points, its room, how surely it does.
 * @param against what the advised design is worth, points; null where none is
 * @returns null where it would not do, or the shelf or the house lacks what it takes
 */
export function ventedInstead(
  design: Design,
  site: Site,
  input: SizeInput,
  assumed: readonly Assumed[],
  against: number | null,
): Vented | null {
  const { catalogue } = input;
  const [pump] = partsOf(catalogue, 'delivery-pump');
  if (!pump || site.socket === 'no' || site.storeWish === 'none') return null;
  const base = choiceOf(design, catalogue);
  const picks = base.picks.filter((p) => !IN_ITS_PLACE.has(p.kind));
  // what is asked of a design is asked of this one as it stands beside its tank
  const beside: Design = { ...design, tankId: null, permeatePumpId: null, deliveryPumpId: pump.id };
  const tried = partsOf(catalogue, 'vented-tank').flatMap((tank): Tried[] => {
    const choice: Choice = { ...base, picks: [...picks, { kind: 'vented-tank', part: tank }, { kind: 'tank-pump', part: pump }] };
    const system = buildSystem(choice, catalogue, site);
    if (roomProblem(system, site) !== null) return [];
    const worst = runVented(system, site);
    return worst && does(worst, system, site, input) ? [{ tank, choice, system, worst }] : [];
  });
  const judged = tried.map((t) => judge(t, beside, pump, site, input, assumed, against));
  return judged.sort((a, b) => a.worth - b.worth || a.sentence.localeCompare(b.sentence))[0] ?? null;
} // oxfmt-ignore

/**
 * What would do beside an advised design, stored otherwise; see `ventedInstead`. Asked for by itself: a decision does not wait for it.
 * @param worth points of the advised design, with those for what it may not do
 */
export function ventedBeside(input: SizeInput, design: Design, worth: number): Vented | null {
  const r = siteFrom(input.known, input.rules, input.placed);
  return r.ok ? ventedInstead(design, r.site, input, r.assumed, worth) : null;
}

/** What an advised design is worth, points, with those for what it may not do. */
export const worthOf = (d: { readonly chosen: Pick<Evaluation, 'score'>; readonly risk: number }): number =>
  d.chosen.score + d.risk;

/** What speaks against a pressure tank, or for want of its pressure, and not against a vented one with a pump of its own. */
const MENDS: ReadonlySet<FailureCode> = new Set([
  'too-little',
  'store-too-small',
  'never-shuts',
  'tap-too-slow',
  'product-too-salty',
  'permeate-pump-stalls',
  'fridge-too-weak',
  'fridge-wants-store',
]);
/** How many are weighed: those that do, cheapest first by what is known of them before a year is lived. */
const WEIGHED = 8;

/** The best vented tank where no pressure tank does: in the place of the stores that fail only for what it mends. */
function ventedAmong(
  failed: readonly Evaluation[],
  site: Site,
  input: SizeInput,
  assumed: readonly Assumed[],
): Vented | null {
  const trains = new Map<string, Evaluation>();
  for (const e of failed)
    if (e.failures.every((f) => MENDS.has(f.code))) {
      const train = JSON.stringify({ ...e.design, tankId: null, permeatePumpId: null, deliveryPumpId: null });
      if (e.score < (trains.get(train)?.score ?? Infinity)) trains.set(train, e);
    }
  const found: Vented[] = [];
  for (const { design } of [...trains.values()].sort((a, b) => a.score - b.score)) {
    const vented = ventedInstead(design, site, input, assumed, null);
    if (vented) found.push(vented);
    if (found.length === WEIGHED) break;
  }
  return found.sort((a, b) => a.worth - b.worth)[0] ?? null;
}

/** What to put in where no pressure tank does: the best vented one; null where none does either. */
export function ventedAlone(
  failed: readonly Evaluation[],
  site: Site,
  input: SizeInput,
  assumed: readonly Assumed[],
  safety: readonly Doubt[],
): OtherWay | null {
  const vented = ventedAmong(failed, site, input, assumed);
  if (!vented) return null;
  const why = failed[0]?.failures[0]?.text;
  return {
    kind: 'other-way',
    sentence: `No pressure tank on the shelf does here. ${vented.title}`,
    reasons: [...(why === undefined ? [] : [`The nearest with a pressure tank: ${why}`]), ...vented.reasons],
    instead: failed.some((e) => e.failures.some((f) => f.code === 'store-too-small'))
      ? [
          'Or the largest draw in parts, an hour or so between them: say in Gauge what is drawn at once, and a pressure tank is sized for it.',
        ]
      : [],
    assumed,
    system: vented,
    safety,
  };
}

/** A system as it runs in the worst season of a house, or of a house as it may be. */
function runVented(system: System, site: Site, truth?: Truth): Operating | null {
  const plant = systemInHouse(system, site, 'worst', truth?.parts.load);
  if (!plant) return null;
  return operate(
    truth ? { ...plant, train: trainAsIs(truth, plant.train) } : plant,
    site,
    'worst',
    site.wantedTapFlowLMin,
  );
}

/** Whether it meets what is needed, in the worst season and in the warmest water. */
function does(worst: Operating, system: System, site: Site, input: SizeInput, truth?: Truth): boolean {
  const needs = needsOf(site, input.rules);
  const element = system.components.find((c) => c.part?.kind === 'element')?.part;
  const today = systemInHouse(system, site, 'today', truth?.parts.load);
  if (element?.kind !== 'element' || !today) return false;
  const train = truth ? trainAsIs(truth, today.train) : today.train;
  const warm = solveTrain(train, feedWaterAt(site, site.warmestC), 0, undefined, COARSE_MAP.slices);
  return (
    worst.fill.shuts &&
    worst.litresADay >= needs.litresADay.least &&
    worst.usableL >= needs.drawL.least &&
    worst.tapFlowLMin >= needs.tapLMin.least &&
    worst.fill.tankTdsMgL <= input.rules.productTdsMaxMgL &&
    !warm.starved &&
    warm.out.recovery <= highestRecovery(site, element)
  );
}

function judge(
  { tank, choice, system, worst }: Tried,
  beside: Design,
  pump: PartOf<'delivery-pump'>,
  site: Site,
  input: SizeInput,
  assumed: readonly Assumed[],
  against: number | null,
): Vented {
  const { catalogue, rules } = input;
  const n = formatNumber;
  const year = yearOf(system, beside, pump, worst, site, input);
  const weights = weightsOf(rules);
  const times = careOf(site);
  const plain = pointsOf({ ...beside, deliveryPumpId: null }, catalogue, worst, worst.middle.out, site, rules, year);
  const points: Points = {
    ...plain,
    devices: plain.devices + times('electricity') * weights.pump,
    room: plain.room + times('room') * weights.perTankLitre * tank.volumeL,
  };
  const truths = truthsOf(input, site, assumed, DRAWS);
  const holds = truths.filter((t) => {
    const run = runVented(system, t.site, t);
    return run !== null && does(run, system, t.site, input, t);
  }).length / truths.length;
  const worth = sumOf(points) + riskOf(holds);
  const money = against === null ? 0 : moneyOf(Math.abs(worth - against), weights);
  return {
    choice,
    title: `Put in ${designInSentence({ ...beside, deliveryPumpId: null }, catalogue, [withArticle(`${n(tank.volumeL, 2)} L vented tank with its pump`)])}: ${n(worst.litresADay, 2)} L a day in the coldest water, for ${formatReading(site.litresADay)} used, ${n(worst.tapFlowLMin, 2)} L/min at the tap to the last litre.`,
    sentence: `With a vented tank of ${n(tank.volumeL, 2)} L and a pump of its own: ${n(worst.litresADay, 2)} L a day, ${n(worst.tapFlowLMin, 2)} L/min at the tap to the last litre.`,
    reasons: [
      `Nothing pushes back on the membrane: over the year ${n(year.wasteRatio, 2)} L go to the drain for each litre, ${n(year.tdsMgL, 2)} mg/L as drunk, for ${n(year.cost, 2)} ${rules.currency} a year; the tank holds ${n(worst.usableL, 2)} L for a draw and is full in ${formatMinutes(worst.fill.minutes)}.`,
      `With readings and parts off by what they may be it does in ${n(10 * holds, 2)} of 10 draws.`,
      ...(against === null ? [] : [
        `By the house rules it is worth ${n(money, 2)} ${rules.currency} a year ${worth < against ? 'more' : 'less'} than what is advised: its pump and its room are counted.`,
      ]),
      `Its pump wants a socket (${n(pump.powerW, 2)} W while the tap runs), and without power nothing comes from the tap.`,
      'Open to the air, it is wiped out and its vent filter changed every year; its overflow is led to the drain, and a leak sensor stands under it.',
    ],
    costYear: year.cost,
    year,
    points,
    holds,
    worth,
  };
} // oxfmt-ignore

/** Its year as it is lived, with its pump's power while the tap runs and what of the system is used up. */
function yearOf(
  system: System,
  beside: Design,
  pump: PartOf<'delivery-pump'>,
  worst: Operating,
  site: Site,
  { catalogue, rules }: SizeInput,
): YearFigures {
  const plant = systemInHouse(system, site, 'today');
  if (!plant) throw new RangeError('a vented tank behind no membrane');
  const lived = ventedYear(beside, catalogue, site, rules, plant);
  const litres = 365 * site.litresADay;
  const energyKWh = lived.energyKWh + (pump.powerW * litres) / worst.tapFlowLMin / 60_000;
  const parts = changesCostYear(usedUpIn(system, site, site.litresADay, lived.wasteRatio));
  const water = ((litres + lived.wasteL) * rules.waterPerM3) / 1000;
  const cost = parts + water + energyKWh * rules.powerPerKWh;
  return { ...lived, energyKWh, cost, costPerL: cost / litres };
}
