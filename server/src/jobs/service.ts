import { isDeepStrictEqual } from 'node:util';
import type { DesignVersion, Household, Job } from '@katharos/contract';
import { openJobDocuments, type Fact, type OpenedDocuments } from '@katharos/core';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Db } from '../db/models.ts';
import { inTransaction } from '../db/transaction.ts';
import { ApiProblem } from '../http/problem.ts';

/** What a design of the first kind is resolved by. */
type AtShelf = Parameters<typeof openJobDocuments>[2];

/** A job's stored documents in today's shape; what cannot be read is told, and stands in nobody's way. */
export async function openJob(
  db: Db,
  jobId: string,
  shelf: AtShelf,
  transaction: Transaction | null = null,
): Promise<OpenedDocuments> {
  const [documents] = await db.sequelize.query<Documents>(`SELECT ${DOCUMENTS} FROM jobs j WHERE j.id = $1`, {
    type: QueryTypes.SELECT,
    bind: [jobId],
    transaction,
  });
  return openJobDocuments(documents?.designs ?? [], documents?.facts ?? [], shelf);
}

interface Documents {
  readonly facts: readonly unknown[];
  readonly designs: readonly unknown[];
}
/** Everything stored of a job, in its order, in one answer. */
const DOCUMENTS = `
  (SELECT coalesce(jsonb_agg(f.body ORDER BY f.seq), '[]') FROM facts f WHERE f.job_id = j.id) AS facts,
  (SELECT coalesce(jsonb_agg(d.body ORDER BY d.number), '[]') FROM designs d WHERE d.job_id = j.id) AS designs`;

/** A job read whole. @throws ApiProblem 'not-found' */
export async function readWholeJob(db: Db, id: string, shelf: AtShelf): Promise<Job> {
  const [row] = await db.sequelize.query<Documents & Household>(
    `SELECT h.id, h.name, h.place, h.contact, h.notes, h.version, ${DOCUMENTS}
       FROM jobs j JOIN households h ON h.id = j.household_id WHERE j.id = $1`,
    { type: QueryTypes.SELECT, bind: [id] },
  );
  if (!row) throw new ApiProblem('not-found');
  const { facts, designs, ...household } = row;
  const opened = openJobDocuments(designs, facts, shelf);
  return { id, household, facts: [...opened.facts], designs: [...opened.designs], unreadable: opened.unreadable };
}

/** Whether what is stored is what was sent. */
const isSame = (stored: unknown, sent: unknown): boolean => isDeepStrictEqual(stored, JSON.parse(JSON.stringify(sent)));

/**
 * Appends facts, each once: an id that is already stored with the same content is passed over, with another content
 * refused, and then none of the batch is stored.
 */
export async function appendFacts(db: Db, jobId: string, facts: readonly Fact[]): Promise<{ stored: number }> {
  facts.forEach((f, i) => {
    if (f.jobId !== jobId)
      throw new ApiProblem('bad-value', {
        errors: [{ path: `facts.${String(i)}.jobId`, message: 'belongs to another job' }],
      });
  });
  const stored = await inTransaction(db, async (transaction) => {
    // those who write to a job take their turns: what is counted is what was stored, and nobody waits for nobody
    const [job] = await db.sequelize.query('SELECT id FROM jobs WHERE id = $1 FOR UPDATE', {
      type: QueryTypes.SELECT,
      bind: [jobId],
      transaction,
    });
    if (!job) throw new ApiProblem('not-found');
    const [done] = await db.sequelize.query<{ stored: number; others: string[] }>(STORE_FACTS, {
      type: QueryTypes.SELECT,
      bind: [JSON.stringify(facts), jobId],
      transaction,
    });
    const others = new Set(done?.others ?? []);
    facts.forEach((f, i) => {
      if (others.has(f.id))
        throw new ApiProblem('fact-conflict', {
          errors: [{ path: `facts.${String(i)}.id`, message: 'stands for another fact' }],
        });
    });
    return done?.stored ?? 0;
  });
  return { stored };
}

/** Stores what is not there yet, in one statement; tells how many that were, and ids that stand for something else. */
const STORE_FACTS = `
  WITH sent AS (
    SELECT (e->>'id')::uuid AS id, e AS body, n FROM jsonb_array_elements($1::jsonb) WITH ORDINALITY AS x(e, n)
  ), added AS (
    INSERT INTO facts (id, job_id, kind, at, by, body)
      SELECT id, $2::uuid, body->>'kind', (body->>'at')::timestamptz, (body->>'by')::uuid, body FROM sent s
        WHERE n = (SELECT min(n) FROM sent WHERE id = s.id) AND NOT EXISTS (SELECT 1 FROM facts f WHERE f.id = s.id)
        ORDER BY n
      ON CONFLICT (id) DO NOTHING RETURNING id, body
  ), there AS (
    SELECT id, body FROM added UNION ALL SELECT f.id, f.body FROM facts f JOIN sent USING (id)
  )
  SELECT (SELECT count(*)::int FROM added) AS stored,
    ARRAY(SELECT s.id::text FROM sent s WHERE NOT EXISTS (SELECT 1 FROM there t WHERE t.id = s.id AND t.body = s.body)) AS others`;

/** Approves a design: the next version after the one it follows, or a stale answer with the newest. Sent twice it is one. */
export function approveDesign(db: Db, jobId: string, d: DesignVersion): Promise<DesignVersion> {
  return inTransaction(db, async (transaction) => {
    if (!(await db.Job.findByPk(jobId, { transaction, lock: true }))) throw new ApiProblem('not-found');
    const again = await db.Design.findByPk(d.id, { transaction });
    if (again) {
      if (again.jobId !== jobId || !isSame(again.body, d)) throw new ApiProblem('fact-conflict');
      return d;
    }
    const last = await db.Design.findOne({ where: { jobId }, order: [['number', 'DESC']], transaction });
    if ((last?.number ?? 0) !== d.number - 1)
      throw new ApiProblem('stale', { detail: 'Another design was approved meanwhile.', current: last?.body });
    await db.Design.create(
      { id: d.id, jobId, number: d.number, body: d, at: new Date(d.at), by: d.by },
      { transaction },
    );
    return d;
  });
}
