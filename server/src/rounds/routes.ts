import type { Changes, Coming, RoundsPage } from '@katharos/contract';
import { COMING_DAYS, RoundsQuerySchema, SinceSchema } from '@katharos/contract';
import { CORE_VERSION, SOON_DAYS } from '@katharos/core';
import { Router } from 'express';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { together } from '../db/together.ts';
import { Alike } from '../http/alike.ts';
import { parse } from '../http/problem.ts';
import { csvOf } from './list.ts';
import { MARK, ROW, SUMMARIES, type Entries, type Line, type Lines, type Row } from './entries.ts';
import { behind, type Summaries } from './summaries.ts';

/** Lines of a list that come at once. */
const PAGE = 50;
/** Summaries that are brought up while somebody waits; more than these are brought up beside it, and said. */
const WAIT_FOR = 25;
const DAY_MS = 86400000;
/** Lines of the whole list that are read and sent at once. */
const PART = 100;
/** Houses with something due that are told ahead at once. */
const MOST_COMING = 500;

const IN_ORDER = 'ORDER BY s.born, s.job_id';
/** Whether a household is one that was looked for. @param pattern place of what `asPattern` gives */
const FOUND = (pattern: string): string =>
  `(${pattern} = '' OR concat_ws(' ', h.name, h.place, h.contact) ILIKE '%' || ${pattern} || '%')`;
const asPattern = (find: string): string => find.replaceAll(/[\\%_]/g, (c) => `\\${c}`);

/** `Rounds` as it is sent. */
interface RoundsText {
  readonly behind: number;
  readonly text: Alike;
}
interface DayRow {
  readonly lists: Readonly<Record<'clocks' | 'due' | 'visits' | 'open' | 'kept', readonly string[]>> & {
    readonly behind: number;
  };
  /** of every job in the lists, as `MARK` gives it */
  readonly marks: Readonly<Record<string, string>>;
}

/** The working day: clocks that run, what is due, and where every job stands, a page at a time. */
export function roundsRoutes(db: Db, summaries: Summaries, entries: Entries, now: () => number): Router {
  const r = Router();
  const rows = (sql: string, bind: unknown[]): Promise<Row[]> =>
    db.sequelize.query<Row>(sql, { type: QueryTypes.SELECT, bind });

  /** @param found a page and one more, which tells that it goes on */
  const nextOf = (found: readonly Pick<Row, 'born' | 'jobId'>[]): string | null => {
    const last = found.at(PAGE - 1);
    return found.length > PAGE && last ? `${last.born} ${last.jobId}` : null;
  };
  const list = async (open: boolean, find: string, after: string | undefined): Promise<RoundsPage> => {
    const [born, id] = after?.split(' ') ?? [null, null];
    const found = await rows(
      `${ROW} WHERE s.open = $1 AND ${FOUND('$2')} AND ($3::timestamptz IS NULL OR (s.born, s.job_id) > ($3::timestamptz, $4::uuid))
         ${IN_ORDER} LIMIT ${String(PAGE + 1)}`,
      [open, asPattern(find), born ?? null, id ?? null],
    );
    return { entries: await entries.of(found.slice(0, PAGE)), next: nextOf(found) };
  };
  /** what was told last, and of what */
  let told = { of: '', text: new Alike('') };
  /** all of a day in one answer of the database: the ids of each list, and what tells whether its jobs are as they were */
  const dayOf = async (find: string): Promise<RoundsText> => {
    const soon = new Date(now() + SOON_DAYS * DAY_MS);
    // a day wider than today and tomorrow: whoever asks knows what day it is there
    const days = [-1, 0, 1, 2].map((d) => new Date(now() + d * DAY_MS).toISOString().slice(0, 10));
    const ids = (list: string, where: string, most = PAGE, from = 'job_summaries s'): string =>
      `ARRAY(SELECT s.job_id FROM ${from} WHERE ${where} LIMIT ${String(most)}) AS ${list}`;
    // households are read only where one is looked for
    const page = (list: string, where: string): string =>
      find === ''
        ? ids(list, `${where} ${IN_ORDER}`, PAGE + 1)
        : ids(list, `${where} AND ${FOUND('$4')} ${IN_ORDER}`, PAGE + 1, SUMMARIES);
    const [day] = await db.sequelize.query<DayRow>(
      `WITH l AS MATERIALIZED (SELECT (SELECT count(*)::int FROM job_summaries WHERE ${behind('$3')}) AS behind, ${[
        ids('clocks', 's.clock_at IS NOT NULL ORDER BY s.clock_at'),
        ids('due', 's.due_at <= $1 ORDER BY s.due_at'),
        ids('visits', `s.visit_days && $2::date[] ${IN_ORDER}`),
        page('open', 's.open'),
        page('kept', 'NOT s.open'),
      ].join(', ')})
       SELECT row_to_json(l) AS lists, (SELECT coalesce(json_object_agg(s.job_id, ${MARK}), '{}') FROM ${SUMMARIES}
         WHERE s.job_id = ANY(l.clocks || l.due || l.visits || l.open || l.kept)) AS marks FROM l`,
      { type: QueryTypes.SELECT, bind: [soon, days, CORE_VERSION, ...(find === '' ? [] : [asPattern(find)])] },
    );
    if (!day) throw new Error('the round was not answered');
    const { lists, marks } = day;
    const lines = await entries.lines(marks);
    const of = JSON.stringify([lists, marks, lines.second]);
    // of those who ask within a second most are told the same
    if (told.of !== of) told = { of, text: new Alike(textOf(lists, lines.of)) };
    return { behind: lists.behind, text: told.text };
  };
  /** a job that stands in several lists is written out once */
  const textOf = (lists: DayRow['lists'], lines: Lines['of']): string => {
    const found = (ids: readonly string[]): Line[] => ids.flatMap((id) => lines.get(id) ?? []);
    const named = (ids: readonly string[]): string =>
      `[${found(ids)
        .map((l) => l.text)
        .join(',')}]`;
    const page = (ids: readonly string[]): string =>
      `{"entries":${named(ids.slice(0, PAGE))},"next":${JSON.stringify(nextOf(found(ids).map((l) => l.row)))}}`;
    return `{"behind":${String(lists.behind)},"clocks":${named(lists.clocks)},"due":${named(lists.due)},"visits":${named(lists.visits)},"open":${page(lists.open)},"kept":${page(lists.kept)}}`;
  };
  const answerOf = async (find: string): Promise<Alike> => {
    await summaries.catchUpBriefly();
    const { behind: left, text } = await dayOf(find);
    if (left > 0) void summaries.catchUpAll().catch(() => undefined);
    return text;
  };
  // many look at the whole round at once
  const wholeDay = together(() => answerOf(''));

  r.get('/', async (req, res) => {
    const { find } = parse(RoundsQuerySchema, req.query);
    await (await (find === '' ? wholeDay() : answerOf(find))).send(req, res);
  });
  r.get('/open', async (req, res) => {
    const { find, after } = parse(RoundsQuerySchema, req.query);
    res.json(await list(true, find, after));
  });
  r.get('/coming', async (_req, res) => {
    await summaries.catchUp(WAIT_FOR);
    const until = new Date(now() + COMING_DAYS * DAY_MS);
    const coming = await entries.where(`s.due_at <= $1 ORDER BY s.due_at, s.job_id LIMIT ${String(MOST_COMING)}`, [
      until,
    ]);
    res.json({ entries: coming } satisfies Coming);
  });
  r.get('/list.csv', async (_req, res) => {
    await summaries.catchUp(WAIT_FOR);
    res.type('text/csv').attachment('households.csv');
    for (let after: Row | undefined, first = true; first || after; first = false) {
      const part = await rows(
        `${ROW} WHERE $1::timestamptz IS NULL OR (s.born, s.job_id) > ($1::timestamptz, $2::uuid) ${IN_ORDER} LIMIT ${String(PART)}`,
        [after?.born ?? null, after?.jobId ?? null],
      );
      res.write(csvOf(await entries.of(part), first));
      after = part.length === PART ? part.at(-1) : undefined;
    }
    res.end();
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
