import type { Shelf, Stock, StockMove } from '@katharos/contract';
import { FORTNIGHT_DAYS, formatReading, takenWithin, type Part, type StockPlace } from '@katharos/core';
import { NativeSelect, Switch } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { useMemo, useState, type ReactElement } from 'react';
import { useGetComingQuery, useGetDayQuery, useGetStockQuery, useMoveStockMutation } from '../../data/api.ts';
import { useAppSelector } from '../../data/store.ts';
import { errorWords } from '../../data/errors.ts';
import { nowMs } from '../../ui/clock.ts';
import { CsvButton, type CsvRows } from '../../ui/Csv.tsx';
import { Cell } from './Cell.tsx';

/** What of a part lies where, what approved jobs still take of it, and what is short. */
interface Line {
  readonly part: Part;
  /** in all vans */
  readonly van: number;
  /** in the van that is looked into */
  readonly shown: number;
  readonly store: number;
  readonly reserved: number;
  /** what the visits of the coming fortnight take */
  readonly fortnight: number;
  /** to be ordered so that jobs have what they take, and the firm the fewest it wants */
  readonly order: number;
}

const n = (v: number): string => (v === 0 ? '' : formatReading(v, 3));

/** Which van is looked into: all of them, the one that is nobody's own, or somebody's. */
type Which = 'all' | 'shared' | (string & {});

/** Vans that can be looked into, and how each is called. */
function vansOf(
  stock: Stock,
  people: Shelf['people'],
  drivers: readonly string[],
): { readonly value: Which; readonly label: string }[] {
  const shared = stock.levels.some((l) => (l.vans.shared ?? 0) !== 0);
  const own = people.filter((p) => drivers.includes(p.id) || stock.vansOf.includes(p.id));
  return [
    ...(stock.vansOf.length > 0 ? [{ value: 'all', label: 'all vans' }] : []),
    ...(stock.vansOf.length === 0 || shared ? [{ value: 'shared', label: 'the firm’s van' }] : []),
    ...own.map((p) => ({ value: p.id, label: `the van of ${p.name}` })),
  ];
}

/** The firm's stock: counted in its cells, reserved by approved jobs and by the coming fortnight's visits, what is to be ordered. */
export function StockTable({
  parts,
  people,
  onLeast,
}: {
  readonly parts: readonly Part[];
  readonly people: Shelf['people'];
  readonly onLeast: (part: Part, least: number | undefined) => Promise<boolean>;
}): ReactElement {
  const { data, error } = useGetStockQuery(null, { refetchOnMountOrArgChange: true });
  const coming = useGetComingQuery(null, { refetchOnMountOrArgChange: true }).data;
  // who drives stands in the day's table
  const day = useGetDayQuery(dayjs(nowMs()).format('YYYY-MM-DD')).data;
  const takes = useMemo(
    () => takenWithin((coming?.entries ?? []).map((e) => e.summary), nowMs(), FORTNIGHT_DAYS),
    [coming],
  );
  const [move] = useMoveStockMutation();
  const [short, setShort] = useState(false);
  const me = useAppSelector((s) => s.session.personId);
  const [looked, setLooked] = useState<Which | null>(null);
  if (error) return <p role="alert">The stock is not known here now: {errorWords(error)}</p>;
  if (!data) return <p className="small">Reading the stock.</p>;
  const levels = new Map(data.levels.map((l) => [l.part, l]));
  const which: Which = looked ?? (me !== null && data.vansOf.includes(me) ? me : data.vansOf.length > 0 ? 'all' : 'shared');
  const vans = vansOf(data, people, day?.table.fitters.map((f) => f.person) ?? []);
  const lines = parts.map((part): Line => {
    const { van = 0, store = 0, vans: each = {} } = levels.get(part.id) ?? {};
    const inIt = which === 'all' ? van : (each[which] ?? 0);
    const reserved = data.reserved[part.id] ?? 0;
    const fortnight = takes[part.id] ?? 0;
    const order = Math.max(0, Math.ceil(reserved + fortnight + (part.least ?? 0) - van - store));
    return { part, van, shown: inIt, store, reserved, fortnight, order };
  });
  const shown = short ? lines.filter((l) => l.order > 0) : lines;
  const counted = async (part: Part, place: StockPlace, count: number): Promise<boolean> => {
    const own = place === 'van' && which !== 'shared' ? { vanOf: which } : {};
    const one: StockMove = { id: crypto.randomUUID(), part: part.id, place, ...own, kind: 'count', count, note: '', at: new Date(nowMs()).toISOString() };
    try {
      await move({ moves: [one] }).unwrap();
      return true;
    } catch (e) {
      notifications.show({ color: 'red', message: errorWords(e), autoClose: 8000 });
      return false;
    }
  };
  const order = (): CsvRows =>
    lines.filter((l) => l.order > 0).map((l) => ({ id: l.part.id, part: l.part.name, order: l.order, price: l.part.price ?? '' }));
  const wanting = lines.filter((l) => l.order > 0).length;
  return (
    <>
      <div className="stock-head">
        <p>
          {wanting === 0
            ? 'Nothing to order: van and store have what approved jobs and the coming fortnight take, and the fewest that are wanted.'
            : `${String(wanting)} ${wanting === 1 ? 'part is' : 'parts are'} to be ordered.`}
        </p>
        <NativeSelect aria-label="Which van" size="xs" value={which} onChange={(e) => { setLooked(e.currentTarget.value); }} data={vans} />
        <Switch label="only what is to be ordered" checked={short} onChange={(e) => { setShort(e.currentTarget.checked); }} />
        <CsvButton name="order.csv" rows={order} label="Order as CSV" disabled={wanting === 0} />
      </div>
      <div className="stock-wide">
      <table className="quiet-table stock">
        <caption className="quiet-caption">Pieces, and metres of tube. What is counted is typed into its cell.</caption>
        <thead>
          <tr>
            <th>part</th>
            <th className="num">{which === 'all' ? 'in all vans' : 'in the van'}</th>
            <th className="num">in the store</th>
            <th className="num">jobs still take</th>
            <th className="num">this fortnight takes</th>
            <th className="num">fewest wanted</th>
            <th className="num">to order</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((l) => (
            <tr key={l.part.id} data-short={l.order > 0}>
              <th scope="row">{l.part.name}</th>
              <td className="num">
                {which === 'all' ? n(l.van) : <Cell label={`${l.part.name} in the van`} value={l.shown} onTake={(v) => counted(l.part, 'van', v ?? 0)} />}
              </td>
              <td className="num">
                <Cell label={`${l.part.name} in the store`} value={l.store} onTake={(v) => counted(l.part, 'store', v ?? 0)} />
              </td>
              <td className="num">{n(l.reserved)}</td>
              <td className="num">{n(l.fortnight)}</td>
              <td className="num">
                <Cell label={`Fewest wanted of ${l.part.name}`} value={l.part.least} onTake={(v) => onLeast(l.part, v)} />
              </td>
              <td className="num">
                <b>{n(l.order)}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      </div>
      {shown.length === 0 && <p className="small">No part like that.</p>}
      {lines.some((l) => l.shown < 0 || l.store < 0) && (
        <p className="note">Below nothing: more was taken than was counted. Count again where it says so.</p>
      )}
    </>
  );
} // oxfmt-ignore
