import { PictureQuerySchema } from '@katharos/contract';
import { Router } from 'express';
import { QueryTypes } from 'sequelize';
import type { Db } from '../db/models.ts';
import { ApiProblem, parse } from '../http/problem.ts';
import { kindOfPicture, tellsWhere } from './kind.ts';

/** A picture is shrunk on the device that took it: more than this was not. */
export const MOST_BYTES = 3_000_000;
const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

interface Stored {
  readonly jobId: string;
  readonly type: string;
  readonly bytes: Buffer;
}

/**
 * Photographs of a job, each under the id it was born with. Kept once however often it is sent; never changed, never
 * carrying where it was taken. What it shows is said by a fact.
 */
export function pictureRoutes(db: Db): Router {
  const r = Router({ mergeParams: true });
  const ids = (params: Readonly<Record<string, string | undefined>>): { jobId: string; id: string } => {
    const { id: jobId = '', picture: id = '' } = params;
    if (!UUID.test(jobId) || !UUID.test(id)) throw new ApiProblem('not-found');
    return { jobId, id };
  };
  const find = async (id: string): Promise<Stored | undefined> => {
    const [row] = await db.sequelize.query<Stored>(
      'SELECT job_id AS "jobId", type, bytes FROM pictures WHERE id = $1',
      {
        type: QueryTypes.SELECT,
        bind: [id],
      },
    );
    return row;
  };
  r.put('/:picture', async (req, res) => {
    const { jobId, id } = ids(req.params);
    const { by } = parse(PictureQuerySchema, req.query);
    const bytes: unknown = req.body;
    const type = Buffer.isBuffer(bytes) ? kindOfPicture(bytes) : null;
    if (!Buffer.isBuffer(bytes) || type === null) throw new ApiProblem('not-a-picture');
    if (tellsWhere(bytes, type))
      throw new ApiProblem('bad-value', {
        errors: [
          { path: 'body', message: 'it carries what the camera noted, perhaps where it was taken: shrink it first' },
        ],
      });
    if (!(await db.Job.findByPk(jobId))) throw new ApiProblem('not-found');
    await db.sequelize.query(
      'INSERT INTO pictures (id, job_id, type, bytes, by) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (id) DO NOTHING',
      { bind: [id, jobId, type, bytes, by] },
    );
    const stored = await find(id);
    if (stored?.jobId !== jobId || !stored.bytes.equals(bytes)) throw new ApiProblem('fact-conflict');
    res.status(201).json({ id });
  });
  r.get('/:picture', async (req, res) => {
    const { jobId, id } = ids(req.params);
    const stored = await find(id);
    if (stored?.jobId !== jobId) throw new ApiProblem('not-found');
    // it never changes: the browser may keep it
    res.set('Cache-Control', 'private, max-age=31536000, immutable').type(stored.type).send(stored.bytes);
  });
  return r;
}
