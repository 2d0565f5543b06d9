import { randomUUID } from 'node:crypto';
import { CALCULATORS, type Fact } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Express } from 'express';
import { pino } from 'pino';
import request from 'supertest';
import { createApp } from './app.ts';
import { openDb, type Db } from './db/models.ts';
import { harness, NOW, type Harness } from './testing/harness.ts';
import { tokenFor } from './testing/signedIn.ts';

let h: Harness;
let dbs: Db[] = [];
let servers: Express[] = [];
let cookie = '';
beforeAll(async () => {
  h = await harness();
  dbs = [openDb(h.url), openDb(h.url)];
  servers = dbs.map((db) => createApp({ db, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW }));
  cookie = `katharos=${await tokenFor(h.db, h.person)}`;
});
afterAll(async () => {
  await Promise.all(dbs.map((d) => d.close()));
  await h.close();
});
const at = (i: number): Express => servers[i] ?? h.bare;

describe('two servers on one database', () => {
  test('know the same people, and lose them at the same moment', async () => {
    const token = await tokenFor(h.db, h.person);
    const own = `katharos=${token}`;
    for (const i of [0, 1]) await request(at(i)).get('/api/rounds').set({ cookie: own }).expect(200);
    await request(at(0)).post('/api/session/end').set({ cookie: own }).send({}).expect(200);
    await request(at(1)).get('/api/rounds').set({ cookie: own }).expect(401);
  });
  test('count tries at a password together', async () => {
    const tries: number[] = [];
    for (let i = 0; i < 8; i++) {
      const r = await request(at(i % 2)).post('/api/session').send({ name: 'Tester', password: `wrong ${String(i)}` });
      tries.push(r.status);
    }
    expect(tries).toEqual([401, 401, 401, 401, 401, 429, 429, 429]);
  });
  test('take writes of one job at once, each once, and show what the other took', async () => {
    const ids = { id: randomUUID(), jobId: randomUUID() };
    const edit = { name: 'Mill Lane 2', place: '', contact: '', notes: '' };
    await Promise.all([0, 1].map((i) => request(at(i)).post('/api/households').set({ cookie }).send({ ...ids, ...edit }).expect(201)));
    const facts = Array.from({ length: 20 }, (_, i): Fact => ({
      v: 2, id: randomUUID(), jobId: ids.jobId, by: h.person, at: '2026-05-01T08:00:00.000Z', kind: 'reading', field: 'feedTdsMgL', value: 300 + i, typed: String(300 + i),
    }));
    const stored = await Promise.all(facts.flatMap((f) => [0, 1].map(async (i) =>
      ((await request(at(i)).post(`/api/jobs/${ids.jobId}/facts`).set({ cookie }).send({ facts: [f] }).expect(201)).body as { stored: number }).stored)));
    expect(stored.reduce((a, b) => a + b, 0)).toBe(20);
    for (const i of [0, 1]) {
      const job = (await request(at(i)).get(`/api/jobs/${ids.jobId}`).set({ cookie })).body as { facts: Fact[] };
      expect(new Set(job.facts.map((f) => f.id))).toEqual(new Set(facts.map((f) => f.id)));
      const rounds = (await request(at(i)).get('/api/rounds').set({ cookie })).body as { open: { entries: { jobId: string }[] } };
      expect(rounds.open.entries.map((e) => e.jobId)).toContain(ids.jobId);
    }
    const puts = await Promise.all([0, 1].map((i) => request(at(i)).put(`/api/households/${ids.id}`).set({ cookie }).send({ ...edit, notes: `from ${String(i)}`, version: 0 })));
    expect(puts.map((r) => r.status).sort()).toEqual([200, 409]);
  });
  test('work from the same shelf the moment it changes', async () => {
    const shelf = (await request(at(0)).get('/api/shelf').set({ cookie })).body as { rules: Record<string, unknown>; rulesVersion: number };
    await request(at(1)).get('/api/shelf').set({ cookie });
    await request(at(0)).put('/api/shelf/rules').set({ cookie }).send({ rules: { ...shelf.rules, firm: 'Renamed' }, version: shelf.rulesVersion }).expect(200);
    expect(((await request(at(1)).get('/api/shelf').set({ cookie })).body as { rules: { firm: string } }).rules.firm).toBe('Renamed');
    const input = { volumeL: 15.1, airChargeBar: 0.48, pressureBar: 2.76 };
    const answers = await Promise.all([0, 1].map(async (i) => (await request(at(i)).post('/api/calc/tank').set({ cookie }).send(input)).body as unknown));
    expect(answers[0]).toEqual(answers[1]);
    expect({ ok: true, output: answers[0] }).toEqual(CALCULATORS.tank?.answer(input, { catalogue: h.shelf.parts, rules: h.shelf.rules }));
  });
}); // oxfmt-ignore
