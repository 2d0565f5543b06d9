import { SessionSchema, type Session } from '@katharos/contract';
import type { ThunkAction, UnknownAction } from '@reduxjs/toolkit';
import { QueryStatus } from '@reduxjs/toolkit/query';
import { api } from './api.ts';
import { selectIsAway, type KeptState } from './kept/state.ts';
import { forgetKept } from './kept/store.ts';
import { UNKEPT } from './outbox/entries.ts';
import { asPerson, isLongAway, left, SIGNED_KEY, tellsOfOthers, told, unknown, type SessionState } from './session.ts';
import { hearTime } from '../ui/clock.ts';

interface HasSession {
  readonly session: SessionState;
}
interface HasAnswers {
  readonly kept: KeptState;
  readonly api: { readonly queries: Readonly<Record<string, { readonly status: QueryStatus } | undefined>> };
}
type Thunk<R> = ThunkAction<R, HasSession, unknown, UnknownAction>;

/** What came of asking to be let in: let in, or the server's answer that says why not, or none. */
export type LetIn = { readonly ok: true } | { readonly ok: false; readonly data: string | undefined };

async function ask(path: string, body: object | null, personId: string | null): Promise<Session | { data: string | undefined }> {
  const askedMs = Date.now();
  try {
    const res = await fetch(`/api/${path}`, {
      method: body ? 'POST' : 'GET',
      headers: { ...(body ? { 'content-type': 'application/json' } : {}), ...asPerson(personId) },
      ...(body ? { body: JSON.stringify(body) } : {}),
      signal: AbortSignal.timeout(12_000),
    });
    hearTime(res.headers.get('date'), askedMs);
    const text = await res.text();
    const session = res.ok ? SessionSchema.safeParse(JSON.parse(text)).data : undefined;
    return session ?? { data: text };
  } catch {
    return { data: undefined };
  }
} // oxfmt-ignore

/** What is known of the firm was for whoever was let in. */
const readAnew = (): UnknownAction => api.util.invalidateTags(['Rounds', 'Job', 'Shelf', 'Firm']);

/** Whether all that was asked so far was answered by the server itself: it knew who asks before the page did. */
const isAnswered = (s: HasAnswers): boolean =>
  !selectIsAway(s) && Object.values(s.api.queries).every((q) => q?.status !== QueryStatus.rejected);

/** The service worker keeps pictures under this name. */
const PICTURES_CACHE = 'katharos-pictures';

/** Written and taken away at once where the last one signs out: other tabs hear of it. */
const LEFT_KEY = 'katharos.left';

/** What the server said, and pictures of it, go; what is typed here stays. */
function forgetKnown(): void {
  void forgetKept();
  if ('caches' in globalThis) void caches.delete(PICTURES_CACHE).catch(() => undefined);
}

/** What is typed here, and what may be known without the server, is for those who are signed in. What is not sent stays, apart. */
export function forgetFirm(): void {
  forgetKnown();
  try {
    for (const key of Object.keys(localStorage))
      if (key.startsWith('katharos.') && !key.startsWith(UNKEPT)) localStorage.removeItem(key);
  } catch {
    // nothing is kept where nothing may be
  }
}

const taken =
  (session: Session, act?: string): Thunk<void> =>
  (dispatch, getState) => {
    const before = getState().session;
    if (session.ended) forgetFirm();
    // whoever opens it next may be somebody else
    else if (session.here.length === 0 && before.door === 'asking') forgetKnown();
    dispatch(told({ session, act }));
    const { door, personId } = getState().session;
    const known = before.door === 'asking' && isAnswered(getState() as HasSession & HasAnswers);
    if (door === 'in' && !known && (before.door !== 'in' || before.personId !== personId)) dispatch(readAnew());
    if (door === 'ended') dispatch(api.util.resetApiState() as unknown as UnknownAction);
  };

function tellTabs(): void {
  try {
    localStorage.setItem(LEFT_KEY, String(Date.now()));
    localStorage.removeItem(LEFT_KEY);
  } catch {
    // they are told by the server at the next thing they ask
  }
}

let asked: Promise<void> | null = null;
/** Asks the server who is signed in on this device; asked while it is being asked, it is asked once. */
export const askSession = (): Thunk<Promise<void>> => (dispatch, getState) =>
  (asked ??= ask('session', null, getState().session.personId)
    .then((r) => {
      if ('data' in r) dispatch(unknown());
      else dispatch(taken(r));
    })
    .finally(() => {
      asked = null;
    }));

const letIn =
  (path: string, body: object): Thunk<Promise<LetIn>> =>
  async (dispatch) => {
    const r = await ask(path, body, null);
    if ('data' in r) return { ok: false, data: r.data };
    dispatch(taken(r, r.person?.id));
    return { ok: true };
  };

/** Signs in by name and password. @param remember whether the device is remembered when the browser is closed */
export const signIn = (name: string, password: string, remember: boolean): Thunk<Promise<LetIn>> =>
  letIn('session', { name, password, remember });

/** Comes in by a click on a name, in the demo. */
export const clickIn = (person: string): Thunk<Promise<LetIn>> => letIn('session/click', { person });

/** Comes in by a one-time link, with a password of one's own choice. */
export const joinBy = (body: { token: string; password: string; name?: string; remember: boolean }): Thunk<Promise<LetIn>> => letIn('links/use', body); // oxfmt-ignore

/** A device that has not heard of the firm for longer than the house rules let it be remembered forgets the firm. */
export function forgetAfterLong(): void {
  if (isLongAway()) forgetFirm();
}

/** Hears from another tab of this device that somebody signed in or out there. */
export const hearSigning = (): Thunk<void> => (dispatch) => {
  window.addEventListener('storage', (e) => {
    // every tab writes down when it heard the server: answered with asking, two would ask each other for ever
    if (e.key === SIGNED_KEY && tellsOfOthers(e.oldValue, e.newValue)) void dispatch(askSession());
    if (e.key === LEFT_KEY && e.newValue !== null) {
      dispatch(left());
      dispatch(api.util.resetApiState() as unknown as UnknownAction);
    }
  });
};

/** Sets a new password for who acts. */
export const newPassword = (old: string, password: string): Thunk<Promise<LetIn>> => async (dispatch, getState) => {
  const r = await ask('session/password', { old, password }, getState().session.personId);
  if ('data' in r) return { ok: false, data: r.data };
  dispatch(taken(r));
  return { ok: true };
}; // oxfmt-ignore

/**
 * Signs who acts out, here or on every device of theirs. Once nobody is signed in here, this device forgets the firm; what
 * was not sent stays, apart, for whoever made it.
 */
export const signOut =
  (everywhere: boolean): Thunk<Promise<LetIn>> =>
  async (dispatch, getState) => {
    const r = await ask('session/end', { everywhere }, getState().session.personId);
    if ('data' in r) return { ok: false, data: r.data };
    dispatch(taken(r));
    if (r.here.length === 0) {
      forgetFirm();
      tellTabs();
      dispatch(left());
      dispatch(api.util.resetApiState() as unknown as UnknownAction);
    }
    return { ok: true };
  };
