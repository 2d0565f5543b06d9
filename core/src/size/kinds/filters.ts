import { feedWaterAt, supplyOf, type Site } from '../../gauge/site.ts';
import { changesCostYear, usedUpIn } from '../../system/wear.ts';
import { partsOf, type Catalogue, type Part, type PartOf } from '../../parts/catalogue.ts';
import { partInSentence } from '../../parts/kinds.ts';
import { formatNumber } from '../../quantity/format.ts';
import { atOpenTap } from '../../run/withoutMembrane.ts';
import type { HouseRules } from '../../rules/rules.ts';
import { buildSystem, type Choice, type Picked } from '../../system/build.ts';
import { agentOf, bedIn, bedOf, throttleLMin } from '../../system/carbon.ts';
import type { System } from '../../system/system.ts';
import { carbonWork, type CarbonWork } from '../../treatment/carbon.ts';
import { lampPreconditions, lampWork, RAW_TRANSMITTANCE, UV_DOSE } from '../../treatment/lamp.ts';
import { lampConditionWords } from '../../words/treatment.ts';
import { dispenserFor, entryAndTap, ironFor, tapFor, type Assembly, type SizeInput } from './candidates.ts';

const { max, min } = Math;

/** A tap that gives less than this is no filter tap, L/min. */
const LEAST_TAP_LMIN = 0.8;

/** Flow of the open tap through new filters in the warmest water at the highest pressure: the least time they have, L/min. */
export function fastestLMin(system: System, site: Site): number {
  const water = feedWaterAt(site, site.warmestC);
  const supply = { ...supplyOf(site, 'today'), staticBar: site.highestBar };
  const loads = Object.fromEntries(system.components.map((c) => [c.id, 0]));
  return atOpenTap(system, { supply, water, airBar: site.airBar }, { loads }).productLMin;
}

/** A choice of filters as it would be built, a limiting valve with it where the house pushes more than it bears. */
function choiceWith(filters: readonly Picked[], site: Site, catalogue: Catalogue, rules: HouseRules): Choice {
  const iron = ironFor(catalogue, site);
  // without a socket a dispenser neither heats nor cools
  const dispenser = site.socket === 'no' ? undefined : dispenserFor(catalogue, site);
  const { feed, sediment, tube, limiter, backflow } = entryAndTap(
    catalogue,
    { ...site, airGap: tapGap(catalogue) },
    rules,
  );
  const picks: Picked[] = [
    { kind: 'feed', part: feed },
    ...(backflow ? [{ kind: 'backflow', part: backflow }] : []),
    { kind: 'sediment', part: sediment },
    ...(iron ? [{ kind: 'iron', part: iron }] : []),
    ...filters,
    { kind: 'tap', part: tapFor(catalogue, tapGap(catalogue)) },
    ...(site.fridge ? [{ kind: 'fridge', part: null }] : []),
    ...(dispenser ? [{ kind: 'dispenser', part: dispenser }] : []),
  ];
  const bears = min(...[...picks.flatMap((p) => p.part ?? []), tube].map((p: Part) => p.maxPressureBar));
  // nothing of it is ever shut off from the house's own pressure
  const limited = limiter ?? (site.highestBar > bears ? (partsOf(catalogue, 'limiter')[0] ?? null) : null);
  return { picks: limited ? [{ kind: 'limiter', part: limited }, ...picks] : picks, tube };
}

/** Nothing goes to a drain: a plain tap, unless the shelf has only such with an air gap. */
const tapGap = (catalogue: Catalogue): boolean => !partsOf(catalogue, 'tap').some((t) => !t.airGap);

/** Whether the shelf has what every filter system stands on. */
const canBuild = (catalogue: Catalogue, rules: HouseRules): boolean =>
  partsOf(catalogue, 'feed').some((f) => f.way === rules.feedConnection) &&
  (['sediment', 'tap', 'tube', 'housing'] as const).every((kind) => partsOf(catalogue, kind).length > 0);

/** Cartridges, lamp and power of a year, the firm's money. */
function costOf(system: System, site: Site, rules: HouseRules): number {
  const parts = changesCostYear(usedUpIn(system, site, site.litresADay, 0));
  const watts = system.components.reduce((s, c) => s + (c.part?.kind === 'lamp' ? c.part.powerW : 0), 0);
  const water = (365 * site.litresADay * rules.waterPerM3) / 1000;
  return parts + water + (watts * 8760 * rules.powerPerKWh) / 1000;
}

/** Carbon tried at a house: one to three alike in a row. */
interface Tried {
  readonly part: PartOf<'carbon'>;
  readonly count: number;
  readonly choice: Choice;
  readonly work: CarbonWork;
  readonly fastest: number;
  /** most the tap may give for the carbon to have its time, L/min */
  readonly throttleLMin: number;
  readonly costYear: number;
}

function tryCarbon(part: PartOf<'carbon'>, count: number, site: Site, { catalogue, rules }: SizeInput): Tried {
  const carbons = Array.from({ length: count }, () => ({ kind: 'carbon', part }));
  const choice = choiceWith(carbons, site, catalogue, rules);
  const system = buildSystem(choice, catalogue, site);
  const fastest = fastestLMin(system, site);
  const bed = bedIn(system);
  const work = carbonWork(bed, max(0.05, fastest), agentOf(site), site.chlorineMgL, site.litresADay);
  return {
    part,
    count,
    choice,
    work,
    fastest,
    throttleLMin: throttleLMin(system, site),
    costYear: costOf(system, site, rules),
  };
}

/**
 * Carbon at its own tap: the cheapest that has its time at the fastest flow; where none has, the one that asks for the
 * least throttling. @returns null where none on the shelf does even throttled
 */
export function carbonAtTap(site: Site, input: SizeInput): Assembly | null {
  const { catalogue, rules } = input;
  if (!canBuild(catalogue, rules)) return null;
  const tried = partsOf(catalogue, 'carbon').flatMap((part) => [1, 2, 3].map((n) => tryCarbon(part, n, site, input)));
  const does = tried.filter((t) => min(t.fastest, t.throttleLMin) >= LEAST_TAP_LMIN);
  const [best] = does.sort(
    (a, b) =>
      Number(b.work.enough) - Number(a.work.enough) ||
      (a.work.enough ? a.costYear - b.costYear : b.throttleLMin - a.throttleLMin) ||
      a.costYear - b.costYear ||
      a.part.id.localeCompare(b.part.id),
  );
  if (!best) return null;
  const n = formatNumber;
  const agent = agentOf(site);
  const of =
    best.count === 1 ? partInSentence(best.part) : `${String(best.count)} × ${partInSentence(best.part)} in a row`;
  const throttled = !best.work.enough;
  const flow = min(best.fastest, best.throttleLMin);
  return {
    choice: best.choice,
    sentence: `Carbon at its own tap, without a membrane: ${of} behind a sediment cartridge, up to ${n(flow, 2)} L/min.`,
    reasons: [
      agent === 'none'
        ? 'There is no disinfectant to hold: it is for the taste alone.'
        : throttled
          ? `${agent === 'chlorine' ? 'Chlorine' : 'Chloramine'} wants ${n(best.work.wantedSeconds, 2)} s in the carbon, and at the open tap’s ${n(best.fastest, 2)} L/min it has ${n(best.work.contactSeconds, 2)}: the stop valve is throttled to ${n(best.throttleLMin, 2)} L/min, measured with jug and clock.`
          : `At the open tap’s ${n(best.fastest, 2)} L/min, the most it gives here, the water has ${n(best.work.contactSeconds, 2)} s in the carbon; ${agent} wants ${n(best.work.wantedSeconds, 2)}.`,
      'Behind carbon nothing protects the water any more: after a night the first glass is let run.',
      ...standingReasons(best.choice, site, input, best.costYear),
    ],
    costYear: best.costYear,
  };
}

/** What is told of every filter system. */
function standingReasons(choice: Choice, site: Site, { catalogue, rules }: SizeInput, costYear: number): string[] {
  const n = formatNumber;
  const partOfKind = (kind: string): Part | null => choice.picks.find((p) => p.kind === kind)?.part ?? null;
  const limiter = partOfKind('limiter');
  const iron = partOfKind('iron');
  const frame = partsOf(catalogue, 'frame')[0]?.size;
  const { cupboard } = site;
  return [
    ...(limiter
      ? [`A ${partInSentence(limiter)}: all of it stands at the house’s own pressure day and night, up to ${n(site.highestBar, 2)} bar.`]
      : ['All of it stands at the house’s own pressure day and night: its joints are looked at again the next day.']),
    ...(iron
      ? [`${iron.name} before the carbon: ${n(site.ironMgL, 2)} mg/L of iron would clog it and stain.`]
      : []),
    ...(site.dispenser && !partOfKind('dispenser')
      ? ['They want a dispenser that heats or cools: it wants a socket of its own, and the shelf must have one.']
      : []),
    ...(frame && cupboard && frame.widthMm > cupboard.widthMm
      ? [`It does not stand in the cupboard on one frame: ${n(frame.widthMm, 3)} mm wide, ${n(cupboard.widthMm, 3)} mm there. Its housings are hung one by one.`]
      : []),
    `Nothing goes to the drain; about ${n(costYear, 2)} ${rules.currency} a year.`,
    'It does not take out salt, hardness, nitrate or fluoride.',
  ];
} // oxfmt-ignore

/** Why no lamp may stand at this tap; empty where one may. */
export function againstLamp(site: Site): string[] {
  return [
    ...lampPreconditions({
      ironMgL: site.ironMgL,
      hardnessMgL: site.hardnessMgL,
      turbidityNTU: site.turbidityNTU,
      transmittancePercent: RAW_TRANSMITTANCE,
    }).map(lampConditionWords),
    ...(site.socket === 'no' ? ['there is no socket in the cupboard'] : []),
  ];
}

/**
 * A lamp with its filters at its own tap, for water a laboratory has found microbes in and nothing else to mend: the
 * smallest lamp that gives its dose at the fastest flow, at the end of its life, in the dimmest water it may stand in.
 * @returns null where its conditions are not met, or no lamp on the shelf is strong enough
 */
export function lampAtTap(site: Site, input: SizeInput): Assembly | null {
  const { catalogue, rules } = input;
  const [carbon] = [...partsOf(catalogue, 'carbon')]
    .filter((c) => c.holds === 'chlorine')
    // a block lets no grains by that would give shade
    .sort(
      (a, b) =>
        Number(bedOf(b).kind === 'block') - Number(bedOf(a).kind === 'block') ||
        (a.price ?? 0) - (b.price ?? 0) ||
        a.id.localeCompare(b.id),
    );
  if (!canBuild(catalogue, rules) || !carbon || againstLamp(site).length > 0) return null;
  const tried = partsOf(catalogue, 'lamp').flatMap((part) => {
    const choice = choiceWith([{ kind: 'carbon', part: carbon }, { kind: 'lamp', part }], site, catalogue, rules); // oxfmt-ignore
    const system = buildSystem(choice, catalogue, site);
    const flow = fastestLMin(system, site);
    const work = lampWork(part.lamp, max(0.05, flow), RAW_TRANSMITTANCE, part.lamp.lifeHours);
    return work.meets && flow >= LEAST_TAP_LMIN
      ? [{ part, choice, flow, work, costYear: costOf(system, site, rules) }]
      : [];
  });
  const [best] = tried.sort((a, b) => a.costYear - b.costYear || a.part.id.localeCompare(b.part.id));
  if (!best) return null;
  const n = formatNumber;
  return {
    choice: best.choice,
    sentence: `A lamp with its filters at its own tap, without a membrane: ${partInSentence(best.part)} behind sediment and carbon, up to ${n(best.flow, 2)} L/min.`,
    reasons: [
      `At the open tap’s ${n(best.flow, 2)} L/min, the most it gives here, the lamp gives ${n(best.work.doseMJcm2, 2)} mJ/cm² at the end of its life; ${n(UV_DOSE.classA, 2)} are wanted.`,
      `That holds for water of at least ${String(RAW_TRANSMITTANCE)} % transmittance: have the laboratory read it before anybody trusts the lamp.`,
      'Nobody drinks while it is off, and the water after it goes to a laboratory before anybody drinks at all. It treats this tap alone: basin and shower stay as they are.',
      ...standingReasons(best.choice, site, input, best.costYear),
    ],
    costYear: best.costYear,
  };
}
