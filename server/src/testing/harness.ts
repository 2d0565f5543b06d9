import { createHash, randomUUID } from 'node:crypto';
import { readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Role } from '@katharos/contract';
import { fileURLToPath } from 'node:url';
import type { Express } from 'express';
import pg from 'pg';
import { pino } from 'pino';
import { createApp } from '../app.ts';
import { migrate } from '../db/migrate.ts';
import { openDb, type Db } from '../db/models.ts';
import { loadDemo } from '../demo/load.ts';
import { openOpened } from '../jobs/opened.ts';
import { openSummaries } from '../rounds/summaries.ts';
import { openShelf } from '../shelf/store.ts';
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
  /** an owner, who asks where a test says nothing else; in the made-up firm nobody, whose owner asks then */
  readonly person: string;
  /** the application as nobody who signed in meets it */
  readonly bare: Express;
  /** the application as somebody signed in on a device of their own meets it */
  as: (person: string) => Express;
  /** somebody new with a role */
  add: (role: Role) => Promise<string>;
  /** brings up every summary that is behind, without the rests the application takes for others */
  catchUp: () => Promise<void>;
  close: () => Promise<void>;
}

/** An application on an empty database of its own, dropped at the end. @param upTo the last migration it has; all if left out */
export async function harness(upTo?: string): Promise<Harness> {
  return onDatabase(async (admin, name, person) => {
    if (upTo === undefined) {
      await admin.query(`CREATE DATABASE ${name} TEMPLATE ${await template(admin, 'empty', () => Promise.resolve())}`);
      const db = openDb(urlOf(name));
      await db.Person.create({ id: person, name: 'Tester', role: 'owner' });
      return db;
    }
    await admin.query(`CREATE DATABASE ${name}`);
    const db = openDb(urlOf(name));
    await migrate(db.sequelize, upTo);
    // a release before this one knew no roles
    await db.sequelize.query('INSERT INTO people (id, name) VALUES ($1, $2)', { bind: [person, 'Tester'] });
    return db;
  });
}

/** The same with the made-up firm in it, each of its jobs' summaries kept: a copy of one that is made once for all tests. */
export async function demoHarness(): Promise<Harness> {
  return onDatabase(async (admin, name) => {
    const firm = await template(admin, 'demo', async (db) => {
      await loadDemo(db, loadShelf(SHELF), FIRM, true, NOW);
      await caughtUp(db, loadShelf(SHELF));
    });
    await admin.query(`CREATE DATABASE ${name} TEMPLATE ${firm}`);
    return openDb(urlOf(name));
  });
}

const clusterUrl = (): string => {
  const url = process.env.TEST_DATABASE_URL;
  if (url) return url;
  throw new Error(
    'TEST_DATABASE_URL is not set: run these through `npm test`, or start a throw-away cluster with scripts/pg.sh',
  );
};
const urlOf = (name: string): string => {
  const url = new URL(clusterUrl());
  url.pathname = `/${name}`;
  return url.href;
};

/** Names what the made-up firm and its summaries are worked out from, as far as files tell when they were written. */
function madeFrom(): string {
  const times = ['core/src', 'server/src', 'demo', 'shelf'].flatMap((folder) => {
    const at = fileURLToPath(new URL(`../../../${folder}`, import.meta.url));
    return readdirSync(at, { recursive: true, encoding: 'utf8' })
      .filter((f) => /\.(ts|json|jsonl)$/.test(f))
      .sort()
      .map((f) => [f, statSync(join(at, f)).mtimeMs]);
  });
  return createHash('sha256').update(JSON.stringify(times)).digest('hex').slice(0, 16);
}

/**
 * A database with every migration that nobody opens, only copies; whoever needs it first makes it.
 * @param fill puts in what it holds
 * @returns its name
 */
async function template(admin: pg.Client, kind: string, fill: (db: Db) => Promise<void>): Promise<string> {
  const name = `${kind}_${madeFrom()}`;
  // each makes it once those who make it have done so
  await admin.query('SELECT pg_advisory_lock(hashtext($1))', [name]);
  try {
    const known = await admin.query('SELECT 1 FROM pg_database WHERE datname = $1', [name]);
    if (known.rowCount === 1) return name;
    const making = `${name}_making`;
    await admin.query(`DROP DATABASE IF EXISTS ${making}`);
    await admin.query(`CREATE DATABASE ${making}`);
    const db = openDb(urlOf(making));
    await migrate(db.sequelize);
    await fill(db);
    await db.close();
    await admin.query(`ALTER DATABASE ${making} RENAME TO ${name}`);
    return name;
  } finally {
    await admin.query('SELECT pg_advisory_unlock(hashtext($1))', [name]);
  }
}

async function caughtUp(db: Db, shelf: ShelfFiles): Promise<void> {
  const opened = openOpened(db, openShelf(db, shelf));
  await openSummaries(db, opened, () => NOW, pino({ level: 'silent' })).catchUp(10_000);
}

/** @param make makes the database of a name and opens it, with somebody in it who owns the firm */
async function onDatabase(make: (admin: pg.Client, name: string, person: string) => Promise<Db>): Promise<Harness> {
  const admin = new pg.Client(clusterUrl());
  await admin.connect();
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const person = randomUUID();
  const db = await make(admin, name, person);
  const shelf = loadShelf(SHELF);
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
    catchUp: () => caughtUp(db, shelf),
    db,
    shelf,
    url: urlOf(name),
    person,
    close: async () => {
      await db.close();
      await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
      await admin.end();
    },
  };
}
