import {
  formatReading,
  partsNeeded,
  STOCK_PLACES,
  stillNeeded,
  type StockPlace,
  type SystemView,
} from '@katharos/core';
import { Button } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { inVanOf } from '@katharos/contract';
import { useAppSelector } from '../../data/store.ts';
import { useGetStockQuery } from '../../data/api.ts';
import { TakeBack } from '../../job/TakeBack.tsx';
import { useJob } from '../../job/useJob.ts';

const WHERE: Readonly<Record<StockPlace, string>> = { van: 'the van', store: 'the store' };

/** What the firm's stock has of this job's parts, what is short, and that it was taken out. */
export function FromStock({ view }: { view: SystemView }): ReactElement {
  const { record, parts, add, approved, personName } = useJob();
  const { data } = useGetStockQuery(null, { refetchOnMountOrArgChange: true });
  // what was taken out to change something worn is no part of the design's list
  const taken = record.stockOut.filter((f) => f.change === undefined);
  const left = Object.entries(stillNeeded(partsNeeded(view.picks), taken.flatMap((f) => f.parts)));
  const name = (id: string): string => parts.find((p) => p.id === id)?.name ?? id;
  // what is taken out of a van comes out of one's own
  const me = useAppSelector((s) => s.session.personId);
  const lies = (id: string, place: StockPlace): number =>
    place === 'van' ? (data ? inVanOf(data, id, me) : 0) : (data?.levels.find((l) => l.part === id)?.store ?? 0);
  const short = data ? left.filter(([id, n]) => lies(id, 'van') < n) : [];
  const inStore = short.filter(([id, n]) => lies(id, 'van') + lies(id, 'store') >= n);
  const nowhere = short.filter((s) => !inStore.includes(s));
  const said = (all: readonly (readonly [string, number])[]): string =>
    all.map(([id, n]) => `${formatReading(n, 2)} × ${name(id)}`).join(', ');
  const take = (from: StockPlace): void => {
    add({ kind: 'stock-out', design: approved?.id, from, parts: left.map(([part, count]) => ({ part, count })) });
  };
  return (
    <div className="from-stock no-print">
      {taken.map((f) => (
        <p key={f.id} className="small">
          {String(f.parts.length)} kinds of parts taken out of {WHERE[f.from]}: {personName(f.by)}, {dayjs(f.at).format('D MMM HH:mm')}.{' '}
          <TakeBack id={f.id} what="what was taken out" />
        </p>
      ))}
      {left.length > 0 && data && (
        <p className="small">
          {short.length === 0 ? 'The van has every part of it.' : ''}
          {inStore.length > 0 ? `Not in the van, but in the store: ${said(inStore)}. ` : ''}
          {nowhere.length > 0 ? `Neither in the van nor in the store: ${said(nowhere)}.` : ''}
        </p>
      )}
      {left.length > 0 && !data && <p className="small">What the van holds is not known without the server.</p>}
      {left.length > 0 &&
        STOCK_PLACES.map((place) => (
          <Button
            key={place}
            size="xs"
            variant="default"
            onClick={() => {
              take(place);
            }}
          >
            {taken.length > 0 ? 'Take the rest' : 'Take it all'} out of {WHERE[place]}
          </Button>
        ))}
    </div>
  );
} // oxfmt-ignore
