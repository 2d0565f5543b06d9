import type { Rounds, RoundsEntry } from '@katharos/contract';
import request from 'supertest';
import type { Harness } from './harness.ts';

/** Every job on the first page of the round, as the API tells it once none of them is behind. @param as who asks, if not who asks otherwise */
export async function roundOf(h: Harness, as = h.app): Promise<RoundsEntry[]> {
  for (;;) {
    await h.catchUp();
    const { open, kept, behind } = (await request(as).get('/api/rounds').expect(200)).body as Rounds;
    if (behind === 0) return [...open.entries, ...kept.entries];
  }
}

/** The made-up firm's jobs by the first word of their household's name. */
export async function jobsIn(h: Harness): Promise<ReadonlyMap<string, string>> {
  return new Map((await roundOf(h)).map((r) => [r.household.name.split(' ')[0] ?? '', r.jobId]));
}
