import { inVanOf, type Day, type Shelf } from '@katharos/contract';
import { FACT_VERSION, unknownWays, type DayPlan, type Fact } from '@katharos/core';
import { Button, Loader, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { useMemo, useState, type ReactElement } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useGetDayQuery, useGetStockQuery } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { recordFacts } from '../../data/outbox/outbox.ts';
import { selectMay } from '../../data/session.ts';
import { useAppDispatch, useAppSelector } from '../../data/store.ts';
import { useCore } from '../../data/useCore.ts';
import { CsvButton, type CsvRows } from '../../ui/Csv.tsx';
import { nowMs } from '../../ui/clock.ts';
import {
  clock,
  fittersOf,
  housesOf,
  keptPlan,
  minuteOf,
  moved,
  orderOf,
  planBefore,
  problemWords,
  type DayHouse,
} from './dayOf.ts';
import { Feeds } from './Feeds.tsx';
import { DayTableForm } from './DayTableForm.tsx';
import { Timeline } from './Timeline.tsx';
import '../rounds/rounds.css';
import './day.css';

/** The day: who goes where when, other visits in the hours a tank fills, moved by hand with what that breaks. */
export default function DayPage({ shelf }: { readonly shelf: Shelf }): ReactElement {
  const [params, setParams] = useSearchParams();
  const today = dayjs(nowMs()).format('YYYY-MM-DD');
  const on = /^\d{4}-\d{2}-\d{2}$/.test(params.get('on') ?? '') ? (params.get('on') ?? today) : today;
  const { data, error, refetch } = useGetDayQuery(on, { refetchOnMountOrArgChange: true });
  const go = (day: string): void => {
    setParams({ on: day });
  };
  return (
    <div className="day">
      <div className="rounds-head">
        <div>
          <h1>{dayjs(on).format('dddd, D MMMM')}</h1>
          <p>The day’s visits, planned</p>
        </div>
        <div className="rounds-actions no-print">
          <Button size="sm" variant="default" onClick={() => { go(dayjs(on).subtract(1, 'day').format('YYYY-MM-DD')); }}>
            The day before
          </Button>
          <TextInput type="date" size="sm" aria-label="Day" value={on} onChange={(e) => { if (e.currentTarget.value !== '') go(e.currentTarget.value); }} />
          <Button size="sm" variant="default" onClick={() => { go(dayjs(on).add(1, 'day').format('YYYY-MM-DD')); }}>
            The day after
          </Button>
        </div>
      </div>
      {error !== undefined && !data && <p role="alert">{errorWords(error)}</p>}
      {!data && error === undefined && <Loader aria-label="Reading the day" />}
      {data && <Planned key={on} on={on} day={data} shelf={shelf} onKept={() => void refetch()} />}
    </div>
  );
} // oxfmt-ignore

/** A day's plan: as it is laid by itself until a hand moves something. */
function Planned({ on, day, shelf, onKept }: { readonly on: string; readonly day: Day; readonly shelf: Shelf; readonly onKept: () => void }): ReactElement {
  const me = useAppSelector((s) => s.session.personId);
  const [hand, setHand] = useState<Record<string, string[]> | null>(null);
  const houses = useMemo(() => housesOf(day.entries, on, day.table), [day.entries, on, day.table]);
  const [since, setSince] = useState<{ readonly minute: number; readonly before: DayPlan } | null>(null);
  const fitters = useMemo(
    () => fittersOf(day.table, me).map((f) => ({ ...f, fromMin: Math.max(f.fromMin, Math.min(since?.minute ?? 0, f.untilMin)) })),
    [day.table, me, since],
  );
  const visits = useMemo(() => houses.map((h) => h.planned), [houses]);
  const kept = useMemo(() => planBefore(houses, on), [houses, on]);
  const own = useCore('planDay', [visits, fitters, day.table, since?.before ?? kept]).value;
  const byHand = useCore('layDay', hand ? [visits, fitters, day.table, hand] : null);
  const plan = hand ? (byHand.value ?? own) : own;
  const name = (id: string): string => shelf.people.find((p) => p.id === id)?.name ?? 'somebody';
  const called = (visit: string): string => houses.find((h) => h.planned.id === visit)?.name ?? visit;
  if (!plan) return <Loader aria-label="Planning the day" />;
  if (houses.length === 0)
    return (
      <>
        <p className="empty">No visit is dated on this day, and no clock runs out. Visits are planned in Keep, and looks in Flush.</p>
        <Feeds shelf={shelf} />
      <DayTableForm day={day} districts={[]} people={shelf.people} />
      </>
    );
  const move = (from: { fitter: string; index: number }, to: { fitter: string; index: number }): void => {
    setHand(moved(hand ?? orderOf(plan), from, to));
  };
  const districts = [...fitters.map((f) => f.district), ...visits.map((v) => v.district)].filter((d) => d !== '');
  const guessed = unknownWays(districts, day.table);
  return (
    <>
      <p className="headline">{inWords(plan, houses.length)}</p>
      {plan.problems.length > 0 && (
        <ul className="day-problems" aria-label="What this plan does not hold">
          {plan.problems.map((p, i) => (
            <li key={`${p.visit}${p.kind}${String(i)}`}>{problemWords(p, called(p.visit))}</li>
          ))}
        </ul>
      )}
      {guessed.length > 0 && (
        <p className="small">
          {guessed.length === 1 ? 'One way has' : `${String(guessed.length)} ways have`} no minutes in the table below:{' '}
          {String(day.table.elseMin)} min are taken.
        </p>
      )}
      <div className="rounds-actions no-print">
        {on === dayjs(nowMs()).format('YYYY-MM-DD') && (
          <Button
            variant="default"
            onClick={() => {
              setHand(null);
              setSince({ minute: minuteOf(new Date(nowMs()).toISOString(), on), before: plan });
            }}
          >
            Plan what is left from now
          </Button>
        )}
        {(hand ?? since) && (
          <Button variant="default" onClick={() => { setHand(null); setSince(null); }}>
            Plan it anew
          </Button>
        )}
        <CsvButton
          size="sm"
          name={`day-${on}.csv`}
          rows={() => fitters.flatMap((f) => stopRows(name(f.id), on, plan.stops[f.id] ?? [], houses))}
        />
        <KeepPlan houses={houses} plan={plan} on={on} onKept={onKept} />
      </div>
      <Timeline plan={plan} fitters={fitters} houses={houses} name={name} onMove={move} />
      <div className="day-lists">
        {fitters.map((f) => (
          <section key={f.id} aria-label={`The day of ${name(f.id)}`}>
            <h2 className="zone-title">{name(f.id)}</h2>
            <Route stops={plan.stops[f.id] ?? []} houses={houses} />
            <InTheVan who={f.id} stops={plan.stops[f.id] ?? []} houses={houses} shelf={shelf} />
          </section>
        ))}
      </div>
      <DayTableForm day={day} districts={districts} people={shelf.people} />
    </>
  );
} // oxfmt-ignore

function inWords(plan: DayPlan, houses: number): string {
  const n = houses === 1 ? 'One house' : `${String(houses)} houses`;
  const road = `${n}, ${String(plan.travelMin)} min on the road`;
  return plan.problems.length === 0
    ? `${road}: every clock is met and everybody is at home.`
    : `${road}; not all of it holds.`;
}

/** Writes the plan into the visits: when each begins, and who goes. */
function KeepPlan({ houses, plan, on, onKept }: { readonly houses: readonly DayHouse[]; readonly plan: DayPlan; readonly on: string; readonly onKept: () => void }): ReactElement | null {
  const dispatch = useAppDispatch();
  const me = useAppSelector((s) => s.session.personId);
  const mayWrite = useAppSelector((s) => selectMay(s, 'POST /jobs/:id/facts'));
  const changes = keptPlan(houses, plan, on);
  if (!mayWrite || me === null) return null;
  const keep = (): void => {
    const facts = changes.map(({ jobId, fact }, i) => ({ ...fact, v: FACT_VERSION, id: crypto.randomUUID(), jobId, at: new Date(nowMs() + i).toISOString(), by: me })) as Fact[];
    void dispatch(recordFacts(facts)).then(onKept);
    notifications.show({ message: `${String(facts.length)} visits have their time and who goes.` });
  };
  return (
    <Button disabled={changes.length === 0} onClick={keep}>
      {changes.length === 0 ? 'Kept as it is' : 'Keep this plan'}
    </Button>
  );
} // oxfmt-ignore

/** One's way through the day as rows of a table. */
const stopRows = (who: string, on: string, stops: Stops, houses: readonly DayHouse[]): CsvRows =>
  stops.map((s) => {
    const house = houses.find((h) => h.planned.id === s.visit);
    return { day: on, who, from: clock(s.startMin), until: clock(s.endMin), household: house?.name ?? '', place: house?.place ?? '', reason: house?.reason ?? '', travelMin: s.travelMin };
  }); // oxfmt-ignore

type Stops = readonly DayPlan['stops'][string][number][];

/** One's way through the day, house by house. */
function Route({ stops, houses }: { readonly stops: Stops; readonly houses: readonly DayHouse[] }): ReactElement {
  if (stops.length === 0) return <p className="empty">Nothing to drive to.</p>;
  return (
    <ol className="day-route">
      {stops.map((s) => {
        const house = houses.find((h) => h.planned.id === s.visit);
        const wait = house?.planned.tasks[s.task]?.waitMin ?? 0;
        return (
          <li key={`${s.visit}${String(s.task)}`}>
            <b>
              {clock(s.startMin)} to {clock(s.endMin)}
            </b>{' '}
            {house && <Link to={`/jobs/${house.jobId}/${house.lens}`}>{house.name}</Link>}
            <small>
              {s.travelMin > 0 ? `${String(s.travelMin)} min on the way. ` : ''}
              {s.task === 0 ? `${house?.reason ?? ''}. ` : `Back after its clock of ${clock(s.dueMin ?? s.startMin)}. `}
              {wait > 0 ? `Then ${String(wait)} min run by themselves.` : ''}
            </small>
          </li>
        );
      })}
    </ol>
  );
}

/** What the visits of one need, and what of it no van holds. */
function InTheVan({ who, stops, houses, shelf }: { readonly who: string; readonly stops: Stops; readonly houses: readonly DayHouse[]; readonly shelf: Shelf }): ReactElement | null {
  const stock = useGetStockQuery(null).data;
  const needed = new Map<string, number>();
  for (const s of stops)
    if (s.task === 0)
      for (const id of houses.find((h) => h.planned.id === s.visit)?.visit?.brings ?? []) needed.set(id, (needed.get(id) ?? 0) + 1);
  if (needed.size === 0) return null;
  const inVan = (id: string): number => (stock ? inVanOf(stock, id, who) : 0);
  return (
    <>
      <h3 className="zone-title">In the van</h3>
      <ul className="plain-list">
        {[...needed].map(([id, n]) => (
          <li key={id}>
            {n > 1 ? `${String(n)} × ` : ''}
            {shelf.parts.find((p) => p.id === id)?.name ?? id}
            {stock && inVan(id) < n && <b className="day-short"> the van has {String(inVan(id))}</b>}
          </li>
        ))}
      </ul>
    </>
  );
} // oxfmt-ignore
