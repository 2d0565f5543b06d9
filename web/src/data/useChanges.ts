import type { Changes } from '@katharos/contract';
import { useEffect } from 'react';
import { api } from './api.ts';
import { asPerson } from './session.ts';
import { askSession } from './signing.ts';
import { useAppDispatch, useAppSelector } from './store.ts';

/** How often the page asks whether anybody else wrote something, ms. */
const EVERY_MS = 20_000;

/** Asks what was written since the last time, while the page is looked at, and reads anew only what was. */
export function useChanges(): void {
  const dispatch = useAppDispatch();
  const personId = useAppSelector((s) => s.session.personId);
  useEffect(() => {
    let last: Changes | null = null;
    let asking = false;
    const ask = async (): Promise<void> => {
      if (asking || personId === null || document.visibilityState === 'hidden') return;
      asking = true;
      try {
        const since = last ? `?since=${last.bound}` : '';
        const res = await fetch(`/api/changes${since}`, {
          headers: asPerson(personId),
          signal: AbortSignal.timeout(12_000),
        });
        if (res.status === 401) void dispatch(askSession());
        if (!res.ok) return;
        const now = (await res.json()) as Changes;
        if (last) {
          if (now.shelf !== last.shelf) dispatch(api.util.invalidateTags(['Shelf', 'Rounds']));
          if (now.many) dispatch(api.util.invalidateTags(['Rounds', 'Job']));
          else if (now.jobs.length > 0)
            dispatch(api.util.invalidateTags(['Rounds', ...now.jobs.map((id) => ({ type: 'Job' as const, id }))]));
        }
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
    document.addEventListener('visibilitychange', onSeen);
    window.addEventListener('focus', onSeen);
    return () => {
      clearInterval(timer);
      document.removeEventListener('visibilitychange', onSeen);
      window.removeEventListener('focus', onSeen);
    };
  }, [dispatch, personId]);
}
