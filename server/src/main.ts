import { X509Certificate } from 'node:crypto';
import { statSync } from 'node:fs';
import { createServer as createPlain, type Server } from 'node:http';
import { createServer as createSafe } from 'node:https';
import { pino } from 'pino';
import { migrate } from './db/migrate.ts';
import { openDb, type Db } from './db/models.ts';
import { loadDemo } from './demo/load.ts';
import { openLog } from './log.ts';
import { readSettings } from './settings.ts';
import { hasOwner, makeLink } from './signing/links.ts';
import { ownCertificate } from './tls/certificate.ts';
import { plainPage } from './tls/plainPage.ts';
import { loadShelf, loadShelfOnce, type ShelfFiles } from '@katharos/shelf';

/** What was accepted has so long to be answered once the server is told to stop, ms. */
const STOPPING_MS = 10_000;
const DAY_MS = 86400000;

const started = Date.now();
const settings = readSettings(process.env);
if ('faults' in settings) {
  for (const f of settings.faults) console.error(f);
  process.exit(2);
}
const { PORT, HOST, DEMO, CLICK, TLS, TLS_FOLDER, PLAIN_PORT, CALC_WORKER, SHELF_FOUND, LOG, LOG_FILE } = settings;
const logFile = LOG_FILE === undefined ? undefined : openLog(LOG_FILE);
const log = pino({ level: LOG }, logFile ?? pino.destination(1));

/** The shelf's files; a fault in them is told, and ends it: starting it again would not put it right. */
function shelfOrEnd(shelf: string): ShelfFiles {
  try {
    if (SHELF_FOUND === undefined) return loadShelf(shelf);
    // what looks through it is bundled with this file, and written when this one is
    const by = String(statSync(import.meta.filename).mtimeMs);
    return loadShelfOnce(shelf, { file: SHELF_FOUND, by });
  } catch (e) {
    console.error(e instanceof Error ? e.message : e);
    process.exit(2);
  }
}

/** What answers: bundled apart, to be read in while the database has something to do. */
const application = () =>
  Promise.all([import('./app.ts'), import('./calc/compute.ts'), import('./instruments/standIn.ts')]);

/** Listens, or says why not and ends. @returns the port it listens on */
function listen(server: Server, port: number): Promise<number> {
  return new Promise((resolve) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      console.error(
        error.code === 'EADDRINUSE'
          ? `Port ${String(port)} of ${HOST} is taken by another program. PORT=... chooses another; what a browser has not sent yet stays with the old address.`
          : `Cannot listen on ${HOST}:${String(port)}: ${error.message}`,
      );
      process.exit(2);
    });
    server.listen(port, HOST, () => {
      const at = server.address();
      resolve(typeof at === 'object' && at ? at.port : port);
    });
  });
}

/** A firm nobody owns yet begins with a link that works once; it is printed for whoever started the server. */
async function tellHowToBegin(db: Db, address: string): Promise<void> {
  if (CLICK === 'yes' || (await hasOwner(db))) return;
  const { token } = await makeLink(db, null, null);
  console.log(`Nobody owns this firm yet. This link works once, for a week, and makes its owner:\n  ${address}/join#${token}`);
} // oxfmt-ignore

try {
  const shelf = shelfOrEnd(settings.SHELF);
  const db = openDb(settings.DATABASE_URL);
  await migrate(db.sequelize);
  if (DEMO !== 'none') await loadDemo(db, shelf, settings.FIRM, DEMO === 'reload', Date.now(), application);
  const [{ createApp }, { computeBeside }, { startStandIns }] = await application();
  let standIns: Promise<string> | undefined;
  let stopping = false;
  const app = createApp({
    db,
    shelf,
    log,
    page: settings.PAGE,
    names: settings.names,
    click: CLICK === 'yes',
    behindProxy: settings.PROXY !== undefined,
    isStopping: () => stopping,
    ...(CALC_WORKER === undefined ? {} : { compute: computeBeside(CALC_WORKER) }),
    now: () => Date.now(),
    looksAhead: true,
    standIns: () => (standIns ??= startStandIns().then((s) => s.address)),
  });
  const certificate = () => ownCertificate(TLS_FOLDER ?? '', [...settings.names, 'localhost', '127.0.0.1'], Date.now());
  const own = TLS === 'own' ? await certificate() : null;
  const safe = own && createSafe({ key: own.key, cert: own.cert }, app);
  const server = safe ?? createPlain(app);
  const port = await listen(server, PORT);
  const address = settings.address(port);
  const servers: Server[] = [server];

  const stop = (): void => {
    if (stopping) return;
    stopping = true;
    const out = (): never => process.exit(0);
    const end = (): void => void db.close().finally(() => void (logFile ? logFile.end(out) : out()));
    let open = servers.length;
    for (const s of servers) {
      s.close(() => {
        if (--open === 0) end();
      });
      s.closeIdleConnections();
    }
    // a meter that is listened to would go on for minutes
    setTimeout(() => {
      for (const s of servers) s.closeAllConnections();
      setTimeout(() => process.exit(0), 1000).unref();
    }, STOPPING_MS).unref();
  };
  // started by another program, it ends with it, however that one ends
  if (process.env.ENDS_WITH_PARENT !== undefined) {
    const parent = process.ppid;
    setInterval(() => {
      if (process.ppid !== parent) stop();
    }, 500).unref();
  }
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);

  // whoever reads this may stop it from here on
  console.log(`Katharos is at ${address} (ready in ${((Date.now() - started) / 1000).toFixed(1)} s)`);
  if (own && safe) {
    const [, fingerprint = ''] = /^((?:[0-9A-F]{2}:){7}[0-9A-F]{2})/.exec(new X509Certificate(own.authority).fingerprint256) ?? [];
    if (PLAIN_PORT !== undefined) {
      const plain = plainPage(address, own.authority);
      const at = await listen(plain, PLAIN_PORT);
      servers.push(plain);
      console.log(`How a device comes to trust it: http://${settings.names[0] ?? '127.0.0.1'}:${String(at)} (the authority’s fingerprint begins ${fingerprint})`);
    }
    // a server that runs for a year shows a certificate that has not ended
    setInterval(() => {
      void certificate().then((c) => {
        safe.setSecureContext({ key: c.key, cert: c.cert });
      }, (err: unknown) => {
        log.error({ err }, 'the certificate could not be made anew');
      });
    }, DAY_MS).unref();
  }
  await tellHowToBegin(db, address).catch((e: unknown) => {
    // told to stop meanwhile, it has nobody to tell
    if (!stopping) throw e;
  });
} catch (e) {
  console.error(e instanceof Error ? e.message : e);
  process.exit(1);
} // oxfmt-ignore
