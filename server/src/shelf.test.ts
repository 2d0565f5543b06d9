import { randomUUID } from 'node:crypto';
import { ProblemSchema, ShelfSchema, type Shelf } from '@katharos/contract';
import type { Part } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { loadDemo } from './demo/load.ts';
import { FIRM, harness, NOW, type Harness } from './testing/harness.ts';

let h: Harness;
beforeAll(async () => {
  h = await harness();
});
afterAll(() => h.close());

const shelf = async (): Promise<Shelf> => ShelfSchema.parse((await request(h.app).get('/api/shelf').expect(200)).body);
const partNamed = (s: Shelf, id: string): Part => {
  const p = s.parts.find((x) => x.id === id);
  if (!p) throw new Error(id);
  return p;
};
const put = (path: string, body: object) =>
  request(h.app)
    .put(`/api/${path}`)
    .send({ ...body, by: h.person });

describe('the house rules', () => {
  test('begin as the files have them, and are changed against the version they were read at', async () => {
    const before = await shelf();
    expect(before.rules).toEqual(h.shelf.rules);
    const rules = { ...before.rules, spareCapacity: 2 };
    await put('shelf/rules', { rules, version: before.rulesVersion }).expect(200);
    expect((await shelf()).rules.spareCapacity).toBe(2);
    const late = await put('shelf/rules', { rules: before.rules, version: before.rulesVersion });
    const p = ProblemSchema.parse(JSON.parse(late.text));
    expect([late.status, p.type]).toEqual([409, 'urn:katharos:problem:stale']);
    expect(p.current).toMatchObject({ rules: { spareCapacity: 2 }, version: before.rulesVersion + 1 });
  });
  test('out of range are refused at their field, and what decides uses the new ones', async () => {
    const now = await shelf();
    const res = await put('shelf/rules', { rules: { ...now.rules, spareCapacity: 9 }, version: now.rulesVersion });
    expect(res.status).toBe(422);
    expect(ProblemSchema.parse(JSON.parse(res.text)).errors?.[0]?.path).toBe('rules.spareCapacity');
    const asked = {
      format: 'katharos-job',
      version: 1,
      known: { source: 'mains', feedTdsMgL: 320, temperatureC: 12, staticPressureBar: 4, people: 3 },
    };
    const size = async () =>
      (
        (await request(h.app).post('/api/calc/size').send(asked).expect(200)).body as { reasons: string[] }
      ).reasons.join(' ');
    expect(await size()).toContain('crowns');
    await put('shelf/rules', { rules: { ...now.rules, currency: 'shells' }, version: now.rulesVersion }).expect(200);
    expect(await size()).toContain('shells');
  });
});

describe('a part', () => {
  test('is changed against its version, added once, and keeps its kind', async () => {
    const s = await shelf();
    const tank = partNamed(s, 'tank-8');
    await put('shelf/parts/tank-8', { part: { ...tank, price: 40 }, version: s.partVersions['tank-8'] }).expect(200);
    expect(partNamed(await shelf(), 'tank-8').price).toBe(40);
    expect((await put('shelf/parts/tank-8', { part: tank, version: s.partVersions['tank-8'] })).status).toBe(409);
    const own = { ...tank, id: 'tank-9', name: 'Tank 9 L', volumeL: 9 };
    await put('shelf/parts/tank-9', { part: own, version: null }).expect(201);
    // sent again it is the same write; another one under its id is refused
    expect((await put('shelf/parts/tank-9', { part: own, version: null })).status).toBe(201);
    expect((await put('shelf/parts/tank-9', { part: { ...own, price: 1 }, version: null })).status).toBe(422);
    expect((await shelf()).partVersions['tank-9']).toBe(0);
    expect(
      (await put('shelf/parts/tank-8', { part: { ...partNamed(s, 'tube-6'), id: 'tank-8' }, version: 1 })).status,
    ).toBe(422);
    expect((await put('shelf/parts/tank-8', { part: own, version: 1 })).status).toBe(422);
    expect((await put('shelf/parts/nothing', { part: { ...own, id: 'nothing' }, version: 3 })).status).toBe(404);
  });
  test('retired stays for the systems that have it', async () => {
    const s = await shelf();
    const part = { ...partNamed(s, 'tank-30'), retired: true };
    await put('shelf/parts/tank-30', { part, version: s.partVersions['tank-30'] }).expect(200);
    expect(partNamed(await shelf(), 'tank-30').retired).toBe(true);
  });
});

describe('a part that does not read', () => {
  test('is refused on its way in: a rating whose own test could not push water through', async () => {
    const s = await shelf();
    const part = partNamed(s, 'element-190');
    if (part.kind !== 'element') throw new Error('not an element');
    const rating = { ...part.rating, test: { ...part.rating.test, pressureBar: 0.345, tdsMgL: 2000 } };
    const version = s.partVersions['element-190'];
    const res = await put('shelf/parts/element-190', { part: { ...part, rating }, version });
    expect([res.status, res.text]).toEqual([422, expect.stringContaining('rating.test.pressureBar')]);
  });
  test('and one that is stored all the same is told by its id, and takes nothing else down', async () => {
    const row = await h.db.Part.findByPk('tank-10-slim');
    await h.db.Part.update({ body: { id: 'tank-10-slim', kind: 'tank' }, version: 90 }, { where: { id: 'tank-10-slim' } });
    const s = (await request(h.app).get('/api/shelf').expect(200)).body as { unreadableParts: string[]; parts: unknown[] };
    expect(s.unreadableParts).toEqual(['tank-10-slim']);
    expect(s.parts.length).toBeGreaterThan(40);
    await request(h.app).get('/api/rounds').expect(200);
    await h.db.Part.update({ body: row?.body, version: 91 }, { where: { id: 'tank-10-slim' } });
  });
}); // oxfmt-ignore

describe('parts brought in together', () => {
  const bring = (parts: unknown[], versions: object) =>
    request(h.app).post('/api/shelf/parts/import').send({ parts, versions, by: h.person });
  test('are all taken or none: one stale version, one bad figure, and nothing changes', async () => {
    const s = await shelf();
    expect(
      (await bring([{ ...partNamed(s, 'tube-6'), id: 'tank-8' }], { 'tank-8': s.partVersions['tank-8'] })).text,
    ).toContain('stays what it was');
    const a = { ...partNamed(s, 'tank-12'), price: 77 };
    const b = { ...partNamed(s, 'tank-15'), price: 78 };
    expect((await bring([a, b], { 'tank-12': s.partVersions['tank-12'], 'tank-15': 99 })).status).toBe(409);
    expect((await bring([a, { ...b, volumeL: -3 }], { 'tank-12': 0, 'tank-15': 0 })).status).toBe(422);
    expect(partNamed(await shelf(), 'tank-12').price).toBe(52);
    const fresh = { ...a, id: 'tank-13', name: 'Tank 13 L', volumeL: 13 };
    await bring([a, b, fresh], { 'tank-12': s.partVersions['tank-12'], 'tank-15': s.partVersions['tank-15'] }).expect(
      200,
    );
    const after = await shelf();
    expect([
      partNamed(after, 'tank-12').price,
      partNamed(after, 'tank-15').price,
      partNamed(after, 'tank-13').price,
    ]).toEqual([77, 78, 77]);
  });
});

describe('instruments', () => {
  test('are added, checked and changed against their version', async () => {
    const id = randomUUID();
    const instrument = {
      id,
      name: 'pen Z',
      what: 'pen',
      reads: [{ kind: 'concentration', unit: 'mg/L', min: 0, max: 2000, errorFixed: 2, errorShare: 0.02 }],
      checkEveryDays: 90,
      checks: [],
      address: null,
    };
    await put(`instruments/${id}`, { instrument, version: null }).expect(201);
    const checks = [
      { at: '2026-05-01T08:00:00.000Z', by: h.person, kind: 'concentration', reference: 1000, read: 990 },
    ];
    await put(`instruments/${id}`, { instrument: { ...instrument, checks }, version: 0 }).expect(200);
    expect((await put(`instruments/${id}`, { instrument, version: 0 })).status).toBe(409);
    expect((await shelf()).instruments.find((i) => i.id === id)?.checks).toHaveLength(1);
    expect((await put(`instruments/${randomUUID()}`, { instrument, version: null })).status).toBe(422);
    expect((await put('instruments/nonsense', { instrument, version: null })).status).toBe(404);
  });
  test('come with the demo data, one of them overdue', async () => {
    const other = await harness();
    try {
      await loadDemo(other.db, other.shelf, FIRM, true, NOW);
      const s = ShelfSchema.parse((await request(other.app).get('/api/shelf').expect(200)).body);
      expect(s.instruments.length).toBeGreaterThan(5);
      expect(s.parts).toEqual(other.shelf.parts);
      await loadDemo(other.db, other.shelf, FIRM, true, NOW);
      expect(ShelfSchema.parse((await request(other.app).get('/api/shelf').expect(200)).body).instruments).toHaveLength(
        s.instruments.length,
      );
    } finally {
      await other.close();
    }
  });
});
