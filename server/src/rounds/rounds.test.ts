import { randomUUID } from 'node:crypto';
import type { Changes, Rounds, RoundsEntry, RoundsPage } from '@katharos/contract';
import { FACT_VERSION, summarise, type Fact } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import request from 'supertest';
import { readWholeJob } from '../jobs/service.ts';
import { harness, type Harness, NOW, demoHarness } from '../testing/harness.ts';
import { roundOf } from '../testing/rounds.ts';

let h: Harness;
let demo: Harness;
beforeAll(async () => {
  [h, demo] = [await harness(), await demoHarness()];
  await request(h.app).get('/api/shelf').expect(200);
});
afterAll(async () => {
  await h.close();
  await demo.close();
});

const edit = { place: 'Town', contact: '', notes: '' };
async function household(app: Harness, name: string): Promise<{ id: string; jobId: string }> {
  const ids = { id: randomUUID(), jobId: randomUUID() };
  await request(app.app)
    .post('/api/households')
    .send({ ...edit, ...ids, name, by: app.person })
    .expect(201);
  return ids;
}
const reading = (jobId: string, by: string, value: number): Fact => ({
  v: FACT_VERSION, id: randomUUID(), jobId, by, at: new Date(NOW + value).toISOString(), kind: 'reading', field: 'feedTdsMgL', value, typed: String(value),
}); // oxfmt-ignore
const post = (app: Harness, jobId: string, facts: Fact[]): request.Test =>
  request(app.app).post(`/api/jobs/${jobId}/facts`).send({ facts });
const round = async (app: Harness, query = ''): Promise<Rounds> => (await request(app.app).get(`/api/rounds${query}`).expect(200)).body as Rounds; // oxfmt-ignore
const changes = async (since?: string): Promise<Changes> => (await request(h.app).get(`/api/changes${since === undefined ? '' : `?since=${since}`}`).expect(200)).body as Changes; // oxfmt-ignore

describe('where each job stands', () => {
  test('is kept beside it as it would be worked out', async () => {
    const shelf = { catalogue: demo.shelf.parts, rules: demo.shelf.rules };
    for (const e of await roundOf(demo)) {
      const { facts, designs } = await readWholeJob(demo.db, e.jobId, shelf);
      const worked = summarise(facts, designs, shelf.catalogue, shelf.rules, NOW);
      expect(e.summary).toEqual(JSON.parse(JSON.stringify(worked)));
    }
  });
  test('of a job in several lists is told alike in each', async () => {
    const { clocks, due, visits, open, kept } = await round(demo);
    const told = new Map<string, unknown[]>();
    for (const e of [...clocks, ...due, ...visits, ...open.entries, ...kept.entries])
      told.set(e.jobId, [...(told.get(e.jobId) ?? []), e]);
    const several = [...told.values()].filter((all) => all.length > 1);
    expect(several.length).toBeGreaterThan(5);
    for (const [first, ...others] of several) for (const other of others) expect(other).toEqual(first);
  });
  test('is told as it was just written, or as behind, however soon somebody looks again', async () => {
    const { jobId } = await household(h, 'Close 1');
    const fields = ['feedTdsMgL', 'hardnessMgL', 'pH', 'temperatureC', 'coldestC'] as const;
    const nextOf = (all: readonly RoundsEntry[]): string => all.find((e) => e.jobId === jobId)?.summary.next ?? '';
    const fresh: boolean[] = [];
    for (const [i, field] of fields.entries()) {
      await post(h, jobId, [{ ...reading(jobId, h.person, 8), field } as Fact]).expect(201);
      const { open, behind } = await round(h);
      // what is told is what was written, unless it is said that some are behind
      if (behind === 0) fresh.push(nextOf(open.entries).includes(`${String(i + 1)} reading`));
    }
    expect(fresh).not.toContain(false);
    expect(nextOf(await roundOf(h))).toContain('5 readings');
  });
  test('is told with the household as it is now, though nothing else moved since it was told', async () => {
    const { id, jobId } = await household(h, 'Close 2');
    await roundOf(h);
    const named = async (): Promise<string | undefined> =>
      (await round(h)).open.entries.find((e) => e.jobId === jobId)?.household.name;
    expect([await named(), await named()]).toEqual(['Close 2', 'Close 2']);
    await request(h.app)
      .put(`/api/households/${id}`)
      .send({ ...edit, name: 'Close 3', version: 0 })
      .expect(200);
    expect([await named(), await named()]).toEqual(['Close 3', 'Close 3']);
  });
  test('holds after many have written at once', async () => {
    const { jobId } = await household(h, 'Burst 1');
    await Promise.all(Array.from({ length: 24 }, (_, i) => post(h, jobId, [reading(jobId, h.person, i + 1)]).expect(201)));
    const isStale = async (): Promise<boolean | undefined> =>
      ((await h.db.sequelize.query('SELECT stale FROM job_summaries WHERE job_id = $1', { bind: [jobId] }))[0] as { stale: boolean }[])[0]?.stale;
    // brought up beside the writes, not before they are answered
    for (let i = 0; i < 200 && (await isStale()) !== false; i++) await new Promise((r) => setTimeout(r, 25));
    expect(await isStale()).toBe(false);
    const found = (await roundOf(h)).find((e) => e.jobId === jobId);
    expect(found?.summary).toMatchObject({ lens: 'gauge', next: 'Gauge goes on: 1 reading is in.' });
  }); // oxfmt-ignore
  test('follows whatever way its facts came in, and a rule that is changed where nothing is approved', async () => {
    const { jobId } = await household(h, 'By hand 1');
    const f = reading(jobId, h.person, 7);
    await h.db.Fact.create({ id: f.id, jobId, kind: f.kind, at: new Date(f.at), by: f.by, body: f });
    expect((await roundOf(h)).find((e) => e.jobId === jobId)?.summary.next).toContain('1 reading is in');
    await h.db.Rules.update({ version: 1 }, { where: { id: 'firm' } });
    const [behind] = await h.db.sequelize.query('SELECT count(*)::int AS n FROM job_summaries WHERE stale').then(([r]) => r as { n: number }[]);
    expect(behind?.n).toBeGreaterThan(0);
    await demo.db.Rules.update({ version: 1 }, { where: { id: 'firm' } });
    const [kept] = await demo.db.sequelize.query('SELECT count(*)::int AS n FROM job_summaries WHERE stale AND approved').then(([r]) => r as { n: number }[]);
    expect(kept?.n).toBe(0);
    await roundOf(h);
    expect((await round(h)).behind).toBe(0);
  }); // oxfmt-ignore
  test('of many that are looked at anew is told as it was until it is, and how many still are', async () => {
    const before = await roundOf(demo);
    await demo.db.sequelize.query('UPDATE job_summaries SET stale = true WHERE job_id IN (SELECT job_id FROM job_summaries LIMIT 12)');
    const { open, kept, behind } = await round(demo);
    expect([...open.entries, ...kept.entries].map((e) => e.jobId)).toEqual(before.map((e) => e.jobId));
    const [stale] = await demo.db.sequelize.query('SELECT count(*)::int AS n FROM job_summaries WHERE stale').then(([r]) => r as { n: number }[]);
    expect(stale?.n).toBeLessThanOrEqual(behind);
    expect(behind).toBeGreaterThan(0);
    // who goes on looking finds them all looked at, though nobody else sees to it
    let last = await round(demo);
    while (last.behind > 0) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      last = await round(demo);
    }
    expect([...last.open.entries, ...last.kept.entries]).toEqual(before);
  }); // oxfmt-ignore
  test('a job that cannot be worked out is told as such, and the others stand', async () => {
    const { jobId } = await household(h, 'Odd 1');
    await h.db.Design.create({ id: randomUUID(), jobId, number: 1, body: { v: 99 }, at: new Date(NOW), by: h.person });
    const all = await roundOf(h);
    expect(all.map((e) => e.jobId)).toContain(jobId);
    expect(all.length).toBeGreaterThan(2);
  });
  test('clocks and what is due come first to be due first', async () => {
    const { clocks, due, kept } = await round(demo);
    expect(clocks.map((e) => e.household.name)).toEqual(['Cooper Yard 6', 'Chalkpit Row 3']);
    const dueMs = due.map((e) =>
      Math.min(...e.summary.lives.map((l) => l.dueMs), ...e.summary.asks.map((a) => Date.parse(a.from))),
    );
    expect(due.map((e) => e.household.name)).toContain('Highmoor Lodge');
    expect(due.length).toBeGreaterThan(10);
    expect(dueMs.every(Number.isFinite)).toBe(true);
    const names = kept.entries.map((e) => e.household.name);
    expect(names).toEqual(expect.arrayContaining(['Highmoor Lodge', 'Heron Yard 8']));
    expect(names.length).toBeGreaterThan(30);
  });
});

describe('the list of every household', () => {
  test('is taken out as CSV, a line each, whatever they wrote into their names', async () => {
    const { id } = await household(h, '=HYPERLINK("x"), "Row" 7');
    await request(h.app).put(`/api/households/${id}`).send({ ...edit, name: '=HYPERLINK("x"), "Row" 7', phone: '+1 555 2', keyHolder: 'The shop\nbelow', version: 0 }).expect(200);
    const res = await request(h.app).get('/api/rounds/list.csv').expect(200).expect('content-disposition', /households.csv/u);
    const { data } = Papa.parse<Record<string, string>>(res.text, { header: true, skipEmptyLines: true });
    expect(data).toHaveLength((await roundOf(h)).length);
    expect(data.at(-1)).toMatchObject({ household: '\'=HYPERLINK("x"), "Row" 7', key: 'The shop\nbelow', phone: "'+1 555 2", inService: 'no', part: 'gauge' });
    expect(Object.keys(data[0] ?? {})).toContain('nextDue');
  }); // oxfmt-ignore
});

describe('a list of many', () => {
  test('comes a page at a time, each job once, and is searched whole', async () => {
    const names = Array.from({ length: 120 }, (_, i) => `Row House ${String(i).padStart(3, '0')}`);
    for (const name of names) await household(h, name);
    const seen: string[] = [];
    let page: RoundsPage = (await round(h, '?find=row%20house')).open;
    for (let n = 0; n < 10; n++) {
      seen.push(...page.entries.map((e) => e.household.name));
      if (page.next === null) break;
      page = (await request(h.app).get('/api/rounds/open').query({ find: 'row house', after: page.next }).expect(200)).body as RoundsPage; // oxfmt-ignore
    }
    expect(seen).toEqual(names);
    // the whole list goes on past what is read at once, each once
    const listed = Papa.parse<Record<string, string>>((await request(h.app).get('/api/rounds/list.csv').expect(200)).text, { header: true, skipEmptyLines: true }).data; // oxfmt-ignore
    expect(listed.flatMap((r) => (r.household?.startsWith('Row House') ? [r.household] : []))).toEqual(names);
    expect(new Set(listed.map((r) => r.job)).size).toBe(listed.length);
    expect((await round(h, '?find=House%20007')).open.entries.map((e) => e.household.name)).toEqual(['Row House 007']);
    expect((await round(h, '?find=%25')).open.entries).toEqual([]);
  });
  test('a place in it that is none is refused at its field', async () => {
    const r = await request(h.app).get('/api/rounds/open?after=yesterday').expect(422);
    expect((r.body as { errors: { path: string }[] }).errors[0]?.path).toBe('after');
  });
});

describe('what was written since', () => {
  test('a write that began before the bound and was stored after it is not skipped', async () => {
    const { jobId } = await household(h, 'Late 1');
    const other = await household(h, 'Early 1');
    const slow = await h.db.sequelize.transaction();
    const f = reading(jobId, h.person, 9);
    await h.db.Fact.create({ id: f.id, jobId, kind: f.kind, at: new Date(f.at), by: f.by, body: f }, { transaction: slow });
    await post(h, other.jobId, [reading(other.jobId, h.person, 3)]).expect(201);
    const first = await changes();
    expect(first.jobs).toEqual([]);
    await slow.commit();
    const then = await changes(first.bound);
    expect(then.jobs).toContain(jobId);
    // told again while any transaction of the cluster is older, another database's too; then not
    let quiet = await changes(then.bound);
    for (let i = 0; i < 200 && quiet.jobs.includes(jobId); i++) {
      await new Promise((r) => setTimeout(r, 50));
      quiet = await changes(quiet.bound);
    }
    expect(quiet.jobs).not.toContain(jobId);
  }); // oxfmt-ignore
  test('an edit of a household, a part or a person is told; a bound from another life tells all', async () => {
    const { id, jobId } = await household(h, 'Edited 1');
    const before = await changes();
    await request(h.app).put(`/api/households/${id}`).send({ ...edit, name: 'Edited 2', version: 0, by: h.person }).expect(200); // oxfmt-ignore
    await request(h.app).post('/api/people').send({ name: 'Ode Marr', role: 'reader' }).expect(201);
    const after = await changes(before.bound);
    expect(after.jobs).toContain(jobId);
    expect(after.shelf).not.toBe(before.shelf);
    const restored = await changes('9000000000000000000');
    expect(restored.jobs.length).toBeGreaterThan(100);
    await request(h.app).get('/api/changes?since=soon').expect(422);
  });
});
