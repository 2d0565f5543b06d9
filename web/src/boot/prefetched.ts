import { wrap, type Remote } from 'comlink';

/** What the page waits for at most, in milliseconds, of anything it asks of the server. */
export const PATIENCE_MS = 12_000;

const answers = new Map<string, Promise<Response>>();
let worker: Remote<unknown> | null = null;

/** Starts a worker of the core. */
export const newWorker = <T>(): Remote<T> =>
  wrap<T>(new Worker(new URL('../data/core.worker.ts', import.meta.url), { type: 'module' }));

/** Starts a worker that the first who needs one will take up. */
export function prefetchWorker<T>(): Remote<T> {
  worker = newWorker();
  return worker as Remote<T>;
}

/** The worker begun ahead, which has the page's decision under way, once; a new one after that. */
export function takeWorker<T>(): Remote<T> {
  const taken = worker ?? newWorker();
  worker = null;
  return taken as Remote<T>;
}

/**
 * Asks the server for something the page will ask for: its answer is kept for the first that does.
 * @param path path and search, as in `/api/shelf`
 * @returns what the answer holds. @throws what `fetch` does, and where it is no JSON
 */
export async function prefetchAnswer(path: string): Promise<unknown> {
  const answer = fetch(path, { signal: AbortSignal.timeout(PATIENCE_MS) });
  answers.set(path, answer);
  return (await answer).clone().json() as Promise<unknown>;
}

/** Fetches as the browser does, but takes up an answer begun ahead, once. */
export const fetchPrefetched: typeof fetch = (input, init) => {
  if (!(input instanceof Request) || input.method !== 'GET') return fetch(input, init);
  const { pathname, search } = new URL(input.url);
  const answer = answers.get(pathname + search);
  answers.delete(pathname + search);
  return answer ?? fetch(input, init);
};
