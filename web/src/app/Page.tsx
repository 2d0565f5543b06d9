import { Loader } from '@mantine/core';
import type { ReactElement } from 'react';
import { may, ROLES, type KnownRoute, type Shelf } from '@katharos/contract';
import { errorWords } from '../data/errors.ts';
import { useGetShelfQuery } from '../data/api.ts';
import { selectMay } from '../data/session.ts';
import { useAppSelector } from '../data/store.ts';
import type { LazyPart } from '../boot/lazyPart.ts';
import { useFetchTheRest } from '../boot/useFetchTheRest.ts';
import { useLazyPart } from '../data/useLazyPart.ts';

/** A page that needs nothing to open but its script; once that is there, the rest is fetched. */
export function Opened({ of }: { readonly of: LazyPart<object> }): ReactElement {
  const { Part: Content, fault } = useLazyPart(of);
  useFetchTheRest(Content !== null);
  if (fault) throw fault;
  if (Content) return <Content />;
  return (
    <main className="plain-page" aria-busy>
      <Loader aria-label="Opening the page" />
    </main>
  );
}

interface PageProps {
  readonly of: LazyPart<{ shelf: Shelf }>;
  /** what who changes it must be allowed to; whoever is not looks */
  readonly writes: KnownRoute;
  /** whether all of it is there to be filled in; else much of it is for looking things up */
  readonly filled?: boolean;
}

/**
 * A page of the firm's own: it opens once the shelf is here, and says so where the server does not answer.
 */
export function Page({ of, writes, filled = true }: PageProps): ReactElement {
  const mayWrite = useAppSelector((s) => selectMay(s, writes));
  const writer = ROLES.filter((r) => may(r, writes)).join(' and ');
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
      <fieldset className="as-it-may" disabled={filled && !mayWrite}>
        {!mayWrite && <p className="note">You look here: changes are made by {writer}.</p>}
        <Content shelf={data} />
      </fieldset>
    </main>
  );
}
