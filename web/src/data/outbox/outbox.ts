import type { Household, HouseholdEdit, Job, NewHousehold } from '@katharos/contract';
import type { DesignVersion, Fact } from '@katharos/core';
import type { ThunkAction, UnknownAction } from '@reduxjs/toolkit';
import { api } from '../api.ts';
import { changeKept, jobPath } from '../kept/store.ts';
import type { SessionState } from '../session.ts';
import { askSession } from '../signing.ts';
import {
  factEntry,
  forgetEntries,
  keepEntries,
  keepRefused,
  makerOf,
  noteEntries,
  readKept,
  type Entry,
  type Refused,
} from './entries.ts';
import { jobWith, putSent } from './jobWith.ts';
import { send, type Sent } from './send.ts';
import { isOwn, outboxActions, type OutboxState } from './state.ts';
import { askToStay, inTurn, tellOthers, whenOthersTell } from './tabs.ts';
import { nowMs } from '../../ui/clock.ts';

interface HasOutbox {
  readonly outbox: OutboxState;
  readonly session: SessionState;
}
// the dispatch side needs no more of the store than this
type Thunk<R> = ThunkAction<R, HasOutbox, unknown, UnknownAction>;
type Dispatch = Parameters<Thunk<void>>[0];

const RETRY_MS = 3000;

/** Ids this page has done with, or was told that another tab has: they may still stand on the device for a moment. */
const doneWith = new Set<string>();

/** Reads what this device keeps, whichever tab wrote it; what another tab says it sent is known as stored. */
const mirror = (): Thunk<Promise<boolean>> => async (dispatch, getState) => {
  const { entries, refused, unreadable, waiting } = await readKept();
  const sent = getState().outbox.pending.filter((e) => doneWith.has(e.id));
  const jobs = [...new Set(sent.map((e) => e.jobId))];
  for (const jobId of jobs)
    intoCache(
      sent.filter((e) => e.jobId === jobId),
      dispatch,
    );
  dispatch(
    outboxActions.mirrored({
      entries: entries.filter((e) => !doneWith.has(e.id)),
      refused: refused.filter((r) => !doneWith.has(r.entry.id)),
      unreadable,
      sent: sent.map((e) => e.id),
    }),
  );
  for (const jobId of jobs) dispatch(api.util.invalidateTags([{ type: 'Job', id: jobId }]) as unknown as UnknownAction);
  return waiting;
};

/** Brings back what an earlier page left unsent or refused. What does not read is left where it is, and counted. */
export const restoreOutbox = (): Thunk<Promise<void>> => async (dispatch) => {
  const waiting = await dispatch(mirror());
  await dispatch(sendOutbox());
  if (waiting) setTimeout(() => void dispatch(restoreOutbox()), 10 * RETRY_MS);
};

/** Hears what other tabs of this device write down and send. */
export const hearOtherTabs = (): Thunk<void> => (dispatch, getState) => {
  whenOthersTell((news) => {
    if (news.kind === 'pictures') return;
    if (news.kind === 'sent') {
      for (const id of news.ids) doneWith.add(id);
      dispatch(outboxActions.reached());
    }
    if (news.kind === 'away') dispatch(outboxActions.unreachable());
    if (news.kind === 'failed') dispatch(outboxActions.failedOn(news.failing));
    // whoever tells may be gone the next moment: this tab sends what is left by then
    void dispatch(mirror())
      .then(() => {
        if (getState().outbox.pending.length > 0) tryLater(dispatch);
      })
      .catch(() => undefined);
  });
};

/** Drops what was refused for good, as a person decided. */
export const dropRefused =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    doneWith.add(id);
    dispatch(outboxActions.dismissed(id));
    await forgetEntries([id]);
    tellOthers({ kind: 'changed' });
  };

/** What came of a write, as far as it is known now. */
export type Outcome = { readonly kind: 'sent' } | { readonly kind: 'waits' } | Extract<Sent, { kind: 'refused' }>;

/** Answers to writes that somebody is waiting for at a form; they decide there about what is refused. */
const awaited = new Map<string, (refused: Extract<Sent, { kind: 'refused' }>) => void>();

/** Takes writes in without sending them: shown at once, kept on this device. */
const writeDown =
  (entries: readonly Entry[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    for (const e of entries) doneWith.delete(e.id);
    noteEntries(entries);
    dispatch(outboxActions.added([...entries]));
    try {
      await keepEntries(entries);
      dispatch(outboxActions.kept(entries.map((e) => e.id)));
      tellOthers({ kind: 'changed' });
      if (getState().outbox.stays === null) void askToStay().then((stays) => dispatch(outboxActions.stays(stays)));
    } catch {
      // a device without room or permission for it still sends what it has in memory, and says so
      dispatch(outboxActions.notKept());
    }
  };

/** Takes writes in, then sends them. */
const take =
  (entries: readonly Entry[]): Thunk<Promise<void>> =>
  async (dispatch) => {
    await dispatch(writeDown(entries));
    await dispatch(sendOutbox());
  };

/** Takes a write in whose answer a form waits for: what is refused goes back to the form instead of being kept. */
const takeFromForm =
  (entry: Entry): Thunk<Promise<Outcome>> =>
  async (dispatch, getState) => {
    let refused: Extract<Sent, { kind: 'refused' }> | undefined;
    awaited.set(entry.id, (r) => (refused = r));
    try {
      await dispatch(take([entry]));
      while (sending) await sending;
    } finally {
      awaited.delete(entry.id);
    }
    if (refused) return refused;
    // another tab sent it, and put it aside because no form of its own waited for it
    const aside = getState().outbox.refused.find((r) => r.entry.id === entry.id);
    if (aside) {
      await dispatch(dropRefused(entry.id));
      return { kind: 'refused', reason: aside.reason, data: undefined, current: aside.current };
    }
    return { kind: getState().outbox.pending.some((e) => e.id === entry.id) ? 'waits' : 'sent' };
  };

/** Takes facts in. */
export const recordFacts = (facts: readonly Fact[]): Thunk<Promise<void>> => take(facts.map(factEntry));

/** Takes the version in that an approval keeps. */
export const approveVersion = (jobId: string, body: DesignVersion): Thunk<Promise<Outcome>> =>
  takeFromForm({ write: 'design', id: body.id, jobId, at: body.at, body });

/** Takes a new household in, with its job. */
export const addHousehold = (body: NewHousehold, by: string): Thunk<Promise<Outcome>> =>
  takeFromForm({
    write: 'household-new',
    id: body.id,
    jobId: body.jobId,
    at: new Date(nowMs()).toISOString(),
    by,
    body,
  });

/** Takes an edit of a household in. @param household as it was read */
export const editHousehold = (jobId: string, household: Household, edit: HouseholdEdit, by: string): Thunk<Promise<Outcome>> => {
  const { id: householdId, version, ...base } = household;
  const entry = { id: crypto.randomUUID(), jobId, at: new Date(nowMs()).toISOString(), by };
  return takeFromForm({ ...entry, write: 'household', householdId, base, body: { ...edit, version } });
}; // oxfmt-ignore

/** Sends what was refused once more as it is: what its maker may do has changed, or what was in its way has. */
export const sendAgain =
  (r: Refused): Thunk<Promise<void>> =>
  async (dispatch) => {
    dispatch(outboxActions.dismissed(r.entry.id));
    await dispatch(take([r.entry]));
  };

/** Sends a refused edit of a household anew, on top of what somebody else made of it. */
export const sendOver =
  (r: Refused): Thunk<Promise<void>> =>
  async (dispatch) => {
    const { entry, current } = r;
    if (entry.write !== 'household' || !current) return;
    // written down before what it stands for goes: in between, a page that ends loses neither, and nothing reads "all sent"
    await dispatch(
      writeDown([{ ...entry, id: crypto.randomUUID(), body: { ...entry.body, version: current.version } }]),
    );
    await dispatch(dropRefused(entry.id));
    await dispatch(sendOutbox());
  };

let sending: Promise<void> | null = null;
let retry: ReturnType<typeof setTimeout> | undefined;

/** Sends what waits, a job at a time, in order; comes back by itself when the server is away or stumbles on a job. */
export const sendOutbox = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  if (sending) return;
  sending = inTurn(async () => {
    // what other tabs wrote down is sent with it, what they sent is not sent again
    await dispatch(mirror()).catch(() => undefined);
    await sendAll(dispatch, getState);
  });
  try {
    await sending;
  } finally {
    sending = null;
  }
};

/** The next of a job's writes that go to the server together: facts of one person up to the first other write, or that one. */
function nextOf(pending: readonly Entry[], { jobId, by: maker }: { jobId: string; by: string | undefined }): Entry[] {
  const own = pending.filter((e) => e.jobId === jobId);
  const other = own.findIndex((e) => e.write !== 'fact' || makerOf(e) !== maker);
  if (other === 0) return own.slice(0, 1);
  return own.slice(0, other < 0 ? 200 : Math.min(200, other));
}

function tryLater(dispatch: Dispatch): void {
  clearTimeout(retry);
  retry = setTimeout(() => void dispatch(sendOutbox()), RETRY_MS);
}

async function sendAll(dispatch: Dispatch, getState: () => HasOutbox): Promise<void> {
  // with what the server said of each
  const aside = new Map<string, string>();
  // whoever is not signed in here any more: theirs wait for them, and nobody else's behind them
  const out = new Set<string>();
  for (;;) {
    const { outbox, session } = getState();
    const goes = outbox.pending.filter((e) => isOwn(e, session) && !out.has(makerOf(e) ?? ''));
    const first = goes.find((e) => !aside.has(e.jobId));
    if (!first) break;
    const by = makerOf(first);
    const entries = nextOf(goes, { jobId: first.jobId, by });
    const result = await send(entries, by ?? session.personId);
    if (result.kind === 'out') {
      out.add(by ?? '');
      void dispatch(askSession());
      continue;
    }
    if (result.kind === 'away') {
      dispatch(outboxActions.unreachable());
      tellOthers({ kind: 'away' });
      tryLater(dispatch);
      return;
    }
    if (result.kind === 'failed') {
      // what makes the server stumble on one job must not keep the others waiting
      aside.set(first.jobId, result.reason);
      continue;
    }
    if (result.kind === 'sent') await settle(entries, dispatch);
    else if (entries.length > 1)
      // one bad fact must not hold back the others: find it by sending them alone
      for (const e of entries) await sendAlone(e, by ?? session.personId, dispatch);
    else await refuse(first, result, dispatch, getState);
  }
  if (aside.size > 0 || Object.keys(getState().outbox.failing).length > 0) {
    const failing = Object.fromEntries(aside);
    dispatch(outboxActions.failedOn(failing));
    tellOthers({ kind: 'failed', failing });
  }
  if (aside.size > 0 || out.size > 0) tryLater(dispatch);
}

async function sendAlone(entry: Entry, by: string | null, dispatch: Dispatch): Promise<void> {
  const result = await send([entry], by);
  if (result.kind === 'sent') await settle([entry], dispatch);
  else if (result.kind === 'refused') await keepAside([{ entry, reason: result.reason }], dispatch);
}

/** What the server has now is what the page knows of it. @param entries of one job */
function intoCache(entries: readonly Entry[], dispatch: Dispatch): void {
  for (const e of entries) {
    if (e.write === 'household-new' || e.write === 'household')
      dispatch(api.util.invalidateTags(['Rounds', { type: 'Job', id: e.jobId }]) as unknown as UnknownAction);
    if (e.write === 'design') dispatch(api.util.invalidateTags(['Rounds']) as unknown as UnknownAction);
  }
  const [first] = entries;
  if (!first) return;
  const write = (): void => {
    dispatch(
      api.util.updateQueryData('getJob', first.jobId, (job) => {
        putSent(job, entries);
      }) as unknown as UnknownAction,
    );
  };
  write();
  // an answer that was asked for before they were sent may come after them, without them
  const running = dispatch(api.util.getRunningQueryThunk('getJob', first.jobId) as unknown as Thunk<Promise<unknown> | undefined>); // oxfmt-ignore
  void running?.then(write);
}

/** The same for the job as this device keeps it for work without signal; a household born here is kept from now on. */
async function intoKept(entries: readonly Entry[]): Promise<void> {
  const [first] = entries;
  if (!first) return;
  await changeKept(jobPath(first.jobId), (body) => {
    if (body === undefined) return jobWith(undefined, entries, first.jobId) ?? undefined;
    putSent(body as Job, entries);
    return body;
  });
}

/** What was sent is known as stored before the entries go. */
async function settle(entries: readonly Entry[], dispatch: Dispatch): Promise<void> {
  intoCache(entries, dispatch);
  for (const e of entries) doneWith.add(e.id);
  dispatch(outboxActions.sent({ ids: entries.map((e) => e.id), at: nowMs() }));
  const ids = entries.map((e) => e.id);
  // a page opened without signal before the job is read again would not know of them otherwise
  await Promise.all([intoKept(entries), quietly(forgetEntries(ids))]);
  tellOthers({ kind: 'sent', ids });
}

/**
 * An entry the server will not take: back to the form that waits for it, else kept with its reason. What was written
 * under a version that is not taken, or into a household that is not, goes with it.
 */
async function refuse(entry: Entry, result: Extract<Sent, { kind: 'refused' }>, dispatch: Dispatch, getState: () => HasOutbox): Promise<void> {
  const answer = awaited.get(entry.id);
  if (answer) {
    answer(result);
    doneWith.add(entry.id);
    dispatch(outboxActions.sent({ ids: [entry.id], at: nowMs() }));
    await quietly(forgetEntries([entry.id]));
    return;
  }
  const { current } = result;
  const under = getState().outbox.pending.filter((e) => e !== entry && hangsOn(e, entry));
  await keepAside(
    [{ entry, reason: result.reason, ...(current ? { current } : {}) }, ...under.map((e) => ({ entry: e, reason: 'What it belongs to was refused.' }))],
    dispatch,
  );
} // oxfmt-ignore

/** Whether an entry means nothing without another. */
const hangsOn = (e: Entry, on: Entry): boolean =>
  e.jobId === on.jobId &&
  (on.write === 'household-new' ||
    (on.write === 'design' && e.write === 'fact' && 'design' in e.body && e.body.design === on.id));

async function keepAside(refused: Refused[], dispatch: Dispatch): Promise<void> {
  dispatch(outboxActions.refused(refused));
  for (const r of refused) {
    try {
      await keepRefused(r);
      dispatch(outboxActions.kept([r.entry.id]));
    } catch {
      dispatch(outboxActions.notKept());
    }
  }
  tellOthers({ kind: 'changed' });
}

/** A device that has no room for it, or does not allow it, still shows and sends what the page has in memory. */
async function quietly(kept: Promise<void>): Promise<void> {
  try {
    await kept;
  } catch {
    // what stays behind is sent again and stored once
  }
}
