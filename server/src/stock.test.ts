import { randomUUID } from 'node:crypto';
import { ProblemSchema, StockSchema, type Stock, type StockMove } from '@katharos/contract';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { loadDemo } from './demo/load.ts';
import { roundOf } from './testing/rounds.ts';
import { FIRM, harness, NOW, type Harness } from './testing/harness.ts';

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

const stock = async (): Promise<Stock> => StockSchema.parse((await request(h.app).get('/api/stock').expect(200)).body);
const of = async (part: string) => (await stock()).levels.find((l) => l.part === part);
const at = (minute: number): string => new Date(NOW + 60000 * minute).toISOString();
const move = (part: string, place: 'van' | 'store', kind: 'count' | 'add', count: number, minute: number): StockMove => ({
  id: randomUUID(), part, place, kind, count, note: '', at: at(minute),
}); // prettier-ignore
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
    expect(await of('carbon-block')).toEqual({ part: 'carbon-block', van: 6, store: 10 });
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
    expect(await of('sediment-5')).toEqual({ part: 'sediment-5', van: 1, store: 8 });
    await fact({ kind: 'taken-back', corrects: out, reason: 'the other van' }, 6);
    expect((await of('sediment-5'))?.van).toBe(3);
  });
  test('has no part that is on no shelf, and says which it was', async () => {
    const res = await send(move('carbon-block', 'van', 'add', 1, 9), move('no-such-part', 'van', 'add', 1, 9)).expect(422);
    expect(ProblemSchema.parse(JSON.parse(res.text)).errors).toEqual([{ path: 'moves.1.part', message: 'is on no shelf here' }]);
    expect((await of('carbon-block'))?.van).toBe(5);
  });
  test('is reserved by what approved jobs still take, until it was taken or they are in service', async () => {
    await loadDemo(h.db, h.shelf, FIRM, true, NOW);
    // summaries are brought up when the round is asked for
    await roundOf(h.app);
    const { reserved, levels } = await stock();
    // of the house that is approved nothing was taken yet; of those being wetted everything was
    expect(reserved['leak-valve']).toBe(1);
    expect(reserved['tap-air-gap']).toBe(1);
    expect(reserved['permeate-pump']).toBeUndefined();
    expect(reserved['mineral-large']).toBeUndefined();
    expect(levels.length).toBeGreaterThan(30);
  });
}); // prettier-ignore
