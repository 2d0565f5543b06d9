/**
 * npm run soak: what the application bears, each figure beside its goal. Hostile requests over every route; server and
 * database killed, and the connections between them cut, while facts are written; a browser reloaded, closed and cut off while
 * somebody types. Loopback only; SCALE makes it shorter, ONLY takes one part.
 */
import { randomUUID } from 'node:crypto';
import { execFile } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { chromium, type Page } from '@playwright/test';
import pg from 'pg';
import { hostileRound } from '../server/src/testing/hostile.ts';
import { ROUTES, targetOf } from '../server/src/testing/target.ts';
import { ROLES, type Job, type Session } from '@katharos/contract';
import { App, comeIn, freePort, roundOf, wholeSheet, workAs } from './app.ts';

const scale = Number(process.env.SCALE ?? 1);
const times = (n: number): number => Math.max(1, Math.round(n * scale));
const WRITERS = 6;

const rows: { what: string; measured: string; goal: string; met: boolean }[] = [];
const put = (what: string, measured: number, unit: string, most: number): void => {
  const shown = `${String(Number(measured.toPrecision(3)))}${unit}`;
  rows.push({ what, measured: shown, goal: `at most ${String(most)}${unit}`, met: measured <= most });
};
const share = (all: readonly number[], p: number): number =>
  [...all].sort((a, b) => a - b)[Math.min(all.length - 1, Math.floor(p * all.length))] ?? 0;
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Memory a process holds, MB. */
function memoryMb(pid: number): number {
  const line = /VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${String(pid)}/status`, 'utf8'));
  return Number(line?.[1] ?? 0) / 1024;
}

/** Where a server writes down what it holds, and how it is started so that it does. */
const HOLDS = join(tmpdir(), `katharos-holds-${randomUUID()}`);
const TELLS = ['--expose-gc', '--require', join(import.meta.dirname, 'holds.cjs')];
process.env.HOLDS = HOLDS;

/** What a server holds once it has cleared up, MB. @throws where it does not tell in a minute */
async function holdsMb(pid: number): Promise<number> {
  process.kill(pid, 'SIGUSR2');
  for (let n = 0; n < 600; n++) {
    await pause(100);
    if (!existsSync(HOLDS)) continue;
    const bytes = Number(readFileSync(HOLDS, 'utf8'));
    rmSync(HOLDS);
    return bytes / 2 ** 20;
  }
  throw new Error('the server does not tell what it holds');
}

/** Writers that go on until they are stopped: each sends a fact until it is acknowledged, then the next. */
class Writers {
  readonly acknowledged: string[] = [];
  /** from one acknowledgement to the next, across whatever happened between, ms */
  readonly waits: number[] = [];
  private going = true;
  private readonly all: Promise<void>[];
  constructor(url: string, jobId: string, by: string, headers: { readonly cookie: string }) {
    this.all = Array.from({ length: WRITERS }, async () => {
      while (this.going) await this.write(url, jobId, by, headers);
    });
  }
  private async write(url: string, jobId: string, by: string, came: { readonly cookie: string }): Promise<void> {
    const id = randomUUID();
    const fact = { v: 2, id, jobId, by, at: new Date().toISOString(), kind: 'reading', field: 'feedTdsMgL', value: 300, typed: '300' };
    const began = performance.now();
    for (;;) {
      try {
        const res = await fetch(`${url}/api/jobs/${jobId}/facts`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', ...came },
          body: JSON.stringify({ facts: [fact] }),
          signal: AbortSignal.timeout(5000),
        });
        if (res.status === 201) break;
      } catch {
        // away: tried again, as a page does
      }
      await pause(20);
    }
    this.acknowledged.push(id);
    this.waits.push(performance.now() - began);
  } // oxfmt-ignore
  async stop(): Promise<void> {
    this.going = false;
    await Promise.all(this.all);
  }
}

/** Stops the writers, and tells which facts were acknowledged and are not there, and which are there twice. @param what "40 kills" */
async function allThere(app: App, jobId: string, writers: Writers, what: string): Promise<void> {
  await writers.stop();
  const { acknowledged } = writers;
  const res = await fetch(`${app.url}/api/jobs/${jobId}`, { headers: await app.imra() });
  const { facts } = (await res.json()) as Job;
  const there = new Set(facts.map((f) => f.id));
  const under = `${what} under ${String(acknowledged.length)} writes`;
  put(`${under}: lost`, acknowledged.filter((id) => !there.has(id)).length, '', 0);
  put(`${under}: doubled`, facts.length - there.size, '', 0);
}

/** What stands in the database that a reader, and nobody at all, may not have put there. */
async function rowsOf(app: App): Promise<string> {
  const db = new pg.Client(app.databaseUrl);
  await db.connect();
  const tables = ['facts', 'designs', 'pictures', 'households', 'people', 'parts', 'instruments', 'links'];
  const counts = tables.map((t) => `(SELECT count(*) FROM ${t})`);
  const { rows } = await db.query<{ all: string }>(`SELECT concat_ws(' ', ${counts.join(', ')}, (SELECT sum(version) FROM parts)) AS all`);
  await db.end();
  return rows[0]?.all ?? '';
} // oxfmt-ignore

/** Hostile requests as each role and as nobody, over every route. */
async function hostile(app: App): Promise<void> {
  // what is not let go of would not fit into so little
  await app.stop();
  await app.start('none', { flags: ['--max-old-space-size=128', ...TELLS] });
  const target = await targetOf(app.url, await app.imra());
  let half = 0;
  const each = times(2000);
  const AT_ONCE = 250;
  const statuses: Record<string, number> = {};
  const stumbles: unknown[] = [];
  let wrong = 0;
  // who may change people comes last: they change who the others are
  for (const role of [null, ...ROLES.toReversed()]) {
    if (role === 'fitter') half = await holdsMb(app.pid);
    const stood = await rowsOf(app);
    for (let n = 0; n < each; n += AT_ONCE) {
      // what is asked may sign it out, or take its role from everybody: it comes in anew, or is done
      const { click } = (await (await fetch(`${app.url}/api/session`)).json()) as Session;
      const name = click?.find((p) => p.role === role)?.name;
      if (role !== null && name === undefined) break;
      const headers = name === undefined ? {} : await comeIn(app.url, name);
      const r = await hostileRound({ ...target, headers }, ROUTES, Math.min(AT_ONCE, each - n), 11 + n);
      stumbles.push(...r.stumbles);
      for (const [s, count] of Object.entries(r.statuses)) statuses[s] = (statuses[s] ?? 0) + count;
    }
    if ((role === 'reader' || role === null) && (await rowsOf(app)) !== stood) wrong++;
  }
  const requests = each * (ROLES.length + 1);
  console.log(`${String(requests)} hostile requests: ${JSON.stringify(statuses)}`);
  put('kinds of people that changed what they may not', wrong, '', 0);
  for (const s of stumbles.slice(0, 10)) console.log(s);
  put(`answers of 5xx, or none, to ${String(requests)} hostile requests`, stumbles.length, '', 0);
  // what the process keeps of what it was given goes up and down with its threads; what is held once it has cleared up does not
  put('what the server holds more after the later three fifths of them', (await holdsMb(app.pid)) - half, ' MB', 20);
  put('memory of the server after them, its heap kept to 128 MB', memoryMb(app.pid), ' MB', 400);
}

/** Whether the server stays at hand while eight sizings are worked out at a time. */
async function computing(app: App, jobId: string): Promise<void> {
  const file = await (await fetch(`${app.url}/api/jobs/${jobId}/file`, { headers: await app.imra() })).text();
  const came = await app.imra();
  const waits: number[] = [];
  let going = true;
  const size = async (): Promise<void> => {
    while (going)
      await fetch(`${app.url}/api/calc/size`, { method: 'POST', headers: { 'content-type': 'application/json', ...came }, body: file }).then((r) => r.arrayBuffer());
  }; // oxfmt-ignore
  const all = Array.from({ length: 8 }, size);
  const until = performance.now() + 1000 * times(20);
  while (performance.now() < until) {
    const began = performance.now();
    await (await fetch(`${app.url}/api/health`)).arrayBuffer();
    waits.push(performance.now() - began);
    await pause(50);
  }
  going = false;
  await Promise.all(all);
  put('an answer to /api/health while eight sizings run, 95 %', share(waits, 0.95), ' ms', 50);
}

/** Connections that stay open, as browsers keep them. */
const kept = new Agent({ keepAlive: true });
/**
 * Asks as a browser does and lets go of what comes: what measures takes little of the machine it measures on.
 * @param body what is sent; nothing is where it is only asked
 * @returns its status
 */
const askedFor = (url: string, came: { readonly cookie: string }, body?: string): Promise<number> =>
  new Promise((resolve, reject) => {
    const type = body === undefined ? {} : { 'content-type': 'application/json' };
    const headers = { ...came, ...type, 'accept-encoding': 'gzip' };
    const req = request(url, { agent: kept, method: body === undefined ? 'GET' : 'POST', headers }, (res) => {
      res.on('error', reject).on('end', () => {
        resolve(res.statusCode ?? 0);
      });
      res.resume();
    });
    req.on('error', (e) => {
      // a connection that was kept may end just as it is used again: browsers ask once more
      if (req.reusedSocket) askedFor(url, came, body).then(resolve, reject);
      else reject(e);
    });
    req.end(body);
  });

/** Two hundred people at once, each asking or writing once a second, each on a device of their own. */
async function people(app: App, jobs: readonly string[], by: string): Promise<void> {
  const PEOPLE = 200;
  const seconds = times(60);
  const devices: { readonly cookie: string }[] = [];
  while (devices.length < PEOPLE)
    devices.push(...(await Promise.all(Array.from({ length: 10 }, () => comeIn(app.url)))));
  const took = { read: [] as number[], write: [] as number[] };
  let refused = 0;
  let most = 0;
  const one = async (came: { readonly cookie: string }, n: number): Promise<void> => {
    await pause((1000 * n) / PEOPLE);
    for (let second = 0; second < seconds; second++) {
      const began = performance.now();
      const job = jobs[(n + second) % jobs.length] ?? '';
      const writes = (n + second) % 4 === 0;
      const paths = ['rounds', `jobs/${job}`, 'changes', 'shelf'];
      const fact = { v: 2, id: randomUUID(), jobId: job, by, at: new Date().toISOString(), kind: 'note', text: 'soak' };
      const path = writes ? `jobs/${job}/facts` : (paths[(n >> 2) % paths.length] ?? '');
      const status = await askedFor(`${app.url}/api/${path}`, came, writes ? JSON.stringify({ facts: [fact] }) : undefined);
      if (status >= 300) refused++;
      took[writes ? 'write' : 'read'].push(performance.now() - began);
      most = Math.max(most, n === 0 ? memoryMb(app.pid) : 0);
      await pause(Math.max(0, 1000 - (performance.now() - began)));
    }
  };
  await Promise.all(devices.map(one));
  const under = `${String(PEOPLE)} people for ${String(seconds)} s`;
  put(`${under}: refused`, refused, '', 0);
  put(`${under}: a read, 95 %`, share(took.read, 0.95), ' ms', 50);
  put(`${under}: a write, 95 %`, share(took.write, 0.95), ' ms', 100);
  put(`${under}: memory of the server`, most, ' MB', 400);
} // oxfmt-ignore

/** Kills something under writes, a hundred times, and times each outage. @param kill kills it and starts it again @param what "the server" */
async function killing(app: App, jobId: string, by: string, what: string, kill: () => Promise<unknown>): Promise<void> {
  const writers = new Writers(app.url, jobId, by, await app.imra());
  const outages: number[] = [];
  for (let n = 0; n < times(100); n++) {
    await pause(100 + 300 * Math.random());
    const count = writers.acknowledged.length;
    const began = performance.now();
    await kill();
    while (writers.acknowledged.length === count) await pause(5);
    outages.push(performance.now() - began);
  }
  await allThere(app, jobId, writers, `${String(outages.length)} kills of ${what}`);
  put(`from a kill of ${what} to the next write taken, 95 %`, share(outages, 0.95), ' ms', 3000);
}

const kills = (app: App, jobId: string, by: string): Promise<void> =>
  killing(app, jobId, by, 'the server', async () => {
    await app.stop('SIGKILL');
    await app.start();
  });

/** As the starter does, it comes back on its own port. */
function databaseKills(app: App, jobId: string, by: string): Promise<void> {
  const lock = join(process.env.PGROOT ?? '', 'data', 'postmaster.pid');
  const env = { ...process.env, PG_PORT: new URL(app.databaseUrl).port };
  return killing(app, jobId, by, 'the database', () => {
    process.kill(Number(readFileSync(lock, 'utf8').split('\n')[0]), 'SIGKILL');
    return promisify(execFile)('bash', ['scripts/pg.sh', 'start'], { env });
  });
}

async function cuts(app: App, jobId: string, by: string): Promise<void> {
  const writers = new Writers(app.url, jobId, by, await app.imra());
  const admin = new pg.Client(process.env.SOAK_DATABASE_URL);
  await admin.connect();
  const name = new URL(app.databaseUrl).pathname.slice(1);
  for (let n = 0; n < times(100); n++) {
    await pause(50 + 150 * Math.random());
    await admin.query(
      'SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = $1 AND pid <> pg_backend_pid()',
      [name],
    );
  }
  await admin.end();
  await allThere(app, jobId, writers, `${String(times(100))} cuts of every connection`);
  put('a write across the cuts, 95 %', share(writers.waits, 0.95), ' ms', 3000);
}

/**
 * A browser that is reloaded, cut off or whose tab is closed at any moment while somebody types and takes in: each figure that
 * was taken in is on the server once in the end, or stands in its field as half typed.
 */
async function browsers(app: App, jobId: string): Promise<void> {
  const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium' });
  const context = await browser.newContext({ serviceWorkers: 'allow' });
  const open = async (): Promise<Page> => {
    const page = await context.newPage();
    await wholeSheet(page);
    await page.goto(`${app.url}/jobs/${jobId}/gauge`);
    return page;
  };
  let page = await context.newPage();
  await workAs(app, page);
  await page.close();
  page = await open();
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  const typed: string[] = [];
  let left = 0;
  for (let n = 0; n < times(100); n++) {
    const field = page.getByLabel('Feed TDS', { exact: true });
    await field.waitFor();
    // what stood there half typed is taken in first, as somebody would who sees it
    const before = typed.at(-1);
    if (before !== undefined && (await page.evaluate(() => Object.keys(localStorage).some((k) => k.startsWith('katharos.draft.') && k.endsWith('feedTdsMgL'))))) {
      left++;
      await field.press('Enter');
    }
    const figure = String(1001 + n);
    await field.fill(figure);
    // oxlint-disable-next-line typescript/no-deprecated -- until it is what happens anyway
    await field.press('Enter', { noWaitAfter: true });
    typed.push(figure);
    await pause(40 * Math.random() ** 3);
    const way = ['reload', 'close', 'away'][n % 3];
    if (way === 'reload') await page.reload();
    else if (way === 'close') {
      await page.close();
      page = await open();
    } else {
      await context.setOffline(true);
      await pause(300 * Math.random());
      if (n % 2 === 0) await page.reload();
      await context.setOffline(false);
    }
  }
  await page.locator('.strip-send', { hasText: 'all sent' }).waitFor({ timeout: 120_000 });
  const job = (await (await fetch(`${app.url}/api/jobs/${jobId}`, { headers: await app.imra() })).json()) as Job;
  const there = job.facts.flatMap((f) => (f.kind === 'reading' && f.field === 'feedTdsMgL' ? [f.typed] : []));
  await browser.close();
  const under = `${String(typed.length)} reloads, closed tabs and lost connections while typing`;
  put(`${under}: lost`, typed.filter((t) => !there.includes(t)).length, '', 0);
  put(`${under}: doubled`, there.filter((t, i) => typed.includes(t) && there.indexOf(t) !== i).length - left, '', 0);
} // oxfmt-ignore

const cluster = process.env.SOAK_DATABASE_URL;
if (cluster === undefined) throw new Error('run it through `npm run soak`: it brings its own database');
const app = new App(await freePort(), cluster);
await app.start('reload');
try {
  const [first] = await roundOf(app.url, await app.imra());
  const { click } = (await (await fetch(`${app.url}/api/session`)).json()) as Session;
  const imra = click?.find((p) => p.role === 'owner')?.id;
  if (!first || imra === undefined) throw new Error('the demo data is missing');
  const round = await roundOf(app.url, await app.imra());
  const parts = {
    people: () =>
      people(
        app,
        round.map((r) => r.jobId),
        imra,
      ),
    computing: () => computing(app, first.jobId),
    kills: () => kills(app, first.jobId, imra),
    cuts: () => cuts(app, first.jobId, imra),
    databases: () => databaseKills(app, first.jobId, imra),
    browsers: () => browsers(app, first.jobId),
    hostile: () => hostile(app),
  };
  for (const [name, part] of Object.entries(parts)) if ([undefined, '', name].includes(process.env.ONLY)) await part();
} finally {
  await app.stop();
}
const wide = Math.max(...rows.map((r) => r.what.length));
for (const r of rows)
  console.log(`${r.what.padEnd(wide)}  ${r.measured.padStart(10)}  ${r.goal}, ${r.met ? 'met' : 'NOT met'}`);
process.exitCode = rows.every((r) => r.met) ? 0 : 1;
