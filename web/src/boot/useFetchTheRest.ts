import { useEffect } from 'react';
import { fetchTheRest } from './sheets.ts';
import { whenHandRests } from './whenHandRests.ts';

/** A page rests this long before it fetches what it does not show yet, ms. */
const REST_MS = 2000;

/** Once a page shows what it was opened for and has rested, fetches the parts of a job that have not come yet. */
export function useFetchTheRest(shown: boolean): void {
  useEffect(() => {
    return shown ? whenHandRests(REST_MS, fetchTheRest) : undefined;
  }, [shown]);
}
