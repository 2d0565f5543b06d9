import type { Found, FoundHouse } from '@katharos/contract';
import { FindQuerySchema } from '@katharos/contract';
import { Router } from 'express';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { parse } from '../http/problem.ts';

/** Houses that are shown, and lines of each. */
const HOUSES = 20;
const LINES = 3;
/** Words of a question beyond these are left out. */
const MOST_WORDS = 8;

/** The words somebody looks for, each the beginning of one; empty where there is none. */
export const wordsOf = (asked: string): string[] =>
  (asked.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []).slice(0, MOST_WORDS);

/** Finds houses by anything said of them: name, place, contact, a serial, a joint that dripped, a note. */
export function findRoutes(db: Db): Router {
  const r = Router();
  r.get('/', async (req, res) => {
    const words = wordsOf(parse(FindQuerySchema, req.query).q);
    if (words.length === 0) {
      res.json({ houses: [] } satisfies Found);
      return;
    }
    // letters and digits only: nothing of it is read as the search's own signs
    const [all, any] = [' & ', ' | '].map((between) => words.map((w) => `${w}:*`).join(between));
    const houses = await db.sequelize.query<FoundHouse>(
      `WITH hit AS (
         (SELECT s.job_id, s.born, 1 AS named FROM households h JOIN jobs j ON j.household_id = h.id JOIN job_summaries s ON s.job_id = j.id
           WHERE h.search @@ to_tsquery('simple', $1) ORDER BY s.born DESC LIMIT ${String(HOUSES)})
         UNION ALL
         (SELECT job_id, born, 0 FROM job_summaries WHERE search @@ to_tsquery('simple', $1) ORDER BY born DESC LIMIT ${String(HOUSES)})
       ), best AS (
         SELECT job_id, max(named) AS named, born FROM hit GROUP BY job_id, born ORDER BY named DESC, born DESC LIMIT ${String(HOUSES)}
       )
       SELECT b.job_id AS "jobId", o.name, o.place, coalesce((
         SELECT json_agg(l) FROM (
           SELECT line->>'words' AS words, line->>'at' AS at, line->>'lens' AS lens
             FROM jsonb_array_elements(s.lines) WITH ORDINALITY AS e(line, nth),
               LATERAL to_tsvector('simple', plain_words(line->>'words')) AS v
             WHERE v @@ to_tsquery('simple', $2)
             ORDER BY v @@ to_tsquery('simple', $1) DESC, ts_rank(v, to_tsquery('simple', $2)) DESC, nth LIMIT ${String(LINES)}
         ) l), '[]') AS lines
       FROM best b JOIN job_summaries s ON s.job_id = b.job_id JOIN jobs j ON j.id = b.job_id JOIN households o ON o.id = j.household_id
       ORDER BY b.named DESC, b.born DESC`,
      { type: QueryTypes.SELECT, bind: [all, any] },
    );
    res.json({ houses } satisfies Found);
  });
  return r;
}
