import { randomUUID } from 'node:crypto';
import type { Found } from '@katharos/contract';
import { FACT_VERSION, FactSchema, type Fact, type NewFact } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { type Harness, NOW, demoHarness } from '../testing/harness.ts';
import { roundOf } from '../testing/rounds.ts';
import { wordsOf } from './find.ts';

let demo: Harness;
beforeAll(async () => {
  demo = await demoHarness();
});
afterAll(() => demo.close());

const find = async (q: string): Promise<Found['houses']> => {
  // what was just written is brought up first
  await roundOf(demo);
  return (
    (
      await request(demo.app)
        .get(`/api/find?q=${encodeURIComponent(q)}`)
        .expect(200)
    ).body as Found
  ).houses;
};
const jobOf = async (name: string): Promise<string> =>
  (await roundOf(demo)).find((e) => e.household.name.startsWith(name))?.jobId ?? '';
async function write(job: string, ...facts: NewFact[]): Promise<Fact[]> {
  const person = await demo.db.Person.findOne();
  const by = person?.id ?? '';
  const stamped = facts.map((f, i) =>
    FactSchema.parse({ ...f, v: FACT_VERSION, id: randomUUID(), jobId: job, by, at: new Date(NOW + i).toISOString() }),
  );
  await demo.db.Fact.bulkCreate(
    stamped.map((f) => ({ id: f.id, jobId: job, kind: f.kind, at: new Date(f.at), by, body: f })),
  );
  return stamped;
}

describe('finding anything', () => {
  test('by name, place or contact, by the beginnings of words in any order', async () => {
    const [by, turned] = [await find('highm lodge'), await find('lodge HIGHM')];
    expect(by.map((h) => h.name)).toEqual(['Highmoor Lodge']);
    expect(turned).toEqual(by);
    expect(await find('highmoor nobody')).toEqual([]);
  });
  test('by a serial, a joint that dripped, a note: with the line and where it stands', async () => {
    const job = await jobOf('Highmoor');
    const { body } = (await request(demo.app).get(`/api/jobs/${job}`).expect(200)) as { body: { designs: { id: string; system: { components: { id: string; kind: string; part: object }[] } }[] } }; // oxfmt-ignore
    const [design] = body.designs;
    const membrane = design?.system.components.find((c) => c.kind === 'membrane');
    if (!design || !membrane) throw new Error('Highmoor has a membrane');
    await write(
      job,
      { kind: 'fitted', design: design.id, component: membrane.id, part: membrane.part as never, serial: 'ZX-4410/7' },
      {
        kind: 'look',
        design: design.id,
        round: 'look-full',
        joint: `${membrane.id}.in`,
        result: 'drip',
        note: 'nut was loose',
      },
      { kind: 'note', text: 'Key is with the neighbour, quaglino style door' },
    );
    for (const [asked, lens, words] of [
      ['zx-4410', 'plumb', /ZX-4410\/7/],
      ['nut loose', 'flush', /drips nut was loose/],
      ['quagl', 'gauge', /Key is with the neighbour/],
    ] as const) {
      const [house] = await find(asked);
      expect(house?.jobId).toBe(job);
      expect(house?.lines[0]).toMatchObject({ lens, words: expect.stringMatching(words) as unknown });
    }
  });
  test('what was taken back is found no more', async () => {
    const job = await jobOf('Saltern');
    const [note] = await write(job, { kind: 'note', text: 'Wrongly said: vermilion' });
    expect(await find('vermilion')).toHaveLength(1);
    await write(job, { kind: 'taken-back', corrects: note?.id ?? '', reason: 'another house' });
    expect(await find('vermilion')).toEqual([]);
  });
  test('whatever is typed is words and nothing else', async () => {
    for (const q of ["' OR 1=1 --", '&|!():*<->', '\\', 'a'.repeat(120), '%', '🚰', ''])
      await request(demo.app)
        .get(`/api/find?q=${encodeURIComponent(q)}`)
        .expect(200);
    expect(wordsOf('Nut (M10) & café:*')).toEqual(['nut', 'm10', 'café']);
    await request(demo.app)
      .get(`/api/find?q=${'a'.repeat(121)}`)
      .expect(422);
  });
});
