import type { RoundsEntry } from '@katharos/contract';
import { householdTexts, type HouseholdTexts } from '@katharos/core';
import { LRUCache } from 'lru-cache';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { HOUSEHOLD } from '../jobs/service.ts';
import { summaryOf } from './summaries.ts';

/** A job's line as the database gives it. */
export interface Row extends HouseholdTexts {
  readonly jobId: string;
  readonly born: string;
  /** another one whenever its summary is kept anew */
  readonly kept: string;
  /** as `MARK` gives it */
  readonly mark: string;
  readonly id: string;
  readonly version: number;
}

/** Summaries with their jobs' households. */
export const SUMMARIES = `job_summaries s JOIN jobs j ON j.id = s.job_id JOIN households h ON h.id = j.household_id`;
/** Another one whenever a job's summary is kept anew or its household is edited. */
export const MARK = `concat_ws(' ', s.xmin, h.version)`;
/** Each job with its household: what follows says which. */
export const ROW = `SELECT s.job_id AS "jobId", s.xmin::text AS kept, ${MARK} AS mark, ${HOUSEHOLD},
    to_char(s.born AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') AS born
  FROM ${SUMMARIES}`;

/** A job's line as JSON, as it stood in a second. */
export interface Line {
  readonly row: Row;
  readonly second: number;
  readonly text: string;
}
export interface Lines {
  /** since 1970, in which each of them stands so */
  readonly second: number;
  /** by their jobs; without those that are gone */
  readonly of: ReadonlyMap<string, Line>;
}
/** Lines of jobs, with where each stands. */
export interface Entries {
  /** @param rows as `ROW` gives them, in the order they are told */
  of: (rows: readonly Row[]) => Promise<RoundsEntry[]>;
  /** The same as JSON. @param marks of the jobs, as `MARK` gives them: only what is another is read */
  lines: (marks: Readonly<Record<string, string>>) => Promise<Lines>;
  /** @param where a condition on `ROW`, with its order */
  where: (where: string, bind: unknown[]) => Promise<RoundsEntry[]>;
}

interface Summary {
  readonly jobId: string;
  readonly kept: string;
  readonly body: unknown;
}
/** Summaries and lines that are held: a round of everything open, and what is looked up beside it. */
const MOST = 300;

/** Summaries are read from the database once, and again when they are kept anew. @param now ms since 1970 */
export function openEntries(db: Db, now: () => number): Entries {
  const rowsWhere = (where: string, bind: unknown[]): Promise<Row[]> =>
    db.sequelize.query<Row>(`${ROW} WHERE ${where}`, { type: QueryTypes.SELECT, bind });
  const held = new LRUCache<string, Summary>({ max: MOST });
  const of = async (rows: readonly Row[]): Promise<RoundsEntry[]> => {
    const found = new Map<string, Summary>();
    const missing = new Set<string>();
    for (const { jobId, kept } of rows) {
      const summary = held.get(jobId);
      if (summary?.kept === kept) found.set(jobId, summary);
      else missing.add(jobId);
    }
    if (missing.size > 0) {
      const read = await db.sequelize.query<Summary>(
        'SELECT job_id AS "jobId", xmin::text AS kept, body FROM job_summaries WHERE job_id = ANY($1::uuid[])',
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
  const told = new LRUCache<string, Line>({ max: MOST });
  const lines: Entries['lines'] = async (marks) => {
    const second = Math.floor(now() / 1000);
    const all = new Map<string, Line>();
    const known: Row[] = [];
    const others: string[] = [];
    for (const [jobId, mark] of Object.entries(marks)) {
      const before = told.get(jobId);
      if (before?.row.mark !== mark) others.push(jobId);
      else if (before.second === second) all.set(jobId, before);
      else known.push(before.row);
    }
    const rows = others.length > 0 ? [...known, ...(await rowsWhere('s.job_id = ANY($1::uuid[])', [others]))] : known;
    for (const [i, entry] of (await of(rows)).entries()) {
      const row = rows[i];
      if (!row) continue;
      const line = { row, second, text: JSON.stringify(entry) };
      all.set(row.jobId, line);
      told.set(row.jobId, line);
    }
    return { second, of: all };
  };
  return {
    of,
    lines,
    where: async (where, bind) => of(await rowsWhere(where, bind)),
  };
}
