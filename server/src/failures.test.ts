import { connect, createServer, type AddressInfo, type Socket } from 'node:net';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import pg from 'pg';
import { pino } from 'pino';
import request from 'supertest';
import { createApp } from './app.ts';
import { migrate } from './db/migrate.ts';
import { openDb } from './db/models.ts';
import { seeded } from '@katharos/core';
import { loadShelf } from '@katharos/shelf';
import { harness, NOW, SHELF, type Harness } from './testing/harness.ts';
import { signedIn, tokenFor } from './testing/signedIn.ts';

let h: Harness;
beforeAll(async () => {
  h = await harness();
});
afterAll(() => h.close());

describe('a database that is away', () => {
  test('is told as such, with what to do, and the answer comes in time', async () => {
    const nowhere = openDb('postgres://nobody:x@127.0.0.1:9/none');
    const app = createApp({ db: nowhere, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW });
    const res = await request(app).get('/api/health');
    expect(res.status).toBe(503);
    expect(JSON.parse(res.text)).toMatchObject({ type: 'urn:katharos:problem:no-database' });
    await nowhere.close();
  });
  test('whose connections are cut comes back by itself', async () => {
    const own = openDb(h.url);
    const app = createApp({ db: own, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW });
    await request(app).get('/api/health').expect(200);
    const admin = new pg.Client(process.env.TEST_DATABASE_URL);
    await admin.connect();
    await admin.query('SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = $1', [
      new URL(h.url).pathname.slice(1),
    ]);
    await admin.end();
    const statuses: number[] = [];
    for (let i = 0; i < 5; i++) statuses.push((await request(app).get('/api/health')).status);
    expect(statuses.at(-1)).toBe(200);
    expect(statuses.every((s) => s === 200 || s === 503)).toBe(true);
    await own.close();
  });
});

describe('connections that are cut at any moment', () => {
  test('end no server, and each request in the middle of one is told that the database is away', async () => {
    const base = new URL(h.url);
    const random = seeded(11);
    const sockets = new Set<Socket>();
    // between the server and its database: cuts most connections after a few bytes, some only as they open
    const between = createServer((client) => {
      const there = connect(Number(base.port), base.hostname);
      sockets.add(client).add(there);
      let left = random() < 0.15 ? Infinity : Math.floor(random() * 1500);
      const cut = (): void => {
        client.destroy();
        there.destroy();
      };
      for (const [from, to] of [[client, there], [there, client]] as const) {
        from.on('data', (b) => {
          left -= b.length;
          if (left < 0) cut();
          else to.write(b);
        });
        from.on('error', cut);
        from.on('close', cut);
      }
      if (left === 0) cut();
    });
    await new Promise<void>((resolve) => between.listen(0, '127.0.0.1', resolve));
    const url = new URL(base);
    url.port = String((between.address() as AddressInfo).port);
    const own = openDb(url.href);
    const app = createApp({ db: own, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW });
    const cookie = `katharos=${await tokenFor(h.db, h.person)}`;
    const statuses: Record<string, number> = {};
    for (let n = 0; n < Number(process.env.CUTS ?? 150); n += 10) {
      const some = await Promise.all(Array.from({ length: 10 }, (_, i) => request(app).get(['/api/health', '/api/rounds', '/api/shelf'][i % 3] ?? '').set({ cookie })));
      for (const r of some) statuses[r.status] = (statuses[r.status] ?? 0) + 1;
    }
    expect(Object.keys(statuses).every((s) => s === '200' || s === '503')).toBe(true);
    expect(statuses['503']).toBeGreaterThan(10);
    await own.close().catch(() => undefined);
    for (const s of sockets) s.destroy();
    between.close();
  }, 60_000); // oxfmt-ignore
});

describe('a server that is stopping', () => {
  test('says so to a proxy, and answers what still comes', async () => {
    const parts = { db: h.db, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW };
    let stopping = false;
    const app = createApp({ ...parts, isStopping: () => stopping });
    await request(app).get('/api/ready').expect(200);
    stopping = true;
    expect((await request(app).get('/api/ready')).status).toBe(503);
    await request(app).get('/api/health').expect(200);
  });
});

describe('the door', () => {
  const ask = (headers: Record<string, string>, method: 'get' | 'post' = 'get') =>
    request(h.app)[method]('/api/people').set(headers).send(method === 'post' ? { name: 'Nobody', role: 'fitter' } : undefined);
  test('lets in who asks by one of its own names', async () => {
    for (const host of ['localhost:4170', '127.0.0.1', '[::1]:4170', 'LOCALHOST'])
      expect((await ask({ host })).status).toBe(200);
    const parts = { db: h.db, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW };
    const named = signedIn(createApp({ ...parts, names: ['water.firm.example'] }), h.db, h.person);
    expect((await request(named).get('/api/people').set('host', 'water.firm.example')).status).toBe(200);
    const behind = await request(named).post('/api/people').set({ host: 'water.firm.example:4170', origin: 'https://water.firm.example' }).send({ name: 'Proxied', role: 'fitter' });
    expect(behind.status).toBe(201);
  });
  test('and turns a foreign name that resolves here away, reading and writing', async () => {
    for (const host of ['evil.example', '127.0.0.1.evil.example', 'localhost.evil.example', '::::', 'water.firm.example']) {
      expect((await ask({ host })).status).toBe(421);
      expect((await ask({ host }, 'post')).status).toBe(421);
    }
  });
  test('and pages of other origins, a neighbour’s port among them', async () => {
    const host = '127.0.0.1:4170';
    for (const headers of [{ origin: 'https://evil.example' }, { origin: 'null' }, { origin: 'http://127.0.0.1:9999' }, { 'sec-fetch-site': 'cross-site' }])
      expect((await ask({ host, ...headers }, 'post')).status).toBe(403);
    expect((await ask({ host, origin: 'http://127.0.0.1:4170' })).status).toBe(200);
  });
}); // oxfmt-ignore

describe('migrations', () => {
  test('run once even when two servers start together, and again without harm', async () => {
    const a = openDb(h.url);
    const b = openDb(h.url);
    await Promise.all([migrate(a.sequelize), migrate(b.sequelize)]);
    const [rows] = await a.sequelize.query('SELECT name FROM migrations ORDER BY name');
    const names = (rows as { name: string }[]).map((r) => r.name);
    expect(names.length).toBeGreaterThan(1);
    expect(new Set(names).size).toBe(names.length);
    await a.close();
    await b.close();
  });
});

describe('the shelf’s files', () => {
  test('a fault in a file a person edited is told with file, place and what is wrong', () => {
    const folder = mkdtempSync(join(tmpdir(), 'shelf-'));
    try {
      const parts = JSON.parse(readFileSync(join(SHELF, 'parts.json'), 'utf8')) as Record<string, unknown>[];
      const rules = readFileSync(join(SHELF, 'house-rules.json'), 'utf8');
      writeFileSync(join(folder, 'house-rules.json'), rules);
      writeFileSync(join(folder, 'parts.json'), JSON.stringify([{ ...parts[0], maxPressureBar: -1 }]));
      expect(() => loadShelf(folder)).toThrow(/parts\.json has 1 fault\(s\):\n {2}0\.maxPressureBar: /);
      writeFileSync(join(folder, 'parts.json'), '[{');
      expect(() => loadShelf(folder)).toThrow(/parts\.json: /);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});

describe('the page’s policy', () => {
  test('lets nothing in from outside', async () => {
    const csp = (await request(h.app).get('/api/health')).headers['content-security-policy'] ?? '';
    expect(csp).toContain("default-src 'self'");
    expect(csp).not.toMatch(/https?:|\*|unsafe-eval/);
  });
});
