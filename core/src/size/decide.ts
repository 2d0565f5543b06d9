import { formatNumber, inSentence } from '../quantity/format.ts';
import { siteFrom, type Assumed, type Site } from '../gauge/site.ts';
import { doubtsOf, isPrivate, type Doubt } from '../gauge/doubts.ts';
import { GAUGE_FIELDS, type FieldKey } from '../gauge/fields.ts';
import type { Catalogue } from '../parts/catalogue.ts';
import type { Choice } from '../system/build.ts';
import { choiceOf, designInWords, sameDesign, sameKind, type Design } from '../system/design.ts';
import { alternativesTo, type Alternative } from './explain/alternatives.ts';
import type { Assembly, SizeInput } from './kinds/candidates.ts';
import { evaluate, type Evaluation } from './judge/evaluate.ts';
import type { FailureCode } from './judge/failures.ts';
import { otherWay, type OtherWay } from './kinds/otherWay.ts';
import { reasonsFor, titleOf } from './explain/reasons.ts';
import { referralReasons, wantedFigures } from './kinds/referral.ts';
import { ventedAlone } from './kinds/vented.ts';
import { searchDesigns, type Search } from './search/search.ts';
import { moneyOf, weightsOf } from './judge/weights.ts';
import { settledBy, SURE, weigh, type Weighed } from './judge/worth.ts';

export type Decision =
  | { readonly kind: 'needs'; readonly sentence: string; readonly missing: readonly FieldKey[] }
  | OtherWay
  | {
      readonly kind: 'referral';
      readonly sentence: string;
      readonly reasons: readonly string[];
      readonly next: string;
      /** what a laboratory is asked for, to take along */
      readonly wanted: readonly string[];
    }
  | {
      readonly kind: 'nothing-fits';
      readonly sentence: string;
      readonly reasons: readonly string[];
      /** codes of the reasons, in their order */
      readonly because: readonly FailureCode[];
      readonly nearest: Evaluation | null;
      readonly assumed: readonly Assumed[];
      readonly safety: readonly Doubt[];
    }
  | {
      readonly kind: 'recommendation';
      readonly sentence: string;
      readonly reasons: readonly string[];
      readonly chosen: Evaluation;
      readonly alternatives: readonly Alternative[];
      /** how surely it does, and what to confirm */
      readonly surety: Surety;
      /** the designs that stand next in line by points */
      readonly contenders: readonly Contender[];
      /** points for what it may not do */
      readonly risk: number;
      readonly rejected: readonly string[];
      readonly notJudged: readonly string[];
      readonly assumed: readonly Assumed[];
      readonly safety: readonly Doubt[];
    };

/** A design beside another, with the points for what it may not do (see `weigh`); 0 where it was not drawn. */
export interface Contender {
  readonly design: Design;
  readonly risk: number;
}

/** What a decision would have put in: a design, or filters; null where nothing is. */
export function proposalOf(d: Decision | undefined): Proposal | null {
  if (d?.kind === 'recommendation') return { design: d.chosen.design };
  return d?.kind === 'other-way' && d.system ? { assembly: d.system } : null;
}

/** What may be approved: a design the search found, or a system of filters without a membrane, in its own words. */
export type Proposal = { readonly design: Design } | { readonly assembly: Assembly };

/** Whether two proposals are the same parts; nothing is the same as none. */
export function sameProposal(a: Proposal, b: Proposal | null): boolean {
  if (!b) return false;
  if ('design' in a) return 'design' in b && sameDesign(a.design, b.design);
  const parts = (p: Assembly): string => p.choice.picks.map((x) => `${x.kind} ${x.part?.id ?? ''}`).join();
  return 'assembly' in b && parts(a.assembly) === parts(b.assembly);
}

/** A proposal as a choice of parts. @throws RangeError where a design names a part the catalogue lacks */
export const choiceFor = (p: Proposal, catalogue: Catalogue): Choice =>
  'design' in p ? choiceOf(p.design, catalogue) : p.assembly.choice;

/** What this version does not weigh, said wherever it recommends. */
export const NOT_JUDGED = [
  'a dispenser beyond what it is filled with and how it is heated',
  'softening for the whole house',
  'anything a pocket meter cannot see: lead, arsenic, fluoride, PFAS, microbes',
] as const;

/** A design chosen for a house, with what it was chosen from; what is said of it is worked out by `decide`. */
export interface Choosing {
  readonly kind: 'chosen';
  readonly chosen: Evaluation;
  readonly site: Site;
  readonly assumed: readonly Assumed[];
  readonly safety: readonly Doubt[];
  readonly search: Search;
  readonly weighed: readonly Weighed[];
  /** what would be chosen if nothing were approved already; null where it is the same */
  readonly instead: Weighed | null;
}

/** A house that is to be searched for: nothing is missing, referred or answered another way. */
export interface ToSearch {
  readonly kind: 'to-search';
  readonly site: Site;
  readonly assumed: readonly Assumed[];
  readonly safety: readonly Doubt[];
}

/** What can be said of a house before its catalogue is searched. */
export function beforeSearch(
  input: SizeInput,
): Extract<Decision, { kind: 'needs' | 'referral' | 'other-way' }> | ToSearch {
  const result = siteFrom(input.known, input.rules, input.placed);
  if (!result.ok) {
    const names = result.missing.map((k) => inSentence(GAUGE_FIELDS[k].label));
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
      wanted: wantedFigures(site),
    };
  const safety = doubtsOf(input.known).filter((d) => d.weight === 'safety');
  return otherWay(site, input, assumed, safety) ?? { kind: 'to-search', site, assumed, safety };
}

/**
 * Chooses for a house, without saying why: what `decide` decides, for whoever asks what another answer would lead to.
 * Pure: the same input gives the same choice, whatever the order of the catalogue.
 * @param say whether it is worked out, where nothing fits, what comes nearest and what an open tank would do
 */
export function chooseFor(
  input: SizeInput,
  say: 'why-not' | 'only-what-fits' = 'why-not',
): Exclude<Decision, { kind: 'recommendation' }> | Choosing {
  const before = beforeSearch(input);
  return before.kind === 'to-search' ? chooseAmong(input, before, say) : before;
}

/** The same for a house that is to be searched for. */
export function chooseAmong(
  input: SizeInput,
  { site, assumed, safety }: ToSearch,
  say: 'why-not' | 'only-what-fits' = 'why-not',
): Extract<Decision, { kind: 'nothing-fits' | 'other-way' }> | Choosing {
  const search = searchDesigns(input, site, say === 'why-not');
  const { order, weighed, instead } = weigh(search, input, site, assumed);
  const chosen = firstThatDoes(order, input, site);
  if (chosen) return { kind: 'chosen', chosen, site, assumed, safety, search, weighed, instead };
  const { failed, early } = search;
  const vented = say === 'why-not' ? ventedAlone(failed, site, input, assumed, safety) : null;
  if (vented) return vented;
  const reasons = new Map<FailureCode, string>(early);
  for (const f of failed) for (const r of f.failures) if (!reasons.has(r.code)) reasons.set(r.code, r.text);
  return {
    kind: 'nothing-fits',
    sentence: nothingFits(failed[0], early),
    reasons: [...reasons.values()],
    because: [...reasons.keys()],
    nearest: failed[0] ?? null,
    assumed,
    safety,
  };
}

/** The search compares by the maps; what is shown is solved anew, and one on the very edge may fall by it: the next one is asked. */
function firstThatDoes(order: readonly Evaluation[], input: SizeInput, site: Site): Evaluation | undefined {
  for (const { design } of order) {
    const fine = evaluate(design, input.catalogue, site, input.rules);
    if (fine.failures.length === 0) return fine;
  }
  return undefined;
}

/**
 * Decides for a house: what is missing, a referral, that something else answers what they want, a refusal with its reason, or one recommendation with runners-up.
 * Pure: the same input gives the same decision, whatever the order of the catalogue.
 */
export function decide(input: SizeInput): Decision {
  const choice = chooseFor(input);
  if (choice.kind !== 'chosen') return choice;
  const { chosen, site, assumed, safety, search, weighed, instead } = choice;
  const { working, failed, early } = search;
  const rejected = new Map<FailureCode, string>(early);
  for (const f of failed) {
    const r = f.failures[0];
    if (r && !rejected.has(r.code)) rejected.set(r.code, `${designInWords(f.design, input.catalogue)}: ${r.text}`);
  }
  const surety = suretyOf(chosen, weighed, input, site, assumed);
  const risk = (d: Design): number => {
    const w = weighed.find((x) => sameDesign(x.evaluation.design, d));
    return w ? w.worth - w.evaluation.score : 0;
  };
  const solved = (e: Evaluation): Evaluation => evaluate(e.design, input.catalogue, site, input.rules);
  return {
    kind: 'recommendation',
    sentence: titleOf(chosen, site, input.catalogue),
    reasons: [
      ...reasonsFor(chosen, site, input, working),
      suretyWords(surety),
      ...keptWords(weighed[0], instead, input),
    ],
    chosen,
    surety,
    alternatives: alternativesTo(chosen, working, input.catalogue, solved),
    contenders: nextInLine(chosen, working).map((design) => ({ design, risk: risk(design) })),
    risk: risk(chosen.design),
    rejected: [...rejected.values()].slice(0, 5),
    notJudged: NOT_JUDGED,
    assumed,
    safety,
  };
}

/** Why what is approved is kept though another would be chosen now. */
function keptWords(kept: Weighed | undefined, instead: Weighed | null, { catalogue, rules }: SizeInput): string[] {
  if (!kept || !instead) return [];
  const points = kept.worth - instead.worth;
  const than =
    points > 0
      ? `worth ${formatNumber(moneyOf(points, weightsOf(rules)), 2)} a year more by the house rules`
      : 'no better by the house rules';
  return [
    `Kept as it stands: ${designInWords(instead.evaluation.design, catalogue)} would be ${than}, within the band in which two are as good.`,
  ];
}

/** How surely a design does, and what reading would make it surer. */
export interface Surety {
  /** share of the draws of readings and parts as they may be in which it does, 0 to 1 */
  readonly holds: number;
  /** one or two readings after which it would do in nine of ten; none where it does already, or where no two would */
  readonly confirm: readonly FieldKey[];
  /** share in which it then does */
  readonly then: number;
}

function suretyOf(
  chosen: Evaluation,
  weighed: readonly Weighed[],
  input: SizeInput,
  site: Site,
  assumed: readonly Assumed[],
): Surety {
  const mine = weighed.find((w) => sameDesign(w.evaluation.design, chosen.design));
  const holds = mine?.holds ?? 0;
  if (holds >= SURE) return { holds, confirm: [], then: holds };
  const { fields, then } = settledBy(chosen, input, site, assumed);
  return { holds, confirm: fields, then };
}

/** How surely a design does, and what would make it surer, in a sentence. */
export function suretyWords({ holds, confirm, then }: Surety): string {
  const inTen = (share: number): string => `${formatNumber(10 * share, 2)} of 10`;
  const does = `With readings and parts off by what they may be it does in ${inTen(holds)} draws`;
  if (holds >= SURE) return `${does}.`;
  const names = confirm.map((f) => inSentence(GAUGE_FIELDS[f].label)).join(' and ');
  return names === ''
    ? `${does}, and no reading alone makes it surer: it stands near what it can do. Prove it at the first visit.`
    : `${does}; confirm ${names}, and if ${confirm.length > 1 ? 'they come' : 'it comes'} out as taken it does in ${inTen(then)}.`;
}

/** How many kinds of system are looked at beside the one that is advised. */
const OTHER_KINDS = 4;

/** The best of every other kind of system, and of its own kind the nearest by points and in each part: what a moved reading brings up. */
function nextInLine(chosen: Evaluation, working: readonly Evaluation[]): Design[] {
  const c = chosen.design;
  const others = working.map((e) => e.design).filter((d) => !sameDesign(d, c));
  const own = others.filter((d) => sameKind(d, c));
  const kinds = others.filter((d) => !sameKind(d, c));
  const list = [
    ...kinds.filter((d, i) => kinds.findIndex((x) => sameKind(x, d)) === i).slice(0, OTHER_KINDS),
    ...own.slice(0, 2),
    own.find((d) => d.elementId !== c.elementId || d.elementCount !== c.elementCount),
    own.find((d) => d.restrictorId !== c.restrictorId),
    own.find((d) => d.tankId !== c.tankId),
  ].filter((d) => d !== undefined);
  return list.filter((d, i) => list.findIndex((x) => sameDesign(x, d)) === i);
}

function nothingFits(nearest: Evaluation | undefined, early: ReadonlyMap<FailureCode, string>): string {
  const first = nearest?.failures[0]?.text ?? [...early.values()][0];
  return `Nothing on the shelf does here. ${first ?? 'No element keeps a bearable share of the feed.'}`;
}
