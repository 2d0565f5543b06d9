import { FIELD_KEYS } from '../gauge/fields.ts';
import { siteFrom } from '../gauge/site.ts';
import { CORE_VERSION } from '../coreVersion.ts';
import { readySteps } from '../flush/order.ts';
import { drinkBasis } from '../drinking/basis.ts';
import { mayDrink, type DrinkBasis, type MayDrink } from '../drinking/mayDrink.ts';
import { happeningRow, openHappenings } from '../keep/happening.ts';
import { soughtRow, uncleanSamples, WATER_WORDS } from '../keep/sample.ts';
import { dueOf, lifeAt, type Due, type LifeSpan } from '../keep/life.ts';
import type { Catalogue } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';
import { otherWay } from '../size/kinds/otherWay.ts';
import { referralReasons } from '../size/kinds/referral.ts';
import type { Fact, FactOf } from '../facts/facts.ts';
import { isDone, openCalls, openChange, readJob, visitMs, type JobRecord, type TimerState } from '../facts/record.ts';
import { holesOf } from '../plumb/holes.ts';
import { partsNeeded, pickList, stillNeeded } from '../plumb/picklist.ts';
import { COMPLAINTS } from '../prove/complaint.ts';
import { jointStep } from '../plumb/joints.ts';
import { PLAIN_VISIT, tasksIn } from '../day/tasks.ts';
import type { Task } from '../day/plan.ts';
import { changeSheet } from '../keep/changeSheet.ts';
import { jointsOf } from '../system/system.ts';
import { ASK_NEXT, asksOf, laboratoryAsks, renewedMs, type Ask } from './asks.ts';
import { tallyOf, type Tally } from './tally.ts';
import { operateIn } from './view.ts';
import { asBuilt, spansAsBuilt, type AsBuilt } from './asBuilt.ts';
import { judgedSite, type DesignVersion } from './version.ts';

export type Lens = 'gauge' | 'size' | 'plumb' | 'flush' | 'prove' | 'keep';
export const LENSES: readonly Lens[] = ['gauge', 'size', 'plumb', 'flush', 'prove', 'keep'];

/** Where a job stands, for the day's round. */
export interface JobSummary {
  /** the part of the job that is next */
  readonly lens: Lens;
  readonly next: string;
  readonly timers: readonly TimerState[];
  /** whether they may drink; null where nothing is known of the job yet */
  readonly drinking: MayDrink | null;
  readonly lives: readonly Due[];
  /** visits somebody gave a day, the first to come first */
  readonly visits: readonly DatedVisit[];
  readonly inService: boolean;
  /** a span they are away, ISO 8601; the last that was told of */
  readonly away?: AwaySpan | undefined;
  /** what it waits for beside its lives, the first to fall due first */
  readonly asks: readonly Ask[];
}

/** A span somebody is not at home. */
export interface AwaySpan {
  readonly from: string;
  readonly until: string;
}

/** A visit that was given a day, past or to come, with what a day is planned by. */
export interface DatedVisit {
  /** when it is, ISO 8601 */
  readonly on: string;
  readonly reason: string;
  /** the fact it stands in: another day for it corrects that one */
  readonly fact: FactOf<'visit'>;
  /** stays at the house and the waits between them; none where it is over */
  readonly work: readonly Task[];
  /** parts it changes, by their id on the shelf */
  readonly brings: readonly string[];
}

/**
 * Where a job stands without a clock: it is kept beside the job, and what hangs on the time is read out of it when it is
 * looked at, so that nothing in it grows stale by itself.
 */
export interface KeptSummary {
  readonly coreVersion: string;
  readonly lens: Lens;
  /** null where it is what is due */
  readonly next: string | null;
  readonly timers: readonly TimerState[];
  /** what whether they may drink rests on; null where nothing is known of the job yet */
  readonly drinking: DrinkBasis | null;
  readonly spans: readonly LifeSpan[];
  readonly visits: readonly DatedVisit[];
  readonly inService: boolean;
  readonly away?: AwaySpan | undefined;
  /** work is in hand though it is in service: a change begun, a call that is open */
  readonly inHand?: boolean | undefined;
  readonly approved: boolean;
  readonly asks?: readonly Ask[] | undefined;
  /** what it says of the firm; nothing before it is in service */
  readonly tally?: Tally | undefined;
  /** what it still takes of the firm's stock, by part; nothing once it is in service */
  readonly needs?: Readonly<Record<string, number>> | undefined;
}

/** Says where a job stands and what is next, from its facts and the versions of its design, as it is kept beside the job. */
export function keptSummary(
  facts: readonly Fact[],
  versions: readonly DesignVersion[],
  catalogue: Catalogue,
  rules: HouseRules,
): KeptSummary {
  const built = asBuilt(versions, facts);
  const all = built?.record ?? readJob(facts);
  const visits = datedVisits(all, built);
  const blank = {
    coreVersion: CORE_VERSION,
    drinking: drinkBasis(versions, facts, built),
    spans: [],
    visits,
    inService: false,
    approved: built !== null,
    asks: laboratoryAsks(built?.record ?? all),
  };
  if (!built) return { ...blank, ...undecided(all, catalogue, rules) };
  const { version, record } = built;
  const base = { ...blank, timers: Object.values(record.timers), ...(built.inService ? { tally: tallyOf(built) } : {}), ...awayIn(record) };
  if (built.outMs !== null)
    return { ...base, lens: 'keep', next: 'Taken out.', visits: [], inService: true };
  if (!built.inService) {
    const flushBegun = version.sheet.some((s) => isDone(record, s.key));
    const [open] = readySteps(version.sheet, record);
    return {
      ...base,
      lens: flushBegun ? 'flush' : 'plumb',
      next: flushBegun
        ? (open?.title ?? 'Flush')
        : version.number === 1
          ? 'Put it in: pick list, holes, joints.'
          : `Put version ${String(version.number)} in: what is new, and its flush.`,
      needs: needsOf(built),
    };
  }
  const spans = spansAsBuilt(built);
  const change = openChange(record);
  if (change) {
    const [open] = readySteps(change.sheet, record);
    return {
      ...base,
      lens: 'keep',
      next: `Change in hand: ${open?.title ?? change.reason}`,
      spans,
      inService: true,
      inHand: true,
    };
  }
  const [happened] = openHappenings(record);
  if (happened) {
    const { next, closedBy } = happeningRow(happened.event);
    return { ...base, lens: closedBy === 'proof' ? 'prove' : 'keep', next, spans, inService: true, inHand: true };
  }
  const [unclean] = uncleanSamples(record);
  if (unclean)
    return {
      ...base,
      lens: 'keep',
      next: `The laboratory found it not clean: ${soughtRow(unclean.sought).label} in the ${WATER_WORDS[unclean.water]}.`,
      spans,
      inService: true,
      inHand: true,
    };
  if (!record.proofs.some((p) => p.design === version.id) && (version.number === 1 || version.sheet.length > 0))
    return {
      ...base,
      lens: 'prove',
      next: record.proofs.length === 0 ? 'Prove it: first readings.' : 'Prove it again: parts were changed.',
      spans,
      inService: true,
    };
  const [call] = openCalls(record);
  if (call)
    return { ...base, lens: 'keep', next: `They called: ${COMPLAINTS[call.complaint]}.`, spans, inService: true, inHand: true };
  const since = renewedMs(built);
  const proofs = record.proofs.filter((p) => p.design === version.id && Date.parse(p.at) >= since);
  if (proofs.length === 0 && since > 0)
    return { ...base, lens: 'prove', next: 'Prove it again: the membrane was changed.', spans, inService: true };
  return { ...base, lens: 'keep', next: null, spans, inService: true, asks: asksOf(built) };
} // oxfmt-ignore

/** The last span they said they are away. */
function awayIn(record: JobRecord): { readonly away?: AwaySpan } {
  const last = record.happened.findLast((h) => h.event === 'away');
  return last?.until === undefined ? {} : { away: { from: last.from ?? last.at, until: last.until } };
}

/** What an approved system still takes of the firm's stock. */
function needsOf({ version, system, record }: AsBuilt): Record<string, number> {
  const site = judgedSite(version.judged);
  if (!site) return {};
  const { rules } = version.judged;
  const picks = pickList(system, rules, holesOf(system, site, rules), site.stopValveThread);
  return stillNeeded(partsNeeded(picks), record.stockOut.filter((f) => f.change === undefined).flatMap((f) => f.parts)); // oxfmt-ignore
}

/** Making a joint, where it is not made yet, min. */
const JOINT_MIN = 3;

function datedVisits(record: JobRecord, built: AsBuilt | null): DatedVisit[] {
  return record.visits
    .flatMap((v) => (v.on === undefined ? [] : [{ v, on: v.on }]))
    .sort((a, b) => visitMs(a.v) - visitMs(b.v))
    .map(({ v, on }) => ({ on, reason: v.reason, fact: v, ...workOf(v, built) }));
}

/** What a visit to come takes: a change by its sheet, a system that is not wet yet by what is open of it; else a plain one. */
function workOf(v: FactOf<'visit'>, built: AsBuilt | null): Pick<DatedVisit, 'work' | 'brings'> {
  if (v.change !== undefined || v.changed.length > 0) return { work: [], brings: [] };
  const plain = { work: PLAIN_VISIT, brings: [] };
  if (!built) return plain;
  const { system, version, record } = built;
  const components = (v.toChange ?? []).filter((id) => system.components.some((c) => c.id === id));
  if (!built.inService) {
    const [first, ...others] = tasksIn(version.sheet, record);
    const unmade = jointsOf(system).filter((j) => !isDone(record, jointStep(j.id))).length;
    return first ? { work: [{ ...first, handsMin: first.handsMin + JOINT_MIN * unmade }, ...others], brings: [] } : plain;
  }
  const site = judgedSite(version.judged);
  if (components.length === 0 || !site) return plain;
  const sheet = changeSheet('', { components, sanitise: false }, system, version.judged.rules, operateIn(system, site, 'today'));
  return {
    work: tasksIn(sheet, record),
    brings: system.components.flatMap((c) => (components.includes(c.id) && c.part ? [c.part.id] : [])),
  };
} // oxfmt-ignore

/** A kept summary at a moment. @param nowMs the caller's clock */
export function summaryAt(kept: KeptSummary, nowMs: number): JobSummary {
  const lives = kept.spans.map((s) => dueOf(lifeAt(s, nowMs)));
  const { timers, visits, inService, asks = [], away } = kept;
  const words = dueWords(lives);
  const asked = asks.filter((a) => Date.parse(a.from) <= nowMs).map((a) => ASK_NEXT[a.of]);
  const alone = words === NOTHING_DUE ? asked[0] : undefined;
  // two answers that have not come are one sentence
  const due = [...new Set([...(alone ? [] : [words]), ...asked.map((a) => a.next)])].join(' ');
  const lens = kept.next === null && alone ? alone.lens : kept.lens;
  return { lens, next: kept.next ?? due, timers, drinking: kept.drinking && mayDrink(kept.drinking, nowMs), lives, visits, inService, asks, ...(away ? { away } : {}) };
} // oxfmt-ignore

/** Where a job stands now; see `keptSummary`. @param nowMs the caller's clock */
export const summarise = (
  facts: readonly Fact[],
  versions: readonly DesignVersion[],
  catalogue: Catalogue,
  rules: HouseRules,
  nowMs: number,
): JobSummary => summaryAt(keptSummary(facts, versions, catalogue, rules), nowMs);

const NOTHING_DUE = 'Nothing due.';

function dueWords(lives: readonly Due[]): string {
  const overdue = lives.filter((l) => l.state === 'overdue').map((l) => l.label);
  const soon = lives.filter((l) => l.state === 'soon').map((l) => l.label);
  if (overdue.length > 0) return `Overdue: ${overdue.join(', ')}.`;
  return soon.length > 0 ? `Due within a month: ${soon.join(', ')}.` : NOTHING_DUE;
}

const areIn = (read: number): string => (read === 1 ? '1 reading is in' : `${String(read)} readings are in`);

/** Before anything is approved: what is read, what is missing, what is referred. */
function undecided(
  record: JobRecord,
  catalogue: Catalogue,
  rules: HouseRules,
): Pick<KeptSummary, 'lens' | 'next' | 'timers'> {
  const base = { timers: Object.values(record.timers) };
  const site = siteFrom(record.known, rules, record.placed);
  const read = FIELD_KEYS.filter((k) => record.known[k] !== undefined).length;
  if (!site.ok)
    return {
      ...base,
      lens: 'gauge',
      next: read === 0 ? 'First visit: gauge the house.' : `Gauge goes on: ${areIn(read)}.`,
    };
  const referred = referralReasons(site.site, catalogue)[0];
  if (referred !== undefined) return { ...base, lens: 'size', next: `Referred: ${referred}` };
  const other = otherWay(site.site, { known: record.known, placed: record.placed, catalogue, rules });
  return {
    ...base,
    lens: 'size',
    next: other?.sentence ?? `Decide and approve a design; ${areIn(read)}.`,
  };
}
