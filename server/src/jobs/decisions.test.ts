import { randomUUID } from 'node:crypto';
import type { KeptBeside, KeptDecision, Shelf } from '@katharos/contract';
import { decide, errorsOf, FACT_VERSION, readJob, standingAmong, type Fact, type StandingDesign } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { computeHere, type Compute } from '../calc/compute.ts';
import { openShelf, type ShelfStore } from '../shelf/store.ts';
import { type Harness, NOW, demoHarness } from '../testing/harness.ts';
import { jobsIn } from '../testing/rounds.ts';
import { openDecisions, type Decisions } from './decisions.ts';
import { openOpened } from './opened.ts';
import { readWholeJob } from './service.ts';

let h: Harness;
let store: ShelfStore;
/** jobs by the first word of their household's name */
let jobs: ReadonlyMap<string, string>;
const warned: string[] = [];
const log = { warn: (_: unknown, said: string) => warned.push(said) } as never;
let fitter = '';
let written = 0;
let decided = 0;
const counting: Compute = {
  ...computeHere,
  decide: (input) => {
    decided++;
    return computeHere.decide(input);
  },
  tellBeside: () => Promise.resolve({}),
};
const asleep = { rests: () => Promise.resolve(), leftAloneMs: 0 };
const open = (compute: Compute = counting): Decisions =>
  openDecisions(h.db, store, openOpened(h.db, store), compute, asleep, log);
const of = (name: string): string => jobs.get(name) ?? 'nowhere';

/** What is kept of a job once it is up to what is stored of it. */
async function keptOf(decisions: Decisions, jobId: string): Promise<KeptDecision> {
  decisions.refreshSoon(jobId);
  return comes(decisions, jobId);
}
async function comes(decisions: Decisions, jobId: string): Promise<KeptDecision> {
  for (let i = 0; i < 2400; i++) {
    const [rows] = await h.db.sequelize.query(
      'SELECT d.rev = s.rev AS now FROM job_decisions d JOIN job_summaries s USING (job_id) WHERE job_id = $1',
      { bind: [jobId] },
    );
    if ((rows as { now: boolean }[])[0]?.now) break;
    await new Promise((r) => setTimeout(r, 25));
  }
  const kept = await decisions.kept(jobId);
  if (!kept) throw new Error('nothing is kept');
  return kept;
}
/** What is told beside it, once that was worked out. */
async function besideOf(decisions: Decisions, jobId: string): Promise<KeptBeside> {
  for (let i = 0; i < 2400; i++) {
    const beside = (await decisions.kept(jobId))?.beside;
    if (beside) return beside;
    await new Promise((r) => setTimeout(r, 25));
  }
  throw new Error('nothing is told beside it');
}
const write = (jobId: string, body: object): Promise<unknown> =>
  request(h.as(fitter))
    .post(`/api/jobs/${jobId}/facts`)
    .send({ facts: [{ v: FACT_VERSION, id: randomUUID(), jobId, by: fitter, at: new Date(NOW + 1000 * ++written).toISOString(), ...body } as Fact] })
    .expect(201); // oxfmt-ignore
const reading = (jobId: string, value: number): Promise<unknown> =>
  write(jobId, { kind: 'reading', field: 'runningPressureBar', value, typed: String(value) });

beforeAll(async () => {
  h = await demoHarness();
  jobs = await jobsIn(h);
  store = openShelf(h.db, h.shelf);
  fitter = await h.add('fitter');
});
afterAll(async () => {
  await h.close();
});

describe('what the server decided of a job', () => {
  test.each(['Lantern', 'Saltern', 'Highmoor', 'Chalkpit'])('is what a page would decide of it: %s', async (name) => {
    const kept = await keptOf(open(), of(name));
    const shelf = (await request(h.app).get('/api/shelf').expect(200)).body as Shelf;
    const { facts, designs } = await readWholeJob(h.db, of(name), { catalogue: shelf.parts, rules: shelf.rules });
    const { known, placed } = readJob(facts);
    const standing = standingAmong(designs, facts);
    expect(kept.stamp).toBe(shelf.stamp);
    expect(kept).toMatchObject(JSON.parse(JSON.stringify({ known, placed, standing })) as object);
    const own = decide({ known, placed, standing, catalogue: shelf.parts, rules: shelf.rules });
    expect(kept.decision).toEqual(JSON.parse(JSON.stringify(own)));
  });

  test('comes to a page by its own route; nothing where nothing was decided yet, an error where there is no such job', async () => {
    await keptOf(open(), of('Lantern'));
    const told = async (name: string): Promise<KeptDecision | null> =>
      (
        await request(h.app)
          .get(`/api/jobs/${of(name)}/decision`)
          .expect(200)
      ).body as KeptDecision | null;
    expect((await told('Lantern'))?.decision.sentence).toMatch(/L a day/);
    expect(await told('Heron')).toBeNull();
    await request(h.app).get(`/api/jobs/${randomUUID()}/decision`).expect(404);
  });

  test('follows what is read, and is not worked out again for what does not matter to it', async () => {
    const jobId = of('Saltern');
    const decisions = open();
    const before = await keptOf(decisions, jobId);
    decided = 0;
    await write(jobId, { kind: 'note', text: 'The dog is friendly.' });
    expect((await keptOf(decisions, jobId)).decision).toEqual(before.decision);
    expect(decided).toBe(0);
    await reading(jobId, 1.7);
    const after = await keptOf(decisions, jobId);
    expect(decided).toBe(1);
    expect(after.known.runningPressureBar).toBe(1.7);
    expect(after.decision).not.toEqual(before.decision);
  });

  test('is not worked out again at each reading while somebody goes on gauging', async () => {
    const jobId = of('Saltern');
    const quiet = { rests: () => new Promise<void>((r) => setTimeout(r, 5)), leftAloneMs: 1500 };
    const decisions = openDecisions(h.db, store, openOpened(h.db, store), counting, quiet, log);
    decided = 0;
    for (const bar of [2.2, 2.3, 2.4]) {
      await reading(jobId, bar);
      decisions.refreshSoon(jobId);
      await decisions.kept(jobId);
    }
    expect(decided).toBe(0);
    expect((await comes(decisions, jobId)).known.runningPressureBar).toBe(2.4);
    expect(decided).toBe(1);
  });

  test('is told as it was meanwhile: whoever reads it sees from what it was decided', async () => {
    const jobId = of('Lantern');
    const before = await keptOf(open(), jobId);
    await reading(jobId, 2.9);
    const resting = openDecisions(h.db, store, openOpened(h.db, store), counting, null, log);
    expect(await resting.kept(jobId)).toEqual(before);
  });

  test('of another build of the core is not told', async () => {
    const decisions = openDecisions(
      h.db,
      store,
      openOpened(h.db, store),
      { ...counting, version: 'another build' },
      null,
      log,
    );
    expect(await decisions.kept(of('Lantern'))).toBeNull();
  });

  test('follows the house rules, also where something is approved already', async () => {
    const decisions = open();
    const jobId = of('Highmoor');
    const before = await keptOf(decisions, jobId);
    const { rules, rulesVersion } = (await request(h.app).get('/api/shelf').expect(200)).body as Shelf;
    const stricter = { ...rules, spareCapacity: rules.spareCapacity + 0.5 };
    await request(h.as(await h.add('owner')))
      .put('/api/shelf/rules')
      .send({ rules: stricter, version: rulesVersion })
      .expect(200);
    decided = 0;
    // asked for, it is seen to be of another shelf, and brought up
    await decisions.kept(jobId);
    for (let i = 0; i < 2400 && (await decisions.kept(jobId))?.stamp === before.stamp; i++)
      await new Promise((r) => setTimeout(r, 25));
    expect((await decisions.kept(jobId))?.stamp).toBe((await store.read()).stamp);
    expect(decided).toBeGreaterThan(0);
  });

  test('one that cannot be worked out keeps no other back', async () => {
    const decisions = open({
      ...counting,
      decide: (input) => (input.known.runningPressureBar === 1.1 ? Promise.reject(new Error('torn')) : counting.decide(input)),
    }); // oxfmt-ignore
    await reading(of('Saltern'), 2.1);
    await reading(of('Fenmill'), 1.1);
    decisions.refreshSoon(of('Saltern'));
    decisions.refreshSoon(of('Fenmill'));
    expect((await comes(decisions, of('Saltern'))).known.runningPressureBar).toBe(2.1);
    // the newest comes first: it had failed by then
    expect(warned).toEqual(['what is decided of a job is not kept']);
  });

  test('is there before anybody opens a job in hand, those visited next first; of others nothing is worked out', async () => {
    const order: string[] = [];
    const opened = openOpened(h.db, store);
    const reads: typeof opened.read = (jobId) => {
      order.push(jobId);
      return opened.read(jobId);
    };
    await h.db.sequelize.query('DELETE FROM job_decisions');
    await h.db.sequelize.query('UPDATE job_summaries SET visit_days = ARRAY[current_date + 1] WHERE job_id = $1', {
      bind: [of('Gable')],
    });
    const decisions = openDecisions(h.db, store, { ...opened, read: reads }, counting, asleep, log);
    await decisions.lookAhead(true);
    const rowsOf = async (sql: string): Promise<string[]> =>
      ((await h.db.sequelize.query(sql))[0] as { id: string }[]).map((r) => r.id).sort();
    const open = await rowsOf('SELECT job_id AS id FROM job_summaries WHERE open');
    expect(open.length).toBeGreaterThan(10);
    for (const jobId of open) await comes(decisions, jobId);
    expect(await rowsOf('SELECT job_id AS id FROM job_decisions')).toEqual(open);
    expect(order[0]).toBe(of('Gable'));
    for (const jobId of open) await besideOf(decisions, jobId);
    // what is up to date is left as it is
    decided = 0;
    order.length = 0;
    await decisions.lookAhead(true);
    expect(order).toEqual([]);
  });

  test('has beside it, in a quiet hour, what a page would tell there; not after what moves it until the next', async () => {
    const jobId = of('Chalkpit');
    const asked: unknown[][] = [];
    const told = { turns: { looked: [], turns: [] } };
    const decisions = open({ ...counting, tellBeside: (...of) => (asked.push(of), Promise.resolve(told)) });
    await h.db.sequelize.query('UPDATE job_decisions SET beside = NULL WHERE job_id = $1', { bind: [jobId] });
    const { decision, ...kept } = await keptOf(decisions, jobId);
    expect(kept.beside).toBeNull();
    await decisions.lookAhead(true);
    const beside = await besideOf(decisions, jobId);
    const shelf = (await request(h.app).get('/api/shelf').expect(200)).body as Shelf;
    const { facts, designs } = await readWholeJob(h.db, jobId, { catalogue: shelf.parts, rules: shelf.rules });
    const { known, placed, readings } = readJob(facts);
    const errors = errorsOf(Object.values(readings), shelf.instruments);
    expect(Object.keys(errors).length).toBeGreaterThan(0);
    expect(beside).toEqual({ errors, told });
    const standing = JSON.parse(JSON.stringify(standingAmong(designs, facts))) as StandingDesign;
    expect(standing).not.toBeNull();
    const input = { known, placed, standing, catalogue: shelf.parts, rules: shelf.rules };
    expect(asked).toEqual([[input, decision, errors]]);
    await write(jobId, { kind: 'note', text: 'The gate sticks.' });
    expect((await keptOf(decisions, jobId)).beside).toEqual(beside);
    await reading(jobId, 2.7);
    expect((await keptOf(decisions, jobId)).beside).toBeNull();
  });
});
