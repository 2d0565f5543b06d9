import { randomUUID } from 'node:crypto';
import type { Feed, MadeFeed } from '@katharos/contract';
import { FACT_VERSION, type DatedVisit, type Fact } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { type Harness, NOW, demoHarness } from '../testing/harness.ts';
import { roundOf } from '../testing/rounds.ts';
import { feedOf } from './calendar.ts';

let h: Harness;
let bast: string;
beforeAll(async () => {
  h = await demoHarness();
  bast = (await h.db.Person.findOne({ where: { name: 'Bast Ferrin' } }))?.id ?? '';
});
afterAll(() => h.close());
const make = async (as: string, fitter: string | null): Promise<MadeFeed> =>
  (await request(h.as(as)).post('/api/feeds').send({ fitter }).expect(201)).body as MadeFeed;
const read = async (path: string, status = 200): Promise<string> =>
  (await request(h.bare).get(path).expect(status)).text;
const events = (ics: string): string[] => ics.split('BEGIN:VEVENT').slice(1).map((e) => e.replaceAll('\r\n ', '')); // oxfmt-ignore

describe('a feed of visits', () => {
  test('is read by whoever has its address, and holds no name, number, key, or word that was typed', async () => {
    const owner = (await h.db.Person.findOne({ where: { role: 'owner' } }))?.id ?? '';
    const rounds = await roundOf(h, h.as(owner));
    const all = await read((await make(bast, null)).path);
    expect(events(all).length).toBeGreaterThan(15);
    const households = rounds.map((r) => r.household);
    for (const { name, contact, phone, keyHolder } of households)
      for (const said of [name, contact, phone, keyHolder].filter((t) => t !== '')) expect(all).not.toContain(said);
    for (const r of rounds) for (const v of r.summary.visits) expect(all).not.toContain(`SUMMARY:${v.reason}`);
    for (const name of ['Imra', 'Bast', 'Orla']) expect(all).not.toContain(name);
    expect(all).toMatch(/LOCATION:[A-Z]/);
  });
  test('of one person has theirs alone', async () => {
    const [all, own] = [await read((await make(bast, null)).path), await read((await make(bast, bast)).path)];
    expect(events(own).length).toBeGreaterThan(3);
    expect(events(own).length).toBeLessThan(events(all).length);
    // laid into a day by somebody, each has its hour
    expect(events(own).every((e) => /DTSTART:\d{8}T\d{6}Z/.test(e))).toBe(true);
  });
  test('ends when it is ended, by whoever made it or the owner, and when they leave the firm', async () => {
    const fitter = await h.add('fitter');
    const { id, path } = await make(fitter, null);
    await read(path);
    await request(h.as(bast)).post(`/api/feeds/${id}/end`).expect(404);
    const listed = (await request(h.as(fitter)).get('/api/feeds').expect(200)).body as Feed[];
    expect(listed.map((f) => [f.id, f.readAt !== null])).toEqual([[id, true]]);
    await request(h.as(fitter)).post(`/api/feeds/${id}/end`).expect(200);
    await read(path, 404);
    const again = await make(fitter, null);
    await h.db.Person.update({ leftAt: new Date(NOW) }, { where: { id: fitter } });
    await read(again.path, 404);
  });
  test('nobody reads one by guessing, a reader makes none, and the address is shown once', async () => {
    await read('/api/feed/short', 404);
    await read(`/api/feed/${'a'.repeat(43)}`, 404);
    await request(h.as(await h.add('reader'))).post('/api/feeds').send({ fitter: null }).expect(403); // oxfmt-ignore
    await make(bast, null);
    const { body } = (await request(h.as(bast)).get('/api/feeds').expect(200)) as { body: object[] };
    expect(JSON.stringify(body)).not.toMatch(/[\w-]{43}/);
  });
  test('moved across a change of clocks a visit stays at its moment: it stands in universal time', () => {
    const on = '2026-10-25T00:30:00.000Z';
    const fact = { v: FACT_VERSION, id: randomUUID(), jobId: randomUUID(), by: randomUUID(), at: on, kind: 'visit', reason: 'x', changed: [], fitter: randomUUID(), on } as Fact & { kind: 'visit' }; // oxfmt-ignore
    const visit: DatedVisit = { on, reason: 'x', fact, work: [{ handsMin: 90, waitMin: 60 }, { handsMin: 30, waitMin: 0 }], brings: [] }; // oxfmt-ignore
    const ics = feedOf([{ jobId: fact.jobId, place: 'Mell', visit }], 'https://firm.example');
    expect(ics).toContain('DTSTART:20261025T003000Z');
    expect(ics).toContain('DTEND:20261025T033000Z');
    const someday = { ...fact, fitter: undefined };
    expect(feedOf([{ jobId: fact.jobId, place: 'Mell', visit: { ...visit, fact: someday } }], 'https://firm.example')).toContain('DTSTART;VALUE=DATE:20261025'); // oxfmt-ignore
  });
});
