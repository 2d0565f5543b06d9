import { Router, type Request } from 'express';
import type { Db } from '../db/models.ts';
import { byOf } from '../http/guard.ts';
import { ApiProblem, pathId } from '../http/problem.ts';
import { kindOfPicture } from './kind.ts';
import { findPicture, keepPicture, pictureFault } from './store.ts';

/**
 * Photographs of a job, each under the id it was born with. Kept once however often it is sent; never changed, never
 * carrying where it was taken. What it shows is said by a fact.
 */
export function pictureRoutes(db: Db): Router {
  const r = Router({ mergeParams: true });
  const ids = (req: Pick<Request, 'params'>) => ({ jobId: pathId(req), id: pathId(req, 'picture') });
  r.put('/:picture', async (req, res) => {
    const { jobId, id } = ids(req);
    const bytes: unknown = req.body;
    if (!Buffer.isBuffer(bytes) || kindOfPicture(bytes) === null) throw new ApiProblem('not-a-picture');
    const fault = pictureFault(bytes);
    if (fault !== null) throw new ApiProblem('bad-value', { errors: [{ path: 'body', message: fault }] });
    if (!(await db.Job.findByPk(jobId))) throw new ApiProblem('not-found');
    if (!(await keepPicture(db, { id, jobId, bytes, by: byOf(req) }))) throw new ApiProblem('fact-conflict');
    res.status(201).json({ id });
  });
  r.get('/:picture', async (req, res) => {
    const { jobId, id } = ids(req);
    const stored = await findPicture(db, id);
    if (stored?.jobId !== jobId) throw new ApiProblem('not-found');
    // it never changes: the browser may keep it
    res.set('Cache-Control', 'private, max-age=31536000, immutable').type(stored.type).send(stored.bytes);
  });
  return r;
}
