import { useEffect, useReducer, useState, type ComponentType } from 'react';
import type { LazyPart } from '../boot/lazyPart.ts';

/**
 * The late part once it is there, at once where its script has come before, and why it does not come. Unlike a suspended
 * part it is never held back after its script has come.
 */
export function useLazyPart<P>(part: LazyPart<P>): {
  readonly Part: ComponentType<P> | null;
  readonly fault: Error | null;
} {
  const [fault, setFault] = useState<{ readonly of: LazyPart<P>; readonly why: Error } | null>(null);
  const [, drawAgain] = useReducer((n: number) => n + 1, 0);
  const drawn = part.come;
  useEffect(() => {
    // not whether it has come by now: it may have, for somebody else, since this was drawn without it
    if (drawn) return;
    let alive = true;
    part.fetch().then(
      () => {
        if (alive) drawAgain();
      },
      (e: unknown) => {
        if (alive) setFault({ of: part, why: e instanceof Error ? e : new Error(String(e)) });
      },
    );
    return () => {
      alive = false;
    };
  }, [part, drawn]);
  return { Part: drawn, fault: fault?.of === part ? fault.why : null };
}
