import type { KeptDecision } from '@katharos/contract';
import { useEffect, useMemo, useState } from 'react';
import { useGetDecisionQuery, useGetShelfQuery } from '../data/api.ts';

/** Once its job is here, a page waits so long at most for what the server decided of it; then it decides by itself. ms */
const PATIENCE_MS = 400;

/** What the server decided of a job. */
export interface Kept {
  readonly kept: KeptDecision;
  /** of the shelf the page has */
  readonly stamp: string;
}

/** What the server decided of a job; null where it has nothing, undefined while it may still come. @param here whether the job is */
export function useKeptDecision(id: string, here: boolean): Kept | null | undefined {
  const { currentData, isFetching } = useGetDecisionQuery(id);
  const { data: stamp } = useGetShelfQuery(null, { selectFromResult: (r) => ({ data: r.data?.stamp }) });
  const [outOfPatience, setOutOfPatience] = useState('');
  useEffect(() => {
    if (!here || !isFetching) return;
    const t = setTimeout(() => { setOutOfPatience(id); }, PATIENCE_MS); // oxfmt-ignore
    return () => {
      clearTimeout(t);
    };
  }, [id, here, isFetching]);
  return useMemo(() => {
    if (currentData && stamp !== undefined) return { kept: currentData, stamp };
    return isFetching && outOfPatience !== id ? undefined : null;
  }, [currentData, stamp, isFetching, outOfPatience, id]);
}
