import {
  CORE_VERSION,
  keptSummary,
  lifeAt,
  lookUpLines,
  summaryAt,
  type JobSummary,
  type KeptSummary,
  type LookUpLine,
} from '@katharos/core';
import type { Logger } from 'pino';
import { BaseError, QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { together } from '../db/together.ts';
import type { OpenedJobs } from '../jobs/opened.ts';
import type { ShelfStore } from '../shelf/store.ts';

/** Where each job stands, kept beside it. */
export interface Summaries {
  /** Brings the summary of one job up to what is stored of it, beside what else there is to do. What fails stays behind. */
  refreshSoon: (jobId: string) => void;
  /** Brings up to so many that are behind. @returns how many still are */
  catchUp: (most: number) => Promise<number>;
  /** Brings up what can be while somebody waits for a list. @returns how many are still behind */
  catchUpBriefly: () => Promise<number>;
  /** Goes on until none is behind, a little at a time beside what else there is to do. */
  catchUpAll: () => Promise<void>;
}

/** A job just written to waits so long for what else is written to it, ms. */
const SOON_MS = 200;
/** So long somebody who asks for a list waits for what is behind, ms: a dozen jobs. */
const BRIEFLY_MS = 60;
/** So many times as long as it works, what works beside others rests. */
const RESTS = 2;
/** Jobs read at once. */
const SOME = 8;

/** What is kept of a job beside it: where it stands, and what of it can be looked up. */
interface WorkedOut {
  readonly kept: KeptSummary;
  readonly lines: readonly LookUpLine[];
}
/** The database takes no more into one search vector than a megabyte. */
const MOST_LETTERS = 200_000;

/** What stands for a summary that there is not. @param next says why */
const without = (next: string): KeptSummary => ({
  coreVersion: CORE_VERSION,
  lens: 'gauge',
  next,
  timers: [],
  before: null,
  spans: [],
  visits: [],
  inService: false,
  approved: false,
});

/** A kept summary that cannot be worked out: the job is told as such and takes no list down. */
const unworkable = (said: string): KeptSummary => without(`This job cannot be worked out: ${said}`.slice(0, 300));

/** What stands in a row, at a moment. @param nowMs the caller's clock */
export function summaryOf(body: unknown, nowMs: number): JobSummary {
  return summaryAt((body as KeptSummary | null) ?? without('It is being looked at; where it stands follows.'), nowMs);
}

/** @param now ms since 1970, for which change of a cartridge comes next */
export function openSummaries(
  db: Db,
  store: ShelfStore,
  opened: OpenedJobs,
  now: () => number,
  log: Logger,
): Summaries {
  const select = <T extends object>(sql: string, bind: unknown[]): Promise<T[]> =>
    db.sequelize.query<T>(sql, { type: QueryTypes.SELECT, bind });

  const workOut = async (jobId: string, rev: string): Promise<Record<string, unknown>> => {
    try {
      const { facts, designs, ...now } = await opened.read(jobId);
      // read after the rows: what was edited before them is in it, what is edited after moves the rows on
      const { parts, rules } = await store.read();
      return rowOf(jobId, now.rev, {
        kept: keptSummary(facts, designs, parts, rules),
        lines: lookUpLines(facts, designs),
      });
    } catch (e) {
      // a database that is away says nothing of the job
      if (e instanceof BaseError) throw e;
      log.error({ err: e, jobId }, 'a job cannot be worked out');
      return rowOf(jobId, rev, { kept: unworkable(e instanceof Error ? e.message : 'an unknown fault.'), lines: [] });
    }
  };

  /** What is kept of a job beside it, as the statement that stores it reads it. */
  const rowOf = (jobId: string, rev: string, { kept, lines }: WorkedOut): Record<string, unknown> => {
    const first = (all: readonly number[]): Date | null => (all.length > 0 ? new Date(Math.min(...all)) : null);
    return {
      job_id: jobId,
      rev,
      approved: kept.approved,
      open: !kept.inService || kept.lens === 'prove' || kept.inHand === true,
      clock_at: first(kept.timers.map((t) => Date.parse(t.dueAt))),
      due_at: first([
        ...kept.spans.map((s) => lifeAt(s, now()).dueMs),
        ...(kept.asks ?? []).map((a) => Date.parse(a.from)),
      ]),
      visit_days: kept.visits.map((v) => v.on.slice(0, 10)),
      body: kept,
      lines,
      words: lines
        .map((l) => l.words)
        .join(' ')
        .slice(0, MOST_LETTERS),
    };
  };

  /**
   * Works out summaries that are behind and keeps them; one whose job was written to meanwhile stays behind.
   * @param only these jobs; any if null
   * @returns how many still are
   */
  const keep = async (only: readonly string[] | null, most: number): Promise<number> => {
    const rows = await select<{ jobId: string; rev: string; all: string }>(
      `SELECT job_id AS "jobId", rev, count(*) OVER () AS all FROM job_summaries
         WHERE (stale OR core_version IS DISTINCT FROM $1) AND ($2::uuid[] IS NULL OR job_id = ANY($2)) ORDER BY born LIMIT $3`,
      [CORE_VERSION, only, most],
    );
    const [one] = rows;
    if (!one) return 0;
    const kept: Record<string, unknown>[] = [];
    for (const { jobId, rev } of rows) {
      kept.push(await workOut(jobId, rev));
      // who else asks something is heard between two of them
      await new Promise((resolve) => setImmediate(resolve));
    }
    const done = await select(
      `UPDATE job_summaries s SET stale = false, approved = k.approved, open = k.open, clock_at = k.clock_at, due_at = k.due_at,
         body = k.body, core_version = $1, visit_days = k.visit_days, lines = k.lines,
         search = to_tsvector('simple', plain_words(k.words))
       FROM jsonb_to_recordset($2::jsonb) AS k(job_id uuid, rev bigint, approved boolean, open boolean, clock_at timestamptz,
         due_at timestamptz, visit_days date[], body jsonb, lines jsonb, words text)
       WHERE s.job_id = k.job_id AND s.rev = k.rev RETURNING s.job_id`,
      [CORE_VERSION, JSON.stringify(kept)],
    );
    return Number(one.all) - done.length;
  };

  /** Goes on until nothing is behind or nothing more can be brought up, resting longer than it works: others ask something too. */
  const goOn = async (only: readonly string[] | null, most: number): Promise<void> => {
    for (let left = Infinity, before = Infinity; left > 0; before = left) {
      const began = performance.now();
      left = await keep(only, most);
      if (left >= before) break;
      await pause(RESTS * (performance.now() - began));
    }
  };
  const catchUp = together((most: number) => keep(null, most));

  /** what could not be brought up while somebody waited, and until when nobody waits for it again */
  let overdue = { left: 0, untilMs: 0 };
  const catchUpBriefly = together(async (): Promise<number> => {
    const began = performance.now();
    if (overdue.left > 0 && began < overdue.untilMs) return overdue.left;
    let left = Infinity;
    while (left > 0 && performance.now() - began < BRIEFLY_MS) {
      const before = left;
      left = await keep(null, SOME);
      if (left >= before) break;
    }
    const now = performance.now();
    overdue = { left, untilMs: now + RESTS * (now - began) };
    return left;
  });

  /** jobs written to lately, to be brought up beside what else there is to do */
  const soon = new Set<string>();
  let refreshing = false;
  const refreshSoon = (jobId: string): void => {
    soon.add(jobId);
    if (refreshing) return;
    refreshing = true;
    void (async () => {
      while (soon.size > 0) {
        // several who write at once are brought up together
        await pause(SOON_MS);
        const written = [...soon];
        soon.clear();
        try {
          await goOn(written, SOME);
        } catch (e) {
          log.warn({ err: e, jobs: written.length }, 'summaries of jobs stay behind');
        }
      }
      refreshing = false;
    })();
  };
  let going: Promise<void> | null = null;
  return {
    refreshSoon,
    catchUp,
    catchUpBriefly,
    catchUpAll: () => {
      going ??= goOn(null, SOME).finally(() => {
        going = null;
      });
      return going;
    },
  };
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms).unref());
