import { isAway, isPlanned, openChange, visitMs, type FactOf } from '@katharos/core';
import { Button, TextInput } from '@mantine/core';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { Photographs } from '../../job/Photographs.tsx';
import { TakeBack } from '../../job/TakeBack.tsx';
import { useJob } from '../../job/useJob.ts';
import { useNow } from '../../ui/useNow.ts';
import { Bill } from './Bill.tsx';
import { useBegin } from './VisitForm.tsx';
import { dayOf, dayProblem } from '../../job/visitDay.ts';

/** Visits, the newest first: those to come may be begun, moved or taken back. */
export function Log(): ReactElement {
  const { record, designs, personName } = useJob();
  const [billed, setBilled] = useState<string | null>(null);
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
          const toCome = isPlanned(v);
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
                {toCome && answer(v) !== '' && <span className="small"> {answer(v)}</span>}
                <div className="log-acts">
                  {toCome && <Planned visit={v} />}
                  {!toCome && billed !== v.id && (
                    <Button
                      size="compact-xs"
                      variant="subtle"
                      onClick={() => {
                        setBilled(v.id);
                      }}
                    >
                      Bill
                    </Button>
                  )}
                  <Photographs about={v.id} what={`the visit of ${dayjs(v.on ?? v.at).format('D MMMM YYYY')}`} />
                  <TakeBack id={v.id} what={`the visit of ${dayjs(v.on ?? v.at).format('D MMMM YYYY')}`} />
                </div>
                {billed === v.id && (
                  <Bill
                    visit={v}
                    onClose={() => {
                      setBilled(null);
                    }}
                  />
                )}
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

/** A visit to come: begun now, given another day, or what the household answered written down. */
function Planned({ visit: v }: { readonly visit: FactOf<'visit'> }): ReactElement {
  const { record } = useJob();
  const begin = useBegin();
  const [editing, setEditing] = useState(false);
  if (editing)
    return (
      <Agree
        visit={v}
        onDone={() => {
          setEditing(false);
        }}
      />
    );
  return (
    <>
      {v.toChange && v.toChange.length > 0 && !openChange(record) && (
        <Button size="compact-xs" onClick={() => { begin({ components: v.toChange ?? [], sanitise: false }, v.reason, v.id); }}>
          Begin it now
        </Button>
      )}
      <Button size="compact-xs" variant="subtle" aria-label={`Another day, or their answer, for: ${v.reason}`} onClick={() => { setEditing(true); }}>
        Another day, or their answer
      </Button>
    </>
  );
} // oxfmt-ignore

/** Day and hour of a visit as the household has it: agreed, or only when somebody is at home. */
function Agree({ visit: v, onDone }: { readonly visit: FactOf<'visit'>; readonly onDone: () => void }): ReactElement {
  const { add, record } = useJob();
  const today = dayjs(useNow(60_000)).format('YYYY-MM-DD');
  const was = dayjs(v.on ?? v.at).format('YYYY-MM-DD');
  const [day, setDay] = useState(was);
  const [hour, setHour] = useState(v.agreed === true ? dayjs(v.on).format('HH:mm') : '');
  const [from, setFrom] = useState(v.between ? clock(v.between.fromMin) : '');
  const [until, setUntil] = useState(v.between ? clock(v.between.untilMin) : '');
  const gone = record.happened.some((h) => h.event === 'away' && isAway(h, dayjs(`${day}T12:00`).valueOf()));
  const dayFault = dayProblem(day, today, null) ?? (day < today ? 'Today or later: a visit to come.' : gone ? 'They are away then.' : null);
  const between = from === '' && until === '' ? null : { fromMin: minuteOf(from), untilMin: minuteOf(until) };
  const homeFault = between && !(between.untilMin > between.fromMin) ? 'From when until when.' : null;
  const hourFault = between && hour !== '' && (minuteOf(hour) < between.fromMin || minuteOf(hour) > between.untilMin) ? 'Nobody is at home then.' : null;
  const fault = dayFault ?? homeFault ?? hourFault;
  const save = (): void => {
    if (fault !== null) return;
    const { reason, changed, toChange, note, design, fitter } = v;
    add({
      kind: 'visit',
      reason,
      changed,
      // an hour is agreed; without one it keeps the moment it was laid to, or stands on the day alone
      on: hour !== '' ? dayjs(`${day}T${hour}`).toISOString() : day === was && v.agreed !== true ? (v.on ?? dayOf(day)) : dayOf(day),
      corrects: v.id,
      ...(design === undefined ? {} : { design }),
      ...(toChange ? { toChange } : {}),
      ...(between ? { between } : {}),
      ...(hour === '' ? {} : { agreed: true }),
      ...(fitter !== undefined && day === was ? { fitter } : {}),
      ...(note === undefined ? {} : { note }),
    });
    onDone();
  };
  return (
    <form
      className="move-visit"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      <TextInput type="date" size="xs" label="Day" aria-label={`Another day for: ${v.reason}`} value={day} error={dayFault} onChange={(e) => { setDay(e.currentTarget.value); }} />
      <TextInput type="time" size="xs" label="Agreed for" value={hour} error={hourFault} onChange={(e) => { setHour(e.currentTarget.value); }} />
      <TextInput type="time" size="xs" label="At home from" value={from} error={homeFault} onChange={(e) => { setFrom(e.currentTarget.value); }} />
      <TextInput type="time" size="xs" label="until" aria-label="At home until" value={until} onChange={(e) => { setUntil(e.currentTarget.value); }} />
      <Button type="submit" size="xs" disabled={fault !== null}>
        Write it down
      </Button>
    </form>
  );
} // oxfmt-ignore

const clock = (min: number): string =>
  `${String(Math.floor(min / 60)).padStart(2, '0')}:${String(min % 60).padStart(2, '0')}`;
const minuteOf = (at: string): number => {
  const [h = NaN, m = NaN] = at.split(':').map(Number);
  return 60 * h + m;
};

/** What the household said of a visit to come. */
const answer = (v: FactOf<'visit'>): string =>
  [
    v.agreed === true ? `agreed for ${dayjs(v.on).format('HH:mm')}` : '',
    v.between ? `at home ${clock(v.between.fromMin)} to ${clock(v.between.untilMin)}` : '',
  ].filter(Boolean).join(', '); // oxfmt-ignore
