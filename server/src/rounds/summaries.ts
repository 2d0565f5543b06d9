import { performance } from 'node:perf_hooks';
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

/** Where each job stands, kept beside it. */
export interface Summaries {
  /** Brings the summary of one job up to what is stored of it, beside what else there is to do. What fails stays behind. */
  refreshSoon: (jobId: string) => void;
  /** Brings up to so many that are behind. @returns how many still are */
  catchUp: (most: number) => Promise<number>;
  /** Brings up what can be while somebody waits for a list; not where the server is busy, nor again before it has rested. */
  catchUpBriefly: () => Promise<void>;
  /** Goes on until none is behind, a little at a time beside what else there is to do. */
  catchUpAll: () => Promise<void>;
}

/** A job just written to waits so long for what else is written to it, ms. */
const SOON_MS = 200;
/** So long somebody who asks for a list waits for what is behind, ms: some jobs, one at the least. */
const BRIEFLY_MS = 25;
/** So many times as long as it works, what works beside others rests; where the server has little time for others, and where
 * somebody waits, longer: whoever writes and looks finds it done, many who do are not held up by each other. */
const RESTS = 2;
const RESTS_LONG = 10;
/** A server that worked more than this share of so long a span has little time. */
const BUSY = 0.6;
const SPAN_MS = 500;
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
  drinking: null,
  spans: [],
  visits: [],
  inService: false,
  approved: false,
});

/** A kept summary that cannot be worked out: the job is told as such and takes no list down. */
const unworkable = (said: string): KeptSummary => without(`This job cannot be worked out: ${said}`.slice(0, 300));

/** Whether a row is behind what is stored of its job, as indices tell it. @param version place of the core's */
export const behind = (version: '$1' | '$3'): string =>
  `(stale OR core_version IS NULL OR core_version < ${version} OR core_version > ${version})`;

/** What stands in a row, at a moment. @param nowMs the caller's clock */
export function summaryOf(body: unknown, nowMs: number): JobSummary {
  return summaryAt((body as KeptSummary | null) ?? without('It is being looked at; where it stands follows.'), nowMs);
}

/** @param now ms since 1970, for which change of a cartridge comes next */
export function openSummaries(db: Db, opened: OpenedJobs, now: () => number, log: Logger): Summaries {
  const select = <T extends object>(sql: string, bind: unknown[]): Promise<T[]> =>
    db.sequelize.query<T>(sql, { type: QueryTypes.SELECT, bind });

  const workOut = async (jobId: string, rev: string): Promise<Record<string, unknown>> => {
    try {
      // the shelf stands there as it stood with the rows: what is edited after them moves them on
      const { facts, designs, rev: read, shelf } = await opened.read(jobId);
      return rowOf(jobId, read, {
        kept: keptSummary(facts, designs, shelf.parts, shelf.rules),
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
   * @param only these jobs; any if null @param untilMs after which no further one is begun
   * @returns how many still are
   */
  const keep = async (only: readonly string[] | null, most: number, untilMs = Infinity): Promise<number> => {
    const rows = await select<{ jobId: string; rev: string; all: string }>(
      `SELECT job_id AS "jobId", rev, count(*) OVER () AS all FROM job_summaries
         WHERE ${behind('$1')} AND ($2::uuid[] IS NULL OR job_id = ANY($2)) ORDER BY born LIMIT $3`,
      [CORE_VERSION, only, most],
    );
    const [one] = rows;
    if (!one) return 0;
    const kept: Record<string, unknown>[] = [];
    for (const { jobId, rev } of rows) {
      kept.push(await workOut(jobId, rev));
      // who else asks something is heard between two of them
      await new Promise((resolve) => setImmediate(resolve));
      if (performance.now() > untilMs) break;
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
      await pause((isBusy() ? RESTS_LONG : RESTS) * (performance.now() - began));
    }
  };
  let span = { fromMs: performance.now(), loop: performance.eventLoopUtilization(), busy: false };
  const isBusy = (): boolean => {
    const nowMs = performance.now();
    if (nowMs - span.fromMs > SPAN_MS) {
      const loop = performance.eventLoopUtilization();
      span = { fromMs: nowMs, loop, busy: performance.eventLoopUtilization(loop, span.loop).utilization > BUSY };
    }
    return span.busy;
  };
  const catchUp = together((most: number) => keep(null, most));

  /** until when nobody waits again */
  let restsUntilMs = 0;
  const catchUpBriefly = together(async (): Promise<void> => {
    const began = performance.now();
    if (began < restsUntilMs || isBusy()) return;
    const until = began + BRIEFLY_MS;
    for (let left = Infinity, before = Infinity; left > 0 && performance.now() < until; before = left) {
      left = await keep(null, SOME, until);
      if (left >= before) break;
    }
    restsUntilMs = performance.now() + RESTS_LONG * (performance.now() - began);
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
      // what is written to lately is being brought up already, and the rest of it with the next that is asked for
      if (refreshing) return Promise.resolve();
      going ??= goOn(null, SOME).finally(() => {
        going = null;
      });
      return going;
    },
  };
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms).unref());
