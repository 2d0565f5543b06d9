import { isPlanned, visitMs } from '../facts/record.ts';
import type { FactOf } from '../facts/facts.ts';
import { ofWork } from '../system/system.ts';
import type { AsBuilt } from './asBuilt.ts';

const DAY_MS = 86_400_000;
const YEAR_MS = 365.25 * DAY_MS;
/** A call so soon after somebody was there is about what they did, days. */
export const CALL_BACK_DAYS = 30;
/** Readings closer together than this say nothing of how an element ages, years. */
const LEAST_YEARS = 0.4;

/** One element as it lived in a house. */
export interface ElementTold {
  /** name of the part, and what of its serial stands before the stroke: its delivery */
  readonly part: string;
  readonly batch: string;
  readonly inDays: number;
  /** it was changed; else it stands there still */
  readonly gone: boolean;
  /** its salt passage grows by so much a year, as an exponent; null where too little was read */
  readonly saltAYear: number | null;
}

/** What a job says of the firm: kept beside it, so that the firm's figures are added up and never worked out anew. */
export interface Tally {
  /** it went into service, ISO 8601; null before */
  readonly since: string | null;
  readonly out: boolean;
  /** moments somebody was there, and moments they called, ISO 8601 */
  readonly visits: readonly string[];
  readonly calls: readonly string[];
  /** calls within a month of somebody's having been there */
  readonly callBacks: readonly string[];
  /** first proof good and no call within its month; null before it is proved */
  readonly firstRight: boolean | null;
  readonly elements: readonly ElementTold[];
}

/** What stands before the last stroke of a serial; all of it where there is none. */
export const batchOf = (serial: string): string => serial.replace(/\/[^/]*$/, '').trim();

/** How an element ages by the salt it lets by, from the proofs of its time. */
function saltAYear(proofs: readonly FactOf<'proof'>[]): number | null {
  const points = proofs.flatMap((p) => {
    const passage = p.judged?.passageAgainstNew;
    return typeof passage === 'number' && passage > 0 ? [{ years: Date.parse(p.at) / YEAR_MS, y: Math.log(passage) }] : [];
  });
  const [first] = points;
  const last = points.at(-1);
  if (!first || !last || last.years - first.years < LEAST_YEARS) return null;
  const mean = (of: (p: (typeof points)[number]) => number): number => points.reduce((s, p) => s + of(p), 0) / points.length;
  const [x, y] = [mean((p) => p.years), mean((p) => p.y)];
  const wide = points.reduce((s, p) => s + (p.years - x) ** 2, 0);
  return points.reduce((s, p) => s + (p.years - x) * (p.y - y), 0) / wide;
} // oxfmt-ignore

function elementsOf(built: AsBuilt): ElementTold[] {
  const { record } = built;
  const { labels } = record;
  const ends = Math.max(0, ...[...record.proofs, ...record.visits].map((f) => Date.parse(f.at)), built.outMs ?? 0);
  return ofWork(built.system, 'separates').flatMap((c): ElementTold[] => {
    const beganMs = built.startedMs(c.id);
    if (beganMs === null || !c.part) return [];
    const changes = record.visits.filter((v) => v.changed.includes(c.id)).map(visitMs).sort((a, b) => a - b);
    const from = [beganMs, ...changes];
    return from.map((fromMs, i): ElementTold => {
      const untilMs = from[i + 1] ?? null;
      // written down on the day it went in, before or after the visit is closed
      const label = labels.findLast((f) => f.component === c.id && Date.parse(f.at) < (untilMs ?? Infinity) - DAY_MS && Date.parse(f.at) > fromMs - (i === 0 ? Infinity : DAY_MS));
      const proofs = record.proofs.filter((p) => Date.parse(p.at) > fromMs && (untilMs === null || Date.parse(p.at) < untilMs));
      return {
        part: label?.part.name ?? c.part?.name ?? '',
        batch: batchOf(label?.serial ?? ''),
        inDays: Math.max(0, Math.round(((untilMs ?? ends) - fromMs) / DAY_MS)),
        gone: untilMs !== null || built.outMs !== null,
        saltAYear: saltAYear(proofs),
      };
    });
  });
} // oxfmt-ignore

/** What a job says of the firm. */
export function tallyOf(built: AsBuilt): Tally {
  const { record } = built;
  const began = built.system.components.map((c) => built.startedMs(c.id)).filter((ms) => ms !== null);
  const sinceMs = built.inService && began.length > 0 ? Math.min(...began) : null;
  const visits = record.visits.filter((v) => !isPlanned(v)).map(visitMs).sort((a, b) => a - b);
  const calls = record.calls.map((c) => Date.parse(c.at));
  const there = [...(sinceMs === null ? [] : [sinceMs]), ...visits];
  const back = calls.filter((ms) => there.some((t) => t < ms && ms - t < CALL_BACK_DAYS * DAY_MS));
  const [first] = record.proofs;
  const soonAfter = sinceMs !== null && calls.some((ms) => ms > sinceMs && ms - sinceMs < CALL_BACK_DAYS * DAY_MS);
  const iso = (ms: number): string => new Date(ms).toISOString();
  return {
    since: sinceMs === null ? null : iso(sinceMs),
    out: built.outMs !== null,
    visits: visits.map(iso),
    calls: calls.map(iso),
    callBacks: back.map(iso),
    firstRight: first?.judged ? first.judged.grade === 'good' && !soonAfter : null,
    elements: elementsOf(built),
  };
} // oxfmt-ignore
