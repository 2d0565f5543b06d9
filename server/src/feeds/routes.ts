import { randomUUID } from 'node:crypto';
import { NewFeedSchema, type Feed, type MadeFeed } from '@katharos/contract';
import type { DatedVisit } from '@katharos/core';
import { Router } from 'express';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { byOf, whoAsks } from '../http/guard.ts';
import { ApiProblem, parse, pathId } from '../http/problem.ts';
import { newToken, tokenHash } from '../signing/tokens.ts';
import { feedOf, type FeedVisit } from './calendar.ts';

/** Visits so long past and to come stand in a feed, days. */
const SHOWN = { past: 31, ahead: 366 } as const;
const DAY_MS = 86_400_000;
/** Who may end another's feed. */
const OVERSEES = ['owner', 'office'];

interface Row {
  readonly id: string;
  readonly fitter: string | null;
}

/** A feed by its secret address; none once it is ended, or whoever made it left the firm. */
async function openFeed(db: Db, token: string): Promise<Row> {
  const [row] = await db.sequelize.query<Row>(
    `UPDATE feeds f SET read_at = now() FROM people p
       WHERE f.token_hash = $1 AND f.ended_at IS NULL AND p.id = f.made_by AND p.left_at IS NULL RETURNING f.id, f.fitter`,
    { type: QueryTypes.SELECT, bind: [tokenHash(token)] },
  );
  if (!row) throw new ApiProblem('not-found');
  return row;
}

/** Visits of the time that is shown, of one fitter or of everybody. */
async function visitsFor(db: Db, fitter: string | null, nowMs: number): Promise<FeedVisit[]> {
  const day = (days: number): string => new Date(nowMs + days * DAY_MS).toISOString().slice(0, 10);
  const [from, to] = [day(-SHOWN.past), day(SHOWN.ahead)];
  const rows = await db.sequelize.query<{ jobId: string; place: string; visits: DatedVisit[] }>(
    `SELECT s.job_id AS "jobId", h.place, s.body->'visits' AS visits
       FROM job_summaries s JOIN jobs j ON j.id = s.job_id JOIN households h ON h.id = j.household_id
       WHERE EXISTS (SELECT 1 FROM unnest(s.visit_days) d WHERE d BETWEEN $1::date AND $2::date)`,
    { type: QueryTypes.SELECT, bind: [from, to] },
  );
  return rows
    .flatMap(({ jobId, place, visits }) => visits.map((visit) => ({ jobId, place, visit })))
    .filter(({ visit }) => visit.on >= from && visit.on.slice(0, 10) <= to && (fitter === null || visit.fact.fitter === fitter))
    .sort((a, b) => a.visit.on.localeCompare(b.visit.on));
} // oxfmt-ignore

/** Feeds somebody made for their own calendar, or for another's. */
export function feedsRoutes(db: Db): Router {
  const r = Router();
  r.get('/', async (req, res) => {
    const { person } = whoAsks(req);
    const feeds = await db.sequelize.query<Feed>(
      `SELECT f.id, f.fitter, f.made_by AS "madeBy", f.made_at AS "madeAt", f.read_at AS "readAt" FROM feeds f
         WHERE f.ended_at IS NULL AND ($2 OR f.made_by = $1) ORDER BY f.made_at DESC`,
      { type: QueryTypes.SELECT, bind: [person.id, OVERSEES.includes(person.role)] },
    );
    res.json(feeds);
  });
  r.post('/', async (req, res) => {
    const { fitter } = parse(NewFeedSchema, req.body);
    const [id, token] = [randomUUID(), newToken()];
    await db.sequelize.query('INSERT INTO feeds (id, token_hash, fitter, made_by) VALUES ($1, $2, $3, $4)', {
      bind: [id, tokenHash(token), fitter, byOf(req)],
    });
    res.status(201).json({ id, path: `/api/feed/${token}` } satisfies MadeFeed);
  });
  r.post('/:id/end', async (req, res) => {
    const { person } = whoAsks(req);
    const [, count] = await db.sequelize.query(
      'UPDATE feeds SET ended_at = now() WHERE id = $1 AND ended_at IS NULL AND ($3 OR made_by = $2)',
      { type: QueryTypes.UPDATE, bind: [pathId(req), person.id, OVERSEES.includes(person.role)] },
    );
    if (count === 0) throw new ApiProblem('not-found');
    res.json({ ended: true });
  });
  return r;
}

/** What stands behind a secret address, for whoever has it. @param now ms since 1970 */
export function feedRoutes(db: Db, now: () => number): Router {
  const r = Router();
  r.get('/:token', async (req, res) => {
    const { token } = req.params;
    if (!/^[\w-]{43}$/.test(token)) throw new ApiProblem('not-found');
    const { fitter } = await openFeed(db, token);
    const address = `${req.protocol}://${req.get('host') ?? ''}`;
    res.type('text/calendar').set('Cache-Control', 'private, max-age=300');
    res.send(feedOf(await visitsFor(db, fitter, now()), address));
  });
  return r;
}
