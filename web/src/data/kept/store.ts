import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

/** What the server said last under a path, kept on this device for when it is away. */
export interface Kept {
  /** as asked under `/api/`: "shelf", "rounds", "jobs/…" */
  readonly path: string;
  readonly body: unknown;
  /** when the server said so, by this device's clock, ms since 1970 */
  readonly heardMs: number;
  /** when somebody last opened it here; 0 where nobody did */
  readonly openedMs: number;
  /** somebody chose to take it along: it stays until they let it go */
  readonly chosen: boolean;
}

interface KeptDB extends DBSchema {
  answers: { key: string; value: Kept };
}
let opened: Promise<IDBPDatabase<KeptDB>> | undefined;
const db = (): Promise<IDBPDatabase<KeptDB>> =>
  (opened ??= openDB<KeptDB>('katharos-kept', 1, {
    upgrade: (d) => {
      d.createObjectStore('answers', { keyPath: 'path' });
    },
  }));

/** Jobs that were opened here stay for so many others. */
const LATELY = 30;

/** Path of a job's answer. */
export const jobPath = (id: string): string => `jobs/${id}`;
const isJob = ({ path }: Pick<Kept, 'path'>): boolean => path.startsWith('jobs/');

/** What is kept under a path; null where nothing is, or this device keeps nothing. */
export async function keptAnswer(path: string): Promise<Kept | null> {
  try {
    return (await (await db()).get('answers', path)) ?? null;
  } catch {
    return null;
  }
}

/** Everything kept, without what was said. */
export async function keptPaths(): Promise<Omit<Kept, 'body'>[]> {
  try {
    return (await (await db()).getAll('answers')).map(({ path, heardMs, openedMs, chosen }) => ({
      path,
      heardMs,
      openedMs,
      chosen,
    }));
  } catch {
    return [];
  }
}

/**
 * Keeps what the server said; what somebody chose or opened stays chosen and opened. A device without room keeps none.
 * @param change what else is to be noted with it
 */
export async function keepAnswer(path: string, body: unknown, change: Partial<Pick<Kept, 'chosen' | 'openedMs'>> = {}): Promise<void> {
  try {
    const tx = (await db()).transaction('answers', 'readwrite');
    const before = await tx.store.get(path);
    const noted = { openedMs: before?.openedMs ?? 0, chosen: before?.chosen ?? false, ...change };
    await tx.store.put({ path, body, heardMs: Date.now(), ...noted });
    await tx.done;
  } catch {
    // it is asked for again when there is signal
  }
} // oxfmt-ignore

/** Brings a kept answer up to what the server has taken since. @param change undefined leaves it; what was not kept may be from now on */
export async function changeKept(path: string, change: (body: unknown) => unknown): Promise<void> {
  try {
    const tx = (await db()).transaction('answers', 'readwrite');
    const before = await tx.store.get(path);
    const body = change(before?.body);
    const now = Date.now();
    if (body !== undefined)
      await tx.store.put({ ...(before ?? { path, heardMs: now, openedMs: now, chosen: false }), body });
    await tx.done;
  } catch {
    // it is asked for again when there is signal
  }
}

/** Notes that a kept answer is to stay, or need not. @returns whether there was one */
export async function chooseKept(path: string, chosen: boolean): Promise<boolean> {
  const tx = (await db()).transaction('answers', 'readwrite');
  const before = await tx.store.get(path);
  if (before) await tx.store.put({ ...before, chosen });
  await tx.done;
  return before !== undefined;
}

/** Lets go of what the server no longer has. */
export async function dropKept(path: string): Promise<void> {
  await (await db()).delete('answers', path);
}

/** Lets go of jobs that nobody chose, no visit asks for, and many were opened after. @param wanted paths that stay */
export async function pruneKept(wanted: ReadonlySet<string>): Promise<void> {
  const rest = (await keptPaths())
    .filter((k) => isJob(k) && !k.chosen && !wanted.has(k.path))
    .sort((a, b) => b.openedMs - a.openedMs);
  for (const [i, k] of rest.entries()) if (i >= LATELY || k.openedMs === 0) await dropKept(k.path);
}

/** Forgets all of it: the device is somebody else's now. */
export async function forgetKept(): Promise<void> {
  try {
    await (await db()).clear('answers');
  } catch {
    // nothing is kept where nothing may be
  }
}
