import type { RoundsEntry } from '@katharos/contract';
import { householdTexts, type HouseholdTexts } from '@katharos/core';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { HOUSEHOLD } from '../jobs/service.ts';
import { summaryOf } from './summaries.ts';

/** A job's line as the database gives it. */
export interface Row extends HouseholdTexts {
  readonly jobId: string;
  readonly born: string;
  readonly body: unknown;
  readonly id: string;
  readonly version: number;
}

/** Where each job stands, with its household: what follows says which. */
export const ROW = `SELECT s.job_id AS "jobId", s.body, ${HOUSEHOLD},
    to_char(s.born AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') AS born
  FROM job_summaries s JOIN jobs j ON j.id = s.job_id JOIN households h ON h.id = j.household_id`;

/** A line as it is shown. @param nowMs the caller's clock */
export const entryOf = (row: Row, nowMs: number): RoundsEntry => ({
  jobId: row.jobId,
  household: { id: row.id, ...householdTexts(row), version: row.version },
  summary: summaryOf(row.body, nowMs),
});

/** The lines of some jobs. @param where a condition, with its order */
export async function entriesWhere(db: Db, where: string, bind: unknown[], nowMs: number): Promise<RoundsEntry[]> {
  const rows = await db.sequelize.query<Row>(`${ROW} WHERE ${where}`, { type: QueryTypes.SELECT, bind });
  return rows.map((row) => entryOf(row, nowMs));
}
