import type { RoundsEntry } from '@katharos/contract';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { summaryOf } from './summaries.ts';

/** A job's line as the database gives it. */
export interface Row {
  readonly jobId: string;
  readonly born: string;
  readonly body: unknown;
  readonly id: string;
  readonly name: string;
  readonly place: string;
  readonly contact: string;
  readonly notes: string;
  readonly version: number;
}

/** Where each job stands, with its household: what follows says which. */
export const ROW = `SELECT s.job_id AS "jobId", s.body, h.id, h.name, h.place, h.contact, h.notes, h.version,
    to_char(s.born AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') AS born
  FROM job_summaries s JOIN jobs j ON j.id = s.job_id JOIN households h ON h.id = j.household_id`;

/** A line as it is shown. @param nowMs the caller's clock */
export const entryOf = (
  { jobId, body, id, name, place, contact, notes, version }: Row,
  nowMs: number,
): RoundsEntry => ({
  jobId,
  household: { id, name, place, contact, notes, version },
  summary: summaryOf(body, nowMs),
});

/** The lines of some jobs. @param where a condition, with its order */
export async function entriesWhere(db: Db, where: string, bind: unknown[], nowMs: number): Promise<RoundsEntry[]> {
  const rows = await db.sequelize.query<Row>(`${ROW} WHERE ${where}`, { type: QueryTypes.SELECT, bind });
  return rows.map((row) => entryOf(row, nowMs));
}
