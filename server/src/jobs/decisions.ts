import type { KeptBeside, KeptDecision } from '@katharos/contract';
import { CORE_VERSION, errorsOf, readJob, standingAmong } from '@katharos/core';
import { availableParallelism } from 'node:os';
import { performance } from 'node:perf_hooks';
import { isDeepStrictEqual } from 'node:util';
import type { Logger } from 'pino';
import { QueryTypes } from 'sequelize';
import type { Compute } from '../calc/compute.ts';
import type { Db } from '../db/models.ts';
import { ApiProblem } from '../http/problem.ts';
import { SHELF_MARK, type ShelfStore } from '../shelf/store.ts';
import type { OpenedJobs } from './opened.ts';

/** What was decided of each job, kept beside it: a page that opens on a job has its sentence before it could work it out. */
export interface Decisions {
  /** What is kept of a job; null where nothing is. What is behind is worked out once the server rests. @throws ApiProblem 'not-found' */
  kept: (jobId: string) => Promise<KeptDecision | null>;
  /** Has the decision of a job that was written to brought up, once it is left alone and the server rests. */
  refreshSoon: (jobId: string) => void;
  /**
   * Has those of jobs in hand brought up that nobody opened since they moved on, those visited next before the others.
   * @param beside whether what is told beside them is worked out too
   */
  lookAhead: (beside: boolean) => Promise<void>;
}

/** When that is worked out which nobody waits for. */
interface Quiet {
  /** Waits until the server is at rest. @param spanMs so long it rested */
  readonly rests: (spanMs: number) => Promise<void>;
  /** so long nobody wrote to a job: whoever gauges a house writes every few seconds */
  readonly leftAloneMs: number;
}

interface Row {
  readonly body: Omit<KeptDecision, 'beside'> | null;
  readonly beside: KeptBeside | null;
  readonly upToDate: boolean;
  /** of the shelf */
  readonly mark: string | null;
}

/** So many jobs wait to be decided at most; of more, those written to or opened last. */
const MOST_WAITING = 500;
/** So many jobs are decided ahead of anybody who opens them. */
const MOST_AHEAD = 50;
/** A server that was busy less than this share of a span is at rest: of so long a one before it decides something, and, while it
 * rests on, of a short one between two; where it has one processor only, of one as long as the last took. */
const BUSY = 0.3;
const SPAN_MS = 2000;
const LEAST_SPAN_MS = 300;

/** Waits until nothing much was asked of this process for a while. */
async function atRest(spanMs: number): Promise<void> {
  for (let share = 1; share > BUSY;) {
    const before = performance.eventLoopUtilization();
    await new Promise((resolve) => setTimeout(resolve, spanMs).unref());
    share = performance.eventLoopUtilization(before).utilization;
  }
}

export const QUIET: Quiet = { rests: atRest, leftAloneMs: 10_000 };

/**
 * @param compute decides, beside what else there is to do
 * @param quiet null where nothing is worked out that nobody waits for
 */
export function openDecisions(
  db: Db,
  store: Pick<ShelfStore, 'at'>,
  opened: OpenedJobs,
  compute: Compute,
  quiet: Quiet | null,
  log: Pick<Logger, 'warn'>,
): Decisions {
  const rowOf = async (jobId: string): Promise<Row> => {
    const [row] = await db.sequelize.query<Row>(
      `SELECT d.body, d.beside, coalesce(d.rev = s.rev, false) AS "upToDate", ${SHELF_MARK} AS mark FROM jobs j JOIN job_summaries s ON s.job_id = j.id
         LEFT JOIN job_decisions d ON d.job_id = j.id AND d.made_by = $2 WHERE j.id = $1`,
      { type: QueryTypes.SELECT, bind: [jobId, compute.version] },
    );
    if (!row) throw new ApiProblem('not-found');
    return row;
  };
  const workOut = async (jobId: string, withBeside: boolean): Promise<void> => {
    const { facts, designs, rev, shelf } = await opened.read(jobId);
    const { parts: catalogue, rules, stamp } = shelf;
    const record = readJob(facts);
    const { known, placed } = record;
    // as it is compared where it is read: as it crosses
    const asked = JSON.parse(JSON.stringify({ known, placed, standing: standingAmong(designs, facts) })) as Pick<
      KeptDecision,
      'known' | 'placed' | 'standing'
    >;
    const { body: kept, beside: keptBeside } = await rowOf(jobId);
    const same =
      kept?.stamp === stamp &&
      isDeepStrictEqual({ known: kept.known, placed: kept.placed, standing: kept.standing }, asked);
    const decision = same ? kept.decision : await compute.decide({ ...asked, catalogue, rules });
    const body: Row['body'] = { ...asked, stamp, coreVersion: CORE_VERSION, decision };
    const errors = errorsOf(Object.values(record.readings), shelf.instruments);
    const tellBeside = async (): Promise<KeptBeside> => ({
      errors,
      told: await compute.tellBeside({ ...asked, catalogue, rules }, decision, errors),
    });
    const holds = same && isDeepStrictEqual(keptBeside?.errors, errors);
    const beside = holds ? keptBeside : withBeside ? await tellBeside() : null;
    await db.sequelize.query(
      `INSERT INTO job_decisions AS d (job_id, rev, made_by, body, beside)
         SELECT id, $2::bigint, $3, $4::json, $5::json FROM jobs WHERE id = $1
         ON CONFLICT (job_id) DO UPDATE SET rev = excluded.rev, made_by = excluded.made_by, body = excluded.body,
             beside = excluded.beside
           WHERE d.rev <= excluded.rev`,
      { bind: [jobId, rev, compute.version, JSON.stringify(body), beside && JSON.stringify(beside)] },
    );
  };

  /** jobs to decide, and from when, ms of this process */
  const waiting = new Map<string, number>();
  /** those of which is worked out what is told beside; each once nothing is to be decided */
  const toTellBeside = new Set<string>();
  let going = false;
  const goOn = async ({ rests }: Quiet): Promise<void> => {
    going = true;
    for (let spanMs = SPAN_MS; waiting.size + toTellBeside.size > 0;) {
      await rests(spanMs);
      const began = performance.now();
      // the newest first: it is the likeliest to be opened
      const toDecide = [...waiting].findLast(([, from]) => from <= began)?.[0];
      const jobId = toDecide ?? [...toTellBeside].at(-1);
      if (jobId === undefined) continue;
      (toDecide === undefined ? toTellBeside : waiting).delete(jobId);
      try {
        await workOut(jobId, toDecide === undefined);
      } catch (e) {
        log.warn({ err: e, jobId }, 'what is decided of a job is not kept');
      }
      const tookMs = availableParallelism() === 1 ? performance.now() - began : 0;
      spanMs = Math.min(SPAN_MS, Math.max(LEAST_SPAN_MS, tookMs));
    }
    going = false;
  };
  const decideFrom = (jobId: string, from: number): void => {
    if (!quiet) return;
    waiting.delete(jobId);
    waiting.set(jobId, from);
    const [oldest] = waiting.keys();
    if (waiting.size > MOST_WAITING && oldest !== undefined) waiting.delete(oldest);
    if (!going) void goOn(quiet);
  };

  return {
    refreshSoon: (jobId) => {
      decideFrom(jobId, performance.now() + (quiet?.leftAloneMs ?? 0));
    },
    lookAhead: async (beside) => {
      const rows = await db.sequelize.query<{ jobId: string; behind: boolean }>(
        `SELECT s.job_id AS "jobId", d.rev IS DISTINCT FROM s.rev AS behind FROM job_summaries s LEFT JOIN job_decisions d ON d.job_id = s.job_id AND d.made_by = $1
           WHERE s.open AND (d.rev IS DISTINCT FROM s.rev OR ($3 AND d.beside IS NULL))
           ORDER BY (SELECT min(day) FROM unnest(s.visit_days) AS day WHERE day >= current_date), s.born DESC LIMIT $2`,
        { type: QueryTypes.SELECT, bind: [compute.version, MOST_AHEAD, beside] },
      );
      // the last to wait is the first to be decided
      for (const { jobId, behind } of rows.reverse()) {
        if (beside) toTellBeside.add(jobId);
        if (behind) decideFrom(jobId, 0);
      }
      if (quiet && !going) void goOn(quiet);
    },
    kept: async (jobId) => {
      const row = await rowOf(jobId);
      const { stamp } = await store.at(row.mark);
      // what was just written to is left alone a while all the same
      if (!waiting.has(jobId) && (!row.upToDate || row.body?.stamp !== stamp)) decideFrom(jobId, 0);
      return row.body && { ...row.body, beside: row.beside };
    },
  };
}
