import type { Changes } from '@katharos/contract';
import { useEffect } from 'react';
import { whenHandRests } from '../boot/whenHandRests.ts';
import { api } from './api.ts';
import { hearAgain, keepAlong } from './kept/along.ts';
import { asPerson } from './session.ts';
import { askSession } from './signing.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { hearTime, nowMs } from '../ui/clock.ts';

/** How often the page asks whether anybody else wrote something, ms. */
const EVERY_MS = 20_000;
/** A page just opened rests so long before it brings up what is taken along, ms. */
const REST_MS = 5000;

/** Asks what was written since the last time, while the page is looked at, and reads anew only what was. */
export function useChanges(): void {
  const dispatch = useAppDispatch();
  const personId = useAppSelector((s) => s.session.personId);
  useEffect(() => {
    let last: Changes | null = null;
    let asking = false;
    let day = '';
    let cancel: (() => void) | undefined;
    const ask = async (): Promise<void> => {
      if (asking || personId === null || document.visibilityState === 'hidden') return;
      asking = true;
      try {
        const askedMs = Date.now();
        const since = last ? `?since=${last.bound}` : '';
        const res = await fetch(`/api/changes${since}`, {
          headers: asPerson(personId),
          signal: AbortSignal.timeout(12_000),
        });
        hearTime(res.headers.get('date'), askedMs);
        if (res.status === 401) void dispatch(askSession());
        if (!res.ok) return;
        const now = (await res.json()) as Changes;
        dispatch(hearAgain());
        const today = new Date(nowMs()).toDateString();
        if (last) {
          if (now.shelf !== last.shelf) dispatch(api.util.invalidateTags(['Shelf', 'Rounds']));
          if (now.many) dispatch(api.util.invalidateTags(['Rounds', 'Job']));
          else if (now.jobs.length > 0)
            dispatch(api.util.invalidateTags(['Rounds', ...now.jobs.map((id) => ({ type: 'Job' as const, id }))]));
          if (now.many || now.jobs.length > 0 || now.shelf !== last.shelf || today !== day) void dispatch(keepAlong());
        }
        // what is taken along waits for what the page was opened for
        else cancel = whenHandRests(REST_MS, () => void dispatch(keepAlong()));
        day = today;
        last = now;
      } catch {
        // away: the next time tells all that was written meanwhile
      } finally {
        asking = false;
      }
    };
    void ask();
    const timer = setInterval(() => void ask(), EVERY_MS);
    const onSeen = (): void => void ask();
    window.addEventListener('online', onSeen);
    document.addEventListener('visibilitychange', onSeen);
    window.addEventListener('focus', onSeen);
    return () => {
      clearInterval(timer);
      cancel?.();
      document.removeEventListener('visibilitychange', onSeen);
      window.removeEventListener('focus', onSeen);
      window.removeEventListener('online', onSeen);
    };
  }, [dispatch, personId]);
}
