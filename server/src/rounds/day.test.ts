import type { Coming, Day } from '@katharos/contract';
import { NO_DAY_TABLE, type FactOf } from '@katharos/core';
import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { harness, type Harness, NOW, demoHarness } from '../testing/harness.ts';
import { roundOf } from '../testing/rounds.ts';

let h: Harness;
let demo: Harness;
beforeAll(async () => {
  [h, demo] = [await harness(), await demoHarness()];
});
afterAll(async () => {
  await h.close();
  await demo.close();
});
const DAY = 86400000;
const dayOf = async (app: Harness, on: string): Promise<Day> => (await request(app.app).get(`/api/day?on=${on}`).expect(200)).body as Day; // oxfmt-ignore

describe('a day', () => {
  test('has the visits dated on it, with the work of a change by its own sheet and the parts it brings', async () => {
    const { jobId } = (await roundOf(demo)).find((e) => e.household.name.startsWith('Highmoor')) ?? {};
    const design = await demo.db.Design.findOne({ where: { jobId: jobId ?? '' } });
    const body = design?.body as { system: { components: { id: string; kind: string; part: { id: string } }[] } } | undefined; // oxfmt-ignore
    const carbon = body?.system.components.find((c) => c.kind === 'carbon');
    const on = new Date(NOW + 40 * DAY).toISOString();
    const person = await demo.db.Person.findOne();
    const visit: Omit<FactOf<'visit'>, 'v'> & { v: number } = { v: 2, id: randomUUID(), jobId: jobId ?? '', at: new Date(NOW).toISOString(), by: person?.id ?? '', kind: 'visit', on, reason: 'Change of carbon', changed: [], toChange: [carbon?.id ?? ''] }; // oxfmt-ignore
    await demo.db.Fact.create({ id: visit.id, jobId: visit.jobId, kind: 'visit', at: new Date(NOW), by: visit.by, body: visit }); // oxfmt-ignore
    const { entries, table, version } = await dayOf(demo, on.slice(0, 10));
    const mine = entries.find((e) => e.jobId === jobId)?.summary.visits.find((v) => v.fact.id === visit.id);
    expect(mine?.work).toHaveLength(1);
    expect(mine?.work[0]?.handsMin).toBeGreaterThan(20);
    expect(mine?.brings).toEqual([carbon?.part.id]);
    expect([table.fitters.length, version]).toEqual([2, 0]);
    expect(await dayOf(h, '2026-11-30')).toEqual({ entries: [], table: NO_DAY_TABLE, version: null });
    expect((await dayOf(demo, '2031-01-01')).entries).toEqual([]);
  });
  test('what is coming is told half a year ahead, the first to be due first', async () => {
    const { entries } = (await request(demo.app).get('/api/rounds/coming').expect(200)).body as Coming;
    expect(entries.map((e) => e.household.name)).toContain('Highmoor Lodge');
    const first = entries.map((e) => Math.min(...e.summary.lives.map((l) => l.dueMs)));
    for (const ms of first) expect(ms).toBeLessThan(NOW + 190 * DAY);
    expect((await request(h.app).get('/api/rounds/coming').expect(200)).body).toEqual({ entries: [] });
  });
  test('that is none is told', async () => {
    for (const on of ['2026-13-01', 'today', '', '9999999-01-01'])
      await request(demo.app).get(`/api/day?on=${on}`).expect(422);
  });
  test('is planned by a table that two do not overwrite', async () => {
    const table = { ...NO_DAY_TABLE, minutes: { 'Corvane | Mell': 20 }, fitters: [{ person: h.person, district: 'Mell', fromMin: 480, untilMin: 960 }] }; // oxfmt-ignore
    const put = (t: object, version: number | null) => request(h.app).put('/api/day/table').send({ table: t, version });
    expect((await put(table, null).expect(200)).body).toEqual({ table, version: 0 });
    expect((await put({ ...table, withinMin: 5 }, 0).expect(200)).body).toMatchObject({ version: 1 });
    const stale = await put({ ...table, withinMin: 9 }, 0).expect(409);
    expect(stale.body).toMatchObject({ current: { table: { withinMin: 5 }, version: 1 } });
    const [fitter] = table.fitters;
    await put({ ...table, fitters: [{ ...fitter, untilMin: 400 }] }, 1).expect(422);
    await put({ ...table, minutes: { a: -1 } }, 1).expect(422);
    expect(await dayOf(h, '2026-11-30')).toMatchObject({ version: 1, table: { withinMin: 5 } });
  });
});
