import type { StockMove } from '@katharos/contract';
import type { Transaction } from 'sequelize';
import type { Db } from '../db/models.ts';

/** Keeps movements of the stock, each once however often it is sent. */
export async function storeMoves(db: Db, moves: readonly StockMove[], by: string, transaction?: Transaction): Promise<void> {
  await db.sequelize.query(
    `INSERT INTO stock_moves (id, part, place, van_of, kind, count, note, at, by)
       SELECT m.id, m.part, m.place, m."vanOf", m.kind, m.count, m.note, m.at, $2
         FROM jsonb_to_recordset($1::jsonb) AS m(id uuid, part text, place text, "vanOf" uuid, kind text, count numeric, note text, at timestamptz)
       ON CONFLICT (id) DO NOTHING`,
    { bind: [JSON.stringify(moves), by], ...(transaction ? { transaction } : {}) },
  );
} // oxfmt-ignore
