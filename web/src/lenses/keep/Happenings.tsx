import {
  HAPPENINGS,
  happeningProblem,
  happeningRow,
  isPlanned,
  ofKind,
  openHappenings,
  takeOutSheet,
  type FactOf,
  type Happening,
} from '@katharos/core';
import { Button, CopyButton, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { TakeBack } from '../../job/TakeBack.tsx';
import { useJob } from '../../job/useJob.ts';
import { Choices } from '../../ui/Choices.tsx';
import { useDraft } from '../../ui/useDraft.ts';
import { useNow } from '../../ui/useNow.ts';
import { dayOf } from '../../job/visitDay.ts';
import '../../job/taken-down.css';
import { GrowingText } from '../../ui/GrowingText.tsx';

/** What closes each, in words. */
const CLOSED_BY = {
  visit: 'The next visit closes it.',
  proof: 'The next proof closes it.',
  'notice-lifted': 'It is closed when the notice is lifted.',
} as const;

/** What has happened and nothing has closed yet, and whether they are away: in front of everything else. */
export function OpenHappenings(): ReactElement | null {
  const { record } = useJob();
  const now = useNow(60_000);
  const away = record.happened.findLast((h) => h.event === 'away' && Date.parse(h.until ?? '') > now);
  const open = openHappenings(record);
  return (
    <>
      {open.map((h) => (
        <Open key={h.id} of={h} />
      ))}
      {away && (
        <p className="note">
          They are away from {dayjs(away.from).format('D MMMM')} to {dayjs(away.until).format('D MMMM')}. {away.words}{' '}
          <TakeBack id={away.id} what="that they are away" />
        </p>
      )}
    </>
  );
}

function Open({ of: h }: { readonly of: FactOf<'happened'> }): ReactElement {
  const { built, personName } = useJob();
  const row = happeningRow(h.event);
  return (
    <section className="call" aria-label={row.label}>
      <p className="headline">{row.next}</p>
      <p className="small">
        {row.label}, {dayjs(h.from ?? h.at).format('D MMM YYYY')}; {personName(h.by)}. {h.words}
      </p>
      <Told lines={row.told(h, built?.system ?? null)} />
      <p className="small">
        {row.closedBy && CLOSED_BY[row.closedBy]} <TakeBack id={h.id} what={row.label} />
      </p>
    </section>
  );
}

/** What the household is told, to be said or sent. */
function Told({ lines }: { readonly lines: readonly string[] }): ReactElement {
  return (
    <div className="told">
      <h3 className="zone-title">What the household is told</h3>
      <ul className="plain-list">
        {lines.map((l) => (
          <li key={l}>{l}</li>
        ))}
      </ul>
      <CopyButton value={lines.join('\n')}>
        {({ copied, copy }) => (
          <Button size="xs" variant="default" onClick={copy}>
            {copied ? 'Copied' : 'Copy it'}
          </Button>
        )}
      </CopyButton>
    </div>
  );
}

/** Written down here; that a system is out is written down by its own run sheet. */
const WRITTEN: readonly Happening[] = HAPPENINGS.filter((h) => h !== 'taken-out');

/** Something happened to it beside the firm's own work: written down with its days, and what the household is told. */
export function HappeningForm(): ReactElement {
  const { id, add, built, record } = useJob();
  const [of, setOf] = useState<Happening | null>(null);
  const [words, setWords] = useDraft(`${id}.happened`);
  const now = useNow(60_000);
  const today = dayjs(now).format('YYYY-MM-DD');
  const [from, setFrom] = useState('');
  const [until, setUntil] = useState('');
  const row = of === null ? null : happeningRow(of);
  const inService = built?.inService === true;
  // what is not in service can be adopted; what is, cannot
  const lit = built !== null && ofKind(built.system, 'lamp').length > 0;
  const may = WRITTEN.filter((h) => (h === 'adopted' ? !inService : inService || h === 'away')).filter((h) => h !== 'lamp-dark' || lit);
  const day = from === '' ? today : from;
  const at = (d: string): string => (d === today ? new Date(now).toISOString() : dayOf(d));
  const ms = (d: string): number => (dayjs(d).isValid() && d !== '' ? Date.parse(at(d)) : NaN);
  const began = Math.min(...record.proofs.map((p) => Date.parse(p.at)), ...record.visits.filter((v) => !isPlanned(v)).map((v) => Date.parse(v.at)));
  const problem = of && happeningProblem(of, ms(day), until === '' ? null : ms(until), now, Number.isFinite(began) ? began : null);
  const span = row?.asks === 'span' ? { from: at(day), until: until === '' ? '' : at(until) } : {};
  const save = (): void => {
    if (of === null || problem !== null) return;
    add({ kind: 'happened', event: of, words: words.trim(), ...(row?.asks === 'span' ? span : day === today ? {} : { from: at(day) }) });
    setWords('');
    setOf(null);
    setFrom('');
    setUntil('');
    notifications.show({ message: `${row?.label ?? ''}: it is written down.` });
  };
  return (
    <details className="call-form no-print">
      <summary>Something else happened: another owner, a holiday, frost, a boil-water notice</summary>
      <Choices of={may} value={of} words={(k) => happeningRow(k).label} onChoose={setOf} />
      {row && (
        <>
          <div className="happened-days">
            <TextInput type="date" size="sm" label={row.asks === 'span' ? 'From' : 'Day of it'} value={day} error={problem} onChange={(e) => { setFrom(e.currentTarget.value); }} />
            {row.asks === 'span' && (
              <TextInput type="date" size="sm" label="Back on" value={until} onChange={(e) => { setUntil(e.currentTarget.value); }} />
            )}
          </div>
          <GrowingText label={row.words} size="sm" minRows={2} maxLength={600} value={words} onChange={(e) => { setWords(e.currentTarget.value); }} />
          <Told lines={row.told(span.until === '' ? {} : span, built?.system ?? null)} />
          {of === 'new-owner' && <p className="small">Name, telephone and who has the key: under the household’s name, at the top.</p>}
          <Button mt="sm" disabled={problem !== null} onClick={save}>
            Write it down
          </Button>
        </>
      )}
    </details>
  );
} // oxfmt-ignore

/** Begins taking the whole system out, by its own run sheet. */
export function TakeOut(): ReactElement | null {
  const { built, approved, view, add } = useJob();
  const [asked, setAsked] = useState(false);
  if (!built?.inService || built.outMs !== null || !approved || !view) return null;
  const begin = (): void => {
    const sheet = takeOutSheet(crypto.randomUUID(), built.system, approved.judged.rules, view.today);
    add({ kind: 'change', design: approved.id, reason: 'Taken out', components: [], sheet, takesOut: true });
    setAsked(false);
  };
  return asked ? (
    <p className="small no-print">
      Everything that is due of it ends.{' '}
      <Button
        size="compact-sm"
        color="red"
        onClick={begin}
      >
        Begin taking it out
      </Button>
    </p>
  ) : (
    <p className="small no-print">
      <Button size="compact-sm" variant="subtle" onClick={() => { setAsked(true); }}>
        Take this system out for good
      </Button>
    </p>
  );
} // oxfmt-ignore
