import { ImportJobSchema, NewDesignSchema, PostFactsSchema, type NewDesign } from '@katharos/contract';
import { liftJobFile } from '@katharos/core';
import { Router, type Request } from 'express';
import type { Db } from '../db/models.ts';
import { Alike } from '../http/alike.ts';
import { byOf } from '../http/guard.ts';
import { ApiProblem, parse, pathId } from '../http/problem.ts';
import type { Decisions } from './decisions.ts';
import { exportJob, importJob } from './file.ts';
import type { Summaries } from '../rounds/summaries.ts';
import type { ShelfStore } from '../shelf/store.ts';
import type { OpenedJobs } from './opened.ts';
import { appendFacts, approveDesign } from './service.ts';

/** What somebody wrote is theirs to send, whoever holds the device. @throws ApiProblem 'somebody-elses' */
function isOwn(req: Request, by: string, path: string): void {
  if (by !== byOf(req)) throw new ApiProblem('somebody-elses', { errors: [{ path, message: 'is somebody else' }] });
}

export function jobRoutes(
  db: Db,
  store: ShelfStore,
  opened: OpenedJobs,
  summaries: Pick<Summaries, 'refreshSoon'>,
  decisions: Decisions,
): Router {
  const r = Router();
  const lookAgain = (id: string): void => {
    summaries.refreshSoon(id);
    decisions.refreshSoon(id);
  };
  r.post('/import', async (req, res) => {
    const { file } = parse(ImportJobSchema, req.body);
    const { parts, rules } = await store.read();
    res.status(201).json(await importJob(db, liftJobFile(file, { catalogue: parts, rules }), byOf(req)));
  });
  r.get('/:id/file', async (req, res) => {
    const id = pathId(req);
    res.set('Content-Disposition', `attachment; filename="job-${id.slice(0, 8)}.json"`);
    const { parts, rules } = await store.read();
    res.json(await exportJob(db, id, parts, rules));
  });
  r.get('/:id', async (req, res) => {
    const id = pathId(req);
    const { household, text, unreadable } = await opened.read(id);
    const rest = JSON.stringify({ id, household, unreadable }).slice(0, -1);
    await new Alike(`${rest},"facts":[${text.facts}],"designs":[${text.designs}]}`).send(req, res);
  });
  r.get('/:id/decision', async (req, res) => {
    res.json(await decisions.kept(pathId(req)));
  });
  r.post('/:id/facts', async (req, res) => {
    const id = pathId(req);
    const { facts } = parse(PostFactsSchema, req.body);
    facts.forEach((f, i) => {
      isOwn(req, f.by, `facts.${String(i)}.by`);
    });
    const stored = await appendFacts(db, id, facts);
    lookAgain(id);
    res.status(201).json(stored);
  });
  r.post('/:id/designs', async (req, res) => {
    const id = pathId(req);
    const { version } = parse(NewDesignSchema, req.body) as NewDesign;
    isOwn(req, version.by, 'version.by');
    const approved = await approveDesign(db, id, version);
    lookAgain(id);
    res.status(201).json(approved);
  });
  return r;
}
