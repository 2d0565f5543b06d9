import type { RoundsEntry } from '@katharos/contract';
import { openJobDocuments, summarise } from '@katharos/core';
import { Router } from 'express';
import { byJob } from '../db/byJob.ts';
import type { Db } from '../db/models.ts';
import { householdOf } from '../households/routes.ts';
import type { ShelfStore } from '../shelf/store.ts';

/** The working day: every job, where it stands, what is due. */
export function roundsRoutes(db: Db, store: ShelfStore, now: () => number): Router {
  const r = Router();
  r.get('/', async (_req, res) => {
    const [shelf, jobs, households, facts, designs] = await Promise.all([
      store.read(),
      db.Job.findAll({ order: [['createdAt', 'ASC']] }),
      db.Household.findAll(),
      db.Fact.findAll({ order: [['seq', 'ASC']] }),
      db.Design.findAll({ order: [['number', 'ASC']] }),
    ]);
    const factsOf = byJob(facts);
    const designsOf = byJob(designs);
    const householdById = new Map(households.map((h) => [h.id, h]));
    const at = { catalogue: shelf.parts, rules: shelf.rules };
    const entries = jobs.flatMap((j): RoundsEntry[] => {
      const h = householdById.get(j.householdId);
      if (!h) return [];
      const opened = openJobDocuments(
        (designsOf.get(j.id) ?? []).map((d) => d.body),
        (factsOf.get(j.id) ?? []).map((f) => f.body),
        at,
      );
      const summary = summarise(opened.facts, opened.designs, shelf.parts, shelf.rules, now());
      return [{ jobId: j.id, household: householdOf(h), summary }];
    });
    res.json(entries);
  });
  return r;
}
