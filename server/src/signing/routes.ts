import {
  ClickSchema,
  EndSchema,
  LookLinkSchema,
  NewLinkSchema,
  NewPasswordSchema,
  PERSON_HEADER,
  ROLES,
  SignInSchema,
  UseLinkSchema,
  WaitsSchema,
  type Device,
  type Session,
  type Signed,
} from '@katharos/contract';
import { Router, type Request } from 'express';
import type { Db } from '../db/models.ts';
import { byOf, giveToken, takeToken, tokenOf, whoAsks } from '../http/guard.ts';
import { ApiProblem, parse, pathId } from '../http/problem.ts';
import { hasOwner, lookAtLink, makeLink, useLink } from './links.ts';
import type { Limits, Trier } from './limits.ts';
import { hashOf, isPassword, passwordFault } from './passwords.ts';
import type { Sessions } from './sessions.ts';

interface Parts {
  readonly db: Db;
  readonly sessions: Sessions;
  readonly limits: Limits;
  /** whether somebody may come in by a click on their name: the demo, and nobody's firm */
  readonly click: boolean;
}

const addressOf = (req: Request): string => req.ip ?? '';

/** What a device is called until somebody calls it otherwise. */
function calledBy(req: Request, name: string): string {
  const agent = req.get('user-agent') ?? '';
  const what = /iPad|Tablet/i.test(agent) ? 'tablet' : /Mobi|Android|iPhone/i.test(agent) ? 'phone' : 'computer';
  return `${name}’s ${what}`;
}

/** Signing in and out, and what a device is told of itself. */
export function sessionRoutes({ db, sessions, limits, click }: Parts): Router {
  const r = Router();
  const clickable = async (): Promise<Signed[]> => {
    const people = await db.Person.findAll({ where: { leftAt: null }, order: [['name', 'ASC']] });
    const shown = people.map(({ id, name, role }) => ({ id, name, role }));
    return shown.sort((a, b) => ROLES.indexOf(a.role) - ROLES.indexOf(b.role));
  };
  const stateOf = async (token: string | undefined, acting?: string): Promise<Session> => {
    const [{ here, ended, days, remembered }, begun] = await Promise.all([sessions.stateOf(token), hasOwner(db)]);
    const person = here.find((p) => p.id === acting) ?? here[0] ?? null;
    return { person, here: [...here], click: click ? await clickable() : null, begun, ended, days, remembered };
  };
  const letIn = async (req: Request, person: Signed, remember: boolean): Promise<{ token: string; state: Session }> => {
    const token = await sessions.begin(tokenOf(req), person.id, remember, calledBy(req, person.name));
    return { token, state: await stateOf(token, person.id) };
  };

  r.get('/', async (req, res) => {
    res.json(await stateOf(tokenOf(req), req.get(PERSON_HEADER)));
  });
  r.post('/', async (req, res) => {
    const { name, password, remember } = parse(SignInSchema, req.body);
    const person = await db.Person.findOne({ where: db.sequelize.where(db.sequelize.fn('lower', db.sequelize.col('name')), name.toLowerCase()) });
    const { device } = await sessions.stateOf(tokenOf(req));
    const known = device !== null && person !== null && (await sessions.knows(device, person.id)) ? device : null;
    const trier: Trier = { name, address: addressOf(req), known };
    await limits.count(trier);
    const right = await isPassword(person?.leftAt ? null : (person?.password ?? null), password);
    if (!person || !right) throw new ApiProblem('wrong-password');
    await limits.forget(trier);
    const { token, state } = await letIn(req, person, remember);
    giveToken(req, res, token, remember ? state.days : null);
    res.status(201).json(state);
  });
  r.post('/click', async (req, res) => {
    if (!click) throw new ApiProblem('not-found');
    const { person: id } = parse(ClickSchema, req.body);
    const person = await db.Person.findByPk(id);
    if (!person || person.leftAt) throw new ApiProblem('unknown-person');
    const { token, state } = await letIn(req, person, true);
    giveToken(req, res, token, state.days);
    res.status(201).json(state);
  });
  r.post('/end', async (req, res) => {
    const { everywhere } = parse(EndSchema, req.body);
    const { device, here } = await sessions.stateOf(tokenOf(req));
    const acting = req.get(PERSON_HEADER)?.toLowerCase();
    const person = acting === undefined ? here[0] : here.find((p) => p.id === acting);
    if (person) await sessions.end(person.id, everywhere ? null : device);
    const state = await stateOf(tokenOf(req));
    if (state.here.length === 0) takeToken(req, res);
    res.json(state);
  });
  r.post('/password', async (req, res) => {
    const { old, password } = parse(NewPasswordSchema, req.body);
    const { person: who, device } = whoAsks(req);
    const person = await db.Person.findByPk(who.id);
    const trier: Trier = { name: who.name, address: addressOf(req), known: device };
    await limits.count(trier);
    if (!person || !(await isPassword(person.password, old)))
      throw new ApiProblem('wrong-password', { errors: [{ path: 'old', message: 'That is not your password now.' }] });
    const message = passwordFault(password, person.name);
    if (message !== null) throw new ApiProblem('bad-value', { errors: [{ path: 'password', message }] });
    await limits.forget(trier);
    const encoded = await hashOf(password);
    await db.Person.update({ password: encoded }, { where: { id: person.id } });
    // whoever came in by the old one is out; this device stays
    await sessions.end(person.id, null);
    const { token, state } = await letIn(req, person, true);
    giveToken(req, res, token, state.days);
    res.json(state);
  });
  r.put('/waits', async (req, res) => {
    const { waits } = parse(WaitsSchema, req.body);
    await sessions.waits(whoAsks(req).device, waits);
    res.status(204).end();
  });
  return r;
} // oxfmt-ignore

/** One-time links: made by the owner, used by whom they are for. */
export function linkRoutes({ db, sessions, limits }: Parts): Router {
  const r = Router();
  const trierOf = (req: Request): Trier => ({ name: 'a link', address: addressOf(req), known: null });
  r.post('/', async (req, res) => {
    const { person } = parse(NewLinkSchema, req.body);
    res.status(201).json(await makeLink(db, person, byOf(req)));
  });
  r.post('/look', async (req, res) => {
    const { token } = parse(LookLinkSchema, req.body);
    await limits.count(trierOf(req));
    const link = await lookAtLink(db, token);
    await limits.forget(trierOf(req));
    res.json(link);
  });
  r.post('/use', async (req, res) => {
    const { token, password, name, remember } = parse(UseLinkSchema, req.body);
    await limits.count(trierOf(req));
    const id = await useLink(db, token, password, name);
    await limits.forget(trierOf(req));
    const person = await db.Person.findByPk(id, { rejectOnEmpty: true });
    const fresh = await sessions.begin(tokenOf(req), id, remember, calledBy(req, person.name));
    const { here, days, remembered } = await sessions.stateOf(fresh);
    giveToken(req, res, fresh, remember ? days : null);
    const own = here.find((p) => p.id === id) ?? null;
    res.status(201).json({
      person: own,
      here: [...here],
      click: null,
      begun: true,
      ended: false,
      days,
      remembered,
    } satisfies Session);
  });
  return r;
}

/** The devices of the firm, for its owner. */
export function deviceRoutes({ sessions }: Pick<Parts, 'sessions'>): Router {
  const r = Router();
  r.get('/', async (req, res) => {
    const own = whoAsks(req).device;
    const devices = await sessions.devices();
    res.json(devices.map((d): Device => ({ ...d, seenAt: d.seenAt.toISOString(), thisOne: d.id === own })));
  });
  r.post('/:id/end', async (req, res) => {
    if (!(await sessions.endDevice(pathId(req), byOf(req)))) throw new ApiProblem('not-found');
    res.status(204).end();
  });
  return r;
}
