import { existsSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { Db } from './db/models.ts';
import { householdRoutes } from './households/routes.ts';
import { noSuchAddress, problems } from './http/problem.ts';
import { jobRoutes } from './jobs/routes.ts';
import { listPeople, peopleRoutes } from './people/routes.ts';
import { roundsRoutes } from './rounds/routes.ts';
import type { ShelfFiles } from './shelf/load.ts';

export interface AppParts {
  readonly db: Db;
  readonly shelf: ShelfFiles;
  readonly log: Logger;
  /** folder of the built page; none in tests of the API */
  readonly page?: string;
  /** ms since 1970 */
  readonly now: () => number;
}

/** Builds the application from its parts. It never listens. */
export function createApp({ db, shelf, log, page, now }: AppParts): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(pinoHttp({ logger: log, autoLogging: false }));
  app.use(compression());

  const api = express.Router();
  api.use(express.json({ limit: '1mb' }));
  api.use((_req, res, next) => {
    res.set('Cache-Control', 'no-store');
    next();
  });
  api.get('/health', async (_req, res) => {
    await db.sequelize.query('SELECT 1');
    res.json({ ok: true });
  });
  api.get('/shelf', async (_req, res) => {
    res.json({ parts: shelf.parts, rules: shelf.rules, people: await listPeople(db) });
  });
  api.use('/people', peopleRoutes(db));
  api.use('/households', householdRoutes(db));
  api.use('/jobs', jobRoutes(db, shelf.parts));
  api.use('/rounds', roundsRoutes(db, shelf, now));
  api.use(noSuchAddress);
  app.use('/api', api);

  if (page !== undefined && existsSync(page)) {
    app.use('/assets', express.static(join(page, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
    app.use(express.static(page, { index: false, maxAge: 0 }));
    app.get('/{*path}', (_req, res) => {
      res.set('Cache-Control', 'no-cache').sendFile(join(page, 'index.html'));
    });
  }
  app.use(problems(log));
  return app;
}
