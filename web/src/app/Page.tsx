import { Loader } from '@mantine/core';
import type { ReactElement } from 'react';
import type { Shelf } from '@katharos/contract';
import { errorWords } from '../data/errors.ts';
import { useGetShelfQuery } from '../data/api.ts';
import type { LazyPart } from '../boot/lazyPart.ts';
import { useLazyPart } from '../data/useLazyPart.ts';

/** A page of the firm's own: it opens once the shelf is here, and says so where the server does not answer. */
export function Page({ of }: { of: LazyPart<{ shelf: Shelf }> }): ReactElement {
  const { data, error, isLoading } = useGetShelfQuery(null, { refetchOnMountOrArgChange: true });
  const { Part: Content, fault } = useLazyPart(of);
  if (fault) throw fault;
  if (!data || !Content)
    return (
      <main className="plain-page" aria-busy={isLoading}>
        {error === undefined ? <Loader aria-label="Opening the page" /> : <p role="alert">{errorWords(error)}</p>}
      </main>
    );
  return (
    <main className="firm-page">
      <Content shelf={data} />
    </main>
  );
}
