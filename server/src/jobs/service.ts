import { isDeepStrictEqual } from 'node:util';
import type { DesignVersion, Household, Job } from '@katharos/contract';
import { openJobDocuments, type Fact } from '@katharos/core';
import { QueryTypes, type DatabaseError, type Transaction } from 'sequelize';
import type { Db } from '../db/models.ts';
import { NO_JOB, OTHER_FACTS } from '../db/storeFacts.ts';
import { again, codeOf, inTransaction, within } from '../db/transaction.ts';
import { ApiProblem } from '../http/problem.ts';

/** What a design of the first kind is resolved by. */
export type AtShelf = Parameters<typeof openJobDocuments>[2];

/** What is stored of a job, as it is stored. */
interface Documents {
  readonly facts: readonly unknown[];
  readonly designs: readonly unknown[];
}
/** Columns of a household, as it is shown. */
export const HOUSEHOLD = `h.id, h.name, h.place, h.address, h.contact, h.phone, h.key_holder AS "keyHolder", h.notes, h.version`;
/** Every design of a job, in its order. */
export const DESIGNS = `(SELECT coalesce(json_agg(d.body ORDER BY d.number), '[]') FROM designs d WHERE d.job_id = j.id)`;
/** Everything stored of a job, in its order, in one answer. */
const DOCUMENTS = `
  (SELECT coalesce(json_agg(f.body ORDER BY f.seq), '[]') FROM facts f WHERE f.job_id = j.id) AS facts,
  ${DESIGNS} AS designs`;

/** A job read whole, its documents in today's shape; what cannot be read is told, and stands in nobody's way. @throws ApiProblem 'not-found' */
export async function readWholeJob(db: Db, id: string, shelf: AtShelf, transaction?: Transaction): Promise<Job> {
  const [row] = await db.sequelize.query<Documents & Household>(
    `SELECT ${HOUSEHOLD}, ${DOCUMENTS}
       FROM jobs j JOIN households h ON h.id = j.household_id WHERE j.id = $1`,
    { type: QueryTypes.SELECT, bind: [id], ...within(transaction) },
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
  try {
    const [done] = await again(() =>
      db.sequelize.query<{ stored: number }>('SELECT store_facts($1::uuid, $2::jsonb) AS stored', {
        type: QueryTypes.SELECT,
        bind: [jobId, JSON.stringify(facts)],
      }),
    );
    return { stored: done?.stored ?? 0 };
  } catch (e) {
    if (codeOf(e) === NO_JOB) throw new ApiProblem('not-found');
    if (codeOf(e) !== OTHER_FACTS) throw e;
    const others = new Set(((e as DatabaseError).original as { detail?: string }).detail?.split(' '));
    throw new ApiProblem('fact-conflict', {
      errors: facts.flatMap((f, i) =>
        others.has(f.id) ? [{ path: `facts.${String(i)}.id`, message: 'stands for another fact' }] : [],
      ),
    });
  }
}

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
