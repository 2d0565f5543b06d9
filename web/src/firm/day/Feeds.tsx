import type { Shelf } from '@katharos/contract';
import { Button, CopyButton } from '@mantine/core';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { useEndFeedMutation, useGetFeedsQuery, useMakeFeedMutation } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { selectMay } from '../../data/session.ts';
import { useAppSelector } from '../../data/store.ts';

/** Feeds of visits for a calendar of somebody's own, at an address that is secret and can be ended. */
export function Feeds({ shelf }: { readonly shelf: Shelf }): ReactElement | null {
  const me = useAppSelector((s) => s.session.personId);
  const may = useAppSelector((s) => selectMay(s, 'POST /feeds'));
  const [open, setOpen] = useState(false);
  const { data } = useGetFeedsQuery(null, { skip: !may || !open });
  const [make, made] = useMakeFeedMutation();
  const [end, ended] = useEndFeedMutation();
  if (!may) return null;
  const name = (id: string | null): string => (id === null ? 'everybody' : (shelf.people.find((p) => p.id === id)?.name ?? 'somebody')); // oxfmt-ignore
  const address = made.data ? `${location.origin}${made.data.path}` : null;
  const error = made.error ?? ended.error;
  return (
    <details
      className="notice no-print"
      onToggle={(e) => {
        setOpen(e.currentTarget.open);
      }}
    >
      <summary>A calendar of your own that follows these visits</summary>
      <p className="small">
        When, how long and in which district; no name, number or key. Whoever has the address reads it, until it is
        ended here. The calendar must be able to reach this installation.
      </p>
      <div className="notice-find">
        <Button variant="default" onClick={() => void make({ fitter: me })}>
          Address of my visits
        </Button>
        <Button variant="default" onClick={() => void make({ fitter: null })}>
          Address of everybody’s
        </Button>
      </div>
      {error !== undefined && (
        <p role="alert" className="caution">
          {errorWords(error)}
        </p>
      )}
      {address !== null && (
        <div role="status" className="feed-made">
          <p>It is not shown again:</p>
          <code>{address}</code>
          <CopyButton value={address}>
            {({ copied, copy }) => (
              <Button size="compact-sm" onClick={copy}>
                {copied ? 'Copied' : 'Copy'}
              </Button>
            )}
          </CopyButton>
        </div>
      )}
      {data && data.length > 0 && (
        <ul className="notice-houses" aria-label="Feeds that are open">
          {data.map((f) => (
            <li key={f.id}>
              <span>
                Visits of {name(f.fitter)}, made {dayjs(f.madeAt).format('D MMM YYYY')} by {name(f.madeBy)};{' '}
                {f.readAt === null ? 'not read yet' : `read last ${dayjs(f.readAt).format('D MMM, HH:mm')}`}
              </span>
              <Button size="compact-sm" variant="subtle" onClick={() => void end(f.id)}>
                End it
              </Button>
            </li>
          ))}
        </ul>
      )}
    </details>
  );
}
