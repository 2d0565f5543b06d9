import { prefetchAnswer, prefetchWorker } from './prefetched.ts';
import { ROUNDS } from './rounds.ts';
import { SHEETS } from './sheets.ts';

/** The job and the lens a page opens on; null for any other page. */
export function jobAt(pathname: string): { readonly id: string; readonly lens: keyof typeof SHEETS } | null {
  const [, id, last] = /^\/jobs\/([^/]+)\/([^/]+)\/?$/.exec(pathname) ?? [];
  const lens = Object.keys(SHEETS).find((l) => l === last) as keyof typeof SHEETS | undefined;
  return id !== undefined && lens ? { id, lens } : null;
}

/** Begins what a page will need while its own scripts are still on their way. @param pathname the page's path */
export function prefetchPage(pathname: string): void {
  if (pathname === '/') ROUNDS.fetch().catch(() => undefined);
  else prefetchJob(pathname);
}

/**
 * Begins what a page that opens on a job will need (its job, the shelf, what is decided of it, the script of its lens)
 * while the page's own scripts are still on their way. Each is taken up by the first that asks for it.
 * @param pathname the page's path; any but a job's begins nothing
 */
export function prefetchJob(pathname: string): void {
  const at = jobAt(pathname);
  if (!at) return;
  const worker = prefetchWorker<{ prefetchDecision: (job: unknown, shelf: unknown, kept: unknown) => void }>();
  // what fails here fails again, and is told, where the page asks for it
  Promise.all([
    prefetchAnswer(`/api/jobs/${at.id}`),
    prefetchAnswer('/api/shelf'),
    prefetchAnswer(`/api/jobs/${at.id}/decision`).catch(() => null),
  ])
    .then(([job, shelf, kept]) => worker.prefetchDecision(job, shelf, kept))
    .catch(() => undefined);
  SHEETS[at.lens].fetch().catch(() => undefined);
}
