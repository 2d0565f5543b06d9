import { createSelector, createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { SessionState } from '../session.ts';
import { makerOf, type Entry, type Kept, type Refused } from './entries.ts';

/** Writes born on this device that the server has not confirmed yet. IndexedDB holds them; this mirrors it. */
export interface OutboxState {
  readonly pending: readonly Entry[];
  /** what the server refused, with its reason; kept until a person decides */
  readonly refused: readonly Refused[];
  /** rows on this device that this page cannot read; they stay there */
  readonly unreadable: number;
  readonly link: 'ok' | 'away';
  /** jobs the server stumbled on when it was last sent to, by their id, each with what it said */
  readonly failing: Readonly<Record<string, string>>;
  readonly lastSentAt: number | null;
  /** ids of those that this page alone has: not written down yet, or the device would not */
  readonly unkept: readonly string[];
  /** the device would not keep one: no room, or no permission */
  readonly noRoom: boolean;
  /** whether it is known what an earlier page left here; 'closed' where the device does not let it be read */
  readonly device: 'reading' | 'read' | 'closed';
  /** whether the browser promised not to clear what is kept; null while nobody knows */
  readonly stays: boolean | null;
}

const initialState: OutboxState = {
  pending: [],
  refused: [],
  unreadable: 0,
  link: 'ok',
  failing: {},
  lastSentAt: null,
  unkept: [],
  noRoom: false,
  device: 'reading',
  stays: null,
};

const slice = createSlice({
  name: 'outbox',
  initialState,
  reducers: {
    /**
     * What the device keeps, whichever tab wrote it. What this page has and the device has not stays, unless another tab
     * said that it sent it: a device that was cleared meanwhile loses nothing of an open page.
     */
    mirrored: (
      s,
      a: PayloadAction<Pick<Kept, 'entries' | 'refused' | 'unreadable'> & { sent: readonly string[] }>,
    ): OutboxState => {
      const { entries, refused, unreadable, sent } = a.payload;
      const put = new Set(refused.map((r) => r.entry.id));
      const aside = [...refused, ...s.refused.filter((r) => s.unkept.includes(r.entry.id) && !put.has(r.entry.id))];
      const there = new Set([...entries.map((e) => e.id), ...aside.map((r) => r.entry.id), ...sent]);
      return {
        ...s,
        device: 'read',
        unreadable,
        refused: aside,
        pending: [
          ...entries.filter((e) => !aside.some((r) => r.entry.id === e.id)),
          ...s.pending.filter((e) => !there.has(e.id)),
        ],
      };
    },
    added: (s, a: PayloadAction<Entry[]>): OutboxState => ({
      ...s,
      pending: [...s.pending, ...a.payload],
      unkept: [...s.unkept, ...a.payload.map((e) => e.id)],
    }),
    kept: (s, a: PayloadAction<readonly string[]>): OutboxState => ({
      ...s,
      noRoom: false,
      unkept: s.unkept.filter((id) => !a.payload.includes(id)),
    }),
    closed: (s): OutboxState => (s.device === 'reading' ? { ...s, device: 'closed' } : s),
    notKept: (s): OutboxState => ({ ...s, noRoom: true }),
    stays: (s, a: PayloadAction<boolean | null>): OutboxState => ({ ...s, stays: a.payload }),
    sent: (s, a: PayloadAction<{ ids: string[]; at: number }>): OutboxState => {
      const gone = new Set(a.payload.ids);
      const unkept = s.unkept.filter((id) => !gone.has(id));
      return {
        ...s,
        pending: s.pending.filter((e) => !gone.has(e.id)),
        unkept,
        noRoom: s.noRoom && unkept.length > 0,
        link: 'ok',
        lastSentAt: a.payload.at,
      };
    },
    reached: (s): OutboxState => ({ ...s, link: 'ok' }),
    unreachable: (s): OutboxState => ({ ...s, link: 'away', failing: {} }),
    failedOn: (s, a: PayloadAction<OutboxState['failing']>): OutboxState => ({ ...s, link: 'ok', failing: a.payload }),
    refused: (s, a: PayloadAction<Refused[]>): OutboxState => {
      const gone = new Set(a.payload.map((r) => r.entry.id));
      return {
        ...s,
        link: 'ok',
        pending: s.pending.filter((e) => !gone.has(e.id)),
        refused: [...s.refused.filter((r) => !gone.has(r.entry.id)), ...a.payload],
        unkept: [...new Set([...s.unkept, ...gone])],
      };
    },
    dismissed: (s, a: PayloadAction<string>): OutboxState => ({
      ...s,
      refused: s.refused.filter((r) => r.entry.id !== a.payload),
    }),
  },
});
export const outboxReducer = slice.reducer;
export const outboxActions = slice.actions;

/** Whether whoever made an entry is signed in on this device, as far as is known; what nobody is named for is anybody's. */
export function isOwn(e: Entry, { here, door }: Pick<SessionState, 'here' | 'door'>): boolean {
  const maker = makerOf(e);
  return maker === undefined || door === 'asking' || here.some((p) => p.id === maker);
}

interface HasBoth {
  readonly outbox: OutboxState;
  readonly session: SessionState;
}
/** What waits on this device of those who are signed in on it. */
export const selectOwnPending = createSelector(
  [
    ({ outbox }: HasBoth) => outbox.pending,
    ({ session }: HasBoth) => session.here,
    ({ session }: HasBoth) => session.door,
  ],
  (pending, here, door) => pending.filter((e) => isOwn(e, { here, door })),
);
/** What waits on this device of those who are not: it waits for them. */
export const selectApart = createSelector(
  [
    ({ outbox }: HasBoth) => outbox.pending,
    ({ session }: HasBoth) => session.here,
    ({ session }: HasBoth) => session.door,
  ],
  (pending, here, door) => pending.filter((e) => !isOwn(e, { here, door })),
);
