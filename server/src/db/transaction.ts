import { DatabaseError, type Transaction } from 'sequelize';
import type { Db } from './models.ts';

/** PostgreSQL's codes for writers that got in each other's way: a deadlock, an order that cannot be kept. */
const IN_EACH_OTHERS_WAY = new Set(['40P01', '40001']);
const TRIES = 4;

function inTheWay(e: unknown): boolean {
  if (!(e instanceof DatabaseError)) return false;
  const code: unknown = Reflect.get(e.original, 'code');
  return typeof code === 'string' && IN_EACH_OTHERS_WAY.has(code);
}

/** Runs a write whole or not at all; one that another writer was in the way of is run again. @param work may run more than once */
export async function inTransaction<T>(db: Pick<Db, 'sequelize'>, work: (t: Transaction) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await db.sequelize.transaction(work);
    } catch (e) {
      if (tries >= TRIES || !inTheWay(e)) throw e;
      await new Promise((r) => setTimeout(r, 10 * tries + 40 * Math.random()));
    }
  }
}
