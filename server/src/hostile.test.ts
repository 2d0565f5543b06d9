import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { ROLES } from '@katharos/contract';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Express } from 'express';
import { pino } from 'pino';
import { createApp } from './app.ts';
import { startStandIns } from './instruments/standIn.ts';
import { hostileRound, type Target } from './testing/hostile.ts';
import { type Harness, NOW, demoHarness } from './testing/harness.ts';
import { signedIn } from './testing/signedIn.ts';
import { ROUTES, targetOf } from './testing/target.ts';

let h: Harness;
let app: Express;
let target: Target;
let standIns: { server: Server; address: string };
const servers: Server[] = [];
const addressOf = async (a: Express): Promise<string> => {
  const server = a.listen(0, '127.0.0.1');
  servers.push(server);
  await new Promise((r) => server.once('listening', r));
  return `http://127.0.0.1:${String((server.address() as AddressInfo).port)}`;
};
beforeAll(async () => {
  h = await demoHarness();
  standIns = await startStandIns();
  servers.push(standIns.server);
  const parts = { db: h.db, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW };
  app = createApp({ ...parts, standIns: () => Promise.resolve(standIns.address) });
  target = await targetOf(await addressOf(signedIn(app, h.db, h.person)));
});
afterAll(async () => {
  for (const s of servers) {
    s.closeAllConnections();
    s.close();
  }
  await h.close();
});
const rows = async (): Promise<unknown> => {
  const tables = ['facts', 'designs', 'pictures', 'households', 'people', 'parts', 'instruments', 'links'];
  const counts = tables.map((t) => `(SELECT count(*) FROM ${t}) AS ${t}`);
  return (await h.db.sequelize.query(`SELECT ${counts.join(', ')}, (SELECT sum(version) FROM parts) AS edits`))[0];
};

describe('hostile requests', () => {
  test.each([...ROLES])('of the %s are each answered as what they are, none by a fault of the server', async (role) => {
    const person = await h.db.Person.findOne({ where: { role }, rejectOnEmpty: true });
    const before = await rows();
    const as = { ...target, address: await addressOf(signedIn(app, h.db, person.id)) };
    const { stumbles, statuses } = await hostileRound(as, ROUTES, 500, 7);
    expect(stumbles).toEqual([]);
    expect(Object.keys(statuses).length).toBeGreaterThan(4);
    if (role === 'reader') expect(await rows()).toEqual(before);
  });
  test('of nobody change nothing and learn nothing', async () => {
    const before = await rows();
    const { stumbles, statuses } = await hostileRound({ ...target, address: await addressOf(app) }, ROUTES, 500, 9);
    expect(stumbles).toEqual([]);
    expect(statuses['401']).toBeGreaterThan(200);
    expect(await rows()).toEqual(before);
  });
});
