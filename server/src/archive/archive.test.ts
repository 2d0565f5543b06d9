import { randomUUID } from 'node:crypto';
import { createWriteStream, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import type { BroughtIn, Problem } from '@katharos/contract';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { openPromise } from 'yauzl';
import { ZipFile } from 'yazl';
import { keepPicture } from '../pictures/store.ts';
import { openShelf } from '../shelf/store.ts';
import { harness, type Harness, NOW, demoHarness } from '../testing/harness.ts';
import { A_PNG } from '../testing/aPicture.ts';
import { sha256, SUMS, writeArchive } from './write.ts';

const folder = mkdtempSync(join(tmpdir(), 'archive-test-'));
const at = (name: string): string => join(folder, name);
const IMRA = '00000000-0000-4000-8000-0000000000';
let h: Harness;
let checksum: string;

/** An archive of what stands in a database. @returns its checksum */
const out = async (of: Harness, name: string): Promise<string> =>
  writeArchive(of.db, await openShelf(of.db, of.shelf).read(), createWriteStream(at(name)));

/** What stands in an archive, by name. */
async function unpacked(name: string): Promise<Map<string, Buffer>> {
  const zip = await openPromise(at(name));
  const files = new Map<string, Buffer>();
  for await (const e of zip.eachEntry()) files.set(e.fileName, await buffer(await zip.openReadStreamPromise(e)));
  return files;
}

/** Packs files as an archive. @param told what SHA256SUMS says; what is true if left out */
async function packed(name: string, files: ReadonlyMap<string, Buffer>, told?: Buffer): Promise<string> {
  const rest = [...files].filter(([n]) => n !== SUMS);
  const zip = new ZipFile();
  for (const [n, b] of rest) zip.addBuffer(b, n);
  zip.addBuffer(told ?? Buffer.from(rest.map(([n, b]) => `${sha256(b)}  ${n}\n`).join('')), SUMS);
  zip.end();
  await pipeline(zip.outputStream, createWriteStream(at(name)));
  return at(name);
}

const bring = (into: Harness, path: string) =>
  request(into.app).post('/api/archive').type('application/zip').send(readFileSync(path));
const faultOf = async (into: Harness, path: string): Promise<string> => {
  const res = await bring(into, path).expect(422);
  const [error] = (res.body as Problem).errors ?? [];
  return `${error?.path ?? ''} ${error?.message ?? ''}`;
};

beforeAll(async () => {
  h = await demoHarness();
  const job = await h.db.Job.findOne();
  const owner = await h.db.Person.findOne({ where: { role: 'owner' } });
  if (!job || !owner) throw new Error('the demo has both');
  await keepPicture(h.db, { id: randomUUID(), jobId: job.id, by: owner.id, bytes: A_PNG });
  // what a later release wrote, before this one was put back
  const id = randomUUID();
  await h.db.Fact.create({ id, jobId: job.id, kind: 'tele', at: new Date(NOW), by: owner.id, body: { id, kind: 'tele', v: 99 } }); // oxfmt-ignore
  await h.db.Person.create({ id: `${IMRA}77`, name: 'Left Long Ago', role: 'fitter', leftAt: new Date(NOW) });
  checksum = await out(h, 'firm.zip');
}, 120_000);
afterAll(async () => {
  await h.close();
  rmSync(folder, { recursive: true });
});

describe('the firm as one archive', () => {
  test('goes out and into an empty firm exactly', async () => {
    const other = await harness();
    await other.db.Person.update({ name: 'Imra Tole' }, { where: { id: other.person } });
    const came = await bring(other, at('firm.zip')).expect(201);
    expect(came.body).toMatchObject({ jobs: await h.db.Job.count(), people: await h.db.Person.count(), pictures: 1, checksum });
    expect(await out(other, 'again.zip')).toBe(checksum);
    const [one, two] = [await unpacked('firm.zip'), await unpacked('again.zip')];
    expect([...two.keys()]).toEqual([...one.keys()]);
    for (const [name, bytes] of one) expect(`${name} ${sha256(two.get(name) ?? Buffer.alloc(0))}`).toBe(`${name} ${sha256(bytes)}`);
    await other.close();
  }); // oxfmt-ignore
  test('reads as open files: job files, and sums any tool checks', async () => {
    const files = await unpacked('firm.zip');
    const sums = files.get(SUMS)?.toString() ?? '';
    for (const [name, bytes] of files) if (name !== SUMS) expect(sums).toContain(`${sha256(bytes)}  ${name}\n`);
    const [name = ''] = [...files.keys()].filter((n) => n.startsWith('jobs/'));
    const file = JSON.parse(files.get(name)?.toString() ?? '') as unknown;
    const other = await harness();
    await request(other.app).post('/api/jobs/import').send({ file, by: other.person }).expect(201);
    await other.close();
    const whole = [...files.values()].map((b) => b.toString()).join('');
    expect(whole).not.toMatch(/argon2|token/);
  });
  test('an owner of the archive’s own name goes on as the person in it, signed in as before', async () => {
    const other = await harness();
    await other.db.Person.update({ name: 'imra tole', password: 'kept' }, { where: { id: other.person } });
    const came = await bring(other, at('firm.zip')).expect(201);
    expect((came.body as BroughtIn).checksum).toBe(checksum);
    const imra = await other.db.Person.findOne({ where: { name: 'Imra Tole' } });
    expect([imra?.role, imra?.password, imra?.id === other.person]).toEqual(['owner', 'kept', false]);
    const session = (await request(other.app).get('/api/session').expect(200)).body as { person: { id: string } };
    expect(session.person.id).toBe(imra?.id);
    expect(await out(other, 'again.zip')).toBe(checksum);
    await other.close();
  });
  test('another owner stays beside those of the archive', async () => {
    const other = await harness();
    await bring(other, at('firm.zip')).expect(201);
    expect(await other.db.Person.findByPk(other.person)).toMatchObject({ name: 'Tester', role: 'owner' });
    expect(await other.db.Person.count()).toBe(1 + (await h.db.Person.count()));
    await other.close();
  });
  test('a firm that is not empty keeps what it has', async () => {
    const refused = await request(h.as((await h.db.Person.findOne({ where: { name: 'Imra Tole' } }))?.id ?? ''))
      .post('/api/archive').type('application/zip').send(readFileSync(at('firm.zip'))).expect(409); // oxfmt-ignore
    expect((refused.body as Problem).detail).toMatch(/this one has \d+ households/);
    expect(await out(h, 'still.zip')).toBe(checksum);
  });
  test('a firm that counted its stock is not empty', async () => {
    const other = await harness();
    const move = { id: randomUUID(), part: 'carbon-block', place: 'van', kind: 'count', count: 3, note: '', at: new Date(NOW).toISOString() }; // oxfmt-ignore
    await request(other.app)
      .post('/api/stock/moves')
      .send({ moves: [move] })
      .expect(201);
    await bring(other, at('firm.zip')).expect(409);
    expect(await other.db.Household.count()).toBe(0);
    await other.close();
  });
  test('nobody but the owner has it', async () => {
    for (const role of ['office', 'fitter', 'reader'] as const) {
      const who = h.as(await h.add(role));
      await request(who).get('/api/archive').expect(403);
      await request(who)
        .post('/api/archive')
        .type('application/zip')
        .send(readFileSync(at('firm.zip')))
        .expect(403);
    }
  });
});

describe('an archive that cannot be read brings nothing in', () => {
  let empty: Harness;
  beforeAll(async () => {
    empty = await harness();
  });
  afterAll(async () => {
    expect(await empty.db.Household.count()).toBe(0);
    expect(await empty.db.Person.count()).toBe(1);
    await empty.close();
  });
  test('cut short, or something else', async () => {
    writeFileSync(at('cut.zip'), readFileSync(at('firm.zip')));
    truncateSync(at('cut.zip'), 200_000);
    expect(await faultOf(empty, at('cut.zip'))).toMatch(/^archive is cut short, or no archive/);
    writeFileSync(at('not.zip'), 'a letter');
    expect(await faultOf(empty, at('not.zip'))).toMatch(/^archive is cut short, or no archive/);
    expect(await faultOf(empty, await packed('other.zip', new Map([['a.txt', Buffer.from('a')]])))).toBe(
      'archive.json is not in the archive',
    );
  });
  test('of a later release', async () => {
    const files = await unpacked('firm.zip');
    files.set('archive.json', Buffer.from('{"format":"katharos-firm","version":2}'));
    expect(await faultOf(empty, await packed('later.zip', files))).toMatch(/^archive.json was made by a later release/);
  });
  test('changed by somebody, with a file less or more', async () => {
    const files = await unpacked('firm.zip');
    const sums = files.get(SUMS) ?? Buffer.alloc(0);
    const name = [...files.keys()].filter((n) => n.startsWith('jobs/'))[3] ?? '';
    const job = files.get(name) ?? Buffer.alloc(0);
    files.set(name, Buffer.from(job.toString().replace('Corvane', 'Elsewhere')));
    expect(await faultOf(empty, await packed('changed.zip', files, sums))).toBe(`${name} is not as it was written: its checksum is another`); // oxfmt-ignore
    files.delete(name);
    expect(await faultOf(empty, await packed('less.zip', files, sums))).toBe(`${name} is named in SHA256SUMS and is not there`); // oxfmt-ignore
    files.set(name, job).set('more.txt', Buffer.from('more'));
    expect(await faultOf(empty, await packed('more.zip', files, sums))).toBe('more.txt is not named in SHA256SUMS');
  });
  test('a job in it that is none, its place told', async () => {
    const files = await unpacked('firm.zip');
    const jobs = [...files].flatMap(([name, b]) =>
      name.startsWith('jobs/') ? [{ name, job: JSON.parse(b.toString()) as { facts: { at: string }[] } }] : [],
    );
    const { name, job } = jobs.findLast((j) => j.job.facts.length > 0) ?? { name: '', job: { facts: [] } };
    const [fact] = job.facts;
    if (fact) fact.at = 'yesterday';
    files.set(name, Buffer.from(JSON.stringify(job)));
    expect(await faultOf(empty, await packed('odd.zip', files))).toMatch(new RegExp(`^${name} facts.0.at: `));
  });
});
