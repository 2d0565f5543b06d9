import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Router } from 'express';
import type { Logger } from 'pino';
import type { Db } from '../db/models.ts';
import { byOf } from '../http/guard.ts';
import { ApiProblem } from '../http/problem.ts';
import type { ShelfStore } from '../shelf/store.ts';
import { readArchive } from './read.ts';
import { writeArchive } from './write.ts';

/** No archive is larger, bytes: ten thousand jobs with their photographs. */
const MOST_BYTES = 30_000_000_000;

/** Lets so many bytes through. @throws ApiProblem 'too-large' */
const atMost = (most: number): Transform => {
  let sent = 0;
  return new Transform({
    transform(bytes: Buffer, _encoding, give) {
      sent += bytes.length;
      if (sent > most) give(new ApiProblem('too-large'));
      else give(null, bytes);
    },
  });
};

/** The whole firm out and in as one archive, for its owner. */
export function archiveRoutes(db: Db, store: ShelfStore, now: () => number, log: Logger): Router {
  const r = Router();
  r.get('/', async (_req, res) => {
    const shelf = await store.read();
    const day = new Date(now()).toISOString().slice(0, 10);
    res.type('application/zip').set('Content-Disposition', `attachment; filename="katharos-firm-${day}.zip"`);
    // packed already
    res.set('Cache-Control', 'no-store, no-transform');
    await writeArchive(db, shelf, res).catch((err: unknown) => {
      log.error({ err }, 'an archive could not be written to its end');
      res.destroy();
    });
  });
  r.post('/', async (req, res) => {
    const folder = await mkdtemp(join(tmpdir(), 'katharos-archive-'));
    try {
      const path = join(folder, 'firm.zip');
      await pipeline(req, atMost(MOST_BYTES), createWriteStream(path, { mode: 0o600 }));
      res.status(201).json(await readArchive(db, path, byOf(req)));
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
  return r;
}
