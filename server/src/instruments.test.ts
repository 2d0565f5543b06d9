import { get, type IncomingMessage } from 'node:http';
import { createServer, type Server } from 'node:http';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { seeded, type Instrument } from '@katharos/core';
import express from 'express';
import { pino } from 'pino';
import request from 'supertest';
import { createApp } from './app.ts';
import { problems } from './http/problem.ts';
import { streamRoutes } from './instruments/routes.ts';
import { standInValue, startStandIns } from './instruments/standIn.ts';
import { harness, NOW, type Harness } from './testing/harness.ts';
import { signedIn } from './testing/signedIn.ts';

let h: Harness;
let standIns: { server: Server; address: string };
let own: Server;
let url = '';
const PEN = '5f0c4b1e-8888-4888-a888-000000000001';
const pen: Instrument = {
  id: PEN, name: 'pen', what: 'pen', checkEveryDays: null, checks: [], address: 'stand-in:pen',
  reads: [{ kind: 'concentration', unit: 'mg/L', min: 0, max: 5000, errorFixed: 2, errorShare: 0.02 }],
}; // oxfmt-ignore
const putPen = (address: string | null, version: number | null) =>
  request(url)
    .put(`/api/instruments/${PEN}`)
    .send({ instrument: { ...pen, address }, version, by: h.person });

beforeAll(async () => {
  h = await harness();
  standIns = await startStandIns();
  const parts = { db: h.db, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW };
  own = createServer(
    signedIn(createApp({ ...parts, standIns: () => Promise.resolve(standIns.address) }), h.db, h.person),
  );
  url = await listenAnywhere(own);
  await putPen('stand-in:pen', null).expect(201);
});
afterAll(async () => {
  own.closeAllConnections();
  own.close();
  standIns.server.closeAllConnections();
  standIns.server.close();
  await h.close();
});

async function listenAnywhere(server: Server): Promise<string> {
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const at = server.address();
  return `http://127.0.0.1:${String(typeof at === 'object' && at ? at.port : 0)}`;
}

interface Reading {
  readonly seconds: number;
  readonly value: number;
  readonly unit: string;
  readonly settled: boolean;
}

/** Readings of a stream until one is settled, or ten seconds are over. */
function listen(path: string): Promise<Reading[]> {
  return new Promise((resolve, reject) => {
    const readings: Reading[] = [];
    const req = get(`${url}${path}`, (res: IncomingMessage) => {
      res.on('data', (b: Buffer) => {
        for (const line of b.toString().split('\n'))
          if (line.startsWith('data: ')) readings.push(JSON.parse(line.slice(6)) as Reading);
        if (readings.at(-1)?.settled === true || readings.length > 40) {
          req.destroy();
          resolve(readings);
        }
      });
    });
    req.on('error', (e) => {
      if (readings.length === 0) reject(e);
    });
  });
}

describe('a stand-in pen', () => {
  test('begins where it rested and settles near the sample, with its noise', () => {
    const q = { kind: 'concentration', unit: 'mg/L', rest: 0, settlesS: 2, noiseShare: 0.003, noiseFixed: 0.4, drift: 0, digit: 1 } as const; // oxfmt-ignore
    const random = seeded(5);
    expect(standInValue(q, 430, 0, random)).toBeLessThan(10);
    expect(Math.abs(standInValue(q, 430, 20, random) - 430)).toBeLessThan(10);
    const late = Array.from({ length: 50 }, (_, i) => standInValue(q, 430, 20 + i, random));
    expect(new Set(late).size).toBeGreaterThan(2);
    expect(late.every((v) => v >= 0 && v === Math.round(v))).toBe(true);
  });
  test('is heard through the server while it settles', async () => {
    const readings = await listen(`/api/instruments/${PEN}/stream?quantity=concentration&sample=430`);
    expect(readings[0]?.value).toBeLessThan(100);
    expect(readings.at(-1)).toMatchObject({ settled: true, unit: 'mg/L' });
    expect(Math.abs((readings.at(-1)?.value ?? 0) - 430)).toBeLessThan(25);
  }, 20_000);
  test('says what it is, and refuses what it does not read', async () => {
    const what = (await (await fetch(`${standIns.address}/pen`)).json()) as { protocol: string; quantities: unknown[] };
    expect(what).toMatchObject({ protocol: 'katharos-instrument', version: 1 });
    expect(what.quantities.length).toBeGreaterThan(1);
    const stream = (q: string) => request(url).get(`/api/instruments/${PEN}/stream?quantity=${q}&sample=4`);
    expect((await stream('length')).status).toBe(422);
    expect((await request(url).get(`/api/instruments/${PEN}/stream?quantity=concentration&sample=x`)).status).toBe(422);
    expect((await fetch(`${standIns.address}/nothing`)).status).toBe(404);
  });
});

describe('a meter’s address', () => {
  test('is this machine’s, or it is not asked; one that does not answer is told', async () => {
    const stream = () => request(url).get(`/api/instruments/${PEN}/stream?quantity=concentration&sample=4`);
    await putPen('http://192.168.1.9/pen', 0).expect(200);
    expect((await stream()).status).toBe(422);
    await putPen('http://127.0.0.1:1/pen', 1).expect(200);
    const away = await stream();
    expect([away.status, (JSON.parse(away.text) as { type: string }).type]).toEqual([
      502,
      'urn:katharos:problem:no-instrument',
    ]);
    await putPen(null, 2).expect(200);
    expect((await stream()).status).toBe(422);
    expect((await request(url).get('/api/instruments/5f0c4b1e-8888-4888-a888-000000000009/stream')).status).toBe(404);
  });
  test('is a meter’s: this application itself, what is none, and what sends on elsewhere are not read', async () => {
    const stream = () => request(url).get(`/api/instruments/${PEN}/stream?quantity=concentration&sample=4`);
    const typeOf = (text: string): string => (JSON.parse(text) as { type: string }).type.split(':').at(-1) ?? '';
    const elsewhere = createServer((req, res) => {
      if (req.url?.startsWith('/moved') === true) res.writeHead(302, { location: standIns.address + '/pen' }).end();
      else if (req.url === '/half') res.end(JSON.stringify({ protocol: 'katharos-instrument', version: 1 }));
      else res.end('a secret of this machine');
    });
    const at = await listenAnywhere(elsewhere);
    await putPen(`${url}/api/instruments/${PEN}`, 3).expect(200);
    expect((await stream()).status).toBe(422);
    await putPen(`${at}/private`, 4).expect(200);
    const none = await stream();
    expect([none.status, none.text.includes('secret'), typeOf(none.text)]).toEqual([502, false, 'no-instrument']);
    await putPen(`${at}/moved`, 5).expect(200);
    expect((await stream()).status).toBe(502);
    await putPen(`${at}/half`, 6).expect(200);
    expect((await stream()).status).toBe(422);
    elsewhere.closeAllConnections();
    elsewhere.close();
  });
  test('that floods, falls silent, or is asked too often harms nobody else', async () => {
    const limits = { atOnce: 2, answerMs: 500, silentMs: 300, longestMs: 5000, mostBytes: 50_000 };
    const meter = createServer((req, res) => {
      if (req.url?.includes('/stream') !== true) {
        res.end(JSON.stringify({ protocol: 'katharos-instrument', version: 1 }));
        return;
      }
      res.writeHead(200, { 'content-type': 'text/event-stream' }).write('data: {}\n\n');
      if (req.url.startsWith('/flood')) {
        const timer = setInterval(() => res.write('x'.repeat(10_000)), 5);
        res.on('close', () => {
          clearInterval(timer);
        });
      }
    });
    const at = await listenAnywhere(meter);
    const app = createServer(
      express().use('/i', streamRoutes({ read: () => Promise.resolve({ instruments: ['flood', 'silent'].map((name, i) => ({ ...pen, id: PEN.slice(0, -1) + String(i), address: `${at}/${name}` })) } as never) }, () => Promise.reject(new Error()), limits), problems(pino({ level: 'silent' }))),
    ); // oxfmt-ignore
    const there = await listenAnywhere(app);
    const ask = (i: number) => fetch(`${there}/i/${PEN.slice(0, -1)}${String(i)}/stream?quantity=a&sample=1`);
    const began = Date.now();
    const taken = await Promise.all([ask(0), ask(1), ask(1)].map(async (r) => ({ status: (await r).status, text: await (await r).text().catch(() => 'cut') })));
    expect(Date.now() - began).toBeLessThan(4000);
    expect(taken.map((t) => t.status).sort()).toEqual([200, 200, 429]);
    expect(Math.max(...taken.map((t) => t.text.length))).toBeLessThanOrEqual(50_000);
    // those that ended make room
    expect((await ask(1)).status).toBe(200);
    for (const s of [meter, app]) {
      s.closeAllConnections();
      s.close();
    }
  }); // oxfmt-ignore
});
