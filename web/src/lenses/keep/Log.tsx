import { openChange, visitMs, type FactOf } from '@katharos/core';
import { Button, TextInput } from '@mantine/core';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { Photographs } from '../../job/Photographs.tsx';
import { TakeBack } from '../../job/TakeBack.tsx';
import { useJob } from '../../job/useJob.ts';
import { useNow } from '../../ui/useNow.ts';
import { useBegin } from './VisitForm.tsx';
import { dayOf, dayProblem } from './visitDay.ts';

/** Visits, the newest first: those to come may be begun, moved or taken back. */
export function Log(): ReactElement {
  const { record, designs, personName } = useJob();
  const label = (id: string): string =>
    designs.flatMap((d) => d.system.components).find((c) => c.id === id)?.slot ?? id;
  const now = useNow(60_000);
  const visits = [...record.visits].sort((a, b) => visitMs(b) - visitMs(a));
  if (visits.length === 0)
    return (
      <p className="empty">No visit yet. The first is due within the first week: joints, and the baseline again.</p>
    );
  return (
    <table className="quiet-table log">
      <thead>
        <tr>
          <th>date</th>
          <th>visit</th>
          <th>changed</th>
          <th>who</th>
        </tr>
      </thead>
      <tbody>
        {visits.map((v) => {
          const toCome = v.toChange !== undefined || visitMs(v) > now;
          const what = (v.toChange ?? v.changed).map(label).join(', ');
          return (
            <tr key={v.id}>
              <td className="log-date">
                {dayjs(v.on ?? v.at).format('D MMM YYYY')}
                {toCome && <span className="small"> {visitMs(v) > now ? 'planned' : 'was planned'}</span>}
              </td>
              <td>
                {v.reason}
                {v.note && <span className="small"> {v.note}</span>}
                <div className="log-acts">
                  {toCome && <Planned visit={v} />}
                  <Photographs about={v.id} what={`the visit of ${dayjs(v.on ?? v.at).format('D MMMM YYYY')}`} />
                  <TakeBack id={v.id} what={`the visit of ${dayjs(v.on ?? v.at).format('D MMMM YYYY')}`} />
                </div>
              </td>
              <td>{what === '' ? 'nothing' : toCome ? `to change: ${what}` : what}</td>
              <td>{personName(v.by)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** A visit to come: begun now, or given another day. */
function Planned({ visit: v }: { readonly visit: FactOf<'visit'> }): ReactElement {
  const { record, add } = useJob();
  const begin = useBegin();
  const today = dayjs(useNow(60_000)).format('YYYY-MM-DD');
  const [day, setDay] = useState<string | null>(null);
  const problem = day === null ? null : dayProblem(day, today, null);
  const move = (): void => {
    if (day === null || problem !== null) return;
    const { reason, changed, toChange, note } = v;
    add({ kind: 'visit', reason, changed, on: dayOf(day), corrects: v.id, ...(toChange ? { toChange } : {}), ...(note === undefined ? {} : { note }) });
    setDay(null);
  };
  if (day !== null)
    return (
      <form
        className="move-visit"
        onSubmit={(e) => {
          e.preventDefault();
          move();
        }}
      >
        <TextInput type="date" size="xs" aria-label={`Another day for: ${v.reason}`} value={day} error={problem} onChange={(e) => { setDay(e.currentTarget.value); }} />
        <Button type="submit" size="xs" disabled={problem !== null}>
          Move it
        </Button>
      </form>
    );
  return (
    <>
      {v.toChange && v.toChange.length > 0 && !openChange(record) && (
        <Button size="compact-xs" onClick={() => { begin({ components: v.toChange ?? [], sanitise: false }, v.reason, v.id); }}>
          Begin it now
        </Button>
      )}
      <Button size="compact-xs" variant="subtle" aria-label={`Another day for: ${v.reason}`} onClick={() => { setDay(dayjs(v.on ?? v.at).format('YYYY-MM-DD')); }}>
        Another day
      </Button>
    </>
  );
} // prettier-ignore
