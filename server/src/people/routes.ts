import { randomUUID } from 'node:crypto';
import { text, uuid } from '@katharos/core';
import { Router } from 'express';
import { z } from 'zod';
import type { Db } from '../db/models.ts';
import { ApiProblem, parse } from '../http/problem.ts';

const NewPersonSchema = z.object({
  id: uuid().optional(),
  name: z.string().trim().min(1, 'Give a name.').pipe(text(120)),
});

/** People of the firm. Sign-in comes later; every write already names one of them. */
export function peopleRoutes(db: Db): Router {
  const r = Router();
  r.get('/', async (_req, res) => {
    res.json(await listPeople(db));
  });
  r.post('/', async (req, res) => {
    const { id, name } = parse(NewPersonSchema, req.body);
    const taken = (await listPeople(db)).find((p) => p.name.toLowerCase() === name.toLowerCase());
    // sent twice it is one
    if (taken && taken.id === id && taken.name === name) {
      res.status(201).json(taken);
      return;
    }
    if (taken)
      throw new ApiProblem('bad-value', {
        errors: [{ path: 'name', message: 'Somebody here has that name already.' }],
      });
    const [row] = await db.Person.findOrCreate({ where: { name }, defaults: { id: id ?? randomUUID(), name } });
    res.status(201).json({ id: row.id, name: row.name });
  });
  return r;
}

export async function listPeople(db: Db): Promise<{ id: string; name: string }[]> {
  const rows = await db.Person.findAll({ order: [['name', 'ASC']] });
  return rows.map(({ id, name }) => ({ id, name }));
}
