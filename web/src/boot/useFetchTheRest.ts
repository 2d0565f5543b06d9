import { useEffect } from 'react';
import { fetchTheRest } from './fetchTheRest.ts';

/** Once a page shows what it was opened for, fetches the parts of a job that have not come yet. */
export function useFetchTheRest(shown: boolean): void {
  useEffect(() => (shown ? fetchTheRest() : undefined), [shown]);
}
