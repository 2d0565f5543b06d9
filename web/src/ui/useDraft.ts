import { useCallback, useState } from 'react';

/** Where what is typed and not taken in yet is kept on this device. */
export const DRAFTS = 'katharos.draft.';

function read(key: string): string {
  try {
    return localStorage.getItem(DRAFTS + key) ?? '';
  } catch {
    return '';
  }
}

/** Forgets what was typed and not taken in. */
export function forgetDraft(key: string): void {
  try {
    localStorage.removeItem(DRAFTS + key);
  } catch {
    // nothing was kept
  }
}

/** Text typed and not yet taken in: it survives a reload and a crash. Setting '' forgets it. */
export function useDraft(key: string): [string, (text: string) => void] {
  const [held, setHeld] = useState(() => ({ key, text: read(key) }));
  const text = held.key === key ? held.text : read(key);
  const set = useCallback(
    (next: string) => {
      setHeld({ key, text: next });
      try {
        if (next === '') localStorage.removeItem(DRAFTS + key);
        else localStorage.setItem(DRAFTS + key, next);
      } catch {
        // no room: it stays on the page
      }
    },
    [key],
  );
  return [text, set];
}
