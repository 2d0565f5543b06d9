import { ChangesQuerySchema, type Change, type ChangePage } from '@katharos/contract';
import { Router } from 'express';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { parse } from '../http/problem.ts';

/** Lines that come at once. */
const PAGE = 50;

/** Who changed what, the latest first, for the owner. Nothing writes to it but the database itself. */
export function auditRoutes(db: Db): Router {
  const r = Router();
  r.get('/', async (req, res) => {
    const { before, person } = parse(ChangesQuerySchema, req.query);
    const rows = await db.sequelize.query<Omit<Change, 'at'> & { at: Date }>(
      `SELECT a.seq::text, a.at, coalesce(p.name, '') AS by, a.what, a.about, a.job_id AS "jobId",
           coalesce(h.name, '') AS household, a.before, a.after
         FROM audit a LEFT JOIN people p ON p.id = a.by LEFT JOIN jobs j ON j.id = a.job_id
           LEFT JOIN households h ON h.id = j.household_id
         WHERE ($1::bigint IS NULL OR a.seq < $1::bigint) AND ($2::uuid IS NULL OR a.by = $2::uuid)
         ORDER BY a.seq DESC LIMIT ${String(PAGE + 1)}`,
      { type: QueryTypes.SELECT, bind: [before ?? null, person ?? null] },
    );
    const changes = rows.slice(0, PAGE).map((c): Change => ({ ...c, at: c.at.toISOString() }));
    const answer: ChangePage = { changes, next: rows.length > PAGE ? (changes.at(-1)?.seq ?? null) : null };
    res.json(answer);
  });
  return r;
}
