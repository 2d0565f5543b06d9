import {
  ASK_NEXT,
  asksOf,
  formatNumber,
  isDone,
  lifeSaid,
  ofWork,
  openChange,
  openHappenings,
  visitMs,
  type AsBuilt,
  type Ask,
  type Life,
} from '@katharos/core';
import { Button } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { Photographs } from '../../job/Photographs.tsx';
import { OpenSamples, SampleForm } from '../../job/Samples.tsx';
import { useJob } from '../../job/useJob.ts';
import { livesNow } from '../../job/lensStates.ts';
import { CHARTS } from '../../boot/charts.ts';
import { useLazyPart } from '../../data/useLazyPart.ts';
import { DrinkingLine } from '../../job/drinking/Drinking.tsx';
import { NeedsDesign } from '../../job/NeedsDesign.tsx';
import { useNow } from '../../ui/useNow.ts';
import { CallForm, OpenCalls } from './Calls.tsx';
import { ChangeInHand } from './ChangeInHand.tsx';
import { HappeningForm, OpenHappenings, TakeOut } from './Happenings.tsx';
import { History } from './History.tsx';
import { Log } from './Log.tsx';
import { reasonFor, useBegin, VisitForm } from './VisitForm.tsx';
import './keep.css';

const date = (ms: number): string => dayjs(ms).format('D MMM YYYY');

/** A band narrower than this is none, ms. */
const BAND_SHOWN_MS = 20 * 86_400_000;

/** Years of it: each cartridge's life, the trend, the log, and what to bring next. */
export default function Keep(): ReactElement {
  const job = useJob();
  const minute = useNow(60_000);
  const { view, approved, record } = job;
  // what was just written counts at once, not with the next minute
  const now = Math.max(minute, ...record.visits.map((v) => Date.parse(v.at)));
  if (!view || !approved) return <NeedsDesign what="Keep" />;
  const lives = livesNow(job, now);
  const flushBegun = view.sheet.some((s) => isDone(record, s.key));
  const attention = lives.filter((l) => l.state !== 'good');
  const next = [...lives].sort((a, b) => a.dueMs - b.dueMs)[0];
  const change = openChange(record);
  const out = job.built?.outMs ?? null;
  const asked = out === null && job.built?.inService === true ? askedBy(job.built, now) : [];
  // nothing is opened under a boil-water notice
  const noticed = openHappenings(record).some((h) => h.event === 'boil-notice');
  return (
    <>
      {change && <ChangeInHand key={change.id} change={change} view={view} />}
      <div className="two-zones keep">
        <div>
          <h2 className="zone-title">Lives, by whatever comes first</h2>
          {lives.length === 0 && (
            <p className="empty">
              {out !== null
                ? 'It is out: nothing wears.'
                : flushBegun
                  ? 'Lives begin when the last flush step is ticked.'
                  : 'Lives begin once the system is flushed.'}
            </p>
          )}
          {lives.map((l) => (
            <LifeBar key={l.componentId} life={l} />
          ))}
          {out === null && <VisitForm lives={lives} now={now} />}
          <p className="small no-print">
            <a href={`/api/jobs/${job.id}/file`} download>
              Take this job out as a file
            </a>
            , with all its readings, designs and visits.
          </p>
        </div>
        <div>
          <DrinkingLine />
          <OpenHappenings />
          <OpenCalls />
          <OpenSamples />
          <p className="headline">
            {out === null
              ? keepSentence(attention, next, asked.length > 0)
              : `Taken out on ${date(out)}. Nothing is due.`}
          </p>
          {asked.length > 0 && <AskedNow of={asked} />}
          {!change && !noticed && <BeginDue due={attention.filter((l) => l.kind !== 'membrane')} now={now} />}
          {ofWork(view.system, 'separates').length > 0 && attention.some((l) => l.kind === 'carbon') && (
            <p className="caution">
              Carbon late means chlorine on the membrane, and the damage adds up. Read total chlorine after the carbon
              on this visit.
            </p>
          )}
          {record.proofs.length > 0 && <TrendOnceHere />}
          {out === null && <WhatToBring attention={attention} />}
          <CallForm />
          <HappeningForm />
          <SampleForm water="product" />
          <h2 className="zone-title">Log</h2>
          <Log />
          <History />
          {!change && <TakeOut />}
          <h2 className="zone-title">Photographs of the place</h2>
          <Photographs what="the place" />
        </div>
      </div>
    </>
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

/** What is to be read, looked at or sampled by now, beside what is changed; a laboratory stands in front by itself. */
const askedBy = (built: AsBuilt, now: number): readonly Ask[] =>
  asksOf(built).filter((a) => a.of !== 'laboratory' && Date.parse(a.from) <= now);

function AskedNow({ of: due }: { readonly of: readonly Ask[] }): ReactElement {
  const { id } = useJob();
  return (
    <ul className="plain-list asked-now" aria-label="To be read, looked at or sampled">
      {due.map((a) => (
        <li key={a.of}>
          {capital(a.words)}. {ASK_NEXT[a.of].lens === 'prove' && <Link to={`/jobs/${id}/prove`}>Read it</Link>}
        </li>
      ))}
    </ul>
  );
}

/** A visit planned within so long of now is the one somebody is here for, ms. */
const NEAR_MS = 3 * 86_400_000;

/** Begins a visit for what is due, in one touch. */
function BeginDue({ due, now }: { readonly due: readonly Life[]; readonly now: number }): ReactElement | null {
  const begin = useBegin();
  const { record, view } = useJob();
  // one that was planned for about now is the one that is made
  const planned = record.visits.find((v) => (v.toChange?.length ?? 0) > 0 && Math.abs(visitMs(v) - now) < NEAR_MS);
  const components = [...new Set([...(planned?.toChange ?? []), ...due.map((l) => l.componentId)])].filter(
    (c) => view?.system.components.some((x) => x.id === c) === true,
  );
  if (components.length === 0) return null;
  return (
    <Button
      className="no-print"
      size="md"
      mb="sm"
      onClick={() => {
        begin({ components, sanitise: false }, planned?.reason ?? reasonFor(due.map((l) => l.label)), planned?.id);
      }}
    >
      Here now: change what is due
    </Button>
  );
}

function WhatToBring({ attention }: { attention: readonly Life[] }): ReactElement {
  const membrane = attention.find((l) => l.kind === 'membrane');
  return (
    <>
      <h2 className="zone-title">What to bring</h2>
      {attention.length === 0 ? (
        <p className="small">Nothing to change now. Pen, gauge, jug, chlorine strips for the next proof.</p>
      ) : (
        <ul className="plain-list">
          {attention
            .filter((l) => l.kind !== 'membrane')
            .map((l) => (
              <li key={l.componentId}>
                {l.partName} ({l.label})
              </li>
            ))}
          {membrane && (
            <li>
              For the membrane its readings decide, not its date: {membrane.partName} only where the trend says so
            </li>
          )}
          <li>O-ring grease, spanner, bucket, towel; pen, gauge, jug, chlorine strips</li>
        </ul>
      )}
    </>
  );
}

function keepSentence(attention: readonly Life[], next: Life | undefined, asked: boolean): string {
  const overdue = attention.filter((l) => l.state === 'overdue').map((l) => l.label);
  const soon = attention.filter((l) => l.state === 'soon').map((l) => l.label);
  if (overdue.length > 0)
    return `${capital(list(overdue))} ${overdue.length > 1 ? 'are' : 'is'} overdue${soon.length > 0 ? `; ${list(soon)} ${soon.length > 1 ? 'are' : 'is'} due within a month` : ''}.`;
  if (soon.length > 0) return `${capital(list(soon))} ${soon.length > 1 ? 'are' : 'is'} due within a month.`;
  return next
    ? `${asked ? 'No part' : 'Nothing'} is due. Next: ${next.label}, ${date(next.dueMs)}.`
    : 'Nothing to keep yet.';
}
const list = (names: readonly string[]): string =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1) ?? ''}`;
const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

function LifeBar({ life: l }: { life: Life }): ReactElement {
  const { first, then } = lifeSaid(l);
  const banded = l.lateMs - l.earlyMs > BAND_SHOWN_MS;
  return (
    <div className="life" data-state={l.state}>
      <div className="life-head">
        <b>{l.label}</b>
        <span>
          {l.state === 'overdue' ? 'overdue since ' : 'until '}
          {date(l.dueMs)}
          {banded && l.state !== 'overdue' && (
            <small>
              {' '}
              ({dayjs(l.earlyMs).format('MMM YY')} to {dayjs(l.lateMs).format('MMM YY')})
            </small>
          )}
        </span>
      </div>
      <div className="life-bar" aria-hidden="true">
        <span style={{ width: `${String(l.state === 'overdue' ? 100 : Math.max(0, 100 * (1 - l.used)))}%` }} />
      </div>
      <small>
        {l.partName}, in since {date(l.sinceMs)}; {formatNumber(l.litresSoFar, 3)} L so far. First: {first}.
        {then.length > 0 && ` Then: ${then.join('; ')}.`} {capital(l.why)}.
      </small>
    </div>
  );
}
