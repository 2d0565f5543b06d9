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
 * it happened, so that a phone that sends later changes no later count.
 */
const LEVELS = `
  WITH counted AS (
    SELECT DISTINCT ON (part, place) part, place, count, at FROM stock_moves WHERE kind = 'count' ORDER BY part, place, at DESC, seq DESC
  ), moved AS (
    SELECT part, place, count AS n, at FROM stock_moves WHERE kind = 'add'
    UNION ALL
    SELECT p->>'part', f.body->>'from', -(p->>'count')::numeric, f.at
      FROM facts f CROSS JOIN LATERAL jsonb_array_elements(f.body->'parts') p
      WHERE f.kind = 'stock-out' AND NOT EXISTS (
        SELECT 1 FROM facts b WHERE b.job_id = f.job_id AND b.kind = 'taken-back' AND (b.body->>'corrects')::uuid = f.id)
  ), lies AS (
    SELECT part, place, count AS n FROM counted
    UNION ALL
    SELECT m.part, m.place, m.n FROM moved m LEFT JOIN counted c USING (part, place) WHERE c.at IS NULL OR m.at > c.at
  )
  SELECT part, coalesce(sum(n) FILTER (WHERE place = 'van'), 0)::float8 AS van,
    coalesce(sum(n) FILTER (WHERE place = 'store'), 0)::float8 AS store
  FROM lies GROUP BY part ORDER BY part`;

/** What approved systems that are not in service yet still take. */
const RESERVED = `
  SELECT n.key AS part, sum(n.value::numeric)::float8 AS n
    FROM job_summaries s CROSS JOIN LATERAL jsonb_each_text(s.body->'needs') n
    WHERE s.open AND s.approved GROUP BY n.key`;

/** The firm's stock of parts. */
export function stockRoutes(db: Db, store: ShelfStore): Router {
  const r = Router();
  const read = async (): Promise<Stock> => {
    const [levels, reserved] = await Promise.all([
      db.sequelize.query<Stock['levels'][number]>(LEVELS, { type: QueryTypes.SELECT }),
      db.sequelize.query<{ part: string; n: number }>(RESERVED, { type: QueryTypes.SELECT }),
    ]);
    return { levels, reserved: Object.fromEntries(reserved.map((x) => [x.part, x.n])) };
  };
  r.get('/', async (_req, res) => {
    res.json(await read());
  });
  r.post('/moves', async (req, res) => {
    const { moves } = parse(PostStockSchema, req.body);
    const { parts } = await store.read();
    const known = new Set(parts.map((p) => p.id));
    const strange = moves.flatMap((m, i) => (known.has(m.part) ? [] : [{ path: `moves.${String(i)}.part`, message: 'is on no shelf here' }])); // prettier-ignore
    if (strange.length > 0) throw new ApiProblem('bad-value', { errors: strange });
    await storeMoves(db, moves, byOf(req));
    res.status(201).json(await read());
  });
  return r;
}
