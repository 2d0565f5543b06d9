import type { RoundsEntry, RoundsPage } from '@katharos/contract';
import { ASK_NEXT, CHANGE_STEP, formatMinutes, type Due } from '@katharos/core';
import { Button, Loader, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { notifications } from '@mantine/notifications';
import { IconPlus } from '../../ui/icons.ts';
import dayjs from 'dayjs';
import { useEffect, useState, type ReactElement } from 'react';
import { Link } from 'react-router';
import { Dial } from '../../ui/Dial.tsx';
import { useGetRoundsQuery, useGetShelfQuery, useLazyGetRoundsPageQuery } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { selectOwnPending } from '../../data/outbox/state.ts';
import { selectMay } from '../../data/session.ts';
import { takeAlong } from '../../data/kept/along.ts';
import { selectIsAway } from '../../data/kept/state.ts';
import { useAppDispatch, useAppSelector } from '../../data/store.ts';
import { AsKept } from '../../job/AsKept.tsx';
import { whenWords } from '../../job/drinking/drinkingWords.ts';
import { LENS_NAMES } from '../../ui/lensNames.ts';
import { useNow } from '../../ui/useNow.ts';
import { FoundLines } from './FoundLines.tsx';
import { BringIn } from './BringIn.tsx';
import HouseholdDialog from './HouseholdDialog.tsx';
import { ScanCode } from './ScanCode.tsx';
import './rounds.css';

/** What of a household's is due, by day, one trip's worth: "overdue since 13 Nov: sediment; by 28 Nov: carbon 1, carbon 2". */
function dueInWords(lives: readonly Due[]): string {
  const days = new Map<string, string[]>();
  for (const l of lives) {
    const day = `${l.state === 'overdue' ? 'overdue since' : 'by'} ${dayjs(l.dueMs).format('D MMM')}`;
    days.set(day, [...(days.get(day) ?? []), l.label]);
  }
  return [...days].map(([day, labels]) => `${day}: ${labels.join(', ')}`).join('; ');
}

/** What follows of jobs that are looked at anew is asked for after so long, ms. */
const BEHIND_MS = 2000;

/** The day: clocks that run, what is due, and where every job stands. */
export default function Rounds(): ReactElement {
  const [search, setSearch] = useState('');
  const [find] = useDebouncedValue(search.trim(), 200);
  const { data, error, isLoading, refetch } = useGetRoundsQuery(find, { refetchOnMountOrArgChange: true });
  useEffect(() => {
    if (!data || data.behind === 0) return;
    const again = setTimeout(() => void refetch(), BEHIND_MS);
    return () => {
      clearTimeout(again);
    };
  }, [data, refetch]);
  const firm = useGetShelfQuery(null).data?.rules.firm;
  const [adding, setAdding] = useState(false);
  const now = useNow(1000);
  const pending = useAppSelector(selectOwnPending);
  const mayAdd = useAppSelector((s) => selectMay(s, 'POST /households'));
  const mayCount = useAppSelector((s) => selectMay(s, 'GET /figures'));
  const born = pending.flatMap((e) =>
    e.write === 'household-new' && !data?.open.entries.some((x) => x.jobId === e.jobId) ? [e.body] : [],
  );
  const clocks = (data?.clocks ?? [])
    .flatMap((e) => e.summary.timers.map((t) => ({ e, t })))
    .sort((a, b) => Date.parse(a.t.dueAt) - Date.parse(b.t.dueAt));
  const visits = (data?.visits ?? [])
    .flatMap((e) => e.summary.visits.map((v) => ({ e, v })))
    .filter(({ v }) => isSoon(v.on, now))
    .sort((a, b) => Date.parse(a.v.on) - Date.parse(b.v.on));
  const due = (data?.due ?? [])
    .map((e) => ({ e, lives: e.summary.lives.filter((l) => l.state !== 'good').sort((a, b) => a.dueMs - b.dueMs) }))
    .filter(({ lives }) => lives.length > 0)
    .sort((a, b) => (a.lives[0]?.dueMs ?? 0) - (b.lives[0]?.dueMs ?? 0));
  const asked = (data?.due ?? []).flatMap((e) =>
    e.summary.asks.filter((a) => Date.parse(a.from) <= now).map((a) => ({ e, a })),
  );
  const mayList = useAppSelector((s) => selectMay(s, 'GET /rounds/list.csv'));
  // nothing is said to be empty that could not be read
  const isRead = data !== undefined && error === undefined;
  const none = isRead && data.open.entries.length + data.kept.entries.length + born.length === 0;
  return (
    <main className="rounds">
      <div className="rounds-head">
        <div>
          <h1>{dayjs(now).format('dddd, D MMMM')}</h1>
          <p>{firm ?? ''}</p>
        </div>
        <div className="rounds-actions">
          <Button component={Link} to="/day" variant="default">
            Plan the day
          </Button>
          <ScanCode />
          <BringIn />
          <Button
            disabled={!mayAdd}
            leftSection={<IconPlus size={16} />}
            onClick={() => {
              setAdding(true);
            }}
          >
            Add a household
          </Button>
        </div>
      </div>
      {isLoading && <Loader aria-label="Reading the round" />}
      {data !== undefined && data.behind > 0 && (
        <p className="note">
          {data.behind} {data.behind === 1 ? 'job is' : 'jobs are'} still being looked at anew; clocks and dates of
          theirs follow.
        </p>
      )}
      <AsKept path="rounds" what="The round" also="Jobs that are on this device open; the others want a signal." />
      {error !== undefined && (
        <p role="alert" className="caution">
          {errorWords(error)}
        </p>
      )}
      <div className="rounds-zones">
        <div>
          <h2 className="zone-title">Clocks that run</h2>
          {isRead && clocks.length === 0 && <p className="empty">No fill or flush is running.</p>}
          {clocks.map(({ e, t }) => (
            <Clock key={`${e.jobId}${t.step}`} entry={e} dueAt={t.dueAt} step={t.step} now={now} />
          ))}
          {visits.length > 0 && <h2 className="zone-title">Visits today and tomorrow</h2>}
          <ul className="due visits">
            {visits.map(({ e, v }) => (
              <li key={`${e.jobId}${v.on}`}>
                <Link to={`/jobs/${e.jobId}/${e.summary.lens}`}>
                  <b>
                    {dayjs(v.on).isSame(dayjs(now), 'day') ? 'Today' : 'Tomorrow'}
                    {v.fact.fitter !== undefined && ` ${dayjs(v.on).format('HH:mm')}`}
                  </b>
                  , {e.household.name}
                </Link>
                <span>
                  {v.reason}. {e.household.place}
                </span>
                <Dial phone={e.household.phone} who={e.household.name} />
              </li>
            ))}
          </ul>
          <h2 className="zone-title">Due</h2>
          <p className="small">
            <Link to="/coming">What is coming, half a year ahead</Link>
            {mayCount && (
              <>
                {' · '}
                <Link to="/figures">How the firm does</Link>
              </>
            )}
          </p>
          {isRead && due.length + asked.length === 0 && <p className="empty">Nothing is due within a month.</p>}
          <ul className="due">
            {asked.map(({ e, a }) => (
              <li key={`${e.jobId}${a.of}${a.from}`} data-state="soon">
                <Link to={`/jobs/${e.jobId}/${ASK_NEXT[a.of].lens}`}>
                  <b>{e.household.name}</b>, {e.household.place}
                </Link>
                <span>{a.words}</span>
              </li>
            ))}
            {due.map(({ e, lives }) => (
              <li key={e.jobId} data-state={lives.some((l) => l.state === 'overdue') ? 'overdue' : 'soon'}>
                <Link to={`/jobs/${e.jobId}/keep`}>
                  <b>{e.household.name}</b>, {e.household.place}
                </Link>
                <span>{dueInWords(lives)}</span>
              </li>
            ))}
          </ul>
        </div>
        <div>
          <div className="rounds-all">
            <h2 className="zone-title">Work in hand</h2>
            <TextInput
              aria-label="Find a household"
              placeholder="Name, place, serial, note"
              value={search}
              onChange={(e) => {
                setSearch(e.currentTarget.value);
              }}
              size="xs"
            />
          </div>
          <FoundLines find={find} />
          {find !== '' && none && <p className="empty">Nobody by that name, place or contact.</p>}
          {isRead && data.open.entries.length === 0 && born.length === 0 && find === '' && (
            <p className="empty">No job is open. Add a household to begin: the first thing is to gauge the house.</p>
          )}
          {born.length > 0 && (
            <ul className="jobs">
              {born.map((h) => (
                <li key={h.id}>
                  <Link to={`/jobs/${h.jobId}/gauge`}>
                    <b>{h.name}</b>
                    <small>{[h.place, h.contact].filter(Boolean).join('; ')}</small>
                  </Link>
                  <span className="jobs-lens">{LENS_NAMES.gauge}</span>
                  <span>Kept on this device until the server answers.</span>
                </li>
              ))}
            </ul>
          )}
          {data && <JobList list="open" find={find} first={data.open} />}
          <h2 className="zone-title">In keeping</h2>
          {isRead && data.kept.entries.length === 0 && find === '' && (
            <p className="empty">No system is in service yet.</p>
          )}
          {data && <JobList list="kept" find={find} first={data.kept} />}
          {mayList && !none && (
            <p className="small no-print">
              <a href="/api/rounds/list.csv" download>
                Take every household out as CSV
              </a>
            </p>
          )}
        </div>
      </div>
      {adding && (
        <HouseholdDialog
          onClose={() => {
            setAdding(false);
          }}
        />
      )}
    </main>
  );
}

/** Whether a moment is on this device's today or tomorrow. */
const isSoon = (on: string, now: number): boolean =>
  [0, 1].some((days) => dayjs(on).isSame(dayjs(now).add(days, 'day'), 'day'));

/** Whether a job opens here without signal, and the way to see to it. */
function TakeAlong({ entry }: { entry: RoundsEntry }): ReactElement {
  const dispatch = useAppDispatch();
  const here = useAppSelector((s) => s.kept.jobs[entry.jobId]);
  const away = useAppSelector(selectIsAway);
  const chosen = here?.chosen === true;
  if (away && !here) return <small className="jobs-along">not on this device</small>;
  const put = async (): Promise<void> => {
    if (!(await dispatch(takeAlong(entry.jobId, !chosen))))
      notifications.show({ color: 'red', message: 'The server is away, and this job is not on this device.' });
  };
  return (
    <Button
      className="jobs-along"
      size="compact-xs"
      variant={chosen ? 'filled' : 'default'}
      aria-pressed={chosen}
      aria-label={`${entry.household.name}: take along for work without signal`}
      title={chosen ? 'Stays on this device until you let it go' : 'Opens on this device without signal'}
      onClick={() => void put()}
    >
      {chosen ? 'Taken along' : 'Take along'}
    </Button>
  );
}

/** Of a system in service: that they may not drink, and why. */
function NotForDrinking({ entry: { summary } }: { entry: RoundsEntry }): ReactElement | null {
  const { drinking, inService } = summary;
  const [cause] = drinking?.causes ?? [];
  if (!inService || !cause || cause.code === 'taken-out') return null;
  return (
    <small className="not-for-drinking">
      <b>Not for drinking.</b> {cause.is}
    </small>
  );
}

/** One list of jobs, a page at a time. */
function JobList({ list, find, first }: { list: 'open' | 'kept'; find: string; first: RoundsPage }): ReactElement {
  const [fetchPage, { isFetching }] = useLazyGetRoundsPageQuery();
  // further pages stand below the first one as it was when they were asked for
  const [more, setMore] = useState<{ readonly of: RoundsPage; readonly pages: readonly RoundsPage[] }>({
    of: first,
    pages: [],
  });
  const pages = more.of === first ? more.pages : [];
  const next = (pages.at(-1) ?? first).next;
  const onMore = async (after: string): Promise<void> => {
    const page = await fetchPage({ list, find, after }).unwrap();
    setMore({ of: first, pages: [...pages, page] });
  };
  return (
    <>
      <ul className="jobs">
        {[first, ...pages]
          .flatMap((p) => p.entries)
          .map((e) => (
            <li key={e.jobId}>
              <Link to={`/jobs/${e.jobId}/${e.summary.lens}`}>
                <b>{e.household.name}</b>
                <small>{[e.household.place, e.household.contact].filter(Boolean).join('; ')}</small>
              </Link>
              <span className="jobs-lens">{LENS_NAMES[e.summary.lens]}</span>
              <span>
                {e.summary.next}
                <NotForDrinking entry={e} />
              </span>
              <TakeAlong entry={e} />
            </li>
          ))}
      </ul>
      {next !== null && (
        <Button
          variant="default"
          size="xs"
          loading={isFetching}
          onClick={() => void onMore(next).catch(() => undefined)}
        >
          Show more
        </Button>
      )}
    </>
  );
}

function Clock({
  entry,
  dueAt,
  step,
  now,
}: {
  entry: RoundsEntry;
  dueAt: string;
  step: string;
  now: number;
}): ReactElement {
  const left = (Date.parse(dueAt) - now) / 60000;
  return (
    <Link
      to={`/jobs/${entry.jobId}/${step.startsWith(CHANGE_STEP) ? 'keep' : 'flush'}`}
      className="round-clock"
      data-over={left <= 0}
    >
      <span className="round-clock-time">{dayjs(dueAt).format('HH:mm')}</span>
      <span>
        <b>{entry.household.name}</b>
        <br />
        {entry.summary.next}
        <br />
        {left > 0 ? `${formatMinutes(left)} to go` : `over for ${formatMinutes(-left)}`}
        {entry.summary.drinking?.answer !== 'yes' &&
          (entry.summary.drinking?.atMs
            ? `, they may drink from about ${whenWords(entry.summary.drinking.atMs, now)}`
            : ', not for drinking')}
      </span>
    </Link>
  );
}
