import { randomUUID } from 'node:crypto';
import { PROBLEMS, ProblemSchema, type ProblemCode } from '@katharos/contract';
import { decide, makeVersion, readJob, type DesignVersion, type Fact } from '@katharos/core';
import { demoInstruments, shippedFirm } from '@katharos/demo';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request, { type Response } from 'supertest';
import { loadDemo } from './demo/load.ts';
import { roundOf } from './testing/rounds.ts';
import { FIRM, demoHarness, harness, NOW, type Harness } from './testing/harness.ts';

let h: Harness;
beforeAll(async () => {
  h = await harness();
});
afterAll(() => h.close());

interface Opened {
  readonly householdId: string;
  readonly jobId: string;
}
async function household(name = 'Mill Lane 2'): Promise<Opened> {
  const ids = { id: randomUUID(), jobId: randomUUID() };
  await request(h.app)
    .post('/api/households')
    .send({ ...ids, name, place: 'Town', contact: '', notes: '', by: h.person })
    .expect(201);
  return { householdId: ids.id, jobId: ids.jobId };
}
const reading = (jobId: string, change: Partial<Record<string, unknown>> = {}): Fact => ({
  v: 2,
  id: randomUUID(),
  jobId,
  at: '2026-05-01T08:00:00.000Z',
  by: h.person,
  kind: 'reading',
  field: 'feedTdsMgL',
  value: 310,
  typed: '310 mg/L',
  ...change,
});
const send = (jobId: string, ...facts: unknown[]) => request(h.app).post(`/api/jobs/${jobId}/facts`).send({ facts });
function expectProblem(res: Response, code: ProblemCode): ReturnType<typeof ProblemSchema.parse> {
  expect(res.headers['content-type']).toContain('application/problem+json');
  const p = ProblemSchema.parse(JSON.parse(res.text));
  expect(p).toMatchObject({
    type: `urn:katharos:problem:${code}`,
    status: PROBLEMS[code].status,
    title: PROBLEMS[code].title,
  });
  expect(res.status).toBe(PROBLEMS[code].status);
  expect(res.text).not.toMatch(/ at .*\.ts:|node_modules/);
  return p;
}

describe('facts', () => {
  test('are stored once however often they are sent, in the order they came', async () => {
    const { jobId } = await household();
    const a = reading(jobId);
    const b = reading(jobId, { value: 320, typed: '320' });
    expect((await send(jobId, a, b).expect(201)).body).toEqual({ stored: 2 });
    expect((await send(jobId, a, b).expect(201)).body).toEqual({ stored: 0 });
    const job = (await request(h.app).get(`/api/jobs/${jobId}`).expect(200)).body as { facts: Fact[] };
    expect(job.facts).toEqual([a, b]);
  });
  test('an id that stands for another fact is refused, and nothing of that batch is stored', async () => {
    const { jobId } = await household();
    const a = reading(jobId);
    await send(jobId, a).expect(201);
    const p = expectProblem(await send(jobId, reading(jobId), { ...a, value: 999 }), 'fact-conflict');
    expect(p.errors?.[0]?.path).toBe('facts.1.id');
    expect(await h.db.Fact.count({ where: { jobId } })).toBe(1);
  });
  test.each([
    ['a value outside its field’s range', { field: 'staticPressureBar', value: 99 }, 'facts.0.value'],
    ['an unknown field', { field: 'colour' }, 'facts.0.field'],
    ['a time that is none', { at: 'yesterday' }, 'facts.0.at'],
    ['a kind nobody knows', { kind: 'rumour' }, 'facts.0.kind'],
  ])('%s is answered with the path to it', async (_, change, path) => {
    const { jobId } = await household();
    const p = expectProblem(await send(jobId, reading(jobId, change)), 'bad-value');
    expect(p.errors?.map((e) => e.path)).toContain(path);
  });
  test('nobody writes in another’s name', async () => {
    const { jobId } = await household();
    expectProblem(await send(jobId, reading(jobId, { by: randomUUID() })), 'somebody-elses');
    expect(await h.db.Fact.count({ where: { jobId } })).toBe(0);
  });
  test('a fact of another job, and a job nobody has, are refused', async () => {
    const { jobId } = await household();
    expectProblem(await send(jobId, reading(randomUUID())), 'bad-value');
    const nowhere = randomUUID();
    expectProblem(await send(nowhere, reading(nowhere)), 'not-found');
  });
  test('two people sending at once lose nothing', async () => {
    const { jobId } = await household();
    const batches = Array.from({ length: 8 }, (_, i) => [
      reading(jobId, { value: 300 + i }),
      reading(jobId, { value: 400 + i }),
    ]);
    await Promise.all(batches.map((b) => send(jobId, ...b).expect(201)));
    expect(await h.db.Fact.count({ where: { jobId } })).toBe(16);
  });
});

describe('a write sent twice at once', () => {
  const twice = async (ask: () => Promise<Response>): Promise<Response[]> => Promise.all([ask(), ask(), ask()]);
  test('of facts is stored once, and what is counted is what was stored', async () => {
    const { jobId } = await household();
    const facts = [reading(jobId), reading(jobId, { value: 320, typed: '320' })];
    const answers = await twice(() => Promise.resolve(send(jobId, ...facts)));
    expect(answers.map((r) => r.status)).toEqual([201, 201, 201]);
    expect(answers.map((r) => (r.body as { stored: number }).stored).sort()).toEqual([0, 0, 2]);
    // others who write at the same moment are counted as theirs
    const [a, b] = await Promise.all([send(jobId, reading(jobId)), send(jobId, reading(jobId), reading(jobId))]);
    expect([a.body, b.body]).toEqual([{ stored: 1 }, { stored: 2 }]);
  });
  test('of a household, and of an edit of it, is one; another under its id is refused', async () => {
    const [id, jobId] = [randomUUID(), randomUUID()];
    const born = { id, jobId, name: 'Twice Lane 2', place: 'Town', contact: '', notes: '', by: h.person };
    const post = (body: object) => twice(() => Promise.resolve(request(h.app).post('/api/households').send(body)));
    expect((await post(born)).map((r) => r.status)).toEqual([201, 201, 201]);
    expect(await h.db.Job.count({ where: { householdId: id } })).toBe(1);
    expectProblem(await request(h.app).post('/api/households').send({ ...born, jobId: randomUUID() }), 'fact-conflict');
    const edit = { name: 'Twice Lane 3', place: 'Town', contact: '', notes: 'rings', version: 0, by: h.person };
    const put = (body: object) => request(h.app).put(`/api/households/${id}`).send(body);
    expect((await twice(() => Promise.resolve(put(edit)))).map((r) => [r.status, (r.body as { version: number }).version])).toEqual([[200, 1], [200, 1], [200, 1]]);
    expectProblem(await put({ ...edit, notes: 'other' }), 'stale');
    // whom to ask is kept, found, and written into the audit; what an earlier release sends has none of it
    const asked = { ...edit, version: 1, address: 'Post box 4', phone: '000 311 507', keyHolder: 'The baker' };
    expect((await put(asked).expect(200)).body).toMatchObject({ phone: '000 311 507', keyHolder: 'The baker', version: 2 });
    const found = await request(h.app).get('/api/find').query({ q: '311 507' }).expect(200);
    expect((found.body as { houses: { name: string }[] }).houses.map((x) => x.name)).toEqual(['Twice Lane 3']);
    const [line] = (await request(h.app).get('/api/audit').expect(200).then((r) => (r.body as { changes: { after: object }[] }).changes)); // oxfmt-ignore
    expect(line?.after).toMatchObject({ address: 'Post box 4', keyHolder: 'The baker' });
    // a page of an earlier release edits what it knows of, and leaves the rest as it stands
    expect((await put({ ...edit, notes: 'rings twice', version: 2 }).expect(200)).body).toMatchObject({ notes: 'rings twice', phone: '000 311 507', version: 3 });
    expect((await put({ ...edit, notes: 'rings twice', version: 2 }).expect(200)).body).toMatchObject({ version: 3 });
  });
  test('in capitals is the same', async () => {
    const { jobId } = await household();
    const a = reading(jobId);
    await send(jobId, a).expect(201);
    const loud = { ...a, id: a.id.toUpperCase(), jobId: jobId.toUpperCase(), by: a.by.toUpperCase() };
    expect((await send(jobId.toUpperCase(), loud).expect(201)).body).toEqual({ stored: 0 });
    expect((await request(h.app).get(`/api/jobs/${jobId.toUpperCase()}`).expect(200)).body).toMatchObject({ id: jobId });
  });
}); // oxfmt-ignore

describe('bad requests', () => {
  test('a body that is not JSON', async () => {
    expectProblem(
      await request(h.app).post('/api/households').set('content-type', 'application/json').send('{"name":'),
      'bad-body',
    );
  });
  test('a body too large', async () => {
    expectProblem(
      await request(h.app)
        .post('/api/households')
        .send({ name: 'x'.repeat(1_200_000) }),
      'too-large',
    );
  });
  test('no body at all, and a wrong shape', async () => {
    expectProblem(await request(h.app).post('/api/households'), 'bad-value');
    expectProblem(await request(h.app).post('/api/people').send({ name: '' }), 'bad-value');
  });
  test('an id that is none, an unknown id, an unknown address', async () => {
    expectProblem(await request(h.app).get('/api/jobs/nonsense'), 'not-found');
    expectProblem(await request(h.app).get(`/api/jobs/${randomUUID()}`), 'not-found');
    expectProblem(await request(h.app).get('/api/nothing'), 'not-found');
  });
  test('a character PostgreSQL cannot hold is told, not stored', async () => {
    const body = {
      id: randomUUID(),
      jobId: randomUUID(),
      name: 'a\u0000b',
      place: '',
      contact: '',
      notes: '',
      by: h.person,
    };
    expectProblem(await request(h.app).post('/api/households').send(body), 'bad-value');
  });
});

describe('a household', () => {
  const edit = { name: 'Mill Lane 2', place: 'Town', contact: '', notes: '' };
  test('sent twice is made once', async () => {
    const ids = { id: randomUUID(), jobId: randomUUID() };
    const body = { ...edit, ...ids, by: h.person };
    await request(h.app).post('/api/households').send(body).expect(201);
    await request(h.app).post('/api/households').send(body).expect(201);
    const rounds = await roundOf(h);
    expect(rounds.filter((r) => r.jobId === ids.jobId)).toHaveLength(1);
  });
  test('a stale edit is refused with what stands now, and nothing is lost', async () => {
    const { householdId } = await household();
    const put = (version: number, notes: string) =>
      request(h.app)
        .put(`/api/households/${householdId}`)
        .send({ ...edit, notes, version, by: h.person });
    expect((await put(0, 'first').expect(200)).body).toMatchObject({ notes: 'first', version: 1 });
    expect(expectProblem(await put(0, 'second'), 'stale').current).toMatchObject({ notes: 'first', version: 1 });
    await put(1, 'second').expect(200);
  });
  test('of ten edits at once exactly one wins', async () => {
    const { householdId } = await household();
    const all = await Promise.all(
      Array.from({ length: 10 }, (_, i) =>
        request(h.app)
          .put(`/api/households/${householdId}`)
          .send({ ...edit, notes: String(i), version: 0, by: h.person }),
      ),
    );
    expect(all.map((r) => r.status).sort()).toEqual([200, ...Array<number>(9).fill(409)]);
  });
});

describe('a design', () => {
  const version = (before: DesignVersion | null): DesignVersion => {
    const known = {
      source: 'mains',
      feedTdsMgL: 300,
      temperatureC: 12,
      staticPressureBar: 4,
      people: 2,
      socket: 'yes',
    };
    const input = { known, catalogue: h.shelf.parts, rules: h.shelf.rules };
    const d = decide(input);
    if (d.kind !== 'recommendation') throw new Error(d.sentence);
    return makeVersion(input, { design: d.chosen.design }, {
      id: randomUUID(), at: '2026-05-01T09:00:00.000Z', by: h.person, reason: '', against: '', before, newId: randomUUID,
    }); // oxfmt-ignore
  };
  const approve = (jobId: string, v: unknown) => request(h.app).post(`/api/jobs/${jobId}/designs`).send({ version: v });
  test('is kept as versions, each after the one before; sent twice it is one', async () => {
    const { jobId } = await household();
    const first = version(null);
    expect((await approve(jobId, first).expect(201)).body).toEqual(first);
    expect((await approve(jobId, first).expect(201)).body).toEqual(first);
    expectProblem(await approve(jobId, { ...first, reason: 'otherwise' }), 'fact-conflict');
    expect(expectProblem(await approve(jobId, version(null)), 'stale').current).toMatchObject({ number: 1 });
    expect((await approve(jobId, version(first)).expect(201)).body).toMatchObject({ number: 2 });
    expect(await h.db.Design.count({ where: { jobId } })).toBe(2);
  });
  test('of two approvals at once one is told', async () => {
    const { jobId } = await household();
    const all = await Promise.all([0, 0, 0].map(() => approve(jobId, version(null))));
    expect(all.map((r) => r.status).sort()).toEqual([201, 409, 409]);
  });
  test('whose system does not hold together is refused with what is wrong', async () => {
    const { jobId } = await household();
    const v = version(null);
    const loose = {
      ...v,
      system: { ...v.system, components: v.system.components.filter((c) => c.kind !== 'restrictor') },
    };
    const p = expectProblem(await approve(jobId, loose), 'bad-value');
    expect(p.errors?.map((e) => e.message)).toContain('Without a restrictor all water leaves by the drain.');
    const wrong = {
      ...v,
      system: { ...v.system, components: v.system.components.map((c) => ({ ...c, kind: 'wish' })) },
    };
    expectProblem(await approve(jobId, wrong), 'bad-value');
  });
  test('stays as it was approved when the shelf and the rules are edited', async () => {
    const { jobId } = await household();
    const first = version(null);
    await approve(jobId, first).expect(201);
    const element = h.shelf.parts.find(
      (p) => p.id === first.system.components.find((c) => c.kind === 'membrane')?.part?.id,
    );
    if (element?.kind !== 'element') throw new Error('no element');
    const shelf = (await request(h.app).get('/api/shelf').expect(200)).body as { partVersions: Record<string, number> };
    const part = { ...element, rating: { ...element.rating, permeateLDay: element.rating.permeateLDay * 1.4 } };
    await request(h.app)
      .put(`/api/shelf/parts/${part.id}`)
      .send({ part, version: shelf.partVersions[part.id], by: h.person })
      .expect(200);
    const job = (await request(h.app).get(`/api/jobs/${jobId}`).expect(200)).body as { designs: DesignVersion[] };
    expect(job.designs[0]).toEqual(first);
  });
  test('a fact or design that cannot be read is told as such, and Rounds still opens', async () => {
    const { jobId } = await household('Odd House');
    await approve(jobId, version(null)).expect(201);
    await h.db.Fact.create({
      id: randomUUID(),
      jobId,
      kind: 'dream',
      at: new Date(NOW),
      by: h.person,
      body: { kind: 'dream' },
    });
    await h.db.Design.create({
      id: randomUUID(),
      jobId,
      number: 2,
      body: { number: 2 },
      at: new Date(NOW),
      by: h.person,
    });
    const job = (await request(h.app).get(`/api/jobs/${jobId}`).expect(200)).body as {
      unreadable: { what: string; said: string }[];
    };
    expect(job.unreadable.map((u) => u.what).sort()).toEqual(['design', 'fact']);
    const rounds = await roundOf(h);
    expect(rounds.map((r) => r.jobId)).toContain(jobId);
  });
});

describe('people', () => {
  test('a name stands once', async () => {
    await request(h.app).post('/api/people').send({ name: 'Ada', role: 'fitter' }).expect(201);
    expectProblem(await request(h.app).post('/api/people').send({ name: 'ada', role: 'fitter' }), 'bad-value');
  });
});

describe('the demo', () => {
  test('loads into an empty database only, and replaces everything when asked', async () => {
    const other = await harness();
    try {
      expect(await loadDemo(other.db, other.shelf, FIRM, false, NOW)).toBe(false);
      expect(await loadDemo(other.db, other.shelf, FIRM, true, NOW)).toBe(true);
      expect(await other.db.Job.count()).toBe(60);
      await loadDemo(other.db, other.shelf, FIRM, true, NOW);
      expect([await other.db.Person.count(), await other.db.Job.count()]).toEqual([4, 60]);
    } finally {
      await other.close();
    }
  });
  test('has something to show in each part of the work', async () => {
    const demo = await demoHarness();
    try {
      const rounds = await roundOf(demo);
      const lens: Record<string, string> = {};
      for (const r of rounds) lens[r.household.name.split(' ')[0] ?? ''] = r.summary.lens;
      expect(rounds).toHaveLength(60);
      expect(lens).toMatchObject({
        Lantern: 'size',
        Chalkpit: 'flush',
        Saltern: 'plumb',
        Highmoor: 'keep',
        Fenmill: 'size',
        Alder: 'size',
        Tollgate: 'size',
        Gable: 'size',
        Ropewalk: 'size',
        Kiln: 'size',
        Cooper: 'flush',
        Sluice: 'flush',
        Heron: 'keep',
        Weir: 'gauge',
      });
      expect(rounds.flatMap((r) => r.summary.timers)).toHaveLength(2);
    } finally {
      await demo.close();
    }
  });
  test('opens as it was shipped, job by job, in order', async () => {
    const other = await harness();
    try {
      await loadDemo(other.db, other.shelf, FIRM, true, NOW);
      for (const { jobId, household, facts, designs } of shippedFirm(FIRM, NOW)) {
        const stored = await request(other.app).get(`/api/jobs/${jobId}`).expect(200);
        expect(stored.body).toMatchObject({ id: jobId, household, facts, designs, unreadable: [] });
      }
      const began = await other.db.Job.findAll({ order: ['id'] });
      const since = shippedFirm(FIRM, NOW).map((j) => [j.jobId, j.facts[0]?.at]);
      expect(began.map((j) => [j.id, j.createdAt.toISOString()])).toEqual(
        since.map(([id, at]) => [id, at ?? new Date(NOW - 86_400_000).toISOString()]).sort(),
      );
      const instruments = await other.db.Instrument.findAll({ order: ['seq'] });
      expect(instruments.map((i) => i.body)).toEqual(demoInstruments(NOW));
    } finally {
      await other.close();
    }
  });
  test('Keep has three years of visits and proofs to show', () => {
    const moor = shippedFirm(FIRM, NOW).find((j) => j.household.name === 'Highmoor Lodge');
    const record = readJob(moor?.facts ?? []);
    expect(record.proofs.length).toBeGreaterThanOrEqual(6);
    expect(record.visits.length).toBeGreaterThanOrEqual(5);
    const span = Date.parse(record.proofs.at(-1)?.at ?? '') - Date.parse(record.proofs[0]?.at ?? '');
    expect(span / 86400000).toBeGreaterThan(800);
  });
});
