import type { Job } from '@katharos/contract';
import { FactSchema, liftFact, type DesignVersion, type Fact } from '@katharos/core';
import { createSlice, type PayloadAction, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
import { openDB, type IDBPDatabase } from 'idb';
import { api } from './api.ts';
import { errorWords } from './errors.ts';

/** It takes the fact's own place in IndexedDB. */
interface Refused {
  readonly fact: Fact;
  readonly reason: string;
}

/** Facts born on this device that the server has not confirmed yet. IndexedDB holds them; this mirrors it. */
export interface OutboxState {
  readonly pending: readonly Fact[];
  /** facts the server refused, with its reason; kept until a person decides */
  readonly refused: readonly Refused[];
  readonly link: 'ok' | 'away';
  readonly lastSentAt: number | null;
}

const initialState: OutboxState = { pending: [], refused: [], link: 'ok', lastSentAt: null };

const slice = createSlice({
  name: 'outbox',
  initialState,
  reducers: {
    restored: (s, a: PayloadAction<{ facts: Fact[]; refused: Refused[] }>) => {
      const have = new Set([...s.pending, ...s.refused.map((r) => r.fact)].map((f) => f.id));
      const refused = a.payload.refused.filter((r) => !have.has(r.fact.id));
      return {
        ...s,
        pending: [...a.payload.facts.filter((f) => !have.has(f.id)), ...s.pending],
        refused: [...refused, ...s.refused],
      };
    },
    added: (s, a: PayloadAction<Fact[]>) => ({ ...s, pending: [...s.pending, ...a.payload] }),
    sent: (s, a: PayloadAction<{ ids: string[]; at: number }>) => {
      const gone = new Set(a.payload.ids);
      return { ...s, pending: s.pending.filter((f) => !gone.has(f.id)), link: 'ok' as const, lastSentAt: a.payload.at };
    },
    unreachable: (s) => ({ ...s, link: 'away' as const }),
    refused: (s, a: PayloadAction<{ facts: Fact[]; reason: string }>) => {
      const gone = new Set(a.payload.facts.map((f) => f.id));
      return {
        ...s,
        link: 'ok' as const,
        pending: s.pending.filter((f) => !gone.has(f.id)),
        refused: [...s.refused, ...a.payload.facts.map((fact) => ({ fact, reason: a.payload.reason }))],
      };
    },
    dismissed: (s, a: PayloadAction<string>) => ({ ...s, refused: s.refused.filter((r) => r.fact.id !== a.payload) }),
  },
});
export const outboxReducer = slice.reducer;
export const outboxActions = slice.actions;

let opened: Promise<IDBPDatabase> | undefined;
const db = (): Promise<IDBPDatabase> =>
  (opened ??= openDB('katharos', 1, {
    upgrade: (d) => {
      d.createObjectStore('outbox', { keyPath: 'id' });
    },
  }));

interface HasOutbox {
  readonly outbox: OutboxState;
}
// the dispatch side needs no more of the store than this
type Thunk<R> = ThunkAction<R, HasOutbox, unknown, UnknownAction>;

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

/** Rows as facts: those an older page wrote are lifted by their job's designs and written anew. */
async function readRows(rows: readonly unknown[]): Promise<{ facts: Fact[]; waiting: boolean }> {
  const facts: Fact[] = [];
  const designs = new Map<string, readonly DesignVersion[] | null>();
  for (const row of rows) {
    const today = FactSchema.safeParse(row).data;
    if (today) {
      facts.push(today);
      continue;
    }
    const { jobId, v } = row as { jobId?: unknown; v?: unknown };
    if (typeof jobId !== 'string' || v !== undefined) continue;
    if (!designs.has(jobId)) designs.set(jobId, await designsOf(jobId));
    const versions = designs.get(jobId);
    const lifted = versions && FactSchema.safeParse(liftFact(row, versions)).data;
    if (!lifted) continue;
    await (await db()).put('outbox', lifted);
    facts.push(lifted);
  }
  facts.sort((a, b) => Date.parse(a.at) - Date.parse(b.at));
  return { facts, waiting: [...designs.values()].includes(null) };
}

const isRefused = (row: unknown): row is Refused =>
  typeof row === 'object' && row !== null && 'reason' in row && 'fact' in row && FactSchema.safeParse(row.fact).success;

/** Brings back what an earlier page left unsent or refused. Entries that do not read are left where they are. */
export const restoreOutbox = (): Thunk<Promise<void>> => async (dispatch) => {
  const rows: unknown[] = await (await db()).getAll('outbox');
  const refused = rows.filter(isRefused);
  const { facts, waiting } = await readRows(rows.filter((r) => !isRefused(r)));
  dispatch(slice.actions.restored({ facts, refused }));
  await dispatch(sendOutbox());
  if (waiting) setTimeout(() => void dispatch(restoreOutbox()), 10 * RETRY_MS);
};

/** Drops a refused fact for good, as a person decided. */
export const dropRefused =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    dispatch(slice.actions.dismissed(id));
    await (await db()).delete('outbox', id);
  };

/** Takes facts in: shown at once, kept in IndexedDB, then sent. */
export const recordFacts =
  (facts: readonly Fact[]): Thunk<Promise<void>> =>
  async (dispatch) => {
    dispatch(slice.actions.added([...facts]));
    try {
      const tx = (await db()).transaction('outbox', 'readwrite');
      await Promise.all([...facts.map((f) => tx.store.put(f)), tx.done]);
    } catch {
      // a device without room or permission for IndexedDB still sends what it has in memory
    }
    await dispatch(sendOutbox());
  };

let sending = false;
const RETRY_MS = 3000;
let retry: ReturnType<typeof setTimeout> | undefined;

async function forget(facts: readonly Fact[]): Promise<void> {
  try {
    const d = await db();
    await Promise.all(facts.map((f) => d.delete('outbox', f.id)));
  } catch {
    // what stays behind is sent again and stored once
  }
}

/** Sends what waits, a job at a time, in order; comes back by itself when the server is away or a job's facts fail there. */
export const sendOutbox = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  if (sending) return;
  sending = true;
  const aside = new Set<string>();
  const later = (): void => {
    dispatch(slice.actions.unreachable());
    clearTimeout(retry);
    retry = setTimeout(() => void dispatch(sendOutbox()), RETRY_MS);
  };
  try {
    for (;;) {
      const first = getState().outbox.pending.find((f) => !aside.has(f.jobId));
      if (!first) break;
      const facts = getState()
        .outbox.pending.filter((f) => f.jobId === first.jobId)
        .slice(0, 200);
      const result = await postFacts(first.jobId, facts);
      if (result.kind === 'away') {
        later();
        return;
      }
      if (result.kind === 'failed') {
        // what makes the server stumble on one job must not keep the others waiting
        aside.add(first.jobId);
        continue;
      }
      if (result.kind === 'refused') {
        // one bad fact must not hold back the others: find it by sending them alone
        for (const f of facts) await sendAlone(f, dispatch);
      } else settle(facts, dispatch);
      const { pending, refused } = getState().outbox;
      const kept = new Set([...pending, ...refused.map((r) => r.fact)].map((f) => f.id));
      await forget(facts.filter((f) => !kept.has(f.id)));
    }
    if (aside.size > 0) later();
  } finally {
    sending = false;
  }
};

type Dispatch = Parameters<Thunk<void>>[0];

function settle(facts: readonly Fact[], dispatch: Dispatch): void {
  const jobId = facts[0]?.jobId;
  if (jobId !== undefined)
    dispatch(
      api.util.updateQueryData('getJob', jobId, (job) => {
        const have = new Set(job.facts.map((f) => f.id));
        job.facts.push(...facts.filter((f) => !have.has(f.id)));
      }) as unknown as UnknownAction,
    );
  dispatch(slice.actions.sent({ ids: facts.map((f) => f.id), at: Date.now() }));
}

async function sendAlone(fact: Fact, dispatch: Dispatch): Promise<void> {
  const result = await postFacts(fact.jobId, [fact]);
  if (result.kind === 'sent') settle([fact], dispatch);
  else if (result.kind === 'refused') {
    await keepRefused({ fact, reason: result.reason });
    dispatch(slice.actions.refused({ facts: [fact], reason: result.reason }));
  }
}

/** A refused fact outlives the page too, with its reason. */
async function keepRefused(refused: Refused): Promise<void> {
  try {
    await (await db()).put('outbox', { id: refused.fact.id, ...refused });
  } catch {
    // a device without room for it shows it until the page goes
  }
}

type Sent = { kind: 'sent' } | { kind: 'away' } | { kind: 'failed' } | { kind: 'refused'; reason: string };

/** What the server says of what was sent itself; any other answer is about the moment, and the facts wait. */
const REFUSALS: ReadonlySet<number> = new Set([400, 404, 409, 413, 422]);

async function postFacts(jobId: string, facts: readonly Fact[]): Promise<Sent> {
  try {
    const res = await fetch(`/api/jobs/${jobId}/facts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ facts }),
      signal: AbortSignal.timeout(12_000),
    });
    if (res.ok) return { kind: 'sent' };
    if (REFUSALS.has(res.status)) return { kind: 'refused', reason: errorWords({ data: await res.text() }) };
    return { kind: res.status === 500 ? 'failed' : 'away' };
  } catch {
    return { kind: 'away' };
  }
}
