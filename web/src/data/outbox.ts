import { FactSchema, type Fact } from '@katharos/core';
import { createSlice, type PayloadAction, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
import { openDB, type IDBPDatabase } from 'idb';
import { api } from './api.ts';
import { errorWords } from './errors.ts';

/** Facts born on this device that the server has not confirmed yet. IndexedDB holds them; this mirrors it. */
export interface OutboxState {
  readonly pending: readonly Fact[];
  /** facts the server refused, with its reason; kept until a person decides */
  readonly refused: readonly { readonly fact: Fact; readonly reason: string }[];
  readonly link: 'ok' | 'away';
  readonly lastSentAt: number | null;
}

const initialState: OutboxState = { pending: [], refused: [], link: 'ok', lastSentAt: null };

const slice = createSlice({
  name: 'outbox',
  initialState,
  reducers: {
    restored: (s, a: PayloadAction<Fact[]>) => {
      const have = new Set(s.pending.map((f) => f.id));
      return { ...s, pending: [...a.payload.filter((f) => !have.has(f.id)), ...s.pending] };
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

/** Brings back what an earlier page left unsent. Entries that no longer read are left where they are. */
export const restoreOutbox = (): Thunk<Promise<void>> => async (dispatch) => {
  const rows: unknown[] = await (await db()).getAll('outbox');
  const facts = rows.flatMap((r) => FactSchema.safeParse(r).data ?? []);
  facts.sort((a, b) => Date.parse(a.at) - Date.parse(b.at));
  dispatch(slice.actions.restored(facts));
  await dispatch(sendOutbox());
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

/** Sends what waits, a job at a time, in order; comes back by itself when the server is away. */
export const sendOutbox = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  if (sending) return;
  sending = true;
  try {
    for (;;) {
      const first = getState().outbox.pending[0];
      if (!first) return;
      const facts = getState()
        .outbox.pending.filter((f) => f.jobId === first.jobId)
        .slice(0, 200);
      const result = await postFacts(first.jobId, facts);
      if (result.kind === 'away') {
        dispatch(slice.actions.unreachable());
        clearTimeout(retry);
        retry = setTimeout(() => void dispatch(sendOutbox()), RETRY_MS);
        return;
      }
      if (result.kind === 'refused') {
        // one bad fact must not hold back the others: find it by sending them alone
        for (const f of facts) await sendAlone(f, dispatch);
      } else settle(facts, dispatch);
      const waiting = new Set(getState().outbox.pending.map((f) => f.id));
      await forget(facts.filter((f) => !waiting.has(f.id)));
    }
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
  else if (result.kind === 'refused') dispatch(slice.actions.refused({ facts: [fact], reason: result.reason }));
}

type Sent = { kind: 'sent' } | { kind: 'away' } | { kind: 'refused'; reason: string };

async function postFacts(jobId: string, facts: readonly Fact[]): Promise<Sent> {
  try {
    const res = await fetch(`/api/jobs/${jobId}/facts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ facts }),
      signal: AbortSignal.timeout(12_000),
    });
    if (res.ok) return { kind: 'sent' };
    if (res.status >= 500 || res.status === 429) return { kind: 'away' };
    return { kind: 'refused', reason: errorWords({ data: await res.text() }) };
  } catch {
    return { kind: 'away' };
  }
}
