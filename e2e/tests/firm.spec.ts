import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { request } from 'node:https';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Session } from '@katharos/contract';
import { expect, test } from '@playwright/test';
import pg from 'pg';
import { freePort } from '../app.ts';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const clean = (): NodeJS.ProcessEnv => {
  const env = { ...process.env };
  for (const own of ['DATABASE_URL', 'PGROOT', 'PG_THROWAWAY', 'npm_execpath', 'TEST_DATABASE_URL'])
    Reflect.deleteProperty(env, own);
  return env;
};

/** A firm's own application as `npm start` starts it. */
class Firm {
  readonly folder: string;
  readonly port: number;
  private child: ChildProcess | undefined;
  said = '';
  cookie = '';
  person = '';
  constructor(folder: string, port: number) {
    this.folder = folder;
    this.port = port;
  }
  async start(plain: number): Promise<void> {
    this.said = '';
    const child = spawn('bash', ['scripts/start.sh'], {
      cwd: ROOT,
      env: {
        ...clean(),
        KATHAROS_DATA: this.folder,
        HOST: '127.0.0.1',
        PORT: String(this.port),
        PLAIN_PORT: String(plain),
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.child = child;
    for (const from of [child.stdout, child.stderr])
      from.on('data', (b: Buffer) => {
        this.said += b.toString();
      });
    await expect.poll(() => this.said, { timeout: 90_000 }).toContain('How a device comes to trust it');
  }
  async stop(): Promise<void> {
    const child = this.child;
    if (child?.exitCode !== null) return;
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await ended;
  }
  /** Asks over HTTPS as a device that knows the firm's authority. */
  ask(
    method: string,
    path: string,
    body?: unknown,
  ): Promise<{ status: number; text: string; cookie: string | undefined }> {
    return new Promise((resolve, reject) => {
      const req = request(
        {
          host: '127.0.0.1',
          port: this.port,
          method,
          path: `/api/${path}`,
          agent: false,
          ca: readFileSync(join(this.folder, 'tls/authority.crt')),
          headers: { 'content-type': 'application/json', cookie: this.cookie },
        },
        (res) => {
          let text = '';
          res.on('data', (b: Buffer) => {
            text += b.toString();
          });
          res.on('end', () => {
            resolve({ status: res.statusCode ?? 0, text, cookie: res.headers['set-cookie']?.[0] });
          });
        },
      );
      req.on('error', reject);
      req.end(body === undefined ? undefined : JSON.stringify(body));
    });
  }
  /** The firm's first owner, by the link the start printed. */
  async begin(): Promise<void> {
    const token = /\/join#([\w-]{43})/.exec(this.said)?.[1];
    const r = await this.ask('POST', 'links/use', {
      token,
      name: 'Ada Quill',
      password: 'kettle orchard tin',
      remember: true,
    });
    expect(r.status).toBe(201);
    expect(r.cookie).toMatch(
      /^__Host-katharos=[\w-]{43}; Max-Age=\d+; Path=\/; Expires=[^;]+; HttpOnly; Secure; SameSite=Strict$/,
    );
    this.cookie = r.cookie?.split(';')[0] ?? '';
    this.person = (JSON.parse(r.text) as Session).person?.id ?? '';
  }
  async household(): Promise<{ id: string; jobId: string }> {
    const ids = { id: randomUUID(), jobId: randomUUID() };
    const r = await this.ask('POST', 'households', {
      ...ids,
      name: 'Mill Lane 2',
      place: 'Town',
      contact: '',
      notes: '',
    });
    expect(r.status).toBe(201);
    return ids;
  }
  async fact(jobId: string): Promise<string> {
    const id = randomUUID();
    const fact = {
      v: 2,
      id,
      jobId,
      by: this.person,
      at: new Date().toISOString(),
      kind: 'reading',
      field: 'feedTdsMgL',
      value: 300,
      typed: '300',
    };
    expect((await this.ask('POST', `jobs/${jobId}/facts`, { facts: [fact] })).status).toBe(201);
    return id;
  }
  url(): string {
    return spawnSync('bash', ['scripts/pg.sh', 'url'], { cwd: ROOT, env: { ...clean(), PGROOT: this.folder } })
      .stdout.toString()
      .trim();
  }
  /** Every row of every table, as one figure for each. */
  async everything(): Promise<Record<string, string>> {
    const db = new pg.Client(this.url());
    await db.connect();
    const tables = (
      await db.query<{ name: string }>(`SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public' ORDER BY 1`)
    ).rows;
    const all: Record<string, string> = {};
    for (const { name } of tables)
      all[name] =
        (
          await db.query<{ sum: string }>(
            `SELECT count(*) || ' ' || coalesce(md5(string_agg(md5(t::text), '' ORDER BY md5(t::text))), '') AS sum FROM ${name} t`,
          )
        ).rows[0]?.sum ?? '';
    await db.end();
    return all;
  }
}
const run = (script: string, file: string, folder: string) =>
  new Promise<{ code: number | null; said: string }>((resolve) => {
    const child = spawn('bash', [`scripts/${script}.sh`, file], {
      cwd: ROOT,
      env: { ...clean(), KATHAROS_DATA: folder },
    });
    let said = '';
    for (const from of [child.stdout, child.stderr])
      from.on('data', (b: Buffer) => {
        said += b.toString();
      });
    child.once('exit', (code) => {
      resolve({ code, said });
    });
  });

test('a firm begins by its link, is backed up while it works, and comes back whole in an empty place', async () => {
  const place = mkdtempSync('/var/tmp/katharos-firm.');
  chmodSync(place, 0o755);
  const firm = new Firm(join(place, 'one'), await freePort());
  const again = new Firm(join(place, 'two'), firm.port);
  try {
    const plain = await freePort();
    await firm.start(plain);
    // nothing but the way in over plain HTTP; a safe connection for whoever knows the authority
    const way = await fetch(`http://127.0.0.1:${String(plain)}/`);
    expect(await way.text()).toContain(`https://127.0.0.1:${String(firm.port)}`);
    expect((await fetch(`http://127.0.0.1:${String(plain)}/api/session`)).status).toBe(404);
    expect(await (await fetch(`http://127.0.0.1:${String(plain)}/authority.crt`)).text()).toContain(
      'BEGIN CERTIFICATE',
    );
    await expect(fetch(`https://127.0.0.1:${String(firm.port)}/`)).rejects.toThrow();
    expect((await firm.ask('GET', 'rounds')).status).toBe(401);
    await firm.begin();
    expect((await firm.ask('POST', 'session/click', { person: firm.person })).status).toBe(404);

    const { jobId } = await firm.household();
    const before = [await firm.fact(jobId), await firm.fact(jobId)];
    const going = { on: true };
    const meanwhile: string[] = [];
    const writer = (async () => {
      while (going.on) meanwhile.push(await firm.fact(jobId));
    })();
    const first = await run('backup', join(place, 'while.tar'), firm.folder);
    going.on = false;
    await writer;
    expect(first).toMatchObject({ code: 0 });
    expect(meanwhile.length).toBeGreaterThan(0);
    expect(statSync(join(place, 'while.tar')).mode & 0o077).toBe(0);
    // where each job stands is brought up a moment after it was written to, or when somebody looks
    expect((await firm.ask('GET', 'rounds')).status).toBe(200);
    expect(await run('backup', join(place, 'still.tar'), firm.folder)).toMatchObject({ code: 0 });
    const stood = await firm.everything();
    const { cookie, person } = firm;
    // what stands there is never written over
    const over = await run('restore', join(place, 'still.tar'), firm.folder);
    expect([over.code, over.said]).toEqual([2, expect.stringContaining('already')]);
    await firm.stop();
    expect(existsSync(join(firm.folder, 'data/postmaster.pid'))).toBe(false);
    expect(readdirSync(join(firm.folder, 'logs')).length).toBeGreaterThan(0);

    // taken while it worked: what was acknowledged before is in it, and each write is whole or not there
    const then = new Firm(join(place, 'then'), firm.port);
    expect(await run('restore', join(place, 'while.tar'), then.folder)).toMatchObject({ code: 0 });
    await then.start(plain);
    Object.assign(then, { cookie, person });
    const facts = (JSON.parse((await then.ask('GET', `jobs/${jobId}`)).text) as { facts: { id: string }[] }).facts.map(
      (f) => f.id,
    );
    expect(facts).toEqual(expect.arrayContaining(before));
    expect([...before, ...meanwhile].slice(0, facts.length)).toEqual(facts);
    await then.stop();

    // taken when nothing was written: the same to the last row, and the devices know it by the same authority
    expect(await run('restore', join(place, 'still.tar'), again.folder)).toMatchObject({ code: 0 });
    spawnSync('bash', ['scripts/pg.sh', 'start'], { cwd: ROOT, env: { ...clean(), PGROOT: again.folder } });
    expect(await again.everything()).toEqual(stood);
    await again.start(plain);
    expect(again.said).not.toContain('Nobody owns this firm');
    Object.assign(again, { cookie, person });
    expect((await again.ask('GET', 'rounds')).status).toBe(200);
    expect(readFileSync(join(again.folder, 'tls/authority.crt'))).toEqual(
      readFileSync(join(firm.folder, 'tls/authority.crt')),
    );
    await again.stop();
    // a firm's data are no demo
    const demo = spawnSync('bash', ['scripts/demo.sh'], {
      cwd: ROOT,
      env: { ...clean(), KATHAROS_DATA: again.folder, PORT: String(await freePort()) },
    });
    expect([demo.status, demo.stderr.toString()]).toEqual([
      1,
      expect.stringContaining("are for 'firm', not for 'demo'"),
    ]);
  } finally {
    await firm.stop();
    await again.stop();
    rmSync(place, { recursive: true, force: true });
  }
});
