import { useEffect } from 'react';
import { fetchTheRest } from './sheets.ts';

/** A page rests this long before it fetches what it does not show yet, ms. */
const REST_MS = 2000;

/** Once a page shows what it was opened for and has rested, fetches the parts of a job that have not come yet. */
export function useFetchTheRest(shown: boolean): void {
  useEffect(() => {
    if (!shown) return;
    const rest = setTimeout(fetchTheRest, REST_MS);
    return () => {
      clearTimeout(rest);
    };
  }, [shown]);
}
