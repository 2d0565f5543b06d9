import { randomUUID } from 'node:crypto';
import {
  AnyJobFileSchema,
  CALCULATORS,
  decide,
  DesignVersionSchema,
  liftJobFile,
  type DesignVersion,
  type JobFile,
} from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { harness, type Harness, demoHarness } from './testing/harness.ts';
import { roundOf } from './testing/rounds.ts';

let h: Harness;
let other: Harness;
let files: JobFile[];
beforeAll(async () => {
  [h, other] = [await demoHarness(), await harness()];
  const rounds = await roundOf(h);
  files = [];
  for (const { jobId } of rounds)
    files.push(opened((await request(h.app).get(`/api/jobs/${jobId}/file`).expect(200)).body));
});
afterAll(async () => {
  await h.close();
  await other.close();
});
/** A file as anybody may read it. */
const opened = (raw: unknown): JobFile =>
  liftJobFile(AnyJobFileSchema.parse(raw), { catalogue: h.shelf.parts, rules: h.shelf.rules });
const bring = (file: unknown, by = other.person) => request(other.app).post('/api/jobs/import').send({ file, by });
const first = (): Omit<JobFile, 'unreadable'> => {
  const f = files.find((x) => x.designs.length > 0);
  if (!f) throw new Error('no job with a design');
  const { unreadable, ...file } = f;
  expect(unreadable).toEqual([]);
  return file;
};

describe('job files', () => {
  test('each demo job goes out and into another firm exactly', async () => {
    expect(files.length).toBeGreaterThan(4);
    for (const { unreadable, ...file } of files) {
      expect(unreadable).toEqual([]);
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
  test('its photographs go with it, whole; one that may tell where it was taken, or stands for another, brings nothing in', async () => {
    const file = first();
    const by = file.people[0]?.id ?? '';
    const bytes = Buffer.concat([Buffer.from([0xff, 0xd8, 0xff, 0xda, 0, 8]), Buffer.from('a picture of a drip')]);
    const picture = randomUUID();
    await request(h.app)
      .put(`/api/jobs/${String(file.jobId)}/pictures/${picture}`)
      .query({ by })
      .type('image/jpeg')
      .send(bytes)
      .expect(201);
    const out = opened(
      (
        await request(h.app)
          .get(`/api/jobs/${String(file.jobId)}/file`)
          .expect(200)
      ).body,
    );
    expect(out.pictures).toEqual([{ id: picture, by, base64: bytes.toString('base64') }]);
    expect(out.people.map((p) => p.id)).toContain(by);
    const third = await harness();
    try {
      const into = (body: object) => request(third.app).post('/api/jobs/import').send({ file: body, by: third.person });
      const { unreadable: ignored, ...whole } = out;
      expect(ignored).toEqual([]);
      const exif = Buffer.concat([Buffer.from([0xff, 0xd8, 0xff, 0xe1, 0, 10]), Buffer.from('Exif\0\0GPS')]);
      const told = [{ id: picture, by, base64: exif.toString('base64') }];
      const refused = await into({ ...whole, pictures: told }).expect(422);
      expect(refused.body).toMatchObject({ errors: [{ path: 'file.pictures.0' }] });
      await into({ ...whole, pictures: [{ ...told[0], base64: 'not base64!' }] }).expect(422);
      await request(third.app)
        .get(`/api/jobs/${String(file.jobId)}`)
        .expect(404);
      await into(whole).expect(201);
      const back = await request(third.app)
        .get(`/api/jobs/${String(file.jobId)}/pictures/${picture}`)
        .buffer(true)
        .expect(200);
      expect((back.body as Buffer).equals(bytes)).toBe(true);
    } finally {
      await third.close();
    }
  });
  test('somebody of the same name stays told apart', async () => {
    const stranger = randomUUID();
    const file = {
      format: 'katharos-job',
      version: 2,
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
    ['a file without its household', { format: 'katharos-job', version: 2 }, 'file.household'],
    ['another format', { format: 'something', version: 1 }, 'file.format'],
  ])('%s is refused at its place', async (_, file, path) => {
    const res = await bring(file);
    expect(res.status).toBe(422);
    expect((res.body as { errors: { path: string }[] }).errors[0]?.path).toBe(path);
  });
  test('the calculators take the same file, and decide what the firm decided', () => {
    const file = first();
    const r = CALCULATORS.size?.answer(file, { catalogue: h.shelf.parts, rules: h.shelf.rules });
    expect(r).toMatchObject({ ok: true, output: { sentence: file.designs[0]?.judged.sentence } });
  });
  test('one of the first format opens, with all it holds, by the shelf it carries', async () => {
    const file = first();
    const { known } = file.designs[0]?.judged ?? {};
    const d = decide({ known: known ?? {}, catalogue: h.shelf.parts, rules: h.shelf.rules });
    if (d.kind !== 'recommendation') throw new Error(d.sentence);
    const jobId = randomUUID();
    const by = file.people[0]?.id ?? '';
    const fact = (f: object) => ({ id: randomUUID(), jobId, by, at: '2026-05-02T08:00:00.000Z', ...f });
    const old = {
      format: 'katharos-job',
      version: 1,
      household: { id: randomUUID(), name: 'Old House', place: '', contact: '', notes: '' },
      jobId,
      people: file.people,
      facts: [
        ...Object.entries(known ?? {}).map(([field, value]) => fact({ kind: 'reading', field, value, typed: String(value), at: '2026-05-01T08:00:00.000Z' })),
        fact({ kind: 'look', round: 'look-ten', joint: 3, result: 'dry' }),
        fact({ kind: 'visit', reason: 'change', changed: ['carbon-2'] }),
      ],
      designs: [{ id: randomUUID(), number: 1, design: d.chosen.design, sentence: 'As said.', reason: '', coreVersion: '0.2.0', at: '2026-05-01T09:00:00.000Z', by }],
    }; // oxfmt-ignore
    await bring(old).expect(201);
    const job = (await request(other.app).get(`/api/jobs/${jobId}`).expect(200)).body as {
      facts: { kind: string; joint?: string }[];
      designs: DesignVersion[];
      unreadable: unknown[];
    };
    expect(job.unreadable).toEqual([]);
    expect(job.facts).toHaveLength(old.facts.length);
    expect(job.facts.find((f) => f.kind === 'look')?.joint).toBe('sediment.in');
    expect(job.designs[0]?.judged).toMatchObject({ sentence: 'As said.', shelf: 'as at the change of version' });
    expect(DesignVersionSchema.safeParse(job.designs[0]).success).toBe(true);
  });
});
