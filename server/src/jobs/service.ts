import { isDeepStrictEqual } from 'node:util';
import { DesignVersionSchema, type DesignVersion, type Job, type NewDesign } from '@katharos/contract';
import { FactSchema, missingParts, type Catalogue, type Fact } from '@katharos/core';
import { UniqueConstraintError, type Sequelize, type Transaction } from 'sequelize';
import { DesignRow, FactRow, HouseholdRow, JobRow } from '../db/models.ts';
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
export async function factsOf(jobId: string): Promise<Fact[]> {
  const rows = await FactRow.findAll({ where: { jobId }, order: [['seq', 'ASC']] });
  return rows.map((r) => FactSchema.parse(r.body));
}

/** Design versions of a job, oldest first. */
export async function designsOf(jobId: string): Promise<DesignVersion[]> {
  const rows = await DesignRow.findAll({ where: { jobId }, order: [['number', 'ASC']] });
  return rows.map(designOf);
}

/** A job read whole. @throws ApiProblem 'not-found' */
export async function readWholeJob(id: string): Promise<Job> {
  const job = await JobRow.findByPk(id);
  const household = job ? await HouseholdRow.findByPk(job.householdId) : null;
  if (!job || !household) throw new ApiProblem('not-found');
  const [facts, designs] = await Promise.all([factsOf(id), designsOf(id)]);
  return { id, household: householdOf(household), facts, designs };
}

/**
 * Appends facts, each once: an id that is already stored with the same content is passed over, with another content
 * refused, and then none of the batch is stored.
 */
export async function appendFacts(
  sequelize: Sequelize,
  jobId: string,
  facts: readonly Fact[],
  within?: Transaction,
): Promise<{ stored: number }> {
  facts.forEach((f, i) => {
    if (f.jobId !== jobId)
      throw new ApiProblem('bad-value', {
        errors: [{ path: `facts.${String(i)}.jobId`, message: 'belongs to another job' }],
      });
  });
  const write = async (transaction: Transaction): Promise<{ stored: number }> => {
    if (!(await JobRow.findByPk(jobId, { transaction }))) throw new ApiProblem('not-found');
    const before = await FactRow.count({ where: { jobId }, transaction });
    await FactRow.bulkCreate(
      facts.map((f) => ({ id: f.id, jobId, kind: f.kind, at: new Date(f.at), by: f.by, body: f })),
      { ignoreDuplicates: true, transaction },
    );
    const rows = await FactRow.findAll({ where: { id: facts.map((f) => f.id) }, transaction });
    const stored = new Map(rows.map((r) => [r.id, r.body]));
    facts.forEach((f, i) => {
      if (!isDeepStrictEqual(stored.get(f.id), JSON.parse(JSON.stringify(f))))
        throw new ApiProblem('fact-conflict', {
          errors: [{ path: `facts.${String(i)}.id`, message: 'stands for another fact' }],
        });
    });
    return { stored: (await FactRow.count({ where: { jobId }, transaction })) - before };
  };
  return within ? write(within) : sequelize.transaction(write);
}

/** Approves a design: the next version after the one it was based on, or a stale answer with the newest. */
export async function approveDesign(jobId: string, d: NewDesign, catalogue: Catalogue): Promise<DesignVersion> {
  const missing = missingParts(d.design, catalogue);
  if (missing.length > 0)
    throw new ApiProblem('bad-value', {
      errors: [{ path: 'design', message: `the shelf has no ${missing.join(', ')}` }],
    });
  if (!(await JobRow.findByPk(jobId))) throw new ApiProblem('not-found');
  const again = await DesignRow.findByPk(d.id);
  if (again) {
    if (again.jobId !== jobId) throw new ApiProblem('fact-conflict');
    return designOf(again);
  }
  const { basedOn, ...rest } = d;
  const newest = (await designsOf(jobId)).at(-1);
  const stale = (current: DesignVersion | undefined): ApiProblem =>
    new ApiProblem('stale', { detail: 'Another design was approved meanwhile.', current });
  if ((newest?.number ?? 0) !== basedOn) throw stale(newest);
  try {
    return designOf(await DesignRow.create({ ...rest, jobId, number: basedOn + 1, at: new Date(d.at) }));
  } catch (e) {
    if (e instanceof UniqueConstraintError) throw stale((await designsOf(jobId)).at(-1));
    throw e;
  }
}
