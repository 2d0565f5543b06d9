import { randomUUID } from 'node:crypto';
import type { Role } from '@katharos/contract';
import { fileURLToPath } from 'node:url';
import type { Express } from 'express';
import pg from 'pg';
import { pino } from 'pino';
import { createApp } from '../app.ts';
import { migrate } from '../db/migrate.ts';
import { openDb, type Db } from '../db/models.ts';
import { signedIn } from './signedIn.ts';
import { loadShelf, type ShelfFiles } from '@katharos/shelf';

export const FIRM = fileURLToPath(new URL('../../../demo', import.meta.url));
export const SHELF = fileURLToPath(new URL('../../../shelf', import.meta.url));
export const NOW = Date.parse('2026-06-01T10:00:00.000Z');

export interface Harness {
  readonly app: Express;
  readonly db: Db;
  readonly shelf: ShelfFiles;
  readonly url: string;
  /** an owner, who asks where a test says nothing else */
  readonly person: string;
  /** the application as nobody who signed in meets it */
  readonly bare: Express;
  /** the application as somebody signed in on a device of their own meets it */
  as: (person: string) => Express;
  /** somebody new with a role */
  add: (role: Role) => Promise<string>;
  close: () => Promise<void>;
}

/** An application on an empty database of its own, dropped at the end. @param upTo the last migration it has; all if left out */
export async function harness(upTo?: string): Promise<Harness> {
  const base = process.env.TEST_DATABASE_URL;
  if (!base)
    throw new Error(
      'TEST_DATABASE_URL is not set: run these through `npm test`, or start a throw-away cluster with scripts/pg.sh',
    );
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const admin = new pg.Client(base);
  await admin.connect();
  await admin.query(`CREATE DATABASE ${name}`);
  const url = new URL(base);
  url.pathname = `/${name}`;
  const db = openDb(url.href);
  await migrate(db.sequelize, upTo);
  const shelf = loadShelf(SHELF);
  const person = randomUUID();
  // a release before this one knew no roles
  if (upTo === undefined) await db.Person.create({ id: person, name: 'Tester', role: 'owner' });
  else await db.sequelize.query('INSERT INTO people (id, name) VALUES ($1, $2)', { bind: [person, 'Tester'] });
  const bare = createApp({ db, shelf, log: pino({ level: 'silent' }), now: () => NOW });
  return {
    app: signedIn(bare, db, person),
    bare,
    as: (who) => signedIn(bare, db, who),
    add: async (role) => {
      const id = randomUUID();
      await db.Person.create({ id, name: `The ${role} ${id.slice(0, 8)}`, role });
      return id;
    },
    db,
    shelf,
    url: url.href,
    person,
    close: async () => {
      await db.close();
      await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
      await admin.end();
    },
  };
}
