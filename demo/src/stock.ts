import type { Catalogue } from '@katharos/core';
import type { StockMove } from '@katharos/contract';
import { uuidOf } from './ids.ts';

/** What the made-up firm counted this morning: of ordinary things some, of seldom ones none. */
export function demoStock(catalogue: Catalogue, drivers: readonly string[], nowMs: number): StockMove[] {
  const at = new Date(nowMs - 1800000).toISOString();
  const places = [...drivers.map((vanOf) => ({ place: 'van', vanOf }) as const), { place: 'store' } as const];
  return catalogue.flatMap((p, i) =>
    places.map((where, k): StockMove => {
      const van = where.place === 'van';
      const count = p.kind === 'tube' ? (van ? 12 + 4 * k : 32) : van ? (3 * i + 1 + k) % 4 : (5 * i + 1) % 7;
      return { id: uuidOf(`stock ${p.id} ${String(k)}`), part: p.id, ...where, kind: 'count', count, note: '', at };
    }),
  );
}
