import { PostStockSchema, type Stock } from '@katharos/contract';
import { Router } from 'express';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { byOf } from '../http/guard.ts';
import { ApiProblem, parse } from '../http/problem.ts';
import type { ShelfStore } from '../shelf/store.ts';
import { storeMoves } from './store.ts';

/**
 * What lies where: what was counted last, what was added since, less what went into jobs since. What happened counts by when
 * it happened, so that a phone that sends later changes no later count. What somebody takes out of a van comes out of their own
 * from when they first had one; before, out of the firm's, where it has one that was ever counted.
 */
const LEVELS = `
  WITH own AS (
    SELECT van_of, min(at) AS since FROM stock_moves WHERE van_of IS NOT NULL GROUP BY van_of
  ), shared AS (
    SELECT 1 FROM stock_moves WHERE place = 'van' AND van_of IS NULL LIMIT 1
  ), counted AS (
    SELECT DISTINCT ON (part, place, van_of) part, place, van_of, count, at FROM stock_moves WHERE kind = 'count'
      ORDER BY part, place, van_of, at DESC, seq DESC
  ), moved AS (
    SELECT part, place, van_of, count AS n, at FROM stock_moves WHERE kind = 'add'
    UNION ALL
    SELECT p->>'part', f.body->>'from', o.van_of, -(p->>'count')::numeric, f.at
      FROM facts f CROSS JOIN LATERAL jsonb_array_elements(f.body->'parts') p
        LEFT JOIN own o ON f.body->>'from' = 'van' AND o.van_of = f.by AND o.since <= f.at
      WHERE f.kind = 'stock-out' AND (f.body->>'from' = 'store' OR o.van_of IS NOT NULL OR EXISTS (SELECT 1 FROM shared)) AND NOT EXISTS (
        SELECT 1 FROM facts b WHERE b.job_id = f.job_id AND b.kind = 'taken-back' AND (b.body->>'corrects')::uuid = f.id)
  ), lies AS (
    SELECT part, place, van_of, count AS n FROM counted
    UNION ALL
    SELECT m.part, m.place, m.van_of, m.n FROM moved m LEFT JOIN counted c
      ON c.part = m.part AND c.place = m.place AND c.van_of IS NOT DISTINCT FROM m.van_of
      WHERE c.at IS NULL OR m.at > c.at
  ), sums AS (
    SELECT part, place, van_of, sum(n) AS n FROM lies GROUP BY part, place, van_of
  )
  SELECT part, coalesce(sum(n) FILTER (WHERE place = 'van'), 0)::float8 AS van,
    coalesce(sum(n) FILTER (WHERE place = 'store'), 0)::float8 AS store,
    coalesce(jsonb_object_agg(coalesce(van_of::text, 'shared'), n) FILTER (WHERE place = 'van'), '{}') AS vans
  FROM sums GROUP BY part ORDER BY part`;

/** Who has a van of their own. */
const OWN = 'SELECT DISTINCT van_of AS id FROM stock_moves WHERE van_of IS NOT NULL ORDER BY van_of';

/** What approved systems that are not in service yet still take. */
const RESERVED = `
  SELECT n.key AS part, sum(n.value::numeric)::float8 AS n
    FROM job_summaries s CROSS JOIN LATERAL jsonb_each_text(s.body->'needs') n
    WHERE s.open AND s.approved GROUP BY n.key`;

/** The firm's stock of parts. */
export function stockRoutes(db: Db, store: ShelfStore): Router {
  const r = Router();
  const read = async (): Promise<Stock> => {
    const [levels, reserved, own] = await Promise.all([
      db.sequelize.query<Stock['levels'][number]>(LEVELS, { type: QueryTypes.SELECT }),
      db.sequelize.query<{ part: string; n: number }>(RESERVED, { type: QueryTypes.SELECT }),
      db.sequelize.query<{ id: string }>(OWN, { type: QueryTypes.SELECT }),
    ]);
    return { levels, vansOf: own.map((o) => o.id), reserved: Object.fromEntries(reserved.map((x) => [x.part, x.n])) };
  };
  r.get('/', async (_req, res) => {
    res.json(await read());
  });
  r.post('/moves', async (req, res) => {
    const { moves } = parse(PostStockSchema, req.body);
    const { parts } = await store.read();
    const known = new Set(parts.map((p) => p.id));
    const people = new Set((await db.Person.findAll({ attributes: ['id'] })).map((p) => p.id));
    const strange = moves.flatMap((m, i) => [
      ...(known.has(m.part) ? [] : [{ path: `moves.${String(i)}.part`, message: 'is on no shelf here' }]),
      ...(m.vanOf === undefined || people.has(m.vanOf) ? [] : [{ path: `moves.${String(i)}.vanOf`, message: 'is nobody here' }]),
      ...(m.vanOf !== undefined && m.place !== 'van' ? [{ path: `moves.${String(i)}.vanOf`, message: 'the store is nobody’s van' }] : []),
    ]); // oxfmt-ignore
    if (strange.length > 0) throw new ApiProblem('bad-value', { errors: strange });
    await storeMoves(db, moves, byOf(req));
    res.status(201).json(await read());
  });
  return r;
}
