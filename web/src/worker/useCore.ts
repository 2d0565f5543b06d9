import { wrap, type Remote } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { CoreWorker } from './core.worker.ts';

let remote: Remote<CoreWorker> | undefined;

/** The one worker of the page, started when first asked. */
export function coreWorker(): Remote<CoreWorker> {
  remote ??= wrap<CoreWorker>(new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' }));
  return remote;
}

type Functions = { [K in keyof CoreWorker]: CoreWorker[K] };

/** A question's last answer; `fresh` tells whether it answers the question asked now. */
export interface Answer<T> {
  readonly value: T | undefined;
  readonly fresh: boolean;
  readonly error: string | null;
}

/**
 * Asks the worker and keeps the last answer on the page while a new one is worked out. One question of a kind is in
 * flight; while it is, only the newest next one is kept, older ones are dropped.
 * @param args null asks nothing
 */
export function useCore<K extends keyof Functions>(
  name: K,
  args: Parameters<Functions[K]> | null,
): Answer<ReturnType<Functions[K]>> {
  type Result = ReturnType<Functions[K]>;
  const key = args === null ? null : JSON.stringify(args);
  const [answer, setAnswer] = useState<{ key: string | null; value: Result | undefined; error: string | null }>({
    key: null,
    value: undefined,
    error: null,
  });
  const state = useRef<{ busy: boolean; wanted: string | null; alive: boolean }>({
    busy: false,
    wanted: null,
    alive: true,
  });
  useEffect(() => {
    const s = state.current;
    s.alive = true;
    return () => {
      s.alive = false;
    };
  }, []);
  useEffect(() => {
    const s = state.current;
    s.wanted = key;
    if (key === null || s.busy) return;
    const run = async (): Promise<void> => {
      s.busy = true;
      try {
        while (s.wanted !== null && s.alive) {
          const asked = s.wanted;
          try {
            const call = coreWorker()[name] as unknown as (...a: unknown[]) => Promise<Result>;
            const value = await call(...(JSON.parse(asked) as unknown[]));
            setAnswer({ key: asked, value, error: null });
          } catch (e) {
            setAnswer((a) => ({
              ...a,
              key: asked,
              error: e instanceof Error ? e.message : 'It could not be worked out.',
            }));
          }
          if (s.wanted === asked) return;
        }
      } finally {
        s.busy = false;
      }
    };
    void run();
  }, [key, name]);
  return { value: key === null ? undefined : answer.value, fresh: answer.key === key, error: answer.error };
}
