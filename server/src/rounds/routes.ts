import type { Changes, Rounds, RoundsEntry, RoundsPage } from '@katharos/contract';
import { RoundsQuerySchema, SinceSchema } from '@katharos/contract';
import { SOON_DAYS } from '@katharos/core';
import { Router } from 'express';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { parse } from '../http/problem.ts';
import { summaryOf, type Summaries } from './summaries.ts';

/** Lines of a list that come at once. */
const PAGE = 50;
/** Summaries that are brought up while somebody waits; more than these are brought up beside it, and said. */
const WAIT_FOR = 25;
const DAY_MS = 86400000;

interface Row {
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

const ROW = `SELECT s.job_id AS "jobId", s.body, h.id, h.name, h.place, h.contact, h.notes, h.version,
    to_char(s.born AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') AS born
  FROM job_summaries s JOIN jobs j ON j.id = s.job_id JOIN households h ON h.id = j.household_id`;

/** The working day: clocks that run, what is due, and where every job stands, a page at a time. */
export function roundsRoutes(db: Db, summaries: Summaries, now: () => number): Router {
  const r = Router();
  const rows = (sql: string, bind: unknown[]): Promise<Row[]> =>
    db.sequelize.query<Row>(sql, { type: QueryTypes.SELECT, bind });
  const entry = ({ jobId, body, id, name, place, contact, notes, version }: Row): RoundsEntry => ({
    jobId,
    household: { id, name, place, contact, notes, version },
    summary: summaryOf(body, now()),
  });

  const list = async (open: boolean, find: string, after: string | undefined): Promise<RoundsPage> => {
    const [born, id] = after?.split(' ') ?? [null, null];
    const found = await rows(
      `${ROW} WHERE s.open = $1
         AND ($2 = '' OR concat_ws(' ', h.name, h.place, h.contact) ILIKE '%' || $2 || '%')
         AND ($3::timestamptz IS NULL OR (s.born, s.job_id) > ($3::timestamptz, $4::uuid))
       ORDER BY s.born, s.job_id LIMIT ${String(PAGE + 1)}`,
      [open, find.replaceAll(/[\\%_]/g, (c) => `\\${c}`), born ?? null, id ?? null],
    );
    const shown = found.slice(0, PAGE);
    const last = shown.at(-1);
    return { entries: shown.map(entry), next: found.length > PAGE && last ? `${last.born} ${last.jobId}` : null };
  };

  r.get('/', async (req, res) => {
    const { find } = parse(RoundsQuerySchema, req.query);
    const left = await summaries.catchUp(WAIT_FOR);
    if (left > 0) void summaries.catchUpAll().catch(() => undefined);
    const soon = new Date(now() + SOON_DAYS * DAY_MS);
    const [clocks, due, open, kept] = await Promise.all([
      rows(`${ROW} WHERE s.clock_at IS NOT NULL ORDER BY s.clock_at LIMIT ${String(PAGE)}`, []),
      rows(`${ROW} WHERE s.due_at <= $1 ORDER BY s.due_at LIMIT ${String(PAGE)}`, [soon]),
      list(true, find, undefined),
      list(false, find, undefined),
    ]);
    const answer: Rounds = { clocks: clocks.map(entry), due: due.map(entry), open, kept, behind: left };
    res.json(answer);
  });
  r.get('/open', async (req, res) => {
    const { find, after } = parse(RoundsQuerySchema, req.query);
    res.json(await list(true, find, after));
  });
  r.get('/kept', async (req, res) => {
    const { find, after } = parse(RoundsQuerySchema, req.query);
    res.json(await list(false, find, after));
  });
  return r;
}

/** Changes told of at once; more than these are told as "many". */
const MOST_CHANGES = 200;

/**
 * Which jobs were written to since a bound. The bound is the oldest transaction that was under way: what commits late is
 * told the next time, what was told may be told twice, nothing is skipped.
 */
export function changesRoutes(db: Db): Router {
  const r = Router();
  r.get('/', async (req, res) => {
    const { since } = parse(SinceSchema, req.query);
    const [row] = await db.sequelize.query<{ bound: string; jobs: string[]; shelf: string }>(
      `SELECT pg_snapshot_xmin(pg_current_snapshot())::text AS bound,
         (SELECT concat_ws(' ', (SELECT concat_ws(' ', version, updated_at) FROM house_rules),
            (SELECT concat_ws(' ', count(*), sum(version), max(updated_at)) FROM parts),
            (SELECT concat_ws(' ', count(*), sum(version), max(updated_at)) FROM instruments),
            (SELECT count(*) FROM people))) AS shelf,
         ARRAY(SELECT job_id FROM job_summaries
           WHERE $1::text IS NOT NULL
             AND changed >= CASE WHEN $1::text::xid8 > pg_snapshot_xmax(pg_current_snapshot()) THEN '0'::xid8 ELSE $1::text::xid8 END
           LIMIT ${String(MOST_CHANGES + 1)}) AS jobs`,
      { type: QueryTypes.SELECT, bind: [since ?? null] },
    );
    const jobs = row?.jobs ?? [];
    const answer: Changes = {
      bound: row?.bound ?? '0',
      shelf: row?.shelf ?? '',
      jobs: jobs.slice(0, MOST_CHANGES),
      many: jobs.length > MOST_CHANGES,
    };
    res.json(answer);
  });
  return r;
}
