import { siteFrom, feedWaterAt, type Assumed, type Site } from '../gauge/site.ts';
import { doubtsOf, isPrivate, type Doubt } from '../gauge/doubts.ts';
import { GAUGE_FIELDS, type FieldKey, type Known } from '../gauge/fields.ts';
import { solveTrain, type Train } from '../hydraulics/train.ts';
import type { ElementOutput } from '../membrane/element.ts';
import { designInWords, type Design } from '../line/design.ts';
import { seasonTemperatureC, trainOf } from '../line/plant.ts';
import { formatMinutes, formatNumber, formatReading } from '../quantity/format.ts';
import { partOf, partsOf, type Catalogue } from '../shelf/parts.ts';
import type { HouseRules } from '../shelf/rules.ts';
import { operatingMap } from '../storage/fill.ts';
import { settle } from './candidates.ts';
import {
  earlyFailures,
  evaluate,
  highestRecovery,
  RECOVERY_RANGE,
  warmOpen,
  type Evaluation,
  type FailureCode,
} from './evaluate.ts';

/** Everything a decision is made from. */
export interface SizeInput {
  readonly known: Known;
  readonly catalogue: Catalogue;
  readonly rules: HouseRules;
}

/** Another design that does, and the figure it wins on. */
export interface Alternative {
  readonly evaluation: Evaluation;
  readonly title: string;
  readonly winsOn: string;
}

export type Decision =
  | { readonly kind: 'needs'; readonly sentence: string; readonly missing: readonly FieldKey[] }
  | { readonly kind: 'referral'; readonly sentence: string; readonly reasons: readonly string[]; readonly next: string }
  | {
      readonly kind: 'nothing-fits';
      readonly sentence: string;
      readonly reasons: readonly string[];
      readonly nearest: Evaluation | null;
      readonly assumed: readonly Assumed[];
    }
  | {
      readonly kind: 'recommendation';
      readonly sentence: string;
      readonly reasons: readonly string[];
      readonly chosen: Evaluation;
      readonly alternatives: readonly Alternative[];
      readonly rejected: readonly string[];
      readonly notJudged: readonly string[];
      readonly assumed: readonly Assumed[];
      readonly safety: readonly Doubt[];
    };

/** What this version does not weigh, said wherever it recommends. */
export const NOT_JUDGED = [
  'direct systems without a tank',
  'ultraviolet',
  'chloramine contact time',
  'scaling of the membrane',
  'pH after minerals',
  'anything a pocket meter cannot see: lead, arsenic, fluoride, PFAS, microbes',
] as const;

/** Sources, waters and readings that are referred or put right first, never sized. */
export function referralReasons(site: Site, catalogue: Catalogue): string[] {
  const out: string[] = [];
  if (isPrivate(site.source) && site.laboratory !== 'clean')
    out.push(
      site.laboratory === 'unsafe'
        ? 'The laboratory report says this water is not safe. Disinfection comes first.'
        : 'Private water with no laboratory report: nobody knows whether it is safe.',
    );
  if (site.todayC > 38)
    out.push(
      `Feed at ${formatNumber(site.todayC)} °C: above the 38 °C a membrane and its housings bear. Find the cold line.`,
    );
  if (site.ironMgL > 0.3)
    out.push(`Iron ${formatNumber(site.ironMgL)} mg/L: above 0.3 it fouls the membrane. Treat the iron first.`);
  const most = Math.max(...partsOf(catalogue, 'element').map((e) => e.maxTdsMgL));
  if (site.tdsMgL > most)
    out.push(
      `TDS ${formatNumber(site.tdsMgL, 4)} mg/L: beyond the ${formatNumber(most, 4)} mg/L of any domestic element on the shelf.`,
    );
  return out;
}

/** What a search of the catalogue found. */
export interface Search {
  readonly working: readonly Evaluation[];
  readonly failed: readonly Evaluation[];
  /** first text of each reason that needed no full evaluation */
  readonly early: ReadonlyMap<FailureCode, string>;
}

/** Designs that share everything but the tank, and so one operating map. */
interface Family {
  readonly train: Train;
  readonly warm: ElementOutput;
  readonly designs: readonly Design[];
}

const byId = <T extends { id: string }>(parts: T[]): T[] => [...parts].sort((a, b) => a.id.localeCompare(b.id));

/**
 * Searches the catalogue: every element, restrictor, pump or none, and tank. A family whose open flow already falls
 * short of the need, keeps too much of the feed or passes too much salt is set aside without a map, and only evaluated
 * when nothing else works, to tell how near it comes.
 */
export function searchDesigns(input: SizeInput, site: Site): Search {
  const { catalogue, rules } = input;
  const base = settle(catalogue, site, rules).design;
  const early = new Map<FailureCode, string>();
  const tanks = byId(partsOf(catalogue, 'tank'));
  const pumpIds = [null, ...byId(partsOf(catalogue, 'pump')).map((p) => p.id)];
  const water = feedWaterAt(site, seasonTemperatureC(site, 'worst'));
  const hopeful: Family[] = [];
  const aside: Family[] = [];
  for (const element of byId(partsOf(catalogue, 'element')))
    for (const restrictor of byId(partsOf(catalogue, 'restrictor')))
      for (const pumpId of pumpIds) {
        const designs = tanks
          .map((t) => ({ ...base, elementId: element.id, restrictorId: restrictor.id, tankId: t.id, pumpId }))
          .filter((design) => {
            const reasons = earlyFailures(design, catalogue, site);
            for (const r of reasons) if (!early.has(r.code)) early.set(r.code, r.text);
            return reasons.length === 0;
          });
        const first = designs[0];
        if (!first) continue;
        const train = trainOf(first, catalogue, site, 'worst');
        const { out } = solveTrain(train, water, 0);
        const warm = warmOpen(first, catalogue, site);
        const short =
          out.permeateLDay < site.litresADay * rules.spareCapacity ||
          warm.recovery > highestRecovery(site.hardnessMgL) ||
          out.recovery < RECOVERY_RANGE.min ||
          out.permeateTdsMgL > rules.productTdsMaxMgL;
        (short ? aside : hopeful).push({ train, warm, designs });
      }
  const run = (families: readonly Family[]): Evaluation[] =>
    families.flatMap((f) => {
      const map = operatingMap(f.train, water);
      return f.designs.map((d) => evaluate(d, catalogue, site, rules, map, f.warm, 'map'));
    });
  let all = run(hopeful);
  const order = (a: Evaluation, b: Evaluation): number =>
    a.score - b.score || JSON.stringify(a.design).localeCompare(JSON.stringify(b.design));
  const working = all.filter((e) => e.failures.length === 0).sort(order);
  if (working.length === 0) all = [...all, ...run(aside)];
  const failed = all
    .filter((e) => e.failures.length > 0)
    .sort((a, b) => a.failures.length - b.failures.length || b.worst.litresADay - a.worst.litresADay || order(a, b));
  return { working, failed, early };
}

interface Measure {
  readonly name: string;
  readonly of: (e: Evaluation, catalogue: Catalogue) => number;
  readonly words: (e: Evaluation, catalogue: Catalogue) => string;
}

/** What designs are told apart by, each smaller is better. */
const MEASURES: readonly Measure[] = [
  {
    name: 'Least to the drain',
    of: (e) => e.worst.wasteRatio,
    words: (e) => `${formatNumber(e.worst.wasteRatio, 2)} L to the drain for each litre`,
  },
  {
    name: 'Quickest refill',
    of: (e) => e.worst.fill.minutes,
    words: (e) => `${formatMinutes(e.worst.fill.minutes)} to refill`,
  },
  {
    name: 'Most in store',
    of: (e) => -e.worst.usableL,
    words: (e) => `${formatNumber(e.worst.usableL, 2)} L at the tap from a full tank`,
  },
  {
    name: 'Purest water',
    of: (e) => e.worst.fill.tankTdsMgL,
    words: (e) => `${formatNumber(e.worst.fill.tankTdsMgL, 2)} mg/L in the tank`,
  },
  {
    name: 'Least room',
    of: (e, c) => partOf(c, 'tank', e.design.tankId).volumeL,
    words: (e, c) => `a ${formatNumber(partOf(c, 'tank', e.design.tankId).volumeL, 2)} L tank`,
  },
  {
    name: 'No electricity',
    of: (e) => (e.design.pumpId === null ? 0 : 1),
    words: (e) => (e.design.pumpId === null ? 'no pump, no socket' : 'a pump and its socket'),
  },
];

/** Up to four other working designs, each better than the chosen one at something a household can feel. */
export function alternativesTo(
  chosen: Evaluation,
  working: readonly Evaluation[],
  catalogue: Catalogue,
): Alternative[] {
  const out: Alternative[] = [];
  const taken = new Set([JSON.stringify(chosen.design)]);
  for (const m of MEASURES) {
    const mine = m.of(chosen, catalogue);
    const better = working.filter((e) => {
      const gain = mine - m.of(e, catalogue);
      return gain > Math.max(1e-6, 0.08 * Math.abs(mine)) && !taken.has(JSON.stringify(e.design));
    });
    // of those better at this, the one that gives up least elsewhere among the better half
    better.sort((a, b) => m.of(a, catalogue) - m.of(b, catalogue));
    const pick = better.slice(0, Math.max(1, Math.ceil(better.length / 3))).sort((a, b) => a.score - b.score)[0];
    if (!pick) continue;
    taken.add(JSON.stringify(pick.design));
    out.push({
      evaluation: pick,
      title: m.name,
      winsOn: `${m.words(pick, catalogue)}, against ${m.words(chosen, catalogue)}`,
    });
  }
  for (const e of working) {
    if (out.length >= 2) break;
    if (taken.has(JSON.stringify(e.design))) continue;
    taken.add(JSON.stringify(e.design));
    const m = MEASURES.find((x) => x.of(e, catalogue) < x.of(chosen, catalogue));
    out.push({
      evaluation: e,
      title: m ? m.name : 'Close behind',
      winsOn: m
        ? `${m.words(e, catalogue)}, against ${m.words(chosen, catalogue)}`
        : `no figure better; ${designInWords(e.design, catalogue)} does as well if parts are short`,
    });
  }
  return out.slice(0, 4);
}

/** Reasons of a recommendation, each with its figures. */
function reasonsFor(e: Evaluation, site: Site, input: SizeInput, working: readonly Evaluation[]): string[] {
  const w = e.worst;
  const n = formatNumber;
  const reasons: string[] = [
    `At ${n(w.middle.inletBar, 2)} bar and ${formatReading(w.temperatureC)} °C it fills the tank at ${n(w.litresADay, 2)} L a day; ${formatReading(site.litresADay)} L are used.`,
    `A full tank gives ${n(w.usableL, 2)} L at the tap and is full again in ${formatMinutes(w.fill.minutes)}; it shuts at ${n(w.fill.closeBar, 2)} bar.`,
    `The tank holds about ${n(w.fill.tankTdsMgL, 2)} mg/L from a feed of ${n(site.tdsMgL, 3)} (${n(100 * (1 - w.fill.tankTdsMgL / site.tdsMgL), 3)} % held back over the fill), and ${n(w.wasteRatio, 2)} L go to the drain for each litre.`,
  ];
  if (e.design.pumpId !== null) {
    const bare = partsOf(input.catalogue, 'tank')
      .map((t) => evaluate({ ...e.design, pumpId: null, tankId: t.id }, input.catalogue, site, input.rules))
      .sort((a, b) => a.failures.length - b.failures.length || b.worst.usableL - a.worst.usableL)[0];
    const other = working.find((f) => f.design.pumpId === null);
    reasons.push(
      other
        ? `A booster pump is worth its socket: without it the best design fills in ${formatMinutes(other.worst.fill.minutes)} and sends ${n(other.worst.wasteRatio, 2)} L to the drain for each litre.`
        : `A booster pump: without one nothing on the shelf does. The same element unpumped: ${lowerFirst(bare?.failures[0]?.text ?? 'the waste is out of proportion.')}`,
    );
  } else reasons.push(`No booster pump: ${formatReading(site.worstBar)} bar at the worst hour is enough.`);
  reasons.push(...settle(input.catalogue, site, input.rules).reasons);
  if (site.metalAfter === 'no' && !site.mineralsWanted)
    reasons.push('No remineralisation: no metal pipe follows, and nobody asked for it.');
  if (!site.cupboard) reasons.push('The cupboard is not measured: whether it stands in it is not known.');
  return reasons;
}

function lowerFirst(s: string): string {
  return s.charAt(0).toLowerCase() + s.slice(1);
}

function titleOf(e: Evaluation, site: Site, catalogue: Catalogue): string {
  const tank = partOf(catalogue, 'tank', e.design.tankId);
  const element = partOf(catalogue, 'element', e.design.elementId);
  const article = /^Tank (8|11|18)/.test(tank.name) ? 'an' : 'a';
  const parts = [
    element.name.replace(/^Element/, 'element').replace(/, (.*)$/, ' ($1)'),
    `${article} ${tank.name.replace(/^Tank /, '').replace(', slim', ' slim')} tank`,
    ...(e.design.pumpId === null ? [] : ['a booster pump']),
    ...(e.design.limiterId === null ? [] : ['a limiting valve']),
    ...(e.design.mineralId === null ? [] : ['minerals after the tank']),
  ];
  const list = `${parts.slice(0, -1).join(', ')} and ${parts.at(-1) ?? ''}`;
  const without = e.design.pumpId === null ? ', without a pump' : '';
  return `Put in ${list}${without}: ${formatNumber(e.worst.litresADay, 2)} L a day in the coldest water, for ${formatReading(site.litresADay)} used.`;
}

/**
 * Decides for a house: what is missing, a referral, a refusal with its reason, or one recommendation with runners-up.
 * Pure: the same input gives the same decision, whatever the order of the catalogue.
 */
export function decide(input: SizeInput): Decision {
  const result = siteFrom(input.known, input.rules);
  if (!result.ok) {
    const names = result.missing.map((k) => GAUGE_FIELDS[k].label.toLowerCase());
    return { kind: 'needs', missing: result.missing, sentence: `To size this house, read first: ${names.join(', ')}.` };
  }
  const { site, assumed } = result;
  const referral = referralReasons(site, input.catalogue);
  if (referral.length > 0)
    return {
      kind: 'referral',
      sentence: 'Not sized: this water is referred first.',
      reasons: referral,
      next: isPrivate(site.source)
        ? 'Have raw water sampled by a laboratory (microbiology, iron, manganese, nitrate, and what the household fears). Until then nobody drinks it on our word.'
        : 'Put this right, read again, and the sizing opens by itself.',
    };
  const { working, failed, early } = searchDesigns(input, site);
  // the search compares by the maps; what is shown is solved anew
  const solved = (e: Evaluation): Evaluation => evaluate(e.design, input.catalogue, site, input.rules, e.worst.map);
  const chosen = working[0] && solved(working[0]);
  if (!chosen) {
    const reasons = new Map<FailureCode, string>(early);
    for (const f of failed) for (const r of f.failures) if (!reasons.has(r.code)) reasons.set(r.code, r.text);
    return {
      kind: 'nothing-fits',
      sentence: nothingFits(failed[0], early),
      reasons: [...reasons.values()],
      nearest: failed[0] ?? null,
      assumed,
    };
  }
  const chosenReasons = reasonsFor(chosen, site, input, working);
  const rejected = new Map<FailureCode, string>(early);
  for (const f of failed) {
    const r = f.failures[0];
    if (r && !rejected.has(r.code)) rejected.set(r.code, `${designInWords(f.design, input.catalogue)}: ${r.text}`);
  }
  return {
    kind: 'recommendation',
    sentence: titleOf(chosen, site, input.catalogue),
    reasons: chosenReasons,
    chosen,
    alternatives: alternativesTo(chosen, working, input.catalogue).map((a) => ({
      ...a,
      evaluation: solved(a.evaluation),
    })),
    rejected: [...rejected.values()].slice(0, 5),
    notJudged: NOT_JUDGED,
    assumed,
    safety: doubtsOf(input.known).filter((d) => d.weight === 'safety'),
  };
}

function nothingFits(nearest: Evaluation | undefined, early: ReadonlyMap<FailureCode, string>): string {
  const first = nearest?.failures[0]?.text ?? [...early.values()][0];
  return `Nothing on the shelf does here. ${first ?? 'No element keeps a bearable share of the feed.'}`;
}
