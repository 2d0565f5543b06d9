import { useEffect } from 'react';
import { asPerson } from './session.ts';
import { useAppSelector } from './store.ts';

/** A count that stands for so long is told, ms. */
const STEADY_MS = 4000;

/** Tells the server how much waits on this device, so that the owner sees it. */
export function useTellWaits(): void {
  const personId = useAppSelector((s) => s.session.personId);
  const door = useAppSelector((s) => s.session.door);
  const waits = useAppSelector((s) => s.outbox.pending.length + s.outbox.refused.length + s.pictures.waiting.length);
  useEffect(() => {
    if (personId === null || door !== 'in') return;
    const timer = setTimeout(() => {
      // without signal it is told by what arrives late
      void fetch('/api/session/waits', {
        method: 'PUT',
        headers: { 'content-type': 'application/json', ...asPerson(personId) },
        body: JSON.stringify({ waits }),
      }).catch(() => undefined);
    }, STEADY_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [personId, door, waits]);
}
