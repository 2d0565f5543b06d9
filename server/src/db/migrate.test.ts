import { randomUUID } from 'node:crypto';
import { decide, type DesignVersion } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { harness, type Harness } from '../testing/harness.ts';
import { makeLink } from '../signing/links.ts';
import { migrate } from './migrate.ts';

const known = { source: 'mains', feedTdsMgL: 300, temperatureC: 12, staticPressureBar: 4, people: 2, socket: 'yes' };
const at = '2026-04-01T08:00:00.000Z';
let h: Harness;
const [jobId, householdId, designId, oddId] = [randomUUID(), randomUUID(), randomUUID(), randomUUID()];
let before: { facts: number };

/** A database as the release before this one left it. */
beforeAll(async () => {
  h = await harness('2026-11-25-shelf-rules-instruments');
  const run = (sql: string, bind: unknown[]): Promise<unknown> => h.db.sequelize.query(sql, { bind });
  for (const p of h.shelf.parts) await run('INSERT INTO parts (id, body) VALUES ($1, $2)', [p.id, JSON.stringify(p)]);
  await run(`INSERT INTO house_rules (id, body) VALUES ('firm', $1)`, [JSON.stringify(h.shelf.rules)]);
  await run(`INSERT INTO households (id, name, place, contact, notes, created_by, updated_by) VALUES ($1, 'Old', '', '', '', $2, $2)`, [householdId, h.person]);
  await run('INSERT INTO jobs (id, household_id, created_by) VALUES ($1, $2, $3)', [jobId, householdId, h.person]);
  const d = decide({ known, catalogue: h.shelf.parts, rules: h.shelf.rules });
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  const facts: object[] = [
    ...Object.entries(known).map(([field, value]) => ({ kind: 'reading', field, value, typed: String(value) })),
    { kind: 'tick', step: 'flush-carbon-2', done: true },
    { kind: 'look', round: 'look-ten', joint: 5, result: 'drip', note: 're-cut' },
    { kind: 'visit', reason: 'change', changed: ['carbon-2', 'polish'] },
    {
      kind: 'proof',
      grade: 'good',
      readings: Object.fromEntries(
        Object.entries({ feedTdsMgL: 300, productTdsMgL: 12, temperatureC: 12, membranePressureBar: 3.6, productFlowLMin: 0.1, concentrateFlowLMin: 0.2 }).map(([k, value]) => [k, { value, typed: String(value) }]),
      ),
    },
  ];
  for (const [i, f] of facts.entries()) {
    const body = { ...f, id: randomUUID(), jobId, by: h.person, at: new Date(Date.parse(at) + (i + 1) * 60000).toISOString() };
    const kind: unknown = Reflect.get(body, 'kind');
    await run('INSERT INTO facts (id, job_id, kind, at, by, body) VALUES ($1, $2, $3, $4, $5, $6)', [body.id, jobId, kind, body.at, h.person, JSON.stringify(body)]);
  }
  before = { facts: facts.length };
  const design = (id: string, number: number, of: object, when: string): Promise<unknown> =>
    run('INSERT INTO designs (id, job_id, number, design, sentence, reason, core_version, at, by) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)',
      [id, jobId, number, JSON.stringify(of), 'As it was said.', '', '0.1.0', when, h.person]);
  await design(designId, 1, d.chosen.design, new Date(Date.parse(at) + 600000).toISOString());
  await design(oddId, 2, { ...d.chosen.design, tankId: 'tank-long-gone' }, '2026-05-01T08:00:00.000Z');
  await migrate(h.db.sequelize);
}); // oxfmt-ignore
afterAll(() => h.close());

describe('a database of the release before', () => {
  test('opens with all it holds', async () => {
    const job = (await request(h.app).get(`/api/jobs/${jobId}`).expect(200)).body as {
      facts: Record<string, unknown>[];
      designs: DesignVersion[];
      unreadable: { id: string; what: string; said: string }[];
    };
    expect(job.facts).toHaveLength(before.facts);
    expect(job.designs.map((d) => [d.id, d.v, d.judged.sentence, d.judged.shelf])).toEqual([
      [designId, 2, 'As it was said.', 'as at the change of version'],
    ]);
    const of = (kind: string): Record<string, unknown> => job.facts.find((f) => f.kind === kind) ?? {};
    expect(of('look')).toMatchObject({ design: designId, result: 'drip', note: 're-cut' });
    expect(of('look').joint).toMatch(/^[a-z-]+\.(in|out)$/);
    expect(of('visit').changed).toEqual(['carbon-2', 'polish']);
    expect(job.designs[0]?.sheet.some((s) => s.key === of('tick').step)).toBe(true);
  });
  test('a proof has the verdict it had, kept from now on', async () => {
    const rows = await h.db.Fact.findAll({ where: { jobId, kind: 'proof' } });
    expect(rows[0]?.body).toMatchObject({ judged: { grade: expect.any(String), coreVersion: '0.1.0' } });
  });
  test('a design whose part is gone is told as it was, and Rounds opens', async () => {
    const job = (await request(h.app).get(`/api/jobs/${jobId}`).expect(200)).body as { unreadable: { id: string; said: string }[] };
    expect(job.unreadable).toHaveLength(1);
    expect(job.unreadable[0]).toMatchObject({ id: oddId });
    expect(job.unreadable[0]?.said).toContain('tank-long-gone');
    await request(h.app).get('/api/rounds').expect(200);
  });
  test('migrating again changes nothing', async () => {
    const bodies = async () => (await h.db.Design.findAll({ order: [['number', 'ASC']] })).map((d) => d.body);
    const once = await bodies();
    await migrate(h.db.sequelize);
    expect(await bodies()).toEqual(once);
  });
}); // oxfmt-ignore

describe('a database without signing in', () => {
  test('keeps its people, who may do what they could until now, and gives them a way in', async () => {
    const old = await harness('2026-11-26-pictures');
    try {
      await migrate(old.db.sequelize);
      const people = (await request(old.app).get('/api/people').expect(200)).body as object[];
      expect(people).toEqual([
        { id: old.person, name: 'Tester', role: 'owner', left: false, ready: false, version: 0 },
      ]);
      // nobody has a password yet: the link that begins a firm gives the one who is here theirs
      const { token } = await makeLink(old.db, null, null);
      const use = { token, name: 'tester', password: 'kettle orchard tin' };
      const r = await request(old.bare).post('/api/links/use').send(use).expect(201);
      expect((r.body as { person: object }).person).toEqual({ id: old.person, name: 'Tester', role: 'owner' });
    } finally {
      await old.close();
    }
  });
});
