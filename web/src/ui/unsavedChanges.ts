import equal from 'fast-deep-equal';
import { useState } from 'react';
import type * as z from 'zod';
import { DRAFTS } from './useDraft.ts';

/**
 * What was changed on a record and not saved yet: it survives a reload and a crash. Only what was changed is kept, so that
 * what somebody else changes meanwhile is not put back by it.
 */
export interface Kept<T extends object> {
  /** The record with what was changed here before on top. */
  readonly over: (base: Readonly<T>) => T;
  readonly keep: (base: Readonly<T>, values: Readonly<T>) => void;
  readonly forget: () => void;
}

/**
 * @param key name of the record among what this device keeps
 * @param schema the shape of what may be kept: looser than the record's own, for what is half typed is kept too
 */
export function unsavedChanges<T extends object>(key: string, schema: z.ZodType<object>): Kept<T> {
  const at = DRAFTS + key;
  const read = (): Partial<T> => {
    try {
      const stored = JSON.parse(localStorage.getItem(at) ?? '{}') as object;
      // a field with a default would come back though nobody changed it
      const kept = Object.entries(schema.safeParse(stored).data ?? {}).filter(([k]) => k in stored);
      return Object.fromEntries(kept) as Partial<T>;
    } catch {
      return {};
    }
  };
  return {
    over: (base) => ({ ...base, ...read() }),
    keep: (base, values) => {
      const mine = Object.entries(values).filter(([k, v]) => !equal(v, base[k as keyof T]));
      try {
        if (mine.length === 0) localStorage.removeItem(at);
        else localStorage.setItem(at, JSON.stringify(Object.fromEntries(mine)));
      } catch {
        // no room: it stays on the page
      }
    },
    forget: () => {
      localStorage.removeItem(at);
    },
  };
}

/** A record being edited, on top of what was left unsaved before. */
export function useKept<T extends object>(
  kept: Kept<T>,
  base: T,
): {
  readonly values: T;
  readonly change: (values: T) => void;
  /** Puts the record back as it was. */
  readonly startOver: () => void;
} {
  const [values, setValues] = useState(() => kept.over(base));
  return {
    values,
    change: (next) => {
      setValues(next);
      kept.keep(base, next);
    },
    startOver: () => {
      kept.forget();
      setValues(base);
    },
  };
}
