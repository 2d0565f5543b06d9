import { Loader } from '@mantine/core';
import { Suspense, type ComponentType, type ReactElement } from 'react';
import type { Shelf } from '@katharos/contract';
import { errorWords } from './errors.ts';
import { useGetShelfQuery } from './api.ts';

/** A page of the firm's own: it opens once the shelf is here, and says so where the server does not answer. */
export function Page({ of: Content }: { of: ComponentType<{ shelf: Shelf }> }): ReactElement {
  const { data, error, isLoading } = useGetShelfQuery(null, { refetchOnMountOrArgChange: true });
  if (!data)
    return (
      <main className="plain-page" aria-busy={isLoading}>
        {error === undefined ? <Loader aria-label="Opening the page" /> : <p role="alert">{errorWords(error)}</p>}
      </main>
    );
  return (
    <main className="firm-page">
      <Suspense fallback={<Loader aria-label="Opening the page" />}>
        <Content shelf={data} />
      </Suspense>
    </main>
  );
}
