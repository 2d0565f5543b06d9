import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { pino } from 'pino';
import { createApp } from './app.ts';
import { loadDemo } from './demo/load.ts';
import { startStandIns } from './instruments/standIn.ts';
import { hostileRound, type Target } from './testing/hostile.ts';
import { harness, NOW, type Harness } from './testing/harness.ts';
import { ROUTES, targetOf } from './testing/target.ts';

let h: Harness;
let server: Server;
let target: Target;
let standIns: { server: Server; address: string };
beforeAll(async () => {
  h = await harness();
  await loadDemo(h.db, h.shelf, true, NOW);
  standIns = await startStandIns();
  const parts = { db: h.db, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW };
  server = createApp({ ...parts, standIns: () => Promise.resolve(standIns.address) }).listen(0, '127.0.0.1');
  await new Promise((r) => server.once('listening', r));
  target = await targetOf(`http://127.0.0.1:${String((server.address() as AddressInfo).port)}`);
});
afterAll(async () => {
  for (const s of [server, standIns.server]) {
    s.closeAllConnections();
    s.close();
  }
  await h.close();
});

describe('hostile requests', () => {
  test('are each answered as what they are, none by a fault of the server', async () => {
    const { stumbles, statuses } = await hostileRound(target, ROUTES, 1500, 7);
    expect(stumbles).toEqual([]);
    expect(Object.keys(statuses).length).toBeGreaterThan(4);
  });
});
