import { may, PERSON_HEADER, SignedSchema, type KnownRoute, type Session, type Signed } from '@katharos/contract';
import type { Known } from '@katharos/core';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import * as z from 'zod';

/** Who works on this device and what the hand is on. */
export interface SessionState {
  /** whose name what is recorded now carries; null where nobody is signed in */
  readonly personId: string | null;
  /** everybody signed in on this device, as the server last said */
  readonly here: readonly Signed[];
  /**
   * 'asking' until the server said who is signed in; 'lost' where it let nobody in while the page was open: what is on the
   * page stays; 'out' and 'ended' where nothing of the firm is to be seen
   */
  readonly door: 'asking' | 'in' | 'lost' | 'out' | 'ended';
  /** who may come in by a click, in the demo; null where a password is wanted */
  readonly click: readonly Signed[] | null;
  /** whether the firm has an owner who can sign in */
  readonly begun: boolean;
  /** whether the server was heard since the page opened */
  readonly reached: boolean;
  /** readings tried in place of those taken: while a figure is typed or scrubbed; nothing of it is recorded */
  readonly trial: Trial | null;
  /** element of the Line whose card is open */
  readonly chosen: string | null;
  /** joint in hand: the same on the Line, the drawing and the lists */
  readonly joint: string | null;
}

/** Readings moved to see what follows, of one job. */
export interface Trial {
  readonly jobId: string;
  readonly values: Known;
  /** typing ends by itself when the figure is taken in; scrubbing stays until it is ended */
  readonly by: 'typing' | 'scrubbing';
}

/** Under this name the device remembers who is signed in, for when the server is away. */
export const SIGNED_KEY = 'katharos.signed';
const DAY_MS = 86400000;
const RememberedSchema = z.object({
  personId: z.uuid(),
  here: z.array(SignedSchema).min(1),
  days: z.number(),
  /** when the server last said so, ms since 1970 */
  at: z.number(),
});

function readRemembered(): z.infer<typeof RememberedSchema> | null {
  try {
    for (const store of [sessionStorage, localStorage]) {
      const r = RememberedSchema.safeParse(JSON.parse(store.getItem(SIGNED_KEY) ?? 'null')).data;
      if (r) return r;
    }
  } catch {
    // nothing is remembered where nothing may be
  }
  return null;
}
/** Whether what a tab wrote down of who is signed in differs from what another did: when it was heard does not count. */
export function tellsOfOthers(before: string | null, after: string | null): boolean {
  const who = (text: string | null): string => {
    try {
      const r = RememberedSchema.safeParse(JSON.parse(text ?? 'null')).data;
      return JSON.stringify([r?.personId, r?.here]);
    } catch {
      return '';
    }
  };
  return who(before) !== who(after);
}
const isTooLong = ({ at, days }: { at: number; days: number }): boolean => Date.now() - at > days * DAY_MS;

/** Whether somebody was signed in here, and the server has not been heard since for longer than the house rules allow. */
export function isLongAway(): boolean {
  const r = readRemembered();
  return r !== null && isTooLong(r);
}

/** Who was signed in when the server was last heard; null where nobody was, or that is too long ago. */
function remembered(): Pick<SessionState, 'personId' | 'here'> | null {
  const r = readRemembered();
  return !r?.here.some((p) => p.id === r.personId) || isTooLong(r) ? null : { personId: r.personId, here: r.here };
}

function remember(state: Pick<SessionState, 'personId' | 'here'>, { days, remembered: stays }: Session): void {
  try {
    const [here, there] = stays ? [localStorage, sessionStorage] : [sessionStorage, localStorage];
    there.removeItem(SIGNED_KEY);
    // a device that is not to be remembered knows who was signed in as long as the tab is open
    if (state.personId === null) here.removeItem(SIGNED_KEY);
    else here.setItem(SIGNED_KEY, JSON.stringify({ ...state, days, at: Date.now() }));
  } catch {
    // private windows: asked again next time
  }
}

const slice = createSlice({
  name: 'session',
  initialState: (): SessionState => {
    const known = remembered();
    const open = { click: null, begun: true, reached: true, chosen: null, joint: null, trial: null };
    return known ? { ...known, ...open, door: 'in' } : { personId: null, here: [], ...open, door: 'asking' };
  },
  reducers: {
    /** what the server says of this device. @param act who is to act from now on; whoever did, if they still may, else */
    told: (s, a: PayloadAction<{ session: Session; act?: string | undefined }>) => {
      const { here, person, click, begun, ended } = a.payload.session;
      const wanted = a.payload.act ?? s.personId;
      const acting = here.find((p) => p.id === wanted) ?? person;
      const next = { personId: acting?.id ?? null, here };
      // a page that is open keeps what is on it, but for a device that was taken away
      const door = acting ? 'in' : ended ? 'ended' : s.door === 'in' || s.door === 'lost' ? 'lost' : 'out';
      remember(next, a.payload.session);
      return { ...s, ...next, click, begun, door, reached: true };
    },
    /** somebody signed out, and nobody else is signed in */
    left: (s) => ({ ...s, personId: null, here: [], door: 'out' as const, chosen: null, joint: null, trial: null }),
    /** the server cannot be asked, and nobody is remembered */
    unknown: (s) => ({ ...s, reached: false, door: s.door === 'asking' ? ('out' as const) : s.door }),
    personChosen: (s, a: PayloadAction<string>) =>
      s.here.some((p) => p.id === a.payload) ? { ...s, personId: a.payload } : s,
    tried: (s, a: PayloadAction<Trial | null>) => ({ ...s, trial: a.payload }),
    elementChosen: (s, a: PayloadAction<string | null>) => ({ ...s, chosen: a.payload, joint: null }),
    jointChosen: (s, a: PayloadAction<string | null>) => ({ ...s, joint: a.payload }),
  },
});
export const sessionReducer = slice.reducer;
export const { told, left, unknown, personChosen, elementChosen, jointChosen, tried } = slice.actions;

interface HasSession {
  readonly session: SessionState;
}
/** Who acts now. */
export const selectActing = ({ session }: HasSession): Signed | undefined =>
  session.here.find((p) => p.id === session.personId);

/** Whether who acts now may ask something of the server. */
export const selectMay = (s: HasSession, route: KnownRoute): boolean => {
  const role = selectActing(s)?.role;
  return role !== undefined && may(role, route);
};

/** Says in a request who of this device asks. */
export const asPerson = (personId: string | null | undefined): Record<string, string> =>
  personId ? { [PERSON_HEADER]: personId } : {};
