import { firmFigures, type HouseTold, type Tally } from '@katharos/core';
import { Router } from 'express';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { summaryOf, type Summaries } from './summaries.ts';

/** Summaries brought up before the figures are added up. */
const WAIT_FOR = 200;

/** How the firm does, added up from what is kept beside each job. */
export function figuresRoutes(db: Db, summaries: Pick<Summaries, 'catchUp'>, now: () => number): Router {
  const r = Router();
  r.get('/', async (_req, res) => {
    await summaries.catchUp(WAIT_FOR);
    const rows = await db.sequelize.query<{ jobId: string; name: string; body: unknown; tally: Tally }>(
      `SELECT s.job_id AS "jobId", h.name, s.body, s.body->'tally' AS tally
         FROM job_summaries s JOIN jobs j ON j.id = s.job_id JOIN households h ON h.id = j.household_id
         WHERE s.body->'tally' IS NOT NULL ORDER BY s.born, s.job_id`,
      { type: QueryTypes.SELECT },
    );
    const houses = rows.map(({ jobId, name, tally, body }): HouseTold => ({ jobId, name, tally, lives: summaryOf(body, now()).lives }));
    res.json(firmFigures(houses, now()));
  });
  return r;
} // oxfmt-ignore
