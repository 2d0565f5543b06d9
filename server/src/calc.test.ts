import { ProblemSchema } from '@katharos/contract';
import { CALCULATORS } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { harness, type Harness } from './testing/harness.ts';

let h: Harness;
beforeAll(async () => {
  h = await harness();
});
afterAll(() => h.close());

describe('the calculators over HTTP', () => {
  test('are listed with what they answer and the schema of what they take', async () => {
    const list = (await request(h.app).get('/api/calc').expect(200)).body as { name: string; input: object }[];
    expect(list.map((c) => c.name)).toEqual(Object.keys(CALCULATORS));
    for (const { input } of list as { input: { type?: string; oneOf?: { type?: string }[] } }[])
      expect(input.oneOf?.every((o) => o.type === 'object') ?? input.type === 'object').toBe(true);
  });
  test('give the figures of the core, to the last digit', async () => {
    const input = { volumeL: 15.1, airChargeBar: 0.48, pressureBar: 2.76 };
    const here = CALCULATORS.tank?.answer(input, { catalogue: h.shelf.parts, rules: h.shelf.rules });
    const res = await request(h.app).post('/api/calc/tank').send(input).expect(200);
    expect(here).toEqual({ ok: true, output: res.body as unknown });
  });
  test('refuse wrong input as a problem with its path, and an unknown name', async () => {
    const res = await request(h.app).post('/api/calc/tank').send({ volumeL: -1, airChargeBar: 0.5, pressureBar: 2 });
    expect(res.status).toBe(422);
    expect(ProblemSchema.parse(res.body).errors?.[0]?.path).toBe('volumeL');
    await request(h.app).post('/api/calc/toString').send({}).expect(404);
    await request(h.app).post('/api/calc/tank').set('Content-Type', 'application/json').send('{"volume').expect(400);
  });
});
