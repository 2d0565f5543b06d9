import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Express } from 'express';
import { pino } from 'pino';
import request from 'supertest';
import { createApp } from './app.ts';
import { harness, NOW, type Harness } from './testing/harness.ts';

const SCRIPT = 'export const water = "wet";\n'.repeat(80);
const root = mkdtempSync(join(tmpdir(), 'page-'));
const folder = join(root, 'page');
let h: Harness;
let app: Express;

beforeAll(async () => {
  mkdirSync(join(folder, 'assets'), { recursive: true });
  writeFileSync(join(root, 'secret.txt'), 'not for others');
  writeFileSync(join(folder, 'index.html'), '<title>the page</title>');
  writeFileSync(join(folder, 'assets/a-1.js'), SCRIPT);
  writeFileSync(join(folder, 'assets/a-1.js.br'), brotliCompressSync(SCRIPT));
  writeFileSync(join(folder, 'assets/a-1.js.gz'), gzipSync(SCRIPT));
  writeFileSync(join(folder, 'assets/plain.js'), SCRIPT);
  h = await harness();
  app = createApp({ db: h.db, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW, page: folder });
});
afterAll(async () => {
  await h.close();
  rmSync(root, { recursive: true });
});

/** The body as bytes, whatever its type; unpacked, if it was packed. */
const bytes = (path: string, encoding: string) =>
  request(app)
    .get(path)
    .set('Accept-Encoding', encoding)
    .buffer(true)
    .parse((res, done) => {
      const parts: Buffer[] = [];
      res.on('data', (b: Buffer) => parts.push(b));
      res.on('end', () => {
        done(null, Buffer.concat(parts));
      });
    });

describe('the page’s scripts', () => {
  test.each([
    ['gzip, deflate, br', 'br'],
    ['gzip', 'gzip'],
  ])('to a browser that takes %s go as %s, packed when they were built', async (takes, encoding) => {
    const res = await bytes('/assets/a-1.js', takes);
    expect(res.status).toBe(200);
    expect(res.headers['content-encoding']).toBe(encoding);
    expect(res.headers['content-type']).toContain('javascript');
    expect(res.headers['cache-control']).toBe('public, max-age=31536000, immutable');
    expect(res.headers.vary).toContain('Accept-Encoding');
    expect((res.body as Buffer).toString()).toBe(SCRIPT);
    expect(Number(res.headers['content-length'])).toBeLessThan(SCRIPT.length / 4);
  });

  test('go as they are to a browser that takes nothing packed', async () => {
    const res = await bytes('/assets/a-1.js', 'identity');
    expect(res.headers['content-encoding']).toBeUndefined();
    expect((res.body as Buffer).toString()).toBe(SCRIPT);
  });

  test('that are no longer there are no page: an old tab is told, and nobody keeps the answer', async () => {
    const res = await request(app).get('/assets/gone-9.js').set('Accept-Encoding', 'br');
    expect(res.status).toBe(404);
    expect(res.text).not.toContain('the page');
    expect(res.headers['cache-control'] ?? '').not.toContain('immutable');
  });

  test('do not lead out of their folder', async () => {
    for (const up of ['../..', '..%2f..', '%2e%2e/%2e%2e', '..%5c..']) {
      const res = await request(app).get(`/assets/${up}/secret.txt`);
      expect(res.text).not.toContain('not for others');
    }
  });
});

test('every address of the page gives the page, which is asked for anew each time', async () => {
  for (const path of ['/', '/jobs/ab/size', '/nothing/here']) {
    const res = await request(app).get(path);
    expect([res.status, res.text]).toEqual([200, '<title>the page</title>']);
    expect(res.headers['cache-control']).toMatch(/no-cache|max-age=0/);
  }
});
