import { HouseholdSchema, type Household } from '@katharos/contract';
import { editedTexts, householdTexts } from '@katharos/core';
import equal from 'fast-deep-equal';
import { errorWords, problemOf } from '../errors.ts';
import { asPerson } from '../session.ts';
import type { Entry } from './entries.ts';

/** What came of sending. Only an answer about what was sent itself refuses it; any other is about the moment, and it waits. */
export type Sent =
  | { readonly kind: 'sent' }
  | { readonly kind: 'away' }
  /** who made it is not signed in here */
  | { readonly kind: 'out' }
  /** the server stumbles on it, and said so in these words */
  | { readonly kind: 'failed'; readonly reason: string }
  | {
      readonly kind: 'refused';
      readonly reason: string;
      /** the answer as it came, for its place in a form */
      readonly data: unknown;
      readonly current: Household | undefined;
    };

const REFUSALS: ReadonlySet<number> = new Set([400, 404, 409, 413, 422]);
/** Answers of 403 that are about who sends it; any other is about the way it was sent, and it waits. */
const NOT_THEIRS = /:(not-allowed|somebody-elses)$/;

/** Where and how an entry, or several facts of one job together, goes to the server. */
function requestOf(entries: readonly Entry[]): { method: 'POST' | 'PUT'; path: string; body: unknown } | null {
  const [first] = entries;
  switch (first?.write) {
    case 'fact':
      return { method: 'POST', path: `jobs/${first.jobId}/facts`, body: { facts: entries.map((e) => e.body) } };
    case 'design':
      return { method: 'POST', path: `jobs/${first.jobId}/designs`, body: { version: first.body } };
    case 'household-new':
      return { method: 'POST', path: 'households', body: first.body };
    case 'household':
      return { method: 'PUT', path: `households/${first.householdId}`, body: first.body };
    default:
      return null;
  }
}

/** Whether what stands on the server is what was sent: its answer got lost the first time. */
function standsAlready(entry: Entry | undefined, current: Household | undefined): boolean {
  if (entry?.write !== 'household' || !current) return false;
  return current.version === entry.body.version + 1 && equal(householdTexts(current), editedTexts(current, entry.body));
}

/** Sends one entry, or facts of one job together, in the name of who made it. Never throws. */
export async function send(entries: readonly Entry[], by: string | null): Promise<Sent> {
  const request = requestOf(entries);
  if (!request) return { kind: 'sent' };
  try {
    const res = await fetch(`/api/${request.path}`, {
      method: request.method,
      headers: { 'content-type': 'application/json', ...asPerson(by) },
      body: JSON.stringify(request.body),
      signal: AbortSignal.timeout(12_000),
    });
    if (res.ok) return { kind: 'sent' };
    if (res.status === 401) return { kind: 'out' };
    const data = await res.text();
    const theirs = res.status !== 403 || NOT_THEIRS.test(problemOf({ data })?.type ?? '');
    if (!(REFUSALS.has(res.status) || res.status === 403) || !theirs)
      return res.status === 500 ? { kind: 'failed', reason: errorWords({ data }) } : { kind: 'away' };
    const current = HouseholdSchema.safeParse(problemOf({ data })?.current).data;
    if (standsAlready(entries[0], current)) return { kind: 'sent' };
    return { kind: 'refused', reason: errorWords({ data }), data, current };
  } catch {
    return { kind: 'away' };
  }
}
