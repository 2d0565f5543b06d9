import { COMING_DAYS, type Shelf } from '@katharos/contract';
import { checkState, FACT_VERSION, FactSchema, isAway } from '@katharos/core';
import { Button, CopyButton, Loader, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { useMemo, useState, type ReactElement } from 'react';
import { Link } from 'react-router';
import { readAnew, useGetComingQuery } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { recordFacts } from '../../data/outbox/outbox.ts';
import { selectMay } from '../../data/session.ts';
import { useAppDispatch, useAppSelector } from '../../data/store.ts';
import { nowMs } from '../../ui/clock.ts';
import { CsvButton } from '../../ui/Csv.tsx';
import { download } from '../../ui/download.ts';
import { DistrictNotice } from './DistrictNotice.tsx';
import {
  awaitedOf,
  letterFor,
  onTripWords,
  rowsOf,
  weeksOf,
  type Awaited as AwaitedAnswer,
  type ComingTrip,
} from './coming.ts';
import '../rounds/rounds.css';
import './day.css';

/** What is coming: one line a household, what falls together on one trip, by week; planned from here, with a letter. */
export default function ComingPage({ shelf }: { readonly shelf: Shelf }): ReactElement {
  const { data, error } = useGetComingQuery(null, { refetchOnMountOrArgChange: true });
  const weeks = useMemo(() => (data ? weeksOf(data.entries, nowMs(), COMING_DAYS) : []), [data]);
  const trips = weeks.flatMap((w) => w.trips);
  return (
    <div className="day">
      <div className="rounds-head">
        <div>
          <h1>What is coming</h1>
          <p>Half a year ahead, one line a trip</p>
        </div>
        <div className="rounds-actions no-print">
          <CsvButton size="sm" name="coming.csv" rows={() => weeks.flatMap(rowsOf)} disabled={trips.length === 0} />
          <Button component={Link} to="/day" variant="default">
            Plan the day
          </Button>
        </div>
      </div>
      {error !== undefined && !data && <p role="alert">{errorWords(error)}</p>}
      {!data && error === undefined && <Loader aria-label="Reading what is coming" />}
      {data && (
        <p className="headline">
          {trips.length === 0
            ? 'Nothing falls due within half a year.'
            : `${String(trips.length)} ${trips.length === 1 ? 'trip' : 'trips'} in half a year, ${String(trips.filter((t) => t.planned).length)} of them planned.`}
        </p>
      )}
      <ToCheck shelf={shelf} />
      <Awaited of={awaitedOf(data?.entries ?? [])} />
      <DistrictNotice />
      {weeks.map((w) => (
        <section key={w.monday} aria-label={`Week of ${dayjs(w.monday).format('D MMMM')}`}>
          <h2 className="zone-title">Week of {dayjs(w.monday).format('D MMMM YYYY')}</h2>
          <ul className="coming">
            {w.trips.map((t) => (
              <TripLine key={`${t.jobId}${String(t.trip.atMs)}`} trip={t} firm={[shelf.rules.firm, shelf.rules.firmPhone].filter(Boolean).join(', ')} />
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
} // oxfmt-ignore

const DAY_MS = 86_400_000;

/** What a proposed trip is called by whatever day it is moved to: what it is for. */
const tripName = ({ trip, asks }: ComingTrip): string =>
  [...trip.change, ...trip.read].map((o) => o.life.componentId)[0] ?? asks[0]?.of ?? 'visit';

/** Instruments that are to be checked within the time that is looked ahead, the first to be due first. */
function ToCheck({ shelf }: { readonly shelf: Shelf }): ReactElement | null {
  const now = nowMs();
  const due = shelf.instruments
    .map((i) => ({ i, state: checkState(i, now) }))
    .filter(({ state }) => state.state === 'never' || state.state === 'off' || (state.dueMs !== null && state.dueMs < now + COMING_DAYS * DAY_MS))
    .sort((a, b) => (a.state.dueMs ?? 0) - (b.state.dueMs ?? 0));
  if (due.length === 0) return null;
  return (
    <section aria-label="Instruments to be checked">
      <p className="small">
        <Link to="/instruments">Instruments to be checked</Link>:{' '}
        {due.map(({ i, state }) => `${i.name} ${state.state === 'off' ? 'is off by more than its error' : state.dueMs === null ? 'never was' : state.dueMs < now ? `overdue since ${dayjs(state.dueMs).format('D MMM')}` : `by ${dayjs(state.dueMs).format('D MMM')}`}`).join('; ')}.
      </p>
    </section>
  );
} // oxfmt-ignore

/** Answers of laboratories that have not come. */
function Awaited({ of }: { readonly of: readonly AwaitedAnswer[] }): ReactElement | null {
  const now = nowMs();
  if (of.length === 0) return null;
  return (
    <section aria-label="Laboratories that have not answered">
      <p className="small">Laboratories that have not answered:</p>
      <ul className="plain-list small">
        {of.map(({ jobId, name, ask }) => (
          <li key={`${jobId}${ask.from}`} data-late={Date.parse(ask.from) < now}>
            <Link to={`/jobs/${jobId}/keep`}>{name}</Link>: {ask.words}; {Date.parse(ask.from) < now ? 'ask after it' : `expected by ${dayjs(ask.from).format('D MMM')}`}
          </li>
        ))}
      </ul>
    </section>
  );
} // oxfmt-ignore

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

function TripLine({ trip: t, firm }: { readonly trip: ComingTrip; readonly firm: string }): ReactElement {
  const dispatch = useAppDispatch();
  const me = useAppSelector((s) => s.session.personId);
  const mayWrite = useAppSelector((s) => selectMay(s, 'POST /jobs/:id/facts'));
  const [day, setDay] = useState(dayjs(t.trip.atMs).format('YYYY-MM-DD'));
  const gone = isAway(t.away, dayjs(`${day}T12:00`).valueOf()) ? `They are away until ${dayjs(t.away?.until).format('D MMM')}.` : null;
  const fault = !dayjs(day).isValid() || day < dayjs(nowMs()).format('YYYY-MM-DD') ? 'Today or later.' : gone;
  const bad = fault !== null;
  const plan = (): void => {
    if (me === null) return;
    const labels = t.trip.change.map((c) => c.life.label).join(', ');
    const fact = FactSchema.parse({
      v: FACT_VERSION, id: crypto.randomUUID(), jobId: t.jobId, by: me, at: new Date(nowMs()).toISOString(), kind: 'visit',
      reason: (labels === '' ? capital(t.asks[0]?.words.split(':')[0] ?? 'Read the membrane') : `Change of ${labels}`).slice(0, 200), on: dayjs(`${day}T12:00`).toISOString(), changed: [],
      toChange: t.trip.change.map((c) => c.life.componentId),
    });
    void dispatch(recordFacts([fact])).then(() => dispatch(readAnew(['rounds'])));
    notifications.show({ message: `${t.name}: planned for ${dayjs(day).format('D MMMM')}.` });
  };
  const file = async (): Promise<void> => {
    const { proposalFile } = await import('../../job/sheet/calendar.ts');
    const on = t.planned ? dayjs(t.planned.on).format('YYYY-MM-DD') : day;
    download(`visit-${on}.ics`, proposalFile({ uid: `${t.jobId}.${tripName(t)}`, title: `${firm}: your drinking water system`, place: t.place, text: letterFor(t, firm, on) }, on, nowMs()), 'text/calendar');
  };
  return (
    <li>
      <div>
        <Link to={`/jobs/${t.jobId}/keep`}>
          <b>{t.name}</b>
        </Link>
        , {t.place}
        <ul>
          {t.trip.change.map((c) => (
            <li key={c.life.componentId} data-late={c.earlyDays < -0.5}>
              {onTripWords(c)}
            </li>
          ))}
          {t.trip.read.map((r) => (
            <li key={r.life.componentId}>{r.life.label}: a full proof; it lives by its readings</li>
          ))}
          {t.asks.map((a) => (
            <li key={a.of}>{a.words}</li>
          ))}
        </ul>
      </div>
      <div className="coming-acts no-print">
        {t.planned ? (
          <span>
            planned for <Link to={`/day?on=${dayjs(t.planned.on).format('YYYY-MM-DD')}`}>{dayjs(t.planned.on).format('ddd D MMM')}</Link>
          </span>
        ) : (
          mayWrite && (
            <>
              <TextInput type="date" size="xs" aria-label={`Day for ${t.name}`} value={day} error={fault} onChange={(e) => { setDay(e.currentTarget.value); }} />
              <Button size="xs" disabled={bad} onClick={plan}>
                Plan it
              </Button>
              <CopyButton value={letterFor(t, firm, day)}>
                {({ copied, copy }) => (
                  <Button size="xs" variant="default" onClick={copy}>
                    {copied ? 'Copied' : 'Copy the letter'}
                  </Button>
                )}
              </CopyButton>
            </>
          )
        )}
        {mayWrite && (
          <Button size="xs" variant="default" disabled={bad} onClick={() => void file()}>
            Calendar file
          </Button>
        )}
      </div>
    </li>
  );
} // oxfmt-ignore
