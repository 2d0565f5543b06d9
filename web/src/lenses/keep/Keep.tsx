import { formatNumber, formatReading, isDone, ofWork, partIn, visitMs, type Life } from '@katharos/core';
import { Button, Checkbox, Textarea, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { Photographs } from '../../job/Photographs.tsx';
import { TakeBack } from '../../job/TakeBack.tsx';
import { useJob } from '../../job/useJob.ts';
import { livesNow } from '../../job/lensStates.ts';
import { CHARTS } from '../../boot/charts.ts';
import { useLazyPart } from '../../data/useLazyPart.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { NeedsDesign } from '../../job/NeedsDesign.tsx';
import { useNow } from '../../ui/useNow.ts';
import { History } from './History.tsx';
import './keep.css';

const date = (ms: number): string => dayjs(ms).format('D MMM YYYY');

/** Years of it: each cartridge's life, the trend, the log, and what to bring next. */
export default function Keep(): ReactElement {
  const job = useJob();
  const now = useNow(60_000);
  const { view, approved, record } = job;
  if (!view || !approved) return <NeedsDesign what="Keep" />;
  const lives = livesNow(job, now);
  const begun = view.sheet.some((s) => isDone(record, s.key));
  const attention = lives.filter((l) => l.state !== 'good');
  const next = [...lives].sort((a, b) => a.dueMs - b.dueMs)[0];
  return (
    <div className="two-zones keep">
      <div>
        <h2 className="zone-title">Lives, by calendar and by litres</h2>
        {lives.length === 0 && (
          <p className="empty">
            {begun ? 'Lives begin when the last flush step is ticked.' : 'Lives begin once the system is flushed.'}
          </p>
        )}
        {lives.map((l) => (
          <LifeBar key={l.componentId} life={l} />
        ))}
        <VisitForm lives={lives} now={now} />
        <p className="small no-print">
          <a href={`/api/jobs/${job.id}/file`} download>
            Take this job out as a file
          </a>
          , with all its readings, designs and visits.
        </p>
      </div>
      <div>
        <p className="headline">{keepSentence(attention, next)}</p>
        {ofWork(view.system, 'separates').length > 0 && attention.some((l) => l.kind === 'carbon') && (
          <p className="caution">
            Carbon late means chlorine on the membrane, and the damage adds up. Read total chlorine after the carbon on
            this visit.
          </p>
        )}
        {record.proofs.length > 0 && <TrendOnceHere />}
        <WhatToBring attention={attention} />
        <h2 className="zone-title">Log</h2>
        <Log />
        <History />
        <h2 className="zone-title">Photographs of the place</h2>
        <Photographs what="the place" />
      </div>
    </div>
  );
}

/** The trend, as soon as what draws it has come. */
function TrendOnceHere(): ReactElement {
  const { Part: Trend, fault } = useLazyPart(CHARTS.keep);
  if (Trend) return <Trend />;
  return (
    <p className="empty">{fault ? 'The trend did not come. Load the page again once there is signal.' : 'Drawing.'}</p>
  );
}

function WhatToBring({ attention }: { attention: readonly Life[] }): ReactElement {
  return (
    <>
      <h2 className="zone-title">What to bring</h2>
      {attention.length === 0 ? (
        <p className="small">Nothing to change now. Pen, gauge, jug, chlorine strips for the next proof.</p>
      ) : (
        <ul className="plain-list">
          {attention.map((l) => (
            <li key={l.componentId}>
              {l.partName} ({l.label})
            </li>
          ))}
          <li>O-ring grease, spanner, bucket, towel; pen, gauge, jug, chlorine strips</li>
        </ul>
      )}
    </>
  );
}

function keepSentence(attention: readonly Life[], next: Life | undefined): string {
  const overdue = attention.filter((l) => l.state === 'overdue').map((l) => l.label);
  const soon = attention.filter((l) => l.state === 'soon').map((l) => l.label);
  if (overdue.length > 0)
    return `${capital(list(overdue))} ${overdue.length > 1 ? 'are' : 'is'} overdue${soon.length > 0 ? `; ${list(soon)} ${soon.length > 1 ? 'are' : 'is'} due within a month` : ''}.`;
  if (soon.length > 0) return `${capital(list(soon))} ${soon.length > 1 ? 'are' : 'is'} due within a month.`;
  return next ? `Nothing is due. Next: ${next.label}, ${date(next.dueMs)}.` : 'Nothing to keep yet.';
}
const list = (names: readonly string[]): string =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1) ?? ''}`;
const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

function LifeBar({ life: l }: { life: Life }): ReactElement {
  return (
    <div className="life" data-state={l.state}>
      <div className="life-head">
        <b>{l.label}</b>
        <span>
          {l.state === 'overdue' ? 'overdue since ' : 'until '}
          {date(l.dueMs)}
        </span>
      </div>
      <div className="life-bar" aria-hidden="true">
        <span style={{ width: `${String(Math.min(100, 100 * l.used))}%` }} />
      </div>
      <small>
        {l.partName}, in since {date(l.sinceMs)}; {formatNumber(l.litresSoFar, 3)} L
        {l.litresLife === null ? '' : ` of ${formatReading(l.litresLife, 5)}`}
        {l.monthsLife === null ? '' : `, ${formatReading(l.monthsLife)} months`};{' '}
        {l.by === 'litres' ? 'litres come first' : 'the calendar comes first'}. {capital(l.why)}.
      </small>
    </div>
  );
}

function VisitForm({ lives, now }: { lives: readonly Life[]; now: number }): ReactElement {
  const { add, id } = useJob();
  const today = dayjs(now).format('YYYY-MM-DD');
  const [reason, setReason] = useDraft(`${id}.visit.reason`);
  const [note, setNote] = useDraft(`${id}.visit.note`);
  const [changed, setChanged] = useState<string[]>([]);
  const [on, setOn] = useState('');
  const save = (): void => {
    const day = on === '' || on === today ? {} : { on: dayjs(`${on}T12:00`).toISOString() };
    add({ kind: 'visit', reason: reason.trim(), changed, ...day, ...(note.trim() ? { note: note.trim() } : {}) });
    setReason('');
    setNote('');
    setChanged([]);
    setOn('');
    notifications.show({ message: `Visit of ${dayjs(on === '' ? now : on).format('D MMMM')} is in the log.` });
  };
  return (
    <form
      className="no-print"
      onSubmit={(e) => {
        e.preventDefault();
        if (reason.trim() !== '') save();
      }}
    >
      <h2 className="zone-title">Log a visit</h2>
      <TextInput
        label="Why"
        placeholder="Half-year change"
        size="sm"
        value={reason}
        maxLength={200}
        onChange={(e) => {
          setReason(e.currentTarget.value);
        }}
      />
      <TextInput
        type="date"
        label="Day of it"
        description="Today, a day past, or one to come"
        size="sm"
        mt="xs"
        value={on === '' ? today : on}
        onChange={(e) => {
          setOn(e.currentTarget.value);
        }}
      />
      {lives.length > 0 && (
        <Checkbox.Group label="Changed" value={changed} onChange={setChanged} mt="xs">
          <div className="changed">
            {lives.map((l) => (
              <Checkbox key={l.componentId} value={l.componentId} label={l.label} />
            ))}
          </div>
        </Checkbox.Group>
      )}
      {changed.length > 0 && (
        <ChangeHints kinds={lives.flatMap((l) => (changed.includes(l.componentId) ? [l.kind] : []))} />
      )}
      <Textarea
        label="What was found and done"
        size="sm"
        autosize
        minRows={2}
        mt="xs"
        value={note}
        maxLength={2000}
        onChange={(e) => {
          setNote(e.currentTarget.value);
        }}
      />
      <Button type="submit" mt="sm" disabled={reason.trim() === ''}>
        Log this visit
      </Button>
    </form>
  );
}

function Log(): ReactElement {
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
        {visits.map((v) => (
          <tr key={v.id}>
            <td className="log-date">
              {dayjs(v.on ?? v.at).format('D MMM YYYY')}
              {visitMs(v) > now && <span className="small"> planned</span>}
            </td>
            <td>
              {v.reason}
              {v.note && <span className="small"> {v.note}</span>}
              <div className="log-acts">
                <Photographs about={v.id} what={`the visit of ${dayjs(v.on ?? v.at).format('D MMMM YYYY')}`} />
                <TakeBack id={v.id} what={`the visit of ${dayjs(v.on ?? v.at).format('D MMMM YYYY')}`} />
              </div>
            </td>
            <td>{v.changed.length === 0 ? 'nothing' : v.changed.map(label).join(', ')}</td>
            <td>{personName(v.by)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** How a change is made, in a sentence: with the tank's valve where there is one, the carbon flushed as the firm does. */
function ChangeHints({ kinds }: { kinds: readonly string[] }): ReactElement {
  const { rules, view } = useJob();
  const tank = view !== null && partIn(view.system, 'tank') !== undefined;
  const flush = kinds.includes('carbon')
    ? `flush the carbon for ${formatNumber(rules.changeFlushMinutes, 2)} minutes at the least, until it runs clear`
    : 'flush until it runs clear';
  return (
    <p className="small">
      Feed off and seen to die, {tank && 'tank valve shut, '}pressure released. O-rings looked at and greased.{' '}
      {tank ? `Tank still shut, ${flush}, look for leaks, tank open.` : `Then ${flush}, look for leaks.`}
    </p>
  );
}
