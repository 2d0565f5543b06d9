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
import { loadShelf } from '@katharos/shelf';
import { harness, NOW, SHELF, type Harness } from './testing/harness.ts';

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
