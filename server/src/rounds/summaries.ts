import { CORE_VERSION, keptSummary, lifeAt, summaryAt, type JobSummary, type KeptSummary } from '@katharos/core';
import type { Logger } from 'pino';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Db } from '../db/models.ts';
import { together } from '../db/together.ts';
import { openJob } from '../jobs/service.ts';
import type { ShelfStore, StoredShelf } from '../shelf/store.ts';

/** Where each job stands, kept beside it. */
export interface Summaries {
  /** Brings the summary of one job up to what is stored of it, beside what else there is to do. What fails stays behind. */
  refreshSoon: (jobId: string) => void;
  /** Brings up to so many that are behind. @returns how many still are */
  catchUp: (most: number) => Promise<number>;
  /** Goes on until none is behind, a little at a time beside what else there is to do. */
  catchUpAll: () => Promise<void>;
}

/** A job just written to waits so long for what else is written to it, ms. */
const SOON_MS = 200;

/** A kept summary that cannot be worked out: the job is told as such and takes no list down. */
const unworkable = (said: string): KeptSummary => ({
  coreVersion: CORE_VERSION,
  lens: 'gauge',
  next: `This job cannot be worked out: ${said}`.slice(0, 300),
  timers: [],
  before: null,
  spans: [],
  visits: [],
  inService: false,
  approved: false,
});

/** What stands in a row, at a moment. @param nowMs the caller's clock */
export function summaryOf(body: unknown, nowMs: number): JobSummary {
  return summaryAt((body as KeptSummary | null) ?? unworkable('it has not been looked at yet.'), nowMs);
}

/** @param now ms since 1970, for which change of a cartridge comes next */
export function openSummaries(db: Db, store: ShelfStore, now: () => number, log: Logger): Summaries {
  const select = <T extends object>(sql: string, bind: unknown[], transaction?: Transaction): Promise<T[]> =>
    db.sequelize.query<T>(sql, { type: QueryTypes.SELECT, bind, transaction: transaction ?? null });

  const workOut = async (jobId: string, shelf: StoredShelf, transaction: Transaction): Promise<KeptSummary> => {
    const { parts, rules } = shelf;
    const { facts, designs } = await openJob(db, jobId, { catalogue: parts, rules }, transaction);
    try {
      return keptSummary(facts, designs, parts, rules);
    } catch (e) {
      log.error({ err: e, jobId }, 'a job cannot be worked out');
      return unworkable(e instanceof Error ? e.message : 'an unknown fault.');
    }
  };

  const keep = async (jobId: string): Promise<void> => {
    // read before the transaction: one connection is enough for a refresh
    const shelf = await store.read();
    await db.sequelize.transaction(async (transaction) => {
      // two who bring the same one up wait for each other here, so that the later one has all there is
      const [row] = await select<{ behind: boolean }>(
        'SELECT stale OR core_version IS DISTINCT FROM $2 AS behind FROM job_summaries WHERE job_id = $1 FOR UPDATE',
        [jobId, CORE_VERSION],
        transaction,
      );
      if (!row?.behind) return;
      const kept = await workOut(jobId, shelf, transaction);
      const clocks = kept.timers.map((t) => Date.parse(t.dueAt));
      const dues = kept.spans.map((s) => lifeAt(s, now()).dueMs);
      const first = (all: readonly number[]): Date | null => (all.length > 0 ? new Date(Math.min(...all)) : null);
      await db.sequelize.query(
        `UPDATE job_summaries SET stale = false, approved = $2, open = $3, clock_at = $4, due_at = $5, body = $6::jsonb,
           core_version = $7, visit_days = $8::date[] WHERE job_id = $1`,
        {
          bind: [
            jobId,
            kept.approved,
            !kept.inService || kept.lens === 'prove',
            first(clocks),
            first(dues),
            JSON.stringify(kept),
            CORE_VERSION,
            kept.visits.map((v) => v.on.slice(0, 10)),
          ],
          transaction,
        },
      );
    });
  };

  const behind = (most: number): Promise<{ id: string; left: string }[]> =>
    select(
      `SELECT job_id AS id, count(*) OVER () AS left FROM job_summaries
         WHERE stale OR core_version IS DISTINCT FROM $1 ORDER BY born LIMIT $2`,
      [CORE_VERSION, most],
    );

  const refresh = async (jobId: string): Promise<void> => {
    try {
      await keep(jobId);
    } catch (e) {
      log.warn({ err: e, jobId }, 'the summary of a job stays behind');
    }
  };
  const catchUp = together(async (most: number): Promise<number> => {
    const these = await behind(most);
    for (const { id } of these) await refresh(id);
    return these.length === 0 ? 0 : Number((await behind(1))[0]?.left ?? 0);
  });
  /** jobs being brought up beside what else there is to do, and whether they were written to once more meanwhile */
  const beside = new Map<string, boolean>();
  const refreshSoon = (jobId: string): void => {
    const under = beside.has(jobId);
    beside.set(jobId, under);
    if (under) return;
    void (async () => {
      do {
        // several who write at once are brought up together
        await new Promise((resolve) => setTimeout(resolve, SOON_MS).unref());
        beside.set(jobId, false);
        await refresh(jobId);
      } while (beside.get(jobId));
      beside.delete(jobId);
    })();
  };
  let going: Promise<void> | null = null;
  return {
    refreshSoon,
    catchUp,
    catchUpAll: () => {
      going ??= (async () => {
        for (let left = Infinity, before = Infinity; left > 0; before = left) {
          left = await catchUp(50);
          if (left >= before) break;
        }
      })().finally(() => {
        going = null;
      });
      return going;
    },
  };
}
