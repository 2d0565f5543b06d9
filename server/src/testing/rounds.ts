import type { Rounds, RoundsEntry } from '@katharos/contract';
import type { Express } from 'express';
import request from 'supertest';

/** Every job on the first page of the round, as the API tells it once none of them is behind. */
export async function roundOf(app: Express): Promise<RoundsEntry[]> {
  for (;;) {
    const { open, kept, behind } = (await request(app).get('/api/rounds').expect(200)).body as Rounds;
    if (behind === 0) return [...open.entries, ...kept.entries];
  }
}
