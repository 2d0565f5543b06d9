import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { serve } from '../testing/serve.ts';

const prefetchDecision = jest.fn((job: unknown, shelf: unknown, kept: unknown) => Promise.resolve([job, shelf, kept]));
let workers = 0;
jest.unstable_mockModule('comlink', () => ({
  wrap: () => {
    const number = ++workers;
    // a worker taken up is looked at as a promise: it is none
    return { number, prefetchDecision, then: undefined };
  },
}));
Object.assign(globalThis, { Worker: jest.fn() });
const { prefetchJob, jobAt } = await import('./prefetch.ts');
const { fetchPrefetched, takeWorker } = await import('./prefetched.ts');
const { SHEETS } = await import('./sheets.ts');

const get = (path: string): Promise<Response> => fetchPrefetched(new Request(`http://localhost${path}`));

beforeEach(() => {
  prefetchDecision.mockClear();
});

test('a job is known by its path, with one of the six parts', () => {
  expect(jobAt('/jobs/ab-1/size')).toEqual({ id: 'ab-1', lens: 'size' });
  expect(jobAt('/jobs/ab-1/keep/')).toEqual({ id: 'ab-1', lens: 'keep' });
  for (const other of ['/', '/shelf', '/jobs/ab-1', '/jobs/ab-1/nothing', '/jobs/ab-1/size/more', '/jobs//size'])
    expect(jobAt(other)).toBeNull();
});

describe('a page that opens on a job', () => {
  test('has its job, shelf, worker and sheet under way; each is taken up once', async () => {
    const asked = serve({
      'GET jobs/ab-1': () => ({ json: { id: 'ab-1' } }),
      'GET shelf': () => ({ json: { parts: [] } }),
      'GET jobs/ab-1/decision': () => ({ json: { stamp: 'one' } }),
    });
    const before = workers;
    prefetchJob('/jobs/ab-1/flush');
    expect(workers).toBe(before + 1);
    expect(asked.map((a) => a.path)).toEqual(['jobs/ab-1', 'shelf', 'jobs/ab-1/decision']);
    expect(await (await get('/api/jobs/ab-1')).json()).toEqual({ id: 'ab-1' });
    expect(await (await get('/api/shelf')).json()).toEqual({ parts: [] });
    expect(asked.length).toBe(3);
    expect(prefetchDecision).toHaveBeenCalledWith({ id: 'ab-1' }, { parts: [] }, { stamp: 'one' });
    expect(await (await get('/api/shelf')).json()).toEqual({ parts: [] });
    expect(asked.length).toBe(4);
    expect(takeWorker()).toMatchObject({ number: before + 1 });
    expect(takeWorker()).toMatchObject({ number: before + 2 });
    await SHEETS.flush.fetch();
    expect(SHEETS.flush.come).toBeTruthy();
  });

  test('is told of a fault where it asks, and nothing is decided', async () => {
    serve({ 'GET jobs/ab-2': () => 'away' });
    prefetchJob('/jobs/ab-2/flush');
    await expect(get('/api/jobs/ab-2')).rejects.toThrow('failed to fetch');
    expect((await get('/api/shelf')).status).toBe(404);
    expect(prefetchDecision).not.toHaveBeenCalled();
    takeWorker();
  });

  test('what is written or asked otherwise is not answered by what was begun', async () => {
    const asked = serve({
      'GET jobs/ab-3': () => ({ json: 'old' }),
      'GET shelf': () => ({ json: {} }),
      'POST shelf': () => ({ json: 'written' }),
    });
    prefetchJob('/jobs/ab-3/flush');
    const write = new Request('http://localhost/api/shelf', { method: 'POST', body: '{}' });
    expect(await (await fetchPrefetched(write)).json()).toBe('written');
    await fetchPrefetched('http://localhost/api/shelf');
    expect(asked.filter((a) => a.path === 'shelf').map((a) => a.method)).toEqual(['GET', 'POST', 'GET']);
    takeWorker();
  });
});

test('any other page begins nothing', () => {
  const asked = serve({});
  const before = workers;
  prefetchJob('/shelf');
  expect([asked.length, workers]).toEqual([0, before]);
});
