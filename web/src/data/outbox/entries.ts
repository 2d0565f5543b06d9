import {
  HouseholdEditSchema,
  HouseholdSchema,
  NewHouseholdSchema,
  PutHouseholdSchema,
  StoredVersionSchema,
  type Household,
  type HouseholdEdit,
  type Job,
  type NewHousehold,
  type PutHousehold,
} from '@katharos/contract';
import { hasFactShape, FactSchema, liftFact, type DesignVersion, type Fact } from '@katharos/core';
import { openDB, type IDBPDatabase } from 'idb';
import * as z from 'zod';

/** One write of a job, born on this device, that the server has not confirmed. */
export type Entry = {
  readonly id: string;
  readonly jobId: string;
  readonly at: string;
  /** who made it, where its body does not say: it is sent in their name, whoever holds the device then */
  readonly by?: string | undefined;
} & (
  | { readonly write: 'fact'; readonly body: Fact }
  | { readonly write: 'design'; readonly body: DesignVersion }
  | { readonly write: 'household-new'; readonly body: NewHousehold }
  | {
      readonly write: 'household';
      readonly householdId: string;
      /** as it was read when it was edited */
      readonly base: HouseholdEdit;
      readonly body: PutHousehold;
    }
);

/** A write the server would not take, with its reason; kept until a person decides. */
export interface Refused {
  readonly entry: Entry;
  readonly reason: string;
  /** what stands there instead, where somebody else was first */
  readonly current?: Household | undefined;
}

/** Who made an entry; undefined for one of a page that did not say. */
export const makerOf = (e: Entry): string | undefined => e.by ?? ('by' in e.body ? e.body.by : undefined);

/** A fact as an entry: it keeps its own id. */
export const factEntry = (f: Fact): Entry => ({ write: 'fact', id: f.id, jobId: f.jobId, at: f.at, body: f });

const common = { id: z.uuid(), jobId: z.uuid(), at: z.iso.datetime(), by: z.uuid().optional() };
const EntrySchema = z.discriminatedUnion('write', [
  // whether a fact is right is for the server to say, with its reason: here it is kept whatever it is
  z.object({ ...common, write: z.literal('fact'), body: z.custom<Fact>(hasFactShape) }),
  z.object({ ...common, write: z.literal('design'), body: StoredVersionSchema }),
  z.object({ ...common, write: z.literal('household-new'), body: NewHouseholdSchema }),
  z.object({
    ...common,
    write: z.literal('household'),
    householdId: z.uuid(),
    base: HouseholdEditSchema,
    body: PutHouseholdSchema,
  }),
]) as unknown as z.ZodType<Entry>;
const RefusedSchema = z.object({ entry: EntrySchema, reason: z.string(), current: HouseholdSchema.optional() });
/** How the release before this one kept what was refused. */
const RefusedFactSchema = z.object({ fact: FactSchema, reason: z.string() });

let opened: Promise<IDBPDatabase> | undefined;
const db = (): Promise<IDBPDatabase> =>
  (opened ??= openDB('katharos', 1, {
    upgrade: (d) => {
      d.createObjectStore('outbox', { keyPath: 'id' });
    },
  }));

/** Place in the order things were written down in, whatever the clock of the device does meanwhile. */
let lastPlace = 0;
const nextPlace = (): number => (lastPlace = Math.max(lastPlace + 1, Date.now()));
const placeOf = (row: unknown): number => {
  const { place, at } = row as { place?: unknown; at?: unknown };
  return typeof place === 'number' ? place : typeof at === 'string' ? Date.parse(at) : 0;
};

/** Entries are noted under this name, each by its id, until the store has them. */
export const UNKEPT = 'katharos.unkept.';

/**
 * Notes entries at once, before the store is asked: a page that is closed or dies in the moment between loses none of them.
 * A device without room for that keeps them all the same.
 */
export function noteEntries(entries: readonly Entry[]): void {
  try {
    for (const e of entries) localStorage.setItem(UNKEPT + e.id, JSON.stringify({ ...e, place: nextPlace() }));
  } catch {
    // the store is asked next
  }
}

function unnote(ids: readonly string[]): void {
  try {
    for (const id of ids) localStorage.removeItem(UNKEPT + id);
  } catch {
    // nothing was noted
  }
}

/** Puts what a page noted and did not live to keep into the store; what does not read stays noted. */
async function keepNoted(): Promise<void> {
  const noted = Object.keys(localStorage).filter((key) => key.startsWith(UNKEPT));
  for (const key of noted) {
    const row: unknown = JSON.parse(localStorage.getItem(key) ?? 'null');
    if (EntrySchema.safeParse(row).data?.id !== key.slice(UNKEPT.length)) continue;
    const tx = (await db()).transaction('outbox', 'readwrite');
    if ((await tx.store.getKey(key.slice(UNKEPT.length))) === undefined) await tx.store.put(row);
    await tx.done;
    localStorage.removeItem(key);
  }
}

/** Keeps entries on this device. @throws where it has no room, or does not allow it */
export async function keepEntries(entries: readonly Entry[]): Promise<void> {
  const tx = (await db()).transaction('outbox', 'readwrite');
  await Promise.all([...entries.map((e) => tx.store.put({ ...e, place: nextPlace() })), tx.done]);
  unnote(entries.map((e) => e.id));
}

/** Keeps what was refused in the entry's own place, with its reason. @throws as `keepEntries` */
export async function keepRefused(r: Refused): Promise<void> {
  await (await db()).put('outbox', { id: r.entry.id, ...r });
  unnote([r.entry.id]);
}

/** Takes entries off this device. @throws as `keepEntries` */
export async function forgetEntries(ids: readonly string[]): Promise<void> {
  unnote(ids);
  const d = await db();
  await Promise.all(ids.map((id) => d.delete('outbox', id)));
}

/** What a device has kept. */
export interface Kept {
  readonly entries: Entry[];
  readonly refused: Refused[];
  /** rows that cannot be read; they stay where they are */
  readonly unreadable: number;
  /** facts of an older page wait for their job's designs, to be lifted by */
  readonly waiting: boolean;
}

/** Reads what an earlier page left, in the order it was made. Facts of an older shape are lifted and written anew. */
export async function readKept(): Promise<Kept> {
  await keepNoted().catch(() => undefined);
  const rows = ((await (await db()).getAll('outbox')) as unknown[]).sort((a, b) => placeOf(a) - placeOf(b));
  lastPlace = Math.max(lastPlace, placeOf(rows.at(-1) ?? {}));
  const entries: Entry[] = [];
  const refused: Refused[] = [];
  const lift = new Lifting();
  let unreadable = 0;
  for (const row of rows) {
    const entry = asEntry(row) ?? (await lift.fact(row));
    const kept = entry ? null : asRefused(row);
    if (entry) entries.push(entry);
    else if (kept) refused.push(kept);
    else if (!lift.waits(row)) unreadable++;
  }
  return { entries, refused, unreadable, waiting: lift.waiting };
}

function asEntry(row: unknown): Entry | undefined {
  const fact = FactSchema.safeParse(row).data;
  return fact ? factEntry(fact) : EntrySchema.safeParse(withMaker(row)).data;
}

/** The release before this one had the maker of a household in its body, where the server now takes none. */
function withMaker(row: unknown): unknown {
  const { by, write, body } = row as { by?: unknown; write?: unknown; body?: { by?: unknown } };
  return by === undefined && (write === 'household' || write === 'household-new') ? { ...(row as object), by: body?.by } : row;
} // oxfmt-ignore

function asRefused(row: unknown): Refused | undefined {
  const old = RefusedFactSchema.safeParse(row).data;
  if (old) return { entry: factEntry(old.fact), reason: old.reason };
  const { entry, ...rest } = row as { entry?: unknown };
  return RefusedSchema.safeParse({ ...rest, entry: typeof entry === 'object' ? withMaker(entry) : entry }).data;
}

/** Lifts facts that an older page wrote, by the designs of their jobs. */
class Lifting {
  private readonly designs = new Map<string, readonly DesignVersion[] | null>();
  get waiting(): boolean {
    return [...this.designs.values()].includes(null);
  }
  /** Whether a row waits for its job's designs. */
  waits(row: unknown): boolean {
    const jobId = olderFactOf(row);
    return jobId !== undefined && this.designs.get(jobId) === null;
  }
  async fact(row: unknown): Promise<Entry | undefined> {
    const jobId = olderFactOf(row);
    if (jobId === undefined) return undefined;
    if (!this.designs.has(jobId)) this.designs.set(jobId, await designsOf(jobId));
    const versions = this.designs.get(jobId);
    const lifted = versions && FactSchema.safeParse(liftFact(row, versions)).data;
    if (!lifted) return undefined;
    await (await db()).put('outbox', lifted);
    return factEntry(lifted);
  }
}

/** The job of a fact without a version; undefined for anything else. */
function olderFactOf(row: unknown): string | undefined {
  const { jobId, v, write } = row as { jobId?: unknown; v?: unknown; write?: unknown };
  return typeof jobId === 'string' && v === undefined && write === undefined ? jobId : undefined;
}

/** Designs of a job, which older facts of it are read by. @returns null while the server is away */
async function designsOf(jobId: string): Promise<readonly DesignVersion[] | null> {
  try {
    const res = await fetch(`/api/jobs/${jobId}`, { signal: AbortSignal.timeout(12_000) });
    if (res.status === 404) return [];
    return res.ok ? ((await res.json()) as Job).designs : null;
  } catch {
    return null;
  }
}
