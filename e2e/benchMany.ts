import { planDay, type DayFitter, type DayVisit } from '@katharos/core';
import pg from 'pg';
import { highest, put } from './benchTable.ts';

/** A day of twelve visits, half of them with fills to wait for, three of them agreed, laid on two who drive. */
export function dayRows(): void {
  const districts = ['Corvane', 'Mell', 'Tarn', 'Asmere', 'Orrel'];
  const travel = (a: string, b: string): number => (a === b ? 4 : 9 + 8 * Math.abs(districts.indexOf(a) - districts.indexOf(b)));
  const who = (id: string, district: string): DayFitter => ({ id, district, fromMin: 480, untilMin: 1020 });
  const fill = [{ handsMin: 70, waitMin: 110 }, { handsMin: 20, waitMin: 60 }, { handsMin: 20, waitMin: 0 }];
  const visits = Array.from({ length: 12 }, (_, i): DayVisit => ({
    id: `v${String(i)}`,
    district: districts[i % 5] ?? '',
    tasks: i % 2 === 0 ? fill : [{ handsMin: 35, waitMin: 0 }],
    fromMin: i % 5 === 1 ? 540 : 480,
    untilMin: i % 5 === 1 ? 780 : 1020,
    ...(i % 4 === 3 ? { fixedMin: 540 + 40 * i } : {}),
  }));
  const took = Array.from({ length: 7 }, () => {
    const t = performance.now();
    planDay(visits, [who('a', 'Corvane'), who('b', 'Tarn')], travel);
    return performance.now() - t;
  });
  put('a day of twelve visits planned', highest(took), 'ms', { most: 1000 });
} // oxfmt-ignore

/**
 * The first page of the round, and looking for anything, among ten thousand jobs of sixty facts and forty lines each.
 * @param held how long the server's loop was held at most since this was asked last, ms
 */
export async function manyJobs(
  url: string | undefined,
  address: string,
  headers: { readonly cookie: string },
  held: () => Promise<number>,
): Promise<void> {
  const db = new pg.Client(url);
  await db.connect();
  // the lines are the demo's own, kept beside each job as they are after it was written to
  await db.query(`
    INSERT INTO households (id, name, place, contact, notes, created_by, updated_by)
      SELECT gen_random_uuid(), 'Row House ' || i, 'Corvane', '', '', p.id, p.id
      FROM generate_series(1, 10000) i, (SELECT id FROM people LIMIT 1) p;
    INSERT INTO jobs (id, household_id, created_by)
      SELECT gen_random_uuid(), h.id, h.created_by FROM households h WHERE h.name LIKE 'Row House %';
    INSERT INTO facts (id, job_id, kind, at, by, body)
      SELECT x.id, s.job_id, f.kind, f.at, f.by, f.body || jsonb_build_object('id', x.id, 'jobId', s.job_id)
      FROM (SELECT job_id, row_number() OVER () AS r FROM job_summaries WHERE body IS NULL) s
      CROSS JOIN (SELECT * FROM facts ORDER BY seq LIMIT 60) f
      CROSS JOIN LATERAL (SELECT gen_random_uuid() AS id WHERE s.r + f.seq > 0) x;
    UPDATE job_summaries t SET stale = false, approved = s.approved, open = s.open, due_at = s.due_at, body = s.body,
        core_version = s.core_version
      FROM job_summaries s JOIN jobs j ON j.id = s.job_id JOIN households h ON h.id = j.household_id
      WHERE t.body IS NULL AND ((hashtext(t.job_id::text) % 2 = 0 AND h.name LIKE 'Highmoor%')
        OR (hashtext(t.job_id::text) % 2 <> 0 AND h.name LIKE 'Lantern%'));
    UPDATE job_summaries s SET lines = l.lines, search = to_tsvector('simple', plain_words(l.words))
      FROM (SELECT j.id, jsonb_agg(jsonb_build_object('words', w.words, 'at', '2026-01-01T00:00:00Z', 'lens', 'flush')) AS lines,
              string_agg(w.words, ' ') AS words
            FROM jobs j JOIN households h ON h.id = j.household_id AND h.name LIKE 'Row House %', generate_series(1, 40) g,
              LATERAL (SELECT 'carbon ' || substr(md5(j.id::text || g), 1, 6) || ' joint ' || g || ' nut loose seen' AS words) w GROUP BY j.id) l
      WHERE l.id = s.job_id;
    ANALYZE;`);
  await db.end();
  const asked = async (path: string): Promise<number> => {
    const t = performance.now();
    await (await fetch(`${address}/api/${path}`, { headers })).text();
    return performance.now() - t;
  };
  const [round, holds]: [number[], number[]] = [[], []];
  await held();
  for (let i = 0; i < 60; i++) {
    round.push(await asked('rounds'));
    holds.push(await held());
  }
  put('first page of the round, 10,000 jobs, 95th percentile', highest(round), 'ms', { most: 100 });
  put('the server’s loop held by it, longest of 60 times', Math.max(...holds), 'ms', { most: 50 });
  const words = ['nut loose', 'a1b2', 'house 77', 'highmoor', 'joint 7 nut', 'E-4417'];
  const found: number[] = [];
  for (let i = 0; i < 60; i++) found.push(await asked(`find?q=${encodeURIComponent(words[i % words.length] ?? '')}`));
  put('anything found among 10,000 jobs of 40 lines, 95th percentile', highest(found), 'ms', { most: 100 });
}
