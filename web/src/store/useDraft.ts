import { useCallback, useState } from 'react';

const PREFIX = 'katharos.draft.';

function read(key: string): string {
  try {
    return localStorage.getItem(PREFIX + key) ?? '';
  } catch {
    return '';
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
        if (next === '') localStorage.removeItem(PREFIX + key);
        else localStorage.setItem(PREFIX + key, next);
      } catch {
        // no room: it stays on the page
      }
    },
    [key],
  );
  return [text, set];
}
