import { randomUUID } from 'node:crypto';
import {
  MAY,
  may,
  PROBLEMS,
  ROLES,
  type Change,
  type Device,
  type KnownRoute,
  type MadeLink,
  type ProblemCode,
  type Role,
  type Session,
} from '@katharos/contract';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Express } from 'express';
import { pino } from 'pino';
import request, { type Response } from 'supertest';
import { createApp } from '../app.ts';
import { harness, NOW, type Harness } from '../testing/harness.ts';
import { tokenFor } from '../testing/signedIn.ts';
import { makeLink } from './links.ts';

let h: Harness;
beforeAll(async () => {
  h = await harness();
});
afterAll(() => h.close());

const PASSWORD = 'kettle orchard tin';
const said = (r: Response): string => (JSON.parse(r.text) as { type: string }).type;
function expectProblem(r: Response, code: ProblemCode): void {
  expect([said(r), r.status]).toEqual([`urn:katharos:problem:${code}`, PROBLEMS[code].status]);
}
/** The cookie an answer sets, as a browser sends it back. */
const cookieIn = (r: Response): string => String(r.headers['set-cookie']).split(';')[0] ?? '';
const nameOf = async (id: string): Promise<string> => (await h.db.Person.findByPk(id, { rejectOnEmpty: true })).name;
/** Somebody new who has a password, by the link the owner made. */
async function withPassword(role: Role): Promise<{ id: string; name: string; cookie: string }> {
  const id = await h.add(role);
  const link = (await request(h.app).post('/api/links').send({ person: id }).expect(201)).body as MadeLink;
  const used = await request(h.bare).post('/api/links/use').send({ token: link.token, password: PASSWORD }).expect(201);
  return { id, name: await nameOf(id), cookie: cookieIn(used) };
}
const signIn = (name: string, password: string, cookie = '', app: Express = h.bare) =>
  request(app).post('/api/session').set({ cookie }).send({ name, password, remember: true });
const rounds = (cookie: string, person?: string) =>
  request(h.bare)
    .get('/api/rounds')
    .set({ cookie, ...(person === undefined ? {} : { 'katharos-person': person }) });

describe('signing in', () => {
  test('takes a name and its password, and gives a cookie that no script reads and no other site sends', async () => {
    const { name, id } = await withPassword('fitter');
    const r = await signIn(name.toUpperCase(), PASSWORD).expect(201);
    expect((r.body as Session).person).toEqual({ id, name, role: 'fitter' });
    expect(String(r.headers['set-cookie'])).toMatch(/HttpOnly; SameSite=Strict$/);
    await rounds(cookieIn(r)).expect(200);
  });
  test('says the same of a wrong password and of a name nobody has', async () => {
    const { name } = await withPassword('fitter');
    const answers = [
      await signIn(name, 'kettle orchard tim'),
      await signIn(`${name} x`, PASSWORD),
      await signIn(await nameOf(await h.add('reader')), ''),
    ];
    for (const r of answers) expectProblem(r, 'wrong-password');
    expect(new Set(answers.map((r) => r.text)).size).toBe(1);
    expect(answers.some((r) => r.headers['set-cookie'] !== undefined)).toBe(false);
  });
  test('keeps no password and no token that could be used', async () => {
    const { id, cookie } = await withPassword('fitter');
    const kept = (await h.db.Person.findByPk(id))?.password ?? '';
    expect(kept).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    const [rows] = await h.db.sequelize.query(`SELECT encode(token_hash, 'base64') AS hash FROM devices`);
    expect(JSON.stringify(rows)).not.toContain(cookie.split('=')[1]);
  });
  test('gives the device another token each time: one that was known before is worth nothing', async () => {
    const { name, cookie } = await withPassword('fitter');
    const second = cookieIn(await signIn(name, PASSWORD, cookie).expect(201));
    expect(second).not.toBe(cookie);
    expectProblem(await rounds(cookie), 'sign-in-first');
    await rounds(second).expect(200);
  });
  test('by a click is for the demo alone', async () => {
    expectProblem(await request(h.bare).post('/api/session/click').send({ person: h.person }), 'not-found');
    const demo = createApp({ db: h.db, shelf: h.shelf, log: pino({ level: 'silent' }), now: () => NOW, click: true });
    const r = await request(demo).post('/api/session/click').send({ person: h.person }).expect(201);
    await rounds(cookieIn(r)).expect(200);
    expectProblem(await request(demo).post('/api/session/click').send({ person: randomUUID() }), 'unknown-person');
    expect(((await request(h.bare).get('/api/session')).body as Session).click).toBeNull();
  });
  test('tells the page whether it is to be remembered, and so opens without the server', async () => {
    const { name } = await withPassword('fitter');
    for (const remember of [true, false]) {
      const r = await request(h.bare).post('/api/session').send({ name, password: PASSWORD, remember }).expect(201);
      expect((r.body as Session).remembered).toBe(remember);
      expect(((await request(h.bare).get('/api/session').set('Cookie', cookieIn(r))).body as Session).remembered).toBe(
        remember,
      );
    }
    expect(((await request(h.bare).get('/api/session')).body as Session).remembered).toBe(false);
  });
  test('ends when it was not heard of for the days of the house rules, or the browser was not to remember it', async () => {
    const { cookie, id } = await withPassword('fitter');
    const quiet = (days: number, remembered: boolean) =>
      h.db.sequelize.query(
        `UPDATE sessions SET seen_at = now() - $1 * interval '1 day', remembered = $3 WHERE person_id = $2`,
        { bind: [days, id, remembered] },
      );
    await quiet(29, true);
    await rounds(cookie).expect(200);
    await quiet(31, true);
    expectProblem(await rounds(cookie), 'sign-in-first');
    await quiet(0.4, false);
    await rounds(cookie).expect(200);
    await quiet(0.6, false);
    expectProblem(await rounds(cookie), 'sign-in-first');
  });
});

describe('guessing', () => {
  test('waits after five tries, while a device that is known goes on', async () => {
    const { name, cookie } = await withPassword('fitter');
    for (let i = 0; i < 5; i++) expectProblem(await signIn(name, `wrong ${String(i)}`), 'wrong-password');
    const r = await signIn(name, PASSWORD);
    expectProblem(r, 'too-often');
    expect(r.text).toContain('15 min');
    await signIn(name, PASSWORD, cookie).expect(201);
    // somebody else at the same address is not locked out with them
    const other = await withPassword('fitter');
    await signIn(other.name, PASSWORD).expect(201);
  });
  test('at one name after the other stops the address, not the firm’s own devices', async () => {
    const { name, cookie } = await withPassword('fitter');
    let refused = 0;
    for (let i = 0; i < 45; i++) if ((await signIn(`nobody ${String(i)}`, 'x')).status === 429) refused++;
    expect(refused).toBeGreaterThan(0);
    await signIn(name, PASSWORD, cookie).expect(201);
    await h.db.sequelize.query('DELETE FROM tries');
  });
});

describe('a device', () => {
  test('that several are signed in on asks for each by name, and for nobody else', async () => {
    const one = await withPassword('fitter');
    const two = await withPassword('reader');
    const cookie = cookieIn(await signIn(two.name, PASSWORD, one.cookie).expect(201));
    const state = (await request(h.bare).get('/api/session').set({ cookie })).body as Session;
    expect(new Set(state.here.map((p) => p.id))).toEqual(new Set([one.id, two.id]));
    const add = (person: string) =>
      request(h.bare)
        .post('/api/households')
        .set({ cookie, 'katharos-person': person })
        .send({ id: randomUUID(), jobId: randomUUID(), name: 'Shared', place: '', contact: '', notes: '' });
    await add(one.id).expect(201);
    expectProblem(await add(two.id), 'not-allowed');
    expectProblem(await add(h.person), 'sign-in-first');
    expectProblem(await add('x'), 'sign-in-first');
    // one goes, the other stays
    await request(h.bare).post('/api/session/end').set({ cookie, 'katharos-person': one.id }).send({}).expect(200);
    expectProblem(await rounds(cookie, one.id), 'sign-in-first');
    await rounds(cookie, two.id).expect(200);
  });
  test('is signed out everywhere from any of them', async () => {
    const { name, cookie } = await withPassword('fitter');
    const elsewhere = cookieIn(await signIn(name, PASSWORD).expect(201));
    await request(h.bare).post('/api/session/end').set({ cookie }).send({ everywhere: true }).expect(200);
    for (const c of [cookie, elsewhere]) expectProblem(await rounds(c), 'sign-in-first');
  });
  test('the owner ended is told so, whatever it asks, and starts anew only by a password', async () => {
    const { name, cookie } = await withPassword('fitter');
    await request(h.bare).put('/api/session/waits').set({ cookie }).send({ waits: 3 }).expect(204);
    const list = (await request(h.app).get('/api/devices').expect(200)).body as Device[];
    const found = list.find((d) => d.people.includes(name));
    expect(found).toMatchObject({ waits: 3, ended: false, thisOne: false });
    expect(list.filter((d) => d.thisOne)).toHaveLength(1);
    await request(h.app)
      .post(`/api/devices/${found?.id ?? ''}/end`)
      .expect(204);
    expectProblem(await rounds(cookie), 'device-ended');
    expect((await request(h.bare).get('/api/session').set({ cookie })).body).toMatchObject({
      ended: true,
      person: null,
      here: [],
    });
    const fresh = cookieIn(await signIn(name, PASSWORD, cookie).expect(201));
    await rounds(fresh).expect(200);
    expect((await request(h.bare).get('/api/session').set({ cookie: fresh })).body).toMatchObject({ ended: false });
    expectProblem(await request(h.app).post(`/api/devices/${randomUUID()}/end`), 'not-found');
  });
});

describe('a link', () => {
  test('opens once, for whom it was made, and only the latest one does', async () => {
    const id = await h.add('office');
    const made = async (): Promise<string> =>
      ((await request(h.app).post('/api/links').send({ person: id }).expect(201)).body as MadeLink).token;
    const first = await made();
    const token = await made();
    expectProblem(await request(h.bare).post('/api/links/look').send({ token: first }), 'link-spent');
    expect((await request(h.bare).post('/api/links/look').send({ token }).expect(200)).body).toEqual({
      purpose: 'join',
      name: await nameOf(id),
    });
    const use = (password: string) => request(h.bare).post('/api/links/use').send({ token, password });
    expectProblem(await use('short'), 'bad-value');
    expectProblem(await use('passwordpassword1'), 'bad-value');
    expectProblem(await use((await nameOf(id)).toLowerCase()), 'bad-value');
    const both = await Promise.all([use(PASSWORD), use(PASSWORD)]);
    expect(both.map((r) => r.status).sort()).toEqual([201, 410]);
    expectProblem(await use(PASSWORD), 'link-spent');
  });
  test('for a new password signs its person out wherever the last one let them in', async () => {
    const { id, name, cookie } = await withPassword('fitter');
    const { token } = (await request(h.app).post('/api/links').send({ person: id })).body as MadeLink;
    expect((await request(h.bare).post('/api/links/look').send({ token })).body).toMatchObject({ purpose: 'reset' });
    await request(h.bare).post('/api/links/use').send({ token, password: 'another four plain words' }).expect(201);
    expectProblem(await rounds(cookie), 'sign-in-first');
    expectProblem(await signIn(name, PASSWORD), 'wrong-password');
  });
  test('is too old after its time, and nothing for somebody who left', async () => {
    const id = await h.add('office');
    const { token } = (await request(h.app).post('/api/links').send({ person: id })).body as MadeLink;
    await h.db.sequelize.query(`UPDATE links SET until = now() - interval '1 second' WHERE person_id = $1`, {
      bind: [id],
    });
    expectProblem(await request(h.bare).post('/api/links/use').send({ token, password: PASSWORD }), 'link-spent');
    const gone = await h.add('office');
    const late = ((await request(h.app).post('/api/links').send({ person: gone })).body as MadeLink).token;
    await request(h.app)
      .put(`/api/people/${gone}`)
      .send({ name: await nameOf(gone), role: 'office', left: true, version: 0 })
      .expect(200);
    expectProblem(await request(h.bare).post('/api/links/use').send({ token: late, password: PASSWORD }), 'link-spent');
  });
  test('begins a firm once: its first owner, and no second one by the same way', async () => {
    const firm = await harness();
    try {
      await firm.db.Person.destroy({ where: {} });
      const state = async (): Promise<Session> => (await request(firm.bare).get('/api/session')).body as Session;
      expect((await state()).begun).toBe(false);
      const tokens = [await makeLink(firm.db, null, null), await makeLink(firm.db, null, null)].map((l) => l.token);
      const use = (token = '') =>
        request(firm.bare).post('/api/links/use').send({ token, name: 'Ada Quill', password: PASSWORD });
      const both = await Promise.all(tokens.map(use));
      expect(both.map((r) => r.status).sort()).toEqual([201, 410]);
      const in_ = both.find((r) => r.status === 201);
      expect((in_?.body as Session | undefined)?.person).toMatchObject({ name: 'Ada Quill', role: 'owner' });
      expect((await state()).begun).toBe(true);
      await request(firm.bare)
        .get('/api/people')
        .set({ cookie: in_ ? cookieIn(in_) : '' })
        .expect(200);
    } finally {
      await firm.close();
    }
  });
});

describe('people', () => {
  const put = async (id: string, change: object) => {
    const p = await h.db.Person.findByPk(id, { rejectOnEmpty: true });
    return request(h.app)
      .put(`/api/people/${id}`)
      .send({ name: p.name, role: p.role, left: p.leftAt !== null, version: p.version, ...change });
  };
  test('change their role at once, and are out the moment they leave', async () => {
    const { id, name, cookie } = await withPassword('reader');
    const add = () =>
      request(h.bare)
        .post('/api/households')
        .set({ cookie })
        .send({ id: randomUUID(), jobId: randomUUID(), name: 'X', place: '', contact: '', notes: '' });
    expectProblem(await add(), 'not-allowed');
    expect((await put(id, { role: 'fitter' })).status).toBe(200);
    await add().expect(201);
    expect((await put(id, { left: true })).status).toBe(200);
    expectProblem(await rounds(cookie), 'sign-in-first');
    expectProblem(await signIn(name, PASSWORD), 'wrong-password');
  });
  test('are edited on top of what stands, and never without an owner', async () => {
    expectProblem(await put(await h.add('reader'), { version: 7 }), 'stale');
    expectProblem(await put(h.person, { role: 'office' }), 'bad-value');
    expectProblem(await put(h.person, { left: true }), 'bad-value');
    expect((await h.db.Person.findByPk(h.person))?.role).toBe('owner');
  });
  test('set a new password with the old one, which is out everywhere else from then on', async () => {
    const { name, cookie } = await withPassword('fitter');
    const elsewhere = cookieIn(await signIn(name, PASSWORD).expect(201));
    const set = (old: string, password: string) =>
      request(h.bare).post('/api/session/password').set({ cookie }).send({ old, password });
    expectProblem(await set('not it at all', 'ribbon anvil meadow'), 'wrong-password');
    const r = await set(PASSWORD, 'ribbon anvil meadow').expect(200);
    await rounds(cookieIn(r)).expect(200);
    expectProblem(await rounds(elsewhere), 'sign-in-first');
    await signIn(name, 'ribbon anvil meadow').expect(201);
  });
});

describe('who may do what', () => {
  const KNOWN = Object.keys(MAY) as KnownRoute[];
  const ask = (app: Express, route: KnownRoute, cookie: string): Promise<Response> => {
    const [method = '', path = ''] = route.split(' ');
    const filled = `/api${path.replaceAll(/:\w+/g, () => randomUUID())}`;
    return request(app)
      [method.toLowerCase() as 'get' | 'post' | 'put'](filled)
      .set({ cookie, 'content-type': 'application/json' })
      .send(method === 'GET' ? undefined : '{}');
  };
  test.each([...ROLES])('stands in one table, and every route keeps to it: %s', async (role) => {
    const cookie = `katharos=${await tokenFor(h.db, await h.add(role))}`;
    for (const route of KNOWN) {
      // what ends or replaces the session that asks comes last, on one of its own
      const own = /session\/(end|click|password)|^POST \/session$/.test(route)
        ? `katharos=${await tokenFor(h.db, await h.add(role))}`
        : cookie;
      const { status, text } = await ask(h.app, route, own);
      const refused = status === 403 && text.includes('not-allowed');
      expect([route, refused]).toEqual([route, !may(role, route)]);
      expect([route, status === 401 && text.includes('sign-in-first')]).toEqual([route, false]);
    }
  });
  test('nobody who is not signed in gets anything but what anybody may', async () => {
    for (const route of KNOWN) {
      const { text } = await ask(h.bare, route, '');
      expect([route, text.includes('sign-in-first')]).toEqual([route, MAY[route] !== 'anybody']);
    }
  });
  test('what does not stand in it is nobody’s', async () => {
    for (const ask of [
      request(h.app).delete(`/api/jobs/${randomUUID()}`),
      request(h.app).post('/api/rounds'),
      request(h.app).get('/api/secrets'),
      request(h.app).get('/api/jobs'),
    ])
      expectProblem(await ask, 'not-found');
    for (const ask of [
      request(h.bare).get('/api/secrets'),
      request(h.bare).get('/api//rounds'),
      request(h.bare).get('/api/rounds/..%2frounds'),
    ])
      expect((await ask).status).toBeGreaterThanOrEqual(401);
  });
});

describe('who changed what', () => {
  const audit = async (query = ''): Promise<Change[]> =>
    ((await request(h.app).get(`/api/audit${query}`).expect(200)).body as { changes: Change[] }).changes;
  test('is written down with the change itself: who, what, before and after', async () => {
    const id = randomUUID();
    const jobId = randomUUID();
    const edit = { name: 'Audited', place: 'Hill', contact: '', notes: '' };
    await request(h.app)
      .post('/api/households')
      .send({ id, jobId, ...edit })
      .expect(201);
    await request(h.app)
      .put(`/api/households/${id}`)
      .send({ ...edit, place: 'Dale', version: 0 })
      .expect(200);
    await request(h.app)
      .post(`/api/jobs/${jobId}/facts`)
      .send({
        facts: [
          {
            v: 2,
            id: randomUUID(),
            jobId,
            at: '2026-05-01T08:00:00.000Z',
            by: h.person,
            kind: 'reading',
            field: 'pH',
            value: 7,
            typed: '7',
          },
        ],
      })
      .expect(201);
    const [fact, changed, added] = await audit();
    expect(fact).toMatchObject({ what: 'reading', about: 'pH', by: 'Tester', jobId });
    expect(changed).toMatchObject({
      what: 'household changed',
      by: 'Tester',
      jobId,
      before: { place: 'Hill' },
      after: { place: 'Dale' },
    });
    expect(added).toMatchObject({ what: 'household added', about: 'Audited', by: 'Tester', jobId });
    const own = await audit(`?person=${h.person}&before=${changed?.seq ?? ''}`);
    expect(own[0]?.seq).toBe(added?.seq);
    expect(own.every((c) => c.by === 'Tester')).toBe(true);
  });
  test('names who brought a job in, not who wrote it once', async () => {
    const other = await harness();
    try {
      const ids = { id: randomUUID(), jobId: randomUUID() };
      await request(other.app)
        .post('/api/households')
        .send({ ...ids, name: 'Brought', place: '', contact: '', notes: '' })
        .expect(201);
      const fact = {
        v: 2,
        id: randomUUID(),
        jobId: ids.jobId,
        at: '2026-05-01T08:00:00.000Z',
        by: other.person,
        kind: 'note',
        text: 'seen',
      };
      await request(other.app)
        .post(`/api/jobs/${ids.jobId}/facts`)
        .send({ facts: [fact] })
        .expect(201);
      const file: unknown = (await request(other.app).get(`/api/jobs/${ids.jobId}/file`)).body;
      await request(h.app).post('/api/jobs/import').send({ file }).expect(201);
      const [line] = (await audit()).filter((c) => c.jobId === ids.jobId && c.what === 'note');
      expect(line?.by).toBe('Tester');
      const stored = (await request(h.app).get(`/api/jobs/${ids.jobId}`)).body as { facts: { by: string }[] };
      expect(stored.facts[0]?.by).toBe(other.person);
      expect((await h.db.Person.findByPk(other.person))?.role).toBe('reader');
    } finally {
      await other.close();
    }
  });
  test('is never changed or taken away, and tells no password', async () => {
    await withPassword('fitter');
    await expect(h.db.sequelize.query(`UPDATE audit SET what = 'nothing'`)).rejects.toThrow('only ever added');
    await expect(h.db.sequelize.query('DELETE FROM audit')).rejects.toThrow('only ever added');
    const lines = await audit();
    expect(lines.map((l) => l.what)).toEqual(
      expect.arrayContaining(['signed in', 'link used', 'password set', 'link made', 'person added']),
    );
    expect(JSON.stringify(lines)).not.toMatch(/argon2|kettle/);
  });
});
