import { billOf, formatReading, handsMinutes, visitMs, type Bill as BillOf, type FactOf } from '@katharos/core';
import { Button, NumberInput } from '@mantine/core';
import { IconDownload, IconPrinter } from '../../ui/icons.ts';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { usePrintForThem } from '../../job/givenSheets.ts';
import { useJob } from '../../job/useJob.ts';
import { downloadCsv } from '../../ui/Csv.tsx';
import { Sheet } from '../../ui/Sheet.tsx';
import { usePrinting } from '../../ui/usePrinting.ts';

/** A price to the hundredth; empty where there is none. */
const money = (n: number | null): string => (n === null ? '' : n.toFixed(2));
const MOST_MIN = { work: 3000, travel: 1000 } as const;

/** A visit's bill: what went in, its minutes, as a table for an accounts program and on paper. */
export function Bill({ visit, onClose }: { readonly visit: FactOf<'visit'>; readonly onClose: () => void }): ReactElement {
  const { record, built, rules, add, household, id } = useJob();
  const kept = record.billed[visit.id];
  // as it is typed: an empty field is no time
  const [work, setWork] = useState<number | string>(kept?.minutes ?? handsMinutes(visit, record) ?? 30);
  const [travel, setTravel] = useState<number | string>(kept?.travelMin ?? '');
  const [minutes, travelMin] = [Number(work), Number(travel)];
  const bill = billOf(visit, record, built?.system.components ?? [], rules, minutes, travelMin);
  const printing = usePrinting();
  const print = usePrintForThem();
  const day = dayjs(visitMs(visit)).format('YYYY-MM-DD');
  const isKept = kept?.minutes === minutes && kept.travelMin === travelMin;
  /** the time that is billed is written down once, whichever way the bill goes out */
  const keep = (): void => {
    if (!isKept) add({ kind: 'billed', visit: visit.id, minutes, travelMin, ...(kept ? { corrects: kept.id } : {}) });
  };
  const csv = (): void => {
    keep();
    void downloadCsv(
      `bill-${day}.csv`,
      bill.lines.map((l) => ({ date: day, household: household.name, job: id, visit: visit.reason, of: l.of, what: l.what, amount: l.amount, unit: l.unit, each: l.each === null ? '' : Number(l.each.toFixed(4)), sum: l.sum ?? '', money: rules.currency })),
    );
  };
  const number = (label: string, value: number | string, most: number, take: (n: number | string) => void): ReactElement => (
    <NumberInput label={label} size="xs" min={0} max={most} allowDecimal={false} value={value} onChange={take} />
  );
  return (
    <section className="bill" aria-label={`Bill of the visit of ${dayjs(visitMs(visit)).format('D MMMM YYYY')}`}>
      <div className="move-visit no-print">
        {number('Work, min', work, MOST_MIN.work, setWork)}
        {number('Travel, min', travel, MOST_MIN.travel, setTravel)}
      </div>
      <Lines bill={bill} money={rules.currency} />
      {bill.unpriced && (
        <p className="note">
          What has no price on the shelf, or no hour in the house rules, stands on it without one.
        </p>
      )}
      <div className="log-acts no-print">
        <Button size="compact-sm" variant="default" leftSection={<IconDownload size={14} />} onClick={csv}>
          CSV
        </Button>
        <Button size="compact-sm" variant="default" leftSection={<IconPrinter size={14} />} onClick={() => { keep(); print(); }}>
          Print
        </Button>
        <Button size="compact-sm" variant="subtle" onClick={onClose}>
          Close the bill
        </Button>
      </div>
      {printing && (
        <Sheet of={rules} place={household.place} title={`Bill, ${household.name}`}>
          <p>
            {household.address !== '' && `${household.address}. `}
            {dayjs(visitMs(visit)).format('D MMMM YYYY')}: {visit.reason}
          </p>
          <Lines bill={bill} money={rules.currency} />
        </Sheet>
      )}
    </section>
  );
} // oxfmt-ignore

function Lines({ bill, money: called }: { readonly bill: BillOf; readonly money: string }): ReactElement {
  return (
    <table className="quiet-table">
      <thead>
        <tr>
          <th>what</th>
          <th className="num">amount</th>
          <th className="num">{called}</th>
        </tr>
      </thead>
      <tbody>
        {bill.lines.map((l) => (
          <tr key={`${l.of} ${l.what}`}>
            <td>{l.what}</td>
            <td className="num">
              {formatReading(l.amount)} {l.unit === 'min' ? 'min' : ''}
            </td>
            <td className="num">{money(l.sum)}</td>
          </tr>
        ))}
        <tr>
          <td>
            <b>All together</b>
          </td>
          <td />
          <td className="num">
            <b>{money(bill.total)}</b>
          </td>
        </tr>
      </tbody>
    </table>
  );
}
