import { isDeepStrictEqual } from 'node:util';
import { DesignVersionSchema, type DesignVersion, type Job, type NewDesign } from '@katharos/contract';
import { FactSchema, missingParts, type Catalogue, type Fact } from '@katharos/core';
import { UniqueConstraintError, type Transaction } from 'sequelize';
import type { Db, DesignRow } from '../db/models.ts';
import { householdOf } from '../households/routes.ts';
import { ApiProblem } from '../http/problem.ts';

function designOf(row: DesignRow): DesignVersion {
  return DesignVersionSchema.parse({
    id: row.id,
    number: row.number,
    design: row.design,
    sentence: row.sentence,
    reason: row.reason,
    coreVersion: row.coreVersion,
    at: row.at.toISOString(),
    by: row.by,
  });
}

/** Facts of a job in the order they were stored. */
export async function factsOf(db: Db, jobId: string): Promise<Fact[]> {
  const rows = await db.Fact.findAll({ where: { jobId }, order: [['seq', 'ASC']] });
  return rows.map((r) => FactSchema.parse(r.body));
}

/** Design versions of a job, oldest first. */
export async function designsOf(db: Db, jobId: string): Promise<DesignVersion[]> {
  const rows = await db.Design.findAll({ where: { jobId }, order: [['number', 'ASC']] });
  return rows.map(designOf);
}

/** A job read whole. @throws ApiProblem 'not-found' */
export async function readWholeJob(db: Db, id: string): Promise<Job> {
  const job = await db.Job.findByPk(id);
  const household = job ? await db.Household.findByPk(job.householdId) : null;
  if (!job || !household) throw new ApiProblem('not-found');
  const [facts, designs] = await Promise.all([factsOf(db, id), designsOf(db, id)]);
  return { id, household: householdOf(household), facts, designs };
}

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
  const write = async (transaction: Transaction): Promise<{ stored: number }> => {
    if (!(await db.Job.findByPk(jobId, { transaction }))) throw new ApiProblem('not-found');
    const before = await db.Fact.count({ where: { jobId }, transaction });
    await db.Fact.bulkCreate(
      facts.map((f) => ({ id: f.id, jobId, kind: f.kind, at: new Date(f.at), by: f.by, body: f })),
      { ignoreDuplicates: true, transaction },
    );
    const rows = await db.Fact.findAll({ where: { id: facts.map((f) => f.id) }, transaction });
    const stored = new Map(rows.map((r) => [r.id, r.body]));
    facts.forEach((f, i) => {
      if (!isDeepStrictEqual(stored.get(f.id), JSON.parse(JSON.stringify(f))))
        throw new ApiProblem('fact-conflict', {
          errors: [{ path: `facts.${String(i)}.id`, message: 'stands for another fact' }],
        });
    });
    return { stored: (await db.Fact.count({ where: { jobId }, transaction })) - before };
  };
  return db.sequelize.transaction(write);
}

/** Approves a design: the next version after the one it was based on, or a stale answer with the newest. */
export async function approveDesign(db: Db, jobId: string, d: NewDesign, catalogue: Catalogue): Promise<DesignVersion> {
  const missing = missingParts(d.design, catalogue);
  if (missing.length > 0)
    throw new ApiProblem('bad-value', {
      errors: [{ path: 'design', message: `the shelf has no ${missing.join(', ')}` }],
    });
  if (!(await db.Job.findByPk(jobId))) throw new ApiProblem('not-found');
  const again = await db.Design.findByPk(d.id);
  if (again) {
    if (again.jobId !== jobId) throw new ApiProblem('fact-conflict');
    return designOf(again);
  }
  const { basedOn, ...rest } = d;
  const newest = (await designsOf(db, jobId)).at(-1);
  const stale = (current: DesignVersion | undefined): ApiProblem =>
    new ApiProblem('stale', { detail: 'Another design was approved meanwhile.', current });
  if ((newest?.number ?? 0) !== basedOn) throw stale(newest);
  try {
    return designOf(await db.Design.create({ ...rest, jobId, number: basedOn + 1, at: new Date(d.at) }));
  } catch (e) {
    if (e instanceof UniqueConstraintError) throw stale((await designsOf(db, jobId)).at(-1));
    throw e;
  }
}
