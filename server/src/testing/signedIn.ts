import express, { type Express } from 'express';
import type { Db } from '../db/models.ts';
import { openSessions } from '../signing/sessions.ts';

/** Signs somebody in on a device of their own, as the server itself does. @returns its token */
export const tokenFor = (db: Db, person: string): Promise<string> =>
  openSessions(db).begin(undefined, person, true, 'a test');

/**
 * An application as somebody who is signed in meets it; what comes with a cookie of its own stays as it is.
 * @param person once they are gone, with demo data that replaced everything, whoever owns the firm then
 */
export function signedIn(app: Express, db: Db, person: string): Express {
  const sessions = openSessions(db);
  let token: string | undefined;
  return express().use(async (req, _res, next) => {
    if (req.headers.cookie === undefined) {
      if (token === undefined || (await sessions.stateOf(token)).here.length === 0) {
        const who = (await db.Person.findByPk(person)) ?? (await db.Person.findOne({ where: { role: 'owner' } }));
        token = await tokenFor(db, who?.id ?? person);
      }
      req.headers.cookie = `katharos=${token}`;
    }
    next();
  }, app);
}
