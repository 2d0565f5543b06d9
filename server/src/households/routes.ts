import { isDeepStrictEqual } from 'node:util';
import { NewHouseholdSchema, PutHouseholdSchema, type Household } from '@katharos/contract';
import { editedTexts, householdTexts } from '@katharos/core';
import { Router } from 'express';
import type { Db, HouseholdRow } from '../db/models.ts';
import { inTransaction } from '../db/transaction.ts';
import { byOf } from '../http/guard.ts';
import { ApiProblem, parse, pathId } from '../http/problem.ts';

/** A household as the API shows it. */
export function householdOf(row: HouseholdRow): Household {
  const { id, version } = row;
  return { id, ...householdTexts(row), version };
}

export function householdRoutes(db: Db): Router {
  const r = Router();
  r.post('/', async (req, res) => {
    const { id, jobId, ...edit } = parse(NewHouseholdSchema, req.body);
    const by = byOf(req);
    const row = await inTransaction(db, async (transaction) => {
      const [household, isNew] = await db.Household.findOrCreate({
        where: { id },
        defaults: { id, ...edit, createdBy: by, updatedBy: by },
        transaction,
      });
      if (isNew) await db.Job.create({ id: jobId, householdId: id, createdBy: by }, { transaction });
      else if ((await db.Job.findByPk(jobId, { transaction }))?.householdId !== id)
        throw new ApiProblem('fact-conflict', { errors: [{ path: 'id', message: 'this household is here already' }] });
      return household;
    });
    res.status(201).json({ household: householdOf(row), jobId });
  });
  r.put('/:id', async (req, res) => {
    const id = pathId(req);
    const { version, ...edit } = parse(PutHouseholdSchema, req.body);
    const by = byOf(req);
    // what is not said stays as it is
    const said = Object.fromEntries(Object.entries(edit).filter(([, v]) => v !== undefined));
    // one statement: the version is compared and raised together, so no write is lost between look and save
    const [count] = await db.Household.update(
      { ...said, version: version + 1, updatedBy: by, updatedAt: new Date() },
      { where: { id, version } },
    );
    const row = await db.Household.findByPk(id);
    if (!row) throw new ApiProblem('not-found');
    // sent twice, singly or at once, it is one edit
    const stands =
      row.version === version + 1 &&
      row.updatedBy === by &&
      isDeepStrictEqual(householdTexts(row), editedTexts(row, edit));
    if (count === 0 && !stands)
      throw new ApiProblem('stale', { detail: 'Your text is kept beside theirs: choose.', current: householdOf(row) });
    res.json(householdOf(row));
  });
  return r;
}
