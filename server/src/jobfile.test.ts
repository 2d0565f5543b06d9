import { randomUUID } from 'node:crypto';
import { CALCULATORS, JobFileSchema, type JobFile } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { loadDemo } from './demo/load.ts';
import { harness, NOW, type Harness } from './testing/harness.ts';

let h: Harness;
let other: Harness;
let files: JobFile[];
beforeAll(async () => {
  [h, other] = [await harness(), await harness()];
  await loadDemo(h.db, h.shelf, true, NOW);
  const rounds = (await request(h.app).get('/api/rounds').expect(200)).body as { jobId: string }[];
  files = [];
  for (const { jobId } of rounds)
    files.push(JobFileSchema.parse((await request(h.app).get(`/api/jobs/${jobId}/file`).expect(200)).body));
});
afterAll(async () => {
  await h.close();
  await other.close();
});
const bring = (file: unknown, by = other.person) => request(other.app).post('/api/jobs/import').send({ file, by });
const first = (): JobFile => {
  const f = files.find((x) => x.designs.length > 0);
  if (!f) throw new Error('no job with a design');
  return f;
};

describe('job files', () => {
  test('each demo job goes out and into another firm exactly', async () => {
    expect(files.length).toBeGreaterThan(4);
    for (const file of files) {
      const { jobId } = (await bring(file).expect(201)).body as { jobId: string };
      const again = (await request(other.app).get(`/api/jobs/${jobId}/file`).expect(200)).body as unknown;
      expect(again).toEqual(file);
    }
  });
  test('a job that is here already is not taken in twice', async () => {
    const res = await bring(first());
    expect(res.status).toBe(409);
    expect(res.body).toMatchObject({ errors: [{ path: 'file.jobId' }] });
  });
  test('is taken in whole or not at all', async () => {
    const file = first();
    const jobId = randomUUID();
    const household = { ...file.household, id: randomUUID() };
    // its facts stand for another job here
    const facts = file.facts.map((f) => ({ ...f, jobId }));
    await bring({ ...file, jobId, household, facts, designs: [] }).expect(409);
    await request(other.app).get(`/api/jobs/${jobId}`).expect(404);
  });
  test('somebody of the same name stays told apart', async () => {
    const stranger = randomUUID();
    const file = {
      format: 'katharos-job',
      version: 1,
      household: { id: randomUUID(), name: 'Mill Lane 3', place: '', contact: '', notes: '' },
      jobId: randomUUID(),
      people: [{ id: stranger, name: first().people[0]?.name ?? '' }],
      facts: [],
      designs: [],
    };
    await bring(file).expect(201);
    const people = (await request(other.app).get('/api/people')).body as { id: string; name: string }[];
    expect(people.find((p) => p.id === stranger)?.name).toMatch(/ 2$/);
  });
  test.each([
    ['a file without its household', { format: 'katharos-job', version: 1 }, 'file.household'],
    ['another format', { format: 'something', version: 1 }, 'file.format'],
  ])('%s is refused at its place', async (_, file, path) => {
    const res = await bring(file);
    expect(res.status).toBe(422);
    expect((res.body as { errors: { path: string }[] }).errors[0]?.path).toBe(path);
  });
  test('the calculators take the same file, and decide what the firm decided', () => {
    const file = first();
    const r = CALCULATORS.size?.answer(file, { catalogue: h.shelf.parts, rules: h.shelf.rules });
    expect(r).toMatchObject({ ok: true, output: { chosen: { design: file.designs[0]?.design } } });
  });
});
