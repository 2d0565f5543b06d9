import type { Rounds, RoundsEntry } from '@katharos/contract';
import type { Express } from 'express';
import request from 'supertest';
import type { Harness } from './harness.ts';

/** Every job on the first page of the round, as the API tells it once none of them is behind. */
export async function roundOf(app: Express): Promise<RoundsEntry[]> {
  for (;;) {
    const { open, kept, behind } = (await request(app).get('/api/rounds').expect(200)).body as Rounds;
    if (behind === 0) return [...open.entries, ...kept.entries];
  }
}

/** The made-up firm's jobs by the first word of their household's name. */
export async function jobsIn(h: Harness): Promise<ReadonlyMap<string, string>> {
  return new Map((await roundOf(h.app)).map((r) => [r.household.name.split(' ')[0] ?? '', r.jobId]));
}
