import type { FirmFigures } from '@katharos/core';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import request from 'supertest';
import { type Harness, demoHarness } from '../testing/harness.ts';

let h: Harness;
beforeAll(async () => {
  h = await demoHarness();
});
afterAll(() => h.close());

test('the firm’s figures are added up from every house that was in service, for owner and office', async () => {
  const office = h.as(await h.add('office'));
  const f = (await request(office).get('/api/figures').expect(200)).body as FirmFigures;
  const [row] = (await h.db.sequelize.query('SELECT count(DISTINCT job_id)::int AS n FROM facts WHERE kind = $1', { bind: ['proof'] }))[0] as { n: number }[]; // oxfmt-ignore
  expect(f.inCare + f.takenOut).toBe(row?.n);
  expect(f.takenOut).toBe(1);
  expect(f.visitsYear).toBeGreaterThan(50);
  expect(f.visitsByWeek.reduce((s, n) => s + n, 0)).toBeLessThanOrEqual(f.visitsYear);
  // the delivery that is bad is found, and no other
  expect(f.batches.filter((b) => b.fast).map((b) => [b.part, b.batch])).toEqual([['Element 190', 'E-4417']]);
  expect(f.batches[0]?.standsIn.length).toBeGreaterThan(0);
  expect(f.says[0]).toContain('E-4417');
});
test('nobody else sees them', async () => {
  for (const role of ['fitter', 'reader'] as const)
    await request(h.as(await h.add(role)))
      .get('/api/figures')
      .expect(403);
});
