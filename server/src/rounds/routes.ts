import type { RoundsEntry } from '@katharos/contract';
import { FactSchema, DesignSchema, summarise, type Fact } from '@katharos/core';
import { Router } from 'express';
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
    const factsByJob = new Map<string, Fact[]>();
    for (const f of facts) factsByJob.set(f.jobId, [...(factsByJob.get(f.jobId) ?? []), FactSchema.parse(f.body)]);
    const designByJob = new Map(designs.map((d) => [d.jobId, DesignSchema.parse(d.design)]));
    const householdById = new Map(households.map((h) => [h.id, h]));
    const entries = jobs.flatMap((j): RoundsEntry[] => {
      const h = householdById.get(j.householdId);
      if (!h) return [];
      const summary = summarise(
        factsByJob.get(j.id) ?? [],
        designByJob.get(j.id) ?? null,
        shelf.parts,
        shelf.rules,
        now(),
      );
      return [{ jobId: j.id, household: householdOf(h), summary }];
    });
    res.json(entries);
  });
  return r;
}
