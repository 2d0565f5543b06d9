import { randomUUID } from 'node:crypto';
import type { Job } from '@katharos/contract';
import { FACT_VERSION } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import type { Db } from '../db/models.ts';
import { openShelf, type ShelfStore } from '../shelf/store.ts';
import { type Harness, NOW, demoHarness } from '../testing/harness.ts';
import { jobsIn } from '../testing/rounds.ts';
import { openOpened, type OpenedJobs } from './opened.ts';
import { readWholeJob } from './service.ts';

let h: Harness;
let store: ShelfStore;
let fitter = '';
let written = 0;
let jobs: ReadonlyMap<string, string>;
const of = (name: string): string => jobs.get(name) ?? 'nowhere';

beforeAll(async () => {
  h = await demoHarness();
  jobs = await jobsIn(h);
  store = openShelf(h.db, h.shelf);
  fitter = await h.add('fitter');
});
afterAll(async () => {
  await h.close();
});

const note = (jobId: string, text: string) => ({ v: FACT_VERSION, id: randomUUID(), jobId, by: fitter, at: new Date(NOW + ++written).toISOString(), kind: 'note', text }); // oxfmt-ignore
const write = (jobId: string, text: string): Promise<unknown> => request(h.as(fitter)).post(`/api/jobs/${jobId}/facts`).send({ facts: [note(jobId, text)] }).expect(201); // oxfmt-ignore
/** As it is read whole, from nothing. */
async function whole(jobId: string): Promise<Job> {
  const { parts: catalogue, rules } = await store.read();
  return readWholeJob(h.db, jobId, { catalogue, rules });
}
/** Opens jobs and counts the facts that are fetched for it. */
function counting(): OpenedJobs & { readonly fetched: () => number } {
  let n = 0;
  const query = async (...asked: Parameters<Db['sequelize']['query']>): Promise<unknown> => {
    const rows = (await h.db.sequelize.query(...asked)) as unknown as { more?: unknown[] }[];
    n += rows[0]?.more?.length ?? 0;
    return rows;
  };
  const opened = openOpened({ ...h.db, sequelize: { query } as never }, store);
  return {
    ...opened,
    fetched: () => {
      const before = n;
      n = 0;
      return before;
    },
  };
}
async function expectWhole(opened: OpenedJobs, jobId: string): Promise<void> {
  const { household, facts, designs, unreadable, text } = await opened.read(jobId);
  const job = await whole(jobId);
  expect({ id: jobId, household, facts, designs, unreadable }).toEqual(job);
  expect(JSON.parse(`[${text.facts}]`)).toEqual(job.facts);
  expect(JSON.parse(`[${text.designs}]`)).toEqual(job.designs);
}

describe('a job that was opened before', () => {
  test.each(['Lantern', 'Highmoor', 'Chalkpit', 'Weir'])('is what it is read whole: %s', async (name) => {
    const opened = counting();
    await expectWhole(opened, of(name));
    await write(of(name), 'once more');
    await expectWhole(opened, of(name));
  });

  test('is read only as far as it is new', async () => {
    const opened = counting();
    await opened.read(of('Highmoor'));
    expect(opened.fetched()).toBeGreaterThan(20);
    await opened.read(of('Highmoor'));
    expect(opened.fetched()).toBe(0);
    await write(of('Highmoor'), 'a');
    await write(of('Highmoor'), 'b');
    await expectWhole(opened, of('Highmoor'));
    expect(opened.fetched()).toBe(2);
  });

  test('is read anew where its facts are not those that were read: taken away, or one committed late', async () => {
    const opened = counting();
    const jobId = of('Saltern');
    await write(jobId, 'first');
    await write(jobId, 'last');
    const { facts } = await opened.read(jobId);
    await h.db.sequelize.query('DELETE FROM facts WHERE id = $1', { bind: [facts.at(-2)?.id] });
    await expectWhole(opened, jobId);
    const late = note(jobId, 'late');
    await h.db.sequelize.query(
      `INSERT INTO facts (seq, id, job_id, kind, at, by, body)
         VALUES ((SELECT max(seq) - 1 FROM facts WHERE job_id = $1), $2, $1, 'note', $3, $4, $5::jsonb)`,
      { bind: [jobId, late.id, late.at, fitter, JSON.stringify(late)] },
    );
    await expectWhole(opened, jobId);
    expect((await opened.read(jobId)).facts.map((f) => f.id)).toContain(late.id);
  });

  test('is read anew once something was approved: an older fact may be read otherwise', async () => {
    const opened = counting();
    const jobId = of('Chalkpit');
    const { designs } = await opened.read(jobId);
    const last = designs.at(-1);
    opened.fetched();
    await h.db.sequelize.query(
      `INSERT INTO designs (id, job_id, number, body, at, by)
         SELECT $2::uuid, job_id, number + 1, body || jsonb_build_object('id', $2::text, 'number', number + 1), at, by FROM designs WHERE id = $1`,
      { bind: [last?.id, randomUUID()] },
    );
    await expectWhole(opened, jobId);
    expect((await opened.read(jobId)).designs).toHaveLength(designs.length + 1);
  });

  test('keeps telling of what cannot be read', async () => {
    const opened = counting();
    const jobId = of('Fenmill');
    await opened.read(jobId);
    await h.db.sequelize.query(
      `INSERT INTO facts (id, job_id, kind, at, by, body) VALUES ($1, $2, 'note', now(), $3, $4::jsonb)`,
      { bind: [randomUUID(), jobId, fitter, JSON.stringify({ id: 'odd', kind: 'from the future' })] },
    );
    await expectWhole(opened, jobId);
    await write(jobId, 'after it');
    await expectWhole(opened, jobId);
    expect((await opened.read(jobId)).unreadable).toHaveLength(1);
  });

  test('shows its household as it is now, and is an error where there is none', async () => {
    const opened = counting();
    const { household } = await opened.read(of('Lantern'));
    await h.db.Household.update({ notes: 'Ring twice' }, { where: { id: household.id } });
    expect((await opened.read(of('Lantern'))).household.notes).toBe('Ring twice');
    await expect(opened.read(randomUUID())).rejects.toThrow();
  });
});
