import { randomUUID } from 'node:crypto';
import { inVanOf, ProblemSchema, StockSchema, type Stock, type StockMove } from '@katharos/contract';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { roundOf } from './testing/rounds.ts';
import { demoHarness, harness, NOW, type Harness } from './testing/harness.ts';

let h: Harness;
const jobId = randomUUID();
beforeAll(async () => {
  h = await harness();
  const named = { name: 'Mill Lane 2', place: '', contact: '', notes: '' };
  await request(h.app)
    .post('/api/households')
    .send({ id: randomUUID(), jobId, ...named })
    .expect(201);
});
afterAll(() => h.close());

const stock = async (of = h): Promise<Stock> =>
  StockSchema.parse((await request(of.app).get('/api/stock').expect(200)).body);
const of = async (part: string) => (await stock()).levels.find((l) => l.part === part);
const at = (minute: number): string => new Date(NOW + 60000 * minute).toISOString();
const move = (part: string, place: 'van' | 'store', kind: 'count' | 'add', count: number, minute: number): StockMove => ({
  id: randomUUID(), part, place, kind, count, note: '', at: at(minute),
}); // oxfmt-ignore
const send = (...moves: StockMove[]) => request(h.app).post('/api/stock/moves').send({ moves });
const fact = async (body: object, minute: number): Promise<string> => {
  const id = randomUUID();
  await request(h.app)
    .post(`/api/jobs/${jobId}/facts`)
    .send({ facts: [{ v: 2, id, jobId, at: at(minute), by: h.person, ...body }] })
    .expect(201);
  return id;
};

describe('the firm’s stock', () => {
  test('is what was counted last, with what was added since; sent twice it is one movement', async () => {
    const count = move('carbon-block', 'van', 'count', 4, 0);
    await send(count, move('carbon-block', 'van', 'add', 2, 1), move('carbon-block', 'store', 'add', 10, 1)).expect(201);
    await send(count).expect(201);
    expect(await of('carbon-block')).toEqual({ part: 'carbon-block', van: 6, store: 10, vans: { shared: 6 } });
    // a later count knows better than all before it
    await send(move('carbon-block', 'van', 'count', 5, 2)).expect(201);
    expect((await of('carbon-block'))?.van).toBe(5);
    // and what happened before it changes it no more, however late it is sent
    await send(move('carbon-block', 'van', 'add', 7, 1.5)).expect(201);
    expect((await of('carbon-block'))?.van).toBe(5);
  });
  test('falls by what goes into a job, by when it went, and rises again when that is taken back', async () => {
    await send(move('sediment-5', 'van', 'count', 3, 0), move('sediment-5', 'store', 'count', 8, 0)).expect(201);
    const parts = [{ part: 'sediment-5', count: 2 }];
    const out = await fact({ kind: 'stock-out', from: 'van', parts }, 5);
    await fact({ kind: 'stock-out', from: 'van', parts }, -5);
    expect(await of('sediment-5')).toEqual({ part: 'sediment-5', van: 1, store: 8, vans: { shared: 1 } });
    await fact({ kind: 'taken-back', corrects: out, reason: 'the other van' }, 6);
    expect((await of('sediment-5'))?.van).toBe(3);
  });
  test('lies in several vans: what somebody takes comes out of their own, from when they had one', async () => {
    const own = (n: number, minute: number): StockMove => ({ ...move('polish-inline', 'van', 'count', n, minute), vanOf: h.person });
    await send(move('polish-inline', 'van', 'count', 6, 10)).expect(201);
    const parts = [{ part: 'polish-inline', count: 2 }];
    await fact({ kind: 'stock-out', from: 'van', parts }, 11);
    expect(await of('polish-inline')).toMatchObject({ van: 4, vans: { shared: 4 } });
    expect((await stock()).vansOf).toEqual([]);
    await send(own(3, 12)).expect(201);
    await fact({ kind: 'stock-out', from: 'van', parts: [{ part: 'polish-inline', count: 1 }] }, 13);
    expect(await of('polish-inline')).toMatchObject({ van: 6, vans: { shared: 4, [h.person]: 2 } });
    const now = await stock();
    expect([inVanOf(now, 'polish-inline', h.person), inVanOf(now, 'polish-inline', randomUUID()), inVanOf(now, 'polish-inline', null)]).toEqual([2, 4, 4]);
    // who has a van of their own and nothing of a part in it has none of it
    expect(inVanOf(now, 'carbon-block', h.person)).toBe(0);
    expect(inVanOf(now, 'carbon-block', null)).toBe(5);
    // a van is somebody's, and the store is nobody's
    const wrong = await send({ ...own(1, 14), vanOf: randomUUID() }).expect(422);
    expect(ProblemSchema.parse(JSON.parse(wrong.text)).errors).toEqual([{ path: 'moves.0.vanOf', message: 'is nobody here' }]);
    await send({ ...own(1, 14), place: 'store' }).expect(422);
  });
  test('has no part that is on no shelf, and says which it was', async () => {
    const res = await send(move('carbon-block', 'van', 'add', 1, 9), move('no-such-part', 'van', 'add', 1, 9)).expect(422);
    expect(ProblemSchema.parse(JSON.parse(res.text)).errors).toEqual([{ path: 'moves.1.part', message: 'is on no shelf here' }]);
    expect((await of('carbon-block'))?.van).toBe(5);
  });
  test('is reserved by what approved jobs still take, until it was taken or they are in service', async () => {
    const demo = await demoHarness();
    await roundOf(demo);
    const { reserved, levels } = await stock(demo);
    await demo.close();
    // of the house that is approved nothing was taken yet; of those being wetted everything was
    expect(reserved['leak-valve']).toBe(1);
    expect(reserved['tap-air-gap']).toBe(1);
    expect(reserved['permeate-pump']).toBeUndefined();
    expect(reserved['mineral-large']).toBeUndefined();
    expect(levels.length).toBeGreaterThan(30);
    // what was taken before anybody counted a van came out of none
    expect(levels.filter((l) => l.van < 0 || l.vans.shared !== undefined)).toEqual([]);
  });
}); // oxfmt-ignore
