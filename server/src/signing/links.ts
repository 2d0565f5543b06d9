import { randomUUID } from 'node:crypto';
import type { Link, MadeLink } from '@katharos/contract';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Db } from '../db/models.ts';
import { inTransaction } from '../db/transaction.ts';
import { ApiProblem } from '../http/problem.ts';
import { hashOf, passwordFault } from './passwords.ts';
import { newToken, tokenHash } from './tokens.ts';

type Purpose = Link['purpose'];
interface Row {
  readonly id: string;
  readonly purpose: Purpose;
  readonly personId: string | null;
  readonly name: string | null;
}

/** How long a link opens, days. */
const OPEN_DAYS: Readonly<Record<Purpose, number>> = { owner: 7, join: 7, reset: 1 };
/** Somebody who may sign in with a password and do everything. */
const AN_OWNER = `SELECT 1 AS one FROM people WHERE role = 'owner' AND password IS NOT NULL AND left_at IS NULL LIMIT 1`;

/** Whether the firm has an owner who can sign in. */
export async function hasOwner(db: Db, transaction: Transaction | null = null): Promise<boolean> {
  return (await db.sequelize.query(AN_OWNER, { type: QueryTypes.SELECT, transaction })).length > 0;
}

/**
 * Makes a one-time link, which the owner hands over as they like; an earlier one for the same person opens nothing any more.
 * @param personId whom it is for; null for the firm's first owner @param madeBy null where the application makes it itself
 */
export async function makeLink(db: Db, personId: string | null, madeBy: string | null): Promise<MadeLink> {
  const token = newToken();
  return inTransaction(db, async (transaction) => {
    const person = personId === null ? null : await db.Person.findByPk(personId, { transaction, lock: true });
    if (personId !== null && (!person || person.leftAt)) throw new ApiProblem('not-found');
    const purpose: Purpose = person ? (person.password === null ? 'join' : 'reset') : 'owner';
    const until = new Date(Date.now() + OPEN_DAYS[purpose] * 86400000);
    if (person)
      await db.sequelize.query('UPDATE links SET until = now() WHERE person_id = $1 AND used_at IS NULL AND until > now()', {
        bind: [person.id],
        transaction,
      });
    await db.sequelize.query(
      'INSERT INTO links (id, token_hash, purpose, person_id, made_by, until) VALUES ($1, $2, $3, $4, $5, $6)',
      { bind: [randomUUID(), tokenHash(token), purpose, personId, madeBy, until], transaction },
    );
    return { token, until: until.toISOString() };
  });
} // oxfmt-ignore

/** @throws ApiProblem 'link-spent' */
async function openLink(db: Db, token: string, transaction: Transaction | null): Promise<Row> {
  const [row] = await db.sequelize.query<Row>(
    `SELECT l.id, l.purpose, l.person_id AS "personId", p.name FROM links l LEFT JOIN people p ON p.id = l.person_id
       WHERE l.token_hash = $1 AND l.used_at IS NULL AND l.until > now() AND p.left_at IS NULL
       ${transaction ? 'FOR UPDATE OF l' : ''}`,
    { type: QueryTypes.SELECT, bind: [tokenHash(token)], transaction },
  );
  // a second first owner would be an owner nobody asked for
  if (!row || (row.purpose === 'owner' && (await hasOwner(db, transaction)))) throw new ApiProblem('link-spent');
  return row;
}

/** What a link is for. @throws ApiProblem 'link-spent' */
export async function lookAtLink(db: Db, token: string): Promise<Link> {
  const { purpose, name } = await openLink(db, token, null);
  return { purpose, name: name ?? '' };
}

/**
 * Uses a link up: its person has this password from now on, and is signed out wherever they were signed in by the last one.
 * The firm's first owner gives a name as well; one that is here already is theirs.
 * @returns whose it is. @throws ApiProblem 'link-spent', or 'bad-value' for a password that is guessed at once
 */
export async function useLink(db: Db, token: string, password: string, firstName: string | undefined): Promise<string> {
  const encoded = await hashOf(password);
  return inTransaction(db, async (transaction) => {
    // two first owners at once wait for each other here
    await db.sequelize.query('LOCK TABLE links IN SHARE ROW EXCLUSIVE MODE', { transaction });
    const link = await openLink(db, token, transaction);
    const name = link.name ?? firstName;
    if (name === undefined) throw new ApiProblem('bad-value', { errors: [{ path: 'name', message: 'Give your name.' }] });
    const message = passwordFault(password, name);
    if (message !== null) throw new ApiProblem('bad-value', { errors: [{ path: 'password', message }] });
    const id = link.personId ?? (await firstOwner(db, name, transaction));
    await db.Person.update({ password: encoded, ...(link.personId === null ? { role: 'owner' as const } : {}) }, { where: { id }, transaction });
    await db.sequelize.query('UPDATE sessions SET ended_at = now() WHERE person_id = $1 AND ended_at IS NULL', { bind: [id], transaction });
    await db.sequelize.query('UPDATE links SET used_at = now(), person_id = $2 WHERE id = $1', { bind: [link.id, id], transaction });
    return id;
  });
} // oxfmt-ignore

async function firstOwner(db: Db, name: string, transaction: Transaction): Promise<string> {
  const people = await db.Person.findAll({ where: { leftAt: null }, transaction });
  const here = people.find((p) => p.name.toLowerCase() === name.toLowerCase());
  if (here) return here.id;
  const id = randomUUID();
  await db.Person.create({ id, name, role: 'owner', updatedBy: id }, { transaction });
  return id;
}
