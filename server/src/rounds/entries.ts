import type { RoundsEntry } from '@katharos/contract';
import { householdTexts, type HouseholdTexts } from '@katharos/core';
import QuickLRU from 'quick-lru';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { HOUSEHOLD } from '../jobs/service.ts';
import { summaryOf } from './summaries.ts';

/** A job's line as the database gives it. */
export interface Row extends HouseholdTexts {
  readonly jobId: string;
  readonly born: string;
  /** another one whenever its summary is kept anew */
  readonly mark: string;
  readonly id: string;
  readonly version: number;
}

/** Summaries with their jobs' households. */
export const SUMMARIES = `job_summaries s JOIN jobs j ON j.id = s.job_id JOIN households h ON h.id = j.household_id`;
/** Each job with its household: what follows says which. */
export const ROW = `SELECT s.job_id AS "jobId", s.xmin::text AS mark, ${HOUSEHOLD},
    to_char(s.born AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') AS born
  FROM ${SUMMARIES}`;

/** Lines of jobs, with where each stands. */
export interface Entries {
  /** @param rows as `ROW` gives them, in the order they are told */
  of: (rows: readonly Row[]) => Promise<RoundsEntry[]>;
  /** The same as JSON, by their jobs; no older than a second. */
  texts: (rows: readonly Row[]) => Promise<ReadonlyMap<string, string>>;
  /** @param where a condition on `ROW`, with its order */
  where: (where: string, bind: unknown[]) => Promise<RoundsEntry[]>;
}

interface Summary {
  readonly jobId: string;
  readonly mark: string;
  readonly body: unknown;
}
/** A line as it was written out, of a summary and a household as they were, in a second. */
interface Told {
  readonly as: string;
  readonly text: string;
}
/** Summaries of which at most twice so many are held: a round of everything open, and what is looked up beside it. */
const MOST = 150;

/** Summaries are read from the database once, and again when they are kept anew. @param now ms since 1970 */
export function openEntries(db: Db, now: () => number): Entries {
  const held = new QuickLRU<string, Summary>({ maxSize: MOST });
  const of = async (rows: readonly Row[]): Promise<RoundsEntry[]> => {
    const found = new Map<string, Summary>();
    const missing = new Set<string>();
    for (const { jobId, mark } of rows) {
      const summary = held.get(jobId);
      if (summary?.mark === mark) found.set(jobId, summary);
      else missing.add(jobId);
    }
    if (missing.size > 0) {
      const read = await db.sequelize.query<Summary>(
        'SELECT job_id AS "jobId", xmin::text AS mark, body FROM job_summaries WHERE job_id = ANY($1::uuid[])',
        { type: QueryTypes.SELECT, bind: [[...missing]] },
      );
      for (const s of read) {
        held.set(s.jobId, s);
        found.set(s.jobId, s);
      }
    }
    const nowMs = now();
    return rows.map((row) => ({
      jobId: row.jobId,
      household: { id: row.id, ...householdTexts(row), version: row.version },
      summary: summaryOf(found.get(row.jobId)?.body, nowMs),
    }));
  };
  const told = new QuickLRU<string, Told>({ maxSize: MOST });
  const texts: Entries['texts'] = async (rows) => {
    const second = String(Math.floor(now() / 1000));
    const asTold = ({ mark, version }: Row): string => `${mark} ${String(version)} ${second}`;
    const all = new Map<string, string>();
    const anew: Row[] = [];
    for (const row of rows) {
      const before = told.get(row.jobId);
      if (before?.as === asTold(row)) all.set(row.jobId, before.text);
      else anew.push(row);
    }
    for (const [i, entry] of (await of(anew)).entries()) {
      const row = anew[i];
      const text = JSON.stringify(entry);
      all.set(entry.jobId, text);
      if (row) told.set(entry.jobId, { as: asTold(row), text });
    }
    return all;
  };
  return {
    of,
    texts,
    where: async (where, bind) =>
      of(await db.sequelize.query<Row>(`${ROW} WHERE ${where}`, { type: QueryTypes.SELECT, bind })),
  };
}
