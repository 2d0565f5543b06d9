import { useSyncExternalStore } from 'react';
import { flushSync } from 'react-dom';

let isPrinting = false;
const listeners = new Set<() => void>();

/** Tells everybody in one go, so that the sheets of a page stand in the order of the page. */
const tell = (now: boolean): void => {
  isPrinting = now;
  flushSync(() => {
    for (const heard of listeners) heard();
  });
};
const before = (): void => {
  tell(true);
};
const after = (): void => {
  tell(false);
};

function subscribe(heard: () => void): () => void {
  if (listeners.size === 0) {
    window.addEventListener('beforeprint', before);
    window.addEventListener('afterprint', after);
  }
  listeners.add(heard);
  return () => {
    listeners.delete(heard);
    if (listeners.size > 0) return;
    window.removeEventListener('beforeprint', before);
    window.removeEventListener('afterprint', after);
    isPrinting = false;
  };
}

/** Whether the page is being printed: what stands on paper only is then put in, before the browser takes its picture. */
export const usePrinting = (): boolean => useSyncExternalStore(subscribe, () => isPrinting);
