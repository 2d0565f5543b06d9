import {
  COMPLAINT_KEYS,
  COMPLAINTS,
  likelihoodWords,
  ofWork,
  openCalls,
  type CallTold,
  type Complaint,
  type FactOf,
} from '@katharos/core';
import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { Link } from 'react-router';
import { useCore } from '../../data/useCore.ts';
import { TakeBack } from '../../job/TakeBack.tsx';
import { useJob } from '../../job/useJob.ts';
import { Choices } from '../../ui/Choices.tsx';
import { nowMs } from '../../ui/clock.ts';
import { useDraft } from '../../ui/useDraft.ts';
import '../../job/taken-down.css';
import { GrowingText } from '../../ui/GrowingText.tsx';

/** So many causes are named. */
const MOST = 5;
const DAY_MS = 86_400_000;

/** What the model says of a complaint about this system at a moment, worked out beside the page; null until it is. */
function useTold(of: Complaint | null, atMs: number): CallTold | null {
  const { built } = useJob();
  const [membrane] = built ? ofWork(built.system, 'separates') : [];
  const since = membrane ? built?.startedMs(membrane.id) : null;
  const age = typeof since === 'number' ? Math.max(0, Math.floor((atMs - since) / DAY_MS)) : undefined;
  const asked = of !== null && built ? ([of, built.system, built.version.judged.known, built.version.judged.rules, age] as const) : null;
  return useCore('call', asked && [...asked]).value ?? null;
} // oxfmt-ignore

/** Calls that are open, each with what it may be and what to bring. */
export function OpenCalls(): ReactElement | null {
  const { record } = useJob();
  const open = openCalls(record);
  if (open.length === 0) return null;
  return (
    <>
      {open.map((c) => (
        <OpenCall key={c.id} call={c} />
      ))}
    </>
  );
}

function OpenCall({ call }: { readonly call: FactOf<'call'> }): ReactElement {
  const { id, personName } = useJob();
  const told = useTold(call.complaint, Date.parse(call.at));
  return (
    <section className="call" aria-label={`They called: ${COMPLAINTS[call.complaint]}`}>
      <p className="headline">They called: {COMPLAINTS[call.complaint]}.</p>
      <p className="small">
        {call.words === '' ? '' : `“${call.words}” `}
        {dayjs(call.at).format('D MMM YYYY, HH:mm')}, taken down by {personName(call.by)}
      </p>
      {told && <Told told={told} />}
      <p className="small">
        It is closed by the next proof: <Link to={`/jobs/${id}/prove`}>read it once it is mended</Link>.{' '}
        <TakeBack id={call.id} what={`the call: ${COMPLAINTS[call.complaint]}`} />
      </p>
    </section>
  );
}

/** What the household does, what is asked, what it may be and what goes into the van. */
function Told({ told }: { readonly told: CallTold }): ReactElement {
  const brings = [...new Map(told.mayBe.slice(0, MOST).flatMap((m) => m.brings.map((c) => [c.id, c] as const))).values()];
  return (
    <>
      {told.now.map((t) => (
        <p key={t} className="caution">
          {t}
        </p>
      ))}
      <h3 className="zone-title">To ask on the telephone</h3>
      <ul className="plain-list">
        {told.ask.map((t) => (
          <li key={t}>{t}</li>
        ))}
      </ul>
      {told.mayBe.length > 0 && (
        <>
          <h3 className="zone-title">What it may be, before anything is read</h3>
          <ul className="plain-list" aria-label="What it may be">
            {told.mayBe.slice(0, MOST).map((m) => (
              <li key={m.code}>
                <b>{likelihoodWords(m.likelihood)}</b> {m.name}. <small>{m.check}</small>
              </li>
            ))}
          </ul>
        </>
      )}
      {brings.length > 0 && (
        <p>
          <b>Into the van:</b> {brings.map((c) => `${c.part?.name ?? ''} (${c.slot})`).join(', ')}; pen, gauge, jug, strips.
        </p>
      )}
    </>
  );
} // oxfmt-ignore

/** A call taken down in the household's words. */
export function CallForm(): ReactElement {
  const { id, add } = useJob();
  const [of, setOf] = useState<Complaint | null>(null);
  const [words, setWords] = useDraft(`${id}.call`);
  const [openedMs] = useState(nowMs);
  const told = useTold(of, openedMs);
  const save = (): void => {
    if (of === null) return;
    add({ kind: 'call', complaint: of, words: words.trim() });
    setWords('');
    setOf(null);
    notifications.show({ message: 'The call is taken down. It stays in front until a proof closes it.' });
  };
  return (
    <details className="call-form no-print">
      <summary>They called: something is wrong</summary>
      <Choices of={COMPLAINT_KEYS} value={of} words={(k) => COMPLAINTS[k]} onChoose={setOf} />
      <GrowingText label="In their own words" size="sm" minRows={2} maxLength={600} value={words} onChange={(e) => { setWords(e.currentTarget.value); }} />
      {told && <Told told={told} />}
      <Button mt="sm" disabled={of === null} onClick={save}>
        Take the call down
      </Button>
    </details>
  );
} // oxfmt-ignore
