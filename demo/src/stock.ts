import { STOCK_PLACES, type Catalogue } from '@katharos/core';
import type { StockMove } from '@katharos/contract';
import { uuidOf } from './ids.ts';

/** What the made-up firm counted this morning: of ordinary things some, of seldom ones none. */
export function demoStock(catalogue: Catalogue, nowMs: number): StockMove[] {
  const at = new Date(nowMs - 1800000).toISOString();
  return catalogue.flatMap((p, i) =>
    STOCK_PLACES.map((place, k): StockMove => {
      const count = p.kind === 'tube' ? 12 + 20 * k : (i * (k === 0 ? 3 : 5) + 1) % (k === 0 ? 4 : 7);
      return { id: uuidOf(`stock ${p.id} ${place}`), part: p.id, place, kind: 'count', count, note: '', at };
    }),
  );
}
