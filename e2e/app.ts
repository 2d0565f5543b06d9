import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';
import type { Rounds, RoundsEntry, Session } from '@katharos/contract';
import { expect, test as base, type Browser, type ConsoleMessage, type Page, type Request } from '@playwright/test';
import pg from 'pg';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
/** What the server's engine is told where it is started as a firm's own is (scripts/supervise.sh). */
export const AS_SHIPPED: readonly string[] = ['--max-semi-space-size=16'];

/** The real server on a database of its own, which a test may stop and start. */
export class App {
  private child: ChildProcess | undefined;
  /** the file of tests that has been using it */
  file = '';
  readonly url: string;
  private readonly port: number;
  readonly databaseUrl: string;
  constructor(port: number, databaseUrl: string) {
    this.port = port;
    this.databaseUrl = databaseUrl;
    this.url = `http://127.0.0.1:${String(port)}`;
  }
  /** of the server that runs */
  get pid(): number {
    return this.child?.pid ?? 0;
  }
  /** how often the demo was put in */
  private loaded = 0;
  /** @param page folder of the built page, where it is not the one at hand @param flags of the process itself */
  async start(
    demo: 'reload' | 'none' = 'none',
    { page, flags = [] }: { page?: string; flags?: string[] } = {},
  ): Promise<void> {
    if (demo === 'reload') this.loaded++;
    const child = spawn(process.execPath, [...AS_SHIPPED, ...flags, 'server/start.mjs'], {
      cwd: ROOT,
      env: {
        ...process.env,
        DATABASE_URL: this.databaseUrl,
        PORT: String(this.port),
        DEMO: demo,
        CLICK: 'yes',
        LOG: 'warn',
        ENDS_WITH_PARENT: 'yes',
        ...(page === undefined ? {} : { PAGE: page }),
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.child = child;
    await new Promise<void>((resolve, reject) => {
      child.once('exit', (code) => {
        reject(new Error(`the server ended with ${String(code)}`));
      });
      child.stdout.on('data', (d: Buffer) => {
        if (d.toString().includes('Katharos is at')) resolve();
      });
    });
  }
  async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
    const child = this.child;
    if (child?.exitCode !== null || child.signalCode !== null) return;
    child.removeAllListeners('exit');
    await new Promise<void>((resolve) => {
      child.once('exit', () => {
        resolve();
      });
      child.kill(signal);
    });
  }
  /** Puts the demo as it ships in the place of all there is; it is not started yet. */
  async becomeDemo(): Promise<void> {
    const pattern = await demoPattern();
    const { admin } = await cluster();
    const name = new URL(this.databaseUrl).pathname.slice(1);
    await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
    await admin.query(`CREATE DATABASE ${name} TEMPLATE ${pattern}`);
    await admin.end();
    this.loaded++;
  }
  /** Shuts the database to the server, cutting what is open, or opens it again. */
  async database(open: boolean): Promise<void> {
    const admin = new pg.Client(process.env.TEST_DATABASE_URL);
    const name = new URL(this.databaseUrl).pathname.slice(1);
    await admin.connect();
    await admin.query(`ALTER DATABASE ${name} ALLOW_CONNECTIONS ${String(open)}`);
    if (!open) await admin.query('SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = $1', [name]);
    await admin.end();
  }
  private came: { readonly since: number; readonly as: Promise<{ readonly cookie: string }> } | undefined;
  /** The header of somebody who has come in, for what a test asks of the server itself. */
  imra(): Promise<{ readonly cookie: string }> {
    // demo data that was loaded anew knows nobody's device
    if (this.came?.since !== this.loaded) this.came = { since: this.loaded, as: comeIn(this.url) };
    return this.came.as;
  }
  private jobs: { readonly since: number; readonly all: readonly RoundsEntry[] } | undefined;
  /** Address of a lens of the household whose name begins so. */
  async lens(name: string, lens: string): Promise<string> {
    const find = (): RoundsEntry | undefined =>
      this.jobs?.since === this.loaded ? this.jobs.all.find((r) => r.household.name.startsWith(name)) : undefined;
    // where a job stands is of no account here, only which it is
    if (!find()) this.jobs = { since: this.loaded, all: jobsOf(await roundAt(this.url, await this.imra())) };
    const job = find();
    if (!job) throw new Error(`no household ${name}`);
    return `${this.url}/jobs/${job.jobId}/${lens}`;
  }
}

/** Comes into the demo as somebody of it. @param name what the name begins with @returns the header their browser sends */
export async function comeIn(url: string, name = 'Imra'): Promise<{ readonly cookie: string }> {
  const { click } = (await (await fetch(`${url}/api/session`)).json()) as Session;
  const person = click?.find((p) => p.name.startsWith(name))?.id;
  const res = await fetch(`${url}/api/session/click`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ person }),
  });
  const cookie = res.headers.get('set-cookie')?.split(';')[0];
  if (cookie === undefined) throw new Error(`${name} is not let in: ${await res.text()}`);
  return { cookie };
}

const roundAt = async (url: string, headers: { readonly cookie: string }): Promise<Rounds> =>
  (await (await fetch(`${url}/api/rounds`, { headers })).json()) as Rounds;
const jobsOf = ({ open, kept }: Rounds): readonly RoundsEntry[] => [...open.entries, ...kept.entries];

/** Every job on the first page of the round, once none of them is behind. */
export async function roundOf(url: string, headers: { readonly cookie: string }): Promise<readonly RoundsEntry[]> {
  for (;;) {
    const round = await roundAt(url, headers);
    if (round.behind === 0) return jobsOf(round);
    // a server that is asked without a rest looks at nothing beside it
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

export async function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const s = createServer().listen(0, '127.0.0.1', () => {
      const at = s.address();
      s.close(() => {
        resolve(typeof at === 'object' && at ? at.port : 0);
      });
    });
  });
}

/** Makes a page one on which somebody is already signed in. */
export async function workAs(app: Pick<App, 'url'>, page: Page, name = 'Imra'): Promise<void> {
  await wear(page, app.url, await comeIn(app.url, name));
}

/** Makes a page one of a device that has come in. */
export async function wear(page: Page, url: string, { cookie }: { readonly cookie: string }): Promise<void> {
  const [name = '', value = ''] = cookie.split('=');
  await page.context().addCookies([{ name, value, url }]);
}

/** Makes a page one on which the whole sheet of Gauge stands open from its next load on. */
export async function wholeSheet(page: Page): Promise<void> {
  const open = (): void => {
    localStorage.setItem('katharos.sheet', JSON.stringify(['water', 'pressure', 'household', 'place']));
  };
  // one that was nowhere yet has nowhere to keep it
  if (page.url() === 'about:blank') await page.addInitScript(open);
  else await page.evaluate(open);
}

/** Waits until nothing is being worked out or fetched and the page has stood still for a moment. */
export async function settled(page: Page): Promise<void> {
  await page.waitForLoadState('networkidle');
  await page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        let last = performance.now();
        const watch = new MutationObserver(() => {
          last = performance.now();
        });
        watch.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
        const look = setInterval(() => {
          const busy = document.querySelector('[aria-busy="true"], .mantine-Loader-root') !== null;
          const moving = document.getAnimations().some((a) => a.playState === 'running');
          if (busy || moving || performance.now() - last < 400) return;
          clearInterval(look);
          watch.disconnect();
          resolve();
        }, 50);
      }),
  );
}

/** Goes on to another page of the application as its own links do, without reading the application in anew. */
export async function goOn(page: Page, url: string): Promise<void> {
  await page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, url);
}

/** The cluster the databases of the tests are in, and how one of it is reached. */
async function cluster(): Promise<{ readonly admin: pg.Client; readonly urlOf: (name: string) => string }> {
  const url = process.env.TEST_DATABASE_URL;
  if (!url) throw new Error('TEST_DATABASE_URL is not set: run these through `npm test`');
  const admin = new pg.Client(url);
  await admin.connect();
  const urlOf = (name: string): string => {
    const of = new URL(url);
    of.pathname = `/${name}`;
    return of.href;
  };
  return { admin, urlOf };
}

/** An application on an empty database of its own, dropped at the end; it is not started yet. */
export async function onOwnDatabase(use: (app: App) => Promise<void>): Promise<void> {
  const { admin, urlOf } = await cluster();
  const name = `e2e_${randomUUID().replaceAll('-', '')}`;
  await admin.query(`CREATE DATABASE ${name}`);
  const app = new App(await freePort(), urlOf(name));
  try {
    await use(app);
  } finally {
    await app.stop();
    await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
    await admin.end();
  }
}

/** How old a copy of the demo may be: its clocks run on. ms */
const COPIED_MS = 15 * 60_000;
const PATTERN = 'e2e_demo_';

/** A database with the demo, each of its jobs in hand decided, that nobody opens, only copies; made by whoever needs it. @returns its name */
export async function demoPattern(): Promise<string> {
  const { admin, urlOf } = await cluster();
  try {
    // each looks once those who make one have done so
    await admin.query('SELECT pg_advisory_lock(4172)');
    const known = await admin.query<{ datname: string }>(
      `SELECT datname FROM pg_database WHERE datname ~ '^${PATTERN}[0-9]+$' ORDER BY datname DESC LIMIT 1`,
    );
    const newest = known.rows[0]?.datname ?? '';
    if (Date.now() - Number(newest.slice(PATTERN.length)) < COPIED_MS) return newest;
    const name = `${PATTERN}${String(Date.now())}`;
    await admin.query(`CREATE DATABASE ${name}_making`);
    const app = new App(await freePort(), urlOf(`${name}_making`));
    try {
      await app.start('reload');
      await decidedAhead(app);
    } finally {
      await app.stop();
    }
    // whoever looked is gone again: a copy knows nobody's device
    const inside = new pg.Client(app.databaseUrl);
    await inside.connect();
    await inside.query('DELETE FROM sessions; DELETE FROM devices');
    await inside.end();
    await admin.query(`ALTER DATABASE ${name}_making RENAME TO ${name}`);
    return name;
  } finally {
    await admin.end();
  }
}

/** The kept house most tests open. */
const KEPT = 'Highmoor Lodge';

/** Waits until each job in hand has been decided ahead of who opens it, and the kept one as if somebody had opened it: a firm is
 * seldom met before that. */
async function decidedAhead({ url, databaseUrl }: App): Promise<void> {
  const headers = await comeIn(url);
  const kept = (await roundOf(url, headers)).find((r) => r.household.name === KEPT)?.jobId ?? '';
  await fetch(`${url}/api/jobs/${kept}/decision`, { headers });
  const inside = new pg.Client(databaseUrl);
  await inside.connect();
  try {
    for (;;) {
      const { rowCount } = await inside.query(
        'SELECT FROM job_summaries s LEFT JOIN job_decisions d USING (job_id) WHERE (s.open OR job_id = $1) AND d.rev IS DISTINCT FROM s.rev',
        [kept],
      );
      if (rowCount === 0) return;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  } finally {
    await inside.end();
  }
}

/** Asks nothing of any address but this machine's. */
async function keptToItself(page: Page, use: (page: Page) => Promise<void>): Promise<void> {
  const outside: string[] = [];
  const asked = (r: Request): void => {
    if (!/^(http:\/\/127\.0\.0\.1:\d+\/|data:|blob:)/.test(r.url())) outside.push(r.url());
  };
  const said = (m: ConsoleMessage): void => {
    if (m.text().includes('Content Security Policy')) outside.push(m.text());
  };
  page.on('request', asked).on('console', said);
  await use(page);
  page.off('request', asked).off('console', said);
  expect(outside).toEqual([]);
}

/**
 * One browser page for one test after another: the engine keeps what it made of the scripts, which is two fifths of what a load
 * costs, and all that was stored goes. What cannot be taken back from a page (a clock of its own, scripts put before others) wants
 * a `fresh` one.
 */
class Desk {
  private page: Page | undefined;
  private readonly browser: Browser;
  constructor(browser: Browser) {
    this.browser = browser;
  }
  /** Has a test use the page, as on a device that was never here. @param url of the application */
  async lend(url: string, use: (page: Page) => Promise<void>): Promise<void> {
    const page = (this.page ??= await (await this.browser.newContext()).newPage());
    const context = page.context();
    // of the application, and does nothing
    await page.goto(`${url}/icon-192.png`);
    await page.evaluate(() => {
      sessionStorage.clear();
    });
    const devtools = await context.newCDPSession(page);
    await devtools.send('Storage.clearDataForOrigin', { origin: url, storageTypes: 'all' });
    await devtools.detach();
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.emulateMedia({ media: null, colorScheme: 'light', reducedMotion: 'reduce' });
    await use(page);
    for (const other of context.pages()) if (other !== page) await other.close();
    await page.unrouteAll();
    await context.setOffline(false);
    // nothing of it goes on beside the next test
    await page.goto(`${url}/icon-192.png`);
  }
}

interface OfTest {
  app: App;
  work: Page;
  fresh: Page;
}

export const test = base.extend<OfTest, { server: App; desk: Desk }>({
  server: [
    // oxlint-disable-next-line no-empty-pattern -- Playwright reads the fixture's needs from this pattern
    async ({}, use) => {
      await onOwnDatabase(use);
    },
    { scope: 'worker' },
  ],
  desk: [
    async ({ browser }, use) => {
      await use(new Desk(browser));
    },
    { scope: 'worker' },
  ],
  /** the demo as it ships at the first test of each file, so that no file sees what another recorded */
  app: async ({ server }, use, { file }) => {
    if (server.file !== file) {
      await server.stop();
      await server.becomeDemo();
      await server.start();
      server.file = file;
    }
    await use(server);
  },
  /** a page on which Imra is already working, as on a device that was never here before */
  work: async ({ app, desk }, use) => {
    await desk.lend(app.url, async (page) => {
      await workAs(app, page);
      await keptToItself(page, use);
    });
  },
  /** the same, and no other test has used it or will */
  fresh: async ({ app, page }, use) => {
    await workAs(app, page);
    await keptToItself(page, use);
  },
});
export { expect };
