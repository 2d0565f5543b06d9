import { DatabaseError, type Transaction } from 'sequelize';
import { OUTGROWN } from './client.ts';
import type { Db } from './models.ts';

/** PostgreSQL's codes for writers that got in each other's way (a deadlock, an order that cannot be kept), and for a plan that fits no longer. */
const WORTH_ANOTHER_TRY = new Set(['40P01', '40001', OUTGROWN]);
const TRIES = 4;

/** PostgreSQL's code of what went wrong; empty for what is none of its errors. */
export function codeOf(e: unknown): string {
  const code: unknown = e instanceof DatabaseError ? Reflect.get(e.original, 'code') : undefined;
  return typeof code === 'string' ? code : '';
}

/** Asks within a transaction, where there is one. */
export const within = (transaction: Transaction | undefined): { transaction?: Transaction } =>
  transaction ? { transaction } : {};

/** Runs a write, and once more where that is worth it. @param work whole or not at all each time; may run more than once */
export async function again<T>(work: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await work();
    } catch (e) {
      if (tries >= TRIES || !WORTH_ANOTHER_TRY.has(codeOf(e))) throw e;
      await new Promise((r) => setTimeout(r, 10 * tries + 40 * Math.random()));
    }
  }
}

/** Runs a write of several statements whole or not at all, as `again`. */
export const inTransaction = <T>(db: Pick<Db, 'sequelize'>, work: (t: Transaction) => Promise<T>): Promise<T> =>
  again(() => db.sequelize.transaction(work));
