import { randomUUID } from 'node:crypto';
import { NewPersonSchema, PutPersonSchema, type FirmPerson } from '@katharos/contract';
import { Router } from 'express';
import type { Transaction } from 'sequelize';
import type { Db, PersonRow } from '../db/models.ts';
import { inTransaction } from '../db/transaction.ts';
import { byOf } from '../http/guard.ts';
import { ApiProblem, parse, pathId } from '../http/problem.ts';
import type { Sessions } from '../signing/sessions.ts';

const shown = ({ id, name, role, leftAt, password, version }: PersonRow): FirmPerson => ({
  id,
  name,
  role,
  left: leftAt !== null,
  ready: password !== null,
  version,
});

/** @throws ApiProblem 'bad-value' where somebody else has the name */
async function nameIsFree(db: Db, name: string, id: string | undefined, transaction: Transaction): Promise<void> {
  const people = await db.Person.findAll({ transaction });
  if (people.some((p) => p.id !== id && p.name.toLowerCase() === name.toLowerCase()))
    throw new ApiProblem('bad-value', { errors: [{ path: 'name', message: 'Somebody here has that name already.' }] });
}

/** Those of the firm, for its owner. */
export function peopleRoutes(db: Db, sessions: Pick<Sessions, 'end'>): Router {
  const r = Router();
  r.get('/', async (_req, res) => {
    const people = await db.Person.findAll({ order: [['leftAt', 'ASC NULLS FIRST'], ['name', 'ASC']] });
    res.json(people.map(shown));
  });
  r.post('/', async (req, res) => {
    const { id, name, role } = parse(NewPersonSchema, req.body);
    const row = await inTransaction(db, async (transaction) => {
      await lockPeople(db, transaction);
      const again = id === undefined ? null : await db.Person.findByPk(id, { transaction });
      // sent twice it is one
      if (again?.name === name && again.role === role) return again;
      if (again) throw new ApiProblem('fact-conflict');
      await nameIsFree(db, name, id, transaction);
      return db.Person.create({ id: id ?? randomUUID(), name, role, updatedBy: byOf(req) }, { transaction });
    });
    res.status(201).json(shown(row));
  });
  r.put('/:id', async (req, res) => {
    const id = pathId(req);
    const { name, role, left, version } = parse(PutPersonSchema, req.body);
    const by = byOf(req);
    const row = await inTransaction(db, async (transaction) => {
      await lockPeople(db, transaction);
      const now = await db.Person.findByPk(id, { transaction });
      if (!now) throw new ApiProblem('not-found');
      const stands = now.name === name && now.role === role && (now.leftAt !== null) === left;
      if (now.version === version + 1 && now.updatedBy === by && stands) return now;
      if (now.version !== version) throw new ApiProblem('stale', { current: shown(now) });
      await nameIsFree(db, name, id, transaction);
      const leftAt = left ? (now.leftAt ?? new Date()) : null;
      await now.update({ name, role, leftAt, version: version + 1, updatedBy: by }, { transaction });
      if ((await db.Person.count({ where: { role: 'owner', leftAt: null }, transaction })) === 0)
        throw new ApiProblem('bad-value', { errors: [{ path: 'role', message: 'Somebody must own the firm: make another an owner first.' }] });
      if (left) await sessions.end(id, null, transaction);
      return now;
    });
    res.json(shown(row));
  });
  return r;
} // oxfmt-ignore

const lockPeople = (db: Db, transaction: Transaction): Promise<unknown> =>
  db.sequelize.query('LOCK TABLE people IN SHARE ROW EXCLUSIVE MODE', { transaction });

/** Names of everybody who is or was with the firm, as JSON: what they wrote carries them. */
export const EVERYBODY = `(SELECT coalesce(json_agg(json_build_object('id', id, 'name', name) ORDER BY name), '[]')::text FROM people)`;
