import { existsSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import cookieParser from 'cookie-parser';
import express, { type Express } from 'express';
import compressed from 'express-static-gzip';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { Db } from './db/models.ts';
import { computeHere, type Compute } from './calc/compute.ts';
import { archiveRoutes } from './archive/routes.ts';
import { auditRoutes } from './audit/routes.ts';
import { calcRoutes } from './calc/routes.ts';
import { householdRoutes } from './households/routes.ts';
import { door } from './http/door.ts';
import { guard } from './http/guard.ts';
import { ApiProblem, noSuchAddress, problems } from './http/problem.ts';
import { streamRoutes, type StandInAddress } from './instruments/routes.ts';
import { openDecisions, QUIET } from './jobs/decisions.ts';
import { openOpened } from './jobs/opened.ts';
import { jobRoutes } from './jobs/routes.ts';
import { pictureRoutes } from './pictures/routes.ts';
import { MOST_BYTES } from './pictures/store.ts';
import { peopleRoutes } from './people/routes.ts';
import { dayRoutes } from './rounds/day.ts';
import { feedRoutes, feedsRoutes } from './feeds/routes.ts';
import { figuresRoutes } from './rounds/figures.ts';
import { findRoutes } from './rounds/find.ts';
import { changesRoutes, roundsRoutes } from './rounds/routes.ts';
import { openEntries } from './rounds/entries.ts';
import { openSummaries } from './rounds/summaries.ts';
import { instrumentRoutes, shelfRoutes } from './shelf/routes.ts';
import { openShelf } from './shelf/store.ts';
import { openLimits } from './signing/limits.ts';
import { deviceRoutes, linkRoutes, sessionRoutes } from './signing/routes.ts';
import { openSessions } from './signing/sessions.ts';
import { stockRoutes } from './stock/routes.ts';
import type { ShelfFiles } from '@katharos/shelf';

export interface AppParts {
  readonly db: Db;
  /** what an empty database begins with */
  readonly shelf: ShelfFiles;
  readonly log: Logger;
  /** folder of the built page; none in tests of the API */
  readonly page?: string;
  /** ms since 1970 */
  readonly now: () => number;
  /** names the application is asked by, beside this machine's own for itself */
  readonly names?: readonly string[];
  /** whether people come in by a click on their name: the demo, on this machine alone */
  readonly click?: boolean;
  /** whether it finishes what it accepted and takes no more */
  readonly isStopping?: () => boolean;
  /** whether a proxy of the firm's own stands before it and says who asks, and how */
  readonly behindProxy?: boolean;
  /** answers the calculators' questions, and decides; here and now if left out */
  readonly compute?: Compute;
  /** where the stand-in meters answer; none are started if left out */
  readonly standIns?: StandInAddress;
  /** whether jobs that are behind are looked at from the beginning, and decided while nothing is asked, not only once somebody asks */
  readonly looksAhead?: boolean;
}

const noStandIns: StandInAddress = () => Promise.reject(new ApiProblem('no-instrument'));

/** So often it is looked what may be worked out ahead for jobs in hand; what takes long not at a start, which may be one of many. ms */
const AHEAD_EVERY_MS = 3_600_000;

/** Builds the application from its parts. It never listens. */
export function createApp({
  db,
  shelf,
  log,
  page,
  now,
  names = [],
  click = false,
  isStopping = () => false,
  behindProxy = false,
  compute = computeHere,
  standIns = noStandIns,
  looksAhead = false,
}: AppParts): Express {
  const app = express();
  app.disable('x-powered-by');
  // nothing the API says is stored by whoever asks: a mark of what it said would be worked out for nobody
  app.disable('etag');
  if (behindProxy) app.set('trust proxy', 1);
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
  app.use(door(names));
  app.use(compression({ level: 1 }));

  const sessions = openSessions(db);
  const signing = { db, sessions, limits: openLimits(db), click };
  const api = express.Router();
  api.use((_req, res, next) => {
    res.set('Cache-Control', 'no-store');
    next();
  });
  // nothing of a request is read before it is known who sends it
  api.use(cookieParser(), guard(sessions));
  // a job file holds years of facts, and their pictures
  api.use('/jobs/import', express.json({ limit: '200mb' }));
  api.use('/shelf/parts/import', express.json({ limit: '5mb' }));
  // a picture is its own bytes
  api.use('/jobs/:id/pictures', express.raw({ type: () => true, limit: MOST_BYTES }));
  api.use(express.json({ limit: '1mb' }));
  const answers = async (): Promise<{ ok: true }> => {
    await db.sequelize.query('SELECT 1');
    return { ok: true };
  };
  api.get('/health', async (_req, res) => {
    res.json(await answers());
  });
  // for a proxy: whether to send anybody here
  api.get('/ready', async (_req, res) => {
    if (isStopping()) throw new ApiProblem('stopping');
    res.json(await answers());
  });
  const store = openShelf(db, shelf);
  const opened = openOpened(db, store);
  const summaries = openSummaries(db, opened, now, log);
  const entries = openEntries(db, now);
  const decisions = openDecisions(db, store, opened, compute, looksAhead ? QUIET : null, log);
  if (looksAhead) {
    const failed = (e: unknown): void => {
      if (!isStopping()) log.warn({ err: e }, 'jobs that are behind are looked at once somebody asks');
    };
    summaries
      .catchUpAll()
      .then(() => decisions.lookAhead(false))
      .catch(failed);
    setInterval(() => {
      decisions.lookAhead(true).catch(failed);
    }, AHEAD_EVERY_MS).unref();
  }
  api.use('/shelf', shelfRoutes(db, store));
  api.use('/instruments', instrumentRoutes(db), streamRoutes(store, standIns));
  api.use('/stock', stockRoutes(db, store));
  api.use('/session', sessionRoutes(signing));
  api.use('/links', linkRoutes(signing));
  api.use('/people', peopleRoutes(db, sessions));
  api.use('/devices', deviceRoutes(signing));
  api.use('/audit', auditRoutes(db));
  api.use('/archive', archiveRoutes(db, store, now, log));
  api.use('/households', householdRoutes(db));
  api.use('/jobs/:id/pictures', pictureRoutes(db));
  api.use('/jobs', jobRoutes(db, store, opened, summaries, decisions));
  api.use('/rounds', roundsRoutes(db, summaries, entries, now));
  api.use('/find', findRoutes(db));
  api.use('/feeds', feedsRoutes(db));
  api.use('/feed', feedRoutes(db, now));
  api.use('/figures', figuresRoutes(db, summaries, now));
  api.use('/day', dayRoutes(db, summaries, entries));
  api.use('/changes', changesRoutes(db));
  api.use('/calc', calcRoutes(store, compute));
  api.use(noSuchAddress);
  app.use('/api', api);

  if (page !== undefined && existsSync(page)) {
    app.use(
      '/assets',
      compressed(join(page, 'assets'), {
        enableBrotli: true,
        orderPreference: ['br'],
        serveStatic: { immutable: true, maxAge: '1y' },
      }),
      noSuchAddress,
    );
    app.use(express.static(page, { index: false, maxAge: 0 }));
    app.get('/{*path}', (_req, res) => {
      res.set('Cache-Control', 'no-cache').sendFile(join(page, 'index.html'));
    });
  }
  app.use(problems(log));
  return app;
}
