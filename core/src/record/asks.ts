import { isPlanned, visitMs, type JobRecord } from '../facts/record.ts';
import { awaitedSamples, samplesOf, soughtRow, WATER_WORDS } from '../keep/sample.ts';
import { LEAST_FLOW, ofOneElement, trendOf } from '../keep/trend.ts';
import { VERDICT_LIMITS } from '../prove/verdict.ts';
import { dayWords, monthWords } from '../words/dates.ts';
import { ofKind, ofWork } from '../system/system.ts';
import type { AsBuilt } from './asBuilt.ts';

const DAY_MS = 86_400_000;
/** A new system settles for some days; what is read then is what later years are held against. */
const FIRST_DAYS = 7;
/** A lamp is answered for by a sample a year. */
const LAMP_SAMPLE_DAYS = 365;
/** What drifts is not read more often than this, days. */
const DRIFT_APART_DAYS = 90;

/** What a house waits for beside the lives of its parts. */
export const ASKS = ['first-looks', 'baseline', 'drift', 'lamp-sample', 'laboratory'] as const;
export type AskKind = (typeof ASKS)[number];

/** Something a house waits for. */
export interface Ask {
  readonly of: AskKind;
  /** it falls due then, ISO 8601 */
  readonly from: string;
  /** what is done, and why */
  readonly words: string;
}

/** What is next where one has fallen due, and in which part of the job. */
export const ASK_NEXT: Readonly<Record<AskKind, { readonly next: string; readonly lens: 'prove' | 'keep' }>> = {
  'first-looks': { next: 'Look at its joints: the first week is over.', lens: 'keep' },
  baseline: { next: 'Read the baseline: its first days are over.', lens: 'prove' },
  drift: { next: 'Read the membrane: it nears its limit.', lens: 'prove' },
  'lamp-sample': { next: 'Sample behind the lamp.', lens: 'keep' },
  laboratory: { next: 'Ask the laboratory: its answer has not come.', lens: 'keep' },
};

const ask = (of: AskKind, fromMs: number, words: string): Ask => ({ of, from: new Date(fromMs).toISOString(), words });

/** Answers of laboratories that have not come. */
export const laboratoryAsks = (record: Pick<JobRecord, 'sampled' | 'answered' | 'lampSamples'>): readonly Ask[] =>
  awaitedSamples(record).map((s) =>
    ask('laboratory', s.dueMs, `the laboratory’s answer on ${soughtRow(s.sought).label} in the ${WATER_WORDS[s.water]}, sampled on ${dayWords(s.atMs)}`),
  ); // oxfmt-ignore

/** When a membrane of it was last changed, ms; 0 where none was: another membrane is another system to prove. */
export function renewedMs({ system, record }: Pick<AsBuilt, 'system' | 'record'>): number {
  const membranes = new Set(ofWork(system, 'separates').map((c) => c.id));
  return Math.max(0, ...record.visits.filter((v) => v.changed.some((c) => membranes.has(c))).map(visitMs));
}

/** What a system in service waits for beside its lives, the first to fall due first. */
export function asksOf(built: AsBuilt): readonly Ask[] {
  const { record, version } = built;
  const sinceMs = renewedMs(built);
  const proofs = record.proofs.filter((p) => p.design === version.id && Date.parse(p.at) >= sinceMs);
  const [first, second] = proofs;
  const out: Ask[] = [];
  const firstMs = first ? Date.parse(first.at) : null;
  if (firstMs !== null && !second)
    out.push(ask('baseline', firstMs + FIRST_DAYS * DAY_MS, 'baseline: its first days are over, what is read now is what later years are held against'));
  const looks = firstLooks(built, firstMs);
  if (looks !== null) out.push(ask('first-looks', looks, 'joints looked at again: the first week is over, and no look of it is on record'));
  const drift = driftOf(built);
  if (drift) out.push(drift);
  const lamp = lampSample(built);
  if (lamp !== null) out.push(ask('lamp-sample', lamp, 'sample behind the lamp for the laboratory: it says whether lamp and sleeve do their work'));
  return [...out, ...laboratoryAsks(record)].sort((a, b) => a.from.localeCompare(b.from));
} // oxfmt-ignore

/** When the looks of the first week are to be made up for, ms; null where one was made, or somebody was there since. */
function firstLooks({ record, version }: AsBuilt, firstMs: number | null): number | null {
  // what somebody else put in held long before
  if (version.number > 1 || firstMs === null || record.happened.some((h) => h.event === 'adopted')) return null;
  const dueMs = firstMs + FIRST_DAYS * DAY_MS;
  const looked = Object.keys(record.looks).some((round) => round.startsWith('look-first-week'));
  const seen = [...record.visits.filter((v) => !isPlanned(v)).map(visitMs), ...record.proofs.slice(1).map((p) => Date.parse(p.at))];
  return looked || seen.some((ms) => ms > firstMs + DAY_MS) ? null : dueMs;
} // oxfmt-ignore

/** A membrane whose readings go towards a limit: read again before it is met. */
function driftOf({ system, record }: AsBuilt): Ask | null {
  const membranes = ofWork(system, 'separates').map((c) => c.id);
  const proofs = ofOneElement(record.proofs, record.visits, membranes).flatMap((p) => (p.judged ? [{ atMs: Date.parse(p.at), judged: p.judged }] : []));
  const last = proofs.at(-1);
  if (!last || membranes.length === 0) return null;
  const flow = trendOf(proofs.map((p) => ({ atMs: p.atMs, value: p.judged.flowAgainstNew })), LEAST_FLOW);
  const salt = trendOf(
    proofs.flatMap((p) => (p.judged.passageAgainstNew === null ? [] : [{ atMs: p.atMs, value: p.judged.passageAgainstNew }])),
    VERDICT_LIMITS.passageWatch,
  );
  const met = ([['flow', `${String(100 * LEAST_FLOW)} % of a new element’s`, flow], ['salt passage', `${String(VERDICT_LIMITS.passageWatch)} times a new element’s`, salt]] as const)
    .flatMap(([what, limit, line]) => {
      const atMs = line?.meets.atMs ?? null;
      return atMs !== null ? [{ what, limit, atMs, from: line?.meets.earlyMs ?? atMs }] : [];
    })
    .sort((a, b) => a.from - b.from)[0];
  if (!met) return null;
  return ask('drift', Math.max(last.atMs + DRIFT_APART_DAYS * DAY_MS, met.from), `membrane nears its limit: its ${met.what} meets ${met.limit} about ${monthWords(met.atMs)}; read it, chlorine before it too`);
} // oxfmt-ignore

/** When a lamp's next sample falls due, ms; null without one. */
function lampSample(built: AsBuilt): number | null {
  const lamps = ofKind(built.system, 'lamp');
  const began = lamps.map((l) => built.startedMs(l.id)).filter((ms) => ms !== null);
  if (began.length === 0) return null;
  const changed = built.record.visits.filter((v) => v.changed.some((c) => lamps.some((l) => l.id === c))).map(visitMs);
  const since = Math.max(...began, ...changed);
  const taken = Math.max(-Infinity, ...samplesOf(built.record).flatMap((s) => (s.water === 'product' && s.sought === 'microbes' ? [s.atMs] : [])));
  // a new lamp is sampled on the day it goes in; a day either way is the same visit
  if (taken < since - DAY_MS) return since;
  return taken + LAMP_SAMPLE_DAYS * DAY_MS;
} // oxfmt-ignore
