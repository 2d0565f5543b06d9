import { NewDesignSchema, PostFactsSchema } from '@katharos/contract';
import type { Catalogue } from '@katharos/core';
import { Router } from 'express';
import type { Db } from '../db/models.ts';
import { parse, pathId } from '../http/problem.ts';
import { appendFacts, approveDesign, readWholeJob } from './service.ts';

export function jobRoutes(db: Db, parts: Catalogue): Router {
  const r = Router();
  r.get('/:id', async (req, res) => {
    res.json(await readWholeJob(db, pathId(req)));
  });
  r.post('/:id/facts', async (req, res) => {
    const id = pathId(req);
    const { facts } = parse(PostFactsSchema, req.body);
    res.status(201).json(await appendFacts(db, id, facts));
  });
  r.post('/:id/designs', async (req, res) => {
    const id = pathId(req);
    res.status(201).json(await approveDesign(db, id, parse(NewDesignSchema, req.body), parts));
  });
  return r;
}
