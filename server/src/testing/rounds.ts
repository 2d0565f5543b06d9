import type { Rounds, RoundsEntry } from '@katharos/contract';
import type { Express } from 'express';
import request from 'supertest';

/** Every job on the first page of the round, as the API tells it. */
export async function roundOf(app: Express): Promise<RoundsEntry[]> {
  const { open, kept } = (await request(app).get('/api/rounds').expect(200)).body as Rounds;
  return [...open.entries, ...kept.entries];
}
