import { createServer } from 'node:http';
import { describe, expect, test } from '@jest/globals';
import compression from 'compression';
import express, { type Express } from 'express';
import request from 'supertest';
import { Alike } from './alike.ts';

const json = JSON.stringify({ words: 'as the firm says it, ü '.repeat(400) });

function serving(answer: Alike): Express {
  const app = express();
  app.use(compression({ level: 1 }));
  app.get('/', (req, res) => answer.send(req, res));
  return app;
}

describe('what many are sent alike', () => {
  test('is the same packed and plain, and says that it hangs on how it is asked', async () => {
    const app = serving(new Alike(json));
    const plain = await request(app).get('/').set('Accept-Encoding', 'identity').expect(200);
    const small = await request(app).get('/').set('Accept-Encoding', 'gzip').expect(200);
    expect(plain.text).toBe(json);
    expect(small.text).toBe(json);
    expect([plain.headers['content-encoding'], small.headers['content-encoding']]).toEqual([undefined, 'gzip']);
    for (const r of [plain, small]) {
      expect(r.headers['content-type']).toMatch(/application\/json/);
      expect(r.headers.vary).toMatch(/Accept-Encoding/);
    }
    expect(Number(small.headers['content-length'])).toBeLessThan(json.length / 5);
  });
  test('comes to each of many who ask at once, and to who asks for its head', async () => {
    const server = createServer(serving(new Alike(json))).listen(0);
    try {
      const all = await Promise.all(Array.from({ length: 20 }, () => request(server).get('/')));
      expect(all.every((r) => r.text === json)).toBe(true);
      const head = await request(server).head('/').set('Accept-Encoding', 'gzip').expect(200);
      expect(head.headers['content-encoding']).toBe('gzip');
    } finally {
      server.close();
    }
  });
});
