import type { Day, RoundsEntry } from '@katharos/contract';
import {
  DayTableSchema,
  NO_DAY_TABLE,
  planDay,
  travelBy,
  type Ask,
  type AskKind,
  type DatedVisit,
  type JobSummary,
  type Life,
  householdTexts,
} from '@katharos/core';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import dayjs from 'dayjs';
import { dated } from '../../testing/dated.ts';
import { rules, shelf as parts } from '@katharos/core/testing';
import type { Shelf } from '@katharos/contract';
import { WHO } from '../../testing/jobContext.tsx';
import { workInPage } from '../../testing/inPageWorker.ts';
import { renderIn } from '../../testing/renderIn.tsx';
import ComingPage from './ComingPage.tsx';
import { awaitedOf, letterFor, mondayOf, rowsOf, weeksOf } from './coming.ts';
import DayPage from './DayPage.tsx';
import { serve } from '../../testing/serve.ts';
import { clock, fittersOf, housesOf, keptPlan, minuteOf, moved, orderOf, planBefore } from './dayOf.ts';

workInPage();
const ON = dayjs().format('YYYY-MM-DD');
const shelf: Shelf = { parts: [...parts], unreadableParts: [], partVersions: {}, rules, rulesVersion: 0, stamp: 'one', instruments: [], people: [{ id: WHO, name: 'Imra Tole' }] }; // oxfmt-ignore
const at = (minute: number): string => dayjs(ON).add(minute, 'minute').toISOString();
const id = (n: number): string => `5f0c4b1e-1111-4111-a111-${String(n).padStart(12, '0')}`;
const summary: JobSummary = { lens: 'keep', next: 'Nothing due.', timers: [], drinking: null, lives: [], visits: [], inService: true, asks: [] }; // oxfmt-ignore
const entry = (n: number, name: string, place: string, visits: DatedVisit[], more: Partial<JobSummary> = {}): RoundsEntry => ({
  jobId: id(n), household: { id: id(n + 100), ...householdTexts({ name, place }), version: 0 }, summary: { ...summary, visits, ...more },
}); // oxfmt-ignore
const TABLE = { ...NO_DAY_TABLE, districts: ['Mell', 'Corvane', 'Orrel'] };
const fill = dated(at(720), 'First flush', { work: [{ handsMin: 90, waitMin: 120 }, { handsMin: 30, waitMin: 0 }] }); // oxfmt-ignore
const change = dated(at(720), 'Change of carbon 1', { brings: ['carbon-block'], visit: { toChange: ['carbon'] } });
const entries = [entry(1, 'Rook Yard 1', 'By the weir, Mell', [fill]), entry(2, 'Tern Court 5', 'Corvane', [change])];

describe('a day as it is planned from', () => {
  test('holds its visits with their work, district and hours; what is over, or of another day, is left out', () => {
    const over = dated(at(600), 'Done', { work: [] });
    const agreed = dated(at(870), 'Baseline', { visit: { agreed: true, between: { fromMin: 800, untilMin: 960 } } });
    const houses = housesOf([...entries, entry(3, 'A', 'Corvane', [over]), entry(4, 'B', 'X, Orrel', [agreed]), entry(5, 'C', 'Orrel', [dated(at(3000), 'Later')])], ON, TABLE); // oxfmt-ignore
    expect(houses.map((h) => [h.name, h.planned.district])).toEqual([['Rook Yard 1', 'Mell'], ['Tern Court 5', 'Corvane'], ['B', 'Orrel']]); // oxfmt-ignore
    expect(houses[0]?.planned).toMatchObject({ fromMin: 480, untilMin: 1020, tasks: fill.work });
    expect(houses[2]?.planned).toMatchObject({ fromMin: 800, untilMin: 960, fixedMin: 870 });
  });
  test('a clock that runs out there is a visit of its own, or the moment its visit may begin', () => {
    const timers = [{ step: 'fill-1', startedAt: at(500), dueAt: at(640), by: id(9) }];
    const [alone, both] = housesOf(
      [entry(1, 'A', 'Mell', [], { timers }), entry(2, 'B', 'Mell', [change], { timers })],
      ON,
      TABLE,
    );
    expect(alone).toMatchObject({ visit: null, planned: { readyMin: 640 } });
    expect(both?.planned).toMatchObject({ id: change.fact.id, readyMin: 640 });
  });
  test('is kept in the visits: their moment and who goes, each correcting the one it was; nothing twice', () => {
    const houses = housesOf(entries, ON, TABLE);
    const plan = planDay(houses.map((h) => h.planned), fittersOf(NO_DAY_TABLE, id(9)), travelBy(NO_DAY_TABLE)); // oxfmt-ignore
    const kept = keptPlan(houses, plan, ON);
    expect(kept.map((k) => k.fact.corrects).sort()).toEqual([fill.fact.id, change.fact.id].sort());
    const one = kept.find((k) => k.fact.corrects === change.fact.id)?.fact;
    expect(one).toMatchObject({ reason: 'Change of carbon 1', toChange: ['carbon'], fitter: id(9) });
    expect(minuteOf(one?.on ?? '', ON)).toBe(plan.stops[id(9)]?.find((s) => s.visit === change.fact.id)?.startMin);
    const again = housesOf(entries.map((e) => ({ ...e, summary: { ...e.summary, visits: e.summary.visits.map((v) => ({ ...v, on: kept.find((k) => k.fact.corrects === v.fact.id)?.fact.on ?? v.on, fact: { ...v.fact, fitter: id(9) } })) } })), ON, TABLE); // oxfmt-ignore
    expect(keptPlan(again, plan, ON)).toEqual([]);
    // and planned anew it stays as it was kept
    const anew = planDay(
      again.map((h) => h.planned),
      fittersOf(NO_DAY_TABLE, id(9)),
      travelBy(NO_DAY_TABLE),
      planBefore(again, ON),
    );
    expect(keptPlan(again, anew, ON)).toEqual([]);
    expect(planBefore(houses, ON)).toBeNull();
  });
  test('moves one stay among the same one’s, a whole house to another', () => {
    const order = { a: ['x', 'y', 'x', 'z'], b: ['w'] };
    expect(moved(order, { fitter: 'a', index: 0 }, { fitter: 'a', index: 2 })).toEqual({
      a: ['y', 'x', 'x', 'z'],
      b: ['w'],
    });
    expect(moved(order, { fitter: 'a', index: 3 }, { fitter: 'a', index: 0 })).toEqual({
      a: ['z', 'x', 'y', 'x'],
      b: ['w'],
    });
    expect(moved(order, { fitter: 'a', index: 2 }, { fitter: 'b', index: 0 })).toEqual({
      a: ['y', 'z'],
      b: ['x', 'x', 'w'],
    });
    expect(moved(order, { fitter: 'a', index: 9 }, { fitter: 'b', index: 0 })).toEqual(order);
    expect(clock(485)).toBe('08:05');
  });
});

test('a moment is read off the clock on the wall, also on a day the clocks are changed', () => {
  for (const on of ['2026-03-29', '2026-10-25', '2026-11-30']) expect(minuteOf(dayjs(`${on}T14:30`).toISOString(), on)).toBe(870);
  expect(minuteOf(dayjs('2026-10-26T00:10').toISOString(), '2026-10-25')).toBe(1450);
}); // oxfmt-ignore

describe('the day on the page', () => {
  const day: Day = { entries, table: { ...TABLE, minutes: { 'Corvane | Mell': 20 } }, version: null };
  beforeEach(() => {
    localStorage.clear();
  });
  afterEach(cleanup);
  const open = () => {
    const asked = serve({
      'GET day': () => ({ json: day }),
      'GET shelf': () => ({ json: shelf }),
      'GET stock': () => ({ json: { levels: [], vansOf: [], reserved: {} } }),
      'PUT day/table': () => ({ json: { table: day.table, version: 0 } }),
    });
    renderIn(<DayPage shelf={shelf} />, WHO);
    return asked;
  };
  test('lays the other house into the hours the tank fills, and says what the van lacks', async () => {
    open();
    expect(await screen.findByText(/^2 houses, \d+ min on the road: every clock is met/)).toBeTruthy();
    const route = screen.getAllByRole('listitem').map((l) => l.textContent).filter((t) => /^\d\d:\d\d to/.test(t)); // oxfmt-ignore
    expect(route.map((t) => /(Rook|Tern)/.exec(t)?.[1])).toEqual(['Rook', 'Tern', 'Rook']);
    expect(await screen.findByText('the van has 0')).toBeTruthy();
  });
  test('moved by the keys it says what that breaks, and is planned anew', async () => {
    open();
    const stays = await screen.findAllByRole('button', { name: /Arrow keys move it/ });
    // the other house is laid behind everything: its tank’s clock is met, nothing else is
    const tern = stays.find((b) => b.getAttribute('aria-label')?.startsWith('Tern'));
    if (!tern) throw new Error('the other house is on the day');
    fireEvent.keyDown(tern, { key: 'ArrowRight' });
    await waitFor(() => {
      expect(screen.getAllByRole('button', { name: /Arrow keys move it/ }).map((b) => b.textContent)).toEqual(['Rook Yard 1', 'Rook Yard 1', 'Tern Court 5']); // oxfmt-ignore
    });
    await userEvent.click(screen.getByRole('button', { name: 'Plan it anew' }));
    await waitFor(() => {
      expect(screen.getAllByRole('button', { name: /Arrow keys move it/ }).map((b) => b.textContent)[1]).toBe(
        'Tern Court 5',
      );
    });
  });
  test('what is left is planned from now, nobody sent into the past', async () => {
    open();
    await screen.findAllByRole('button', { name: /Arrow keys move it/ });
    await userEvent.click(screen.getByRole('button', { name: 'Plan what is left from now' }));
    const now = minuteOf(new Date().toISOString(), ON);
    await waitFor(() => {
      const [first] = screen.getAllByRole('button', { name: /Arrow keys move it/ });
      const [, h, m] = /, (\d\d):(\d\d) to/.exec(first?.getAttribute('aria-label') ?? '') ?? [];
      expect(60 * Number(h) + Number(m)).toBeGreaterThanOrEqual(Math.min(now, 1020) - 1);
    });
  });
  test('writes down what it is planned by', async () => {
    const asked = open();
    const within1 = await screen.findByLabelText('Within a district');
    await userEvent.clear(within1);
    await userEvent.type(within1, '12');
    await userEvent.click(screen.getByRole('button', { name: 'Plan days by this' }));
    await waitFor(() => {
      const body = asked.find((a) => a.path === 'day/table')?.body as { table: unknown; version: null } | undefined;
      expect(body).toMatchObject({ version: null, table: { withinMin: 12 } });
      DayTableSchema.parse(body?.table);
    });
    expect(within(document.body).getByText(/the longest that does is its district/)).toBeTruthy();
  });
  test('an empty day says where visits come from', async () => {
    serve({ 'GET day': () => ({ json: { ...day, entries: [] } }), 'GET shelf': () => ({ json: shelf }), 'GET stock': () => ({ json: { levels: [], vansOf: [], reserved: {} } }) }); // oxfmt-ignore
    renderIn(<DayPage shelf={shelf} />, WHO);
    expect(await screen.findByText(/No visit is dated on this day/)).toBeTruthy();
  });
});

describe('what is coming', () => {
  const DAY_MS = 86400000;
  const life = (componentId: string, days: number): Life => ({ componentId, kind: componentId === 'membrane' ? 'membrane' : 'carbon', label: componentId, partName: componentId, partId: '', sinceMs: Date.now() - 300 * DAY_MS, dueMs: Date.now() + days * DAY_MS, by: 'calendar', used: 0.5, litresSoFar: 0, limits: [], earlyMs: 0, lateMs: 0, state: 'good', why: 'late, chlorine reaches the membrane' });
  const due = entry(1, 'Rook Yard 1', 'Mell', [], { lives: [life('carbon 1', -10), life('polish', 20), life('carbon 2', 120)] });
  afterEach(cleanup);
  test('is one line a trip, by week; what is planned stands in the week it is planned for', () => {
    const now = Date.now();
    expect(weeksOf([due], now, 182).map((w) => w.trips.map((t) => t.trip.change.map((c) => c.life.label)))).toEqual([[['carbon 1', 'polish']], [['carbon 2']]]);
    const planned = dated(new Date(now + 9 * DAY_MS).toISOString(), 'Change', { visit: { toChange: ['carbon 1'] } });
    const [first] = weeksOf([{ ...due, summary: { ...due.summary, visits: [planned] } }], now, 182);
    expect(first?.monday).toBe(mondayOf(now + 9 * DAY_MS));
    expect(first?.trips[0]?.planned?.fact.id).toBe(planned.fact.id);
    expect(mondayOf(Date.parse('2026-11-29T12:00:00Z'))).toBe('2026-11-23');
  });
  test('is planned from the page, with a letter that names no more than it must', async () => {
    const asked = serve({ 'GET rounds/coming': () => ({ json: { entries: [due] } }), 'POST jobs': () => ({ json: { stored: 1 } }), 'GET shelf': () => ({ json: shelf }) });
    renderIn(<ComingPage shelf={shelf} />, WHO);
    expect(await screen.findByText(/carbon 1, 10 days overdue: late, chlorine reaches/)).toBeTruthy();
    expect(screen.getByText(/polish, 20 days early: 6 % of its life given up/)).toBeTruthy();
    await userEvent.click(screen.getAllByRole('button', { name: 'Plan it' })[0] ?? document.body);
    await waitFor(() => {
      const sent = asked.find((a) => a.method === 'POST' && a.path.includes('facts'))?.body as { facts: { kind: string; toChange: string[] }[] } | undefined;
      expect(sent?.facts[0]).toMatchObject({ kind: 'visit', changed: [], toChange: ['carbon 1', 'polish'] });
    });
    const [trip] = weeksOf([due], Date.now(), 182)[0]?.trips ?? [];
    if (!trip) throw new Error('a trip is coming');
    expect(letterFor(trip, 'The firm', '2026-12-01')).toMatch(/^Rook Yard 1: [\s\S]*Overdue by then: carbon 1, polish[\s\S]*Tuesday, 1 December 2026[\s\S]*The firm$/);
  });
}); // oxfmt-ignore

test('an order a hand changes begins with the plan', () => {
  const houses = housesOf(entries, ON, TABLE);
  const plan = planDay(houses.map((h) => h.planned), fittersOf(NO_DAY_TABLE, 'me'), travelBy(NO_DAY_TABLE)); // oxfmt-ignore
  expect(orderOf(plan).me).toHaveLength(3);
});

describe('a notice for a district', () => {
  test('is written down at each of its houses, page by page, but those left out', async () => {
    const life: Life = { componentId: 'carbon', kind: 'carbon', label: 'carbon', partName: 'carbon', partId: '', sinceMs: 0, dueMs: 1, earlyMs: 0, lateMs: 2, by: 'calendar', used: 0.5, litresSoFar: 0, limits: [], state: 'good', why: '' }; // oxfmt-ignore
    const kept = { lives: [life] };
    const asked = serve({
      'GET rounds/coming': () => ({ json: { entries: [] } }),
      'GET rounds/kept': (_, q) =>
        q.get('after') === null
          ? {
              json: { entries: [entry(1, 'Rook Yard 1', 'Mell', [], kept), entry(2, 'Out', 'Mell', [])], next: 'more' },
            }
          : { json: { entries: [entry(3, 'Tern Court 5', 'Mell', [], kept)], next: null } },
      [`POST jobs/${id(1)}/facts`]: () => ({ status: 201, json: { stored: 1 } }),
    });
    renderIn(<ComingPage shelf={shelf} />);
    await userEvent.click(await screen.findByText(/^A notice for a whole district/));
    await userEvent.type(screen.getByLabelText('District, as it stands in the places'), 'Mell');
    await userEvent.click(screen.getByRole('button', { name: 'Find its houses' }));
    // what was taken out has no system that a notice could tell of
    expect(await screen.findByText('2 houses in keeping with “Mell”')).toBeTruthy();
    await userEvent.click(screen.getByRole('checkbox', { name: /^Tern Court 5/ }));
    expect(screen.getByText(/a membrane does not disinfect/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Write it down at 1 house' }));
    await waitFor(() => {
      const sent = asked.filter((a) => a.method === 'POST');
      expect(sent.map((s) => s.path)).toEqual([`jobs/${id(1)}/facts`]);
      expect((sent[0]?.body as { facts: unknown[] } | undefined)?.facts).toMatchObject([
        { kind: 'happened', event: 'boil-notice' },
      ]);
    });
  });
});

describe('a calendar that follows', () => {
  test('is made at an address that is shown once, listed without it, and ended', async () => {
    let feeds: object[] = [{ id: id(7), fitter: null, madeBy: WHO, madeAt: at(0), readAt: null }];
    const asked = serve({
      'GET day': () => ({ json: { entries: [], table: TABLE, version: 0 } }),
      'GET feeds': () => ({ json: feeds }),
      'POST feeds': () => ({ status: 201, json: { id: id(8), path: `/api/feed/${'k'.repeat(43)}` } }),
      [`POST feeds/${id(7)}/end`]: () => {
        feeds = [];
        return { json: { ended: true } };
      },
    });
    renderIn(<DayPage shelf={shelf} />, WHO);
    await userEvent.click(await screen.findByText(/^A calendar of your own/));
    expect(await screen.findByText(/Visits of everybody, made .* by Imra Tole; not read yet/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Address of my visits' }));
    expect(await screen.findByText(new RegExp(`/api/feed/k{43}$`))).toBeTruthy();
    expect(asked.find((a) => a.path === 'feeds' && a.method === 'POST')?.body).toEqual({ fitter: WHO });
    await userEvent.click(screen.getByRole('button', { name: 'End it' }));
    await waitFor(() => {
      expect(screen.queryByText(/not read yet/)).toBeNull();
    });
  });
});

test('a trip to a house that is away then is not planned; the day after they are back it is', async () => {
  const life: Life = { componentId: 'carbon', kind: 'carbon', label: 'carbon 1', partName: 'Carbon', partId: '', sinceMs: 0, dueMs: Date.now() + 2 * 86_400_000, earlyMs: 0, lateMs: 0, by: 'calendar', used: 1, litresSoFar: 0, limits: [], state: 'soon', why: '' }; // oxfmt-ignore
  const back = dayjs().add(9, 'day');
  const away = { from: dayjs().subtract(1, 'day').toISOString(), until: back.startOf('day').toISOString() };
  serve({
    'GET rounds/coming': () => ({ json: { entries: [entry(1, 'Rook Yard 1', 'Mell', [], { lives: [life], away })] } }),
  });
  renderIn(<ComingPage shelf={shelf} />, WHO);
  expect(await screen.findByText(`They are away until ${back.format('D MMM')}.`)).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Plan it' })).toHaveProperty('disabled', true);
  fireEvent.change(screen.getByLabelText('Day for Rook Yard 1'), { target: { value: back.format('YYYY-MM-DD') } });
  expect(screen.getByRole('button', { name: 'Plan it' })).toHaveProperty('disabled', false);
});

describe('what is coming beside changes', () => {
  const now = Date.parse('2026-05-04T08:00:00.000Z');
  const life = (days: number): Life => ({ componentId: 'carbon', kind: 'carbon', label: 'carbon 1', partName: 'Carbon block', partId: '', sinceMs: 0, dueMs: now + days * 86_400_000, earlyMs: 0, lateMs: 0, by: 'calendar', used: 1, litresSoFar: 0, limits: [], state: 'soon', why: '' }); // oxfmt-ignore
  const ask = (of: AskKind, days: number): Ask => ({
    of,
    from: new Date(now + days * 86_400_000).toISOString(),
    words: `${of}: so`,
  });
  const trips = (asks: readonly Ask[], lives: readonly Life[]) =>
    weeksOf([entry(1, 'A', 'Mell', [], { asks, lives })], now, 182)
      .flatMap((w) => w.trips)
      .map((t) => [t.asks.map((a) => a.of), t.trip.change.length]);
  test('what a house asks for goes with a trip that is made about then anyway, else it is one of its own', () => {
    expect(trips([ask('baseline', -2)], [life(9)])).toEqual([[['baseline'], 1]]);
    expect(trips([ask('baseline', -2)], [life(90)])).toEqual([
      [['baseline'], 0],
      [[], 1],
    ]);
    // both of a house that nobody goes to otherwise are one trip; what is far ahead is another
    expect(trips([ask('first-looks', -2), ask('baseline', 1), ask('lamp-sample', 120)], [])).toEqual([
      [['first-looks', 'baseline'], 0],
      [['lamp-sample'], 0],
    ]);
    expect(trips([ask('drift', 20)], [life(0)])).toEqual([[['drift'], 1]]);
    expect(trips([ask('drift', 200)], [])).toEqual([]);
    const rows = weeksOf(
      [entry(1, 'A', 'Mell', [], { asks: [ask('baseline', 0)], lives: [life(90)] })],
      now,
      182,
    ).flatMap(rowsOf);
    expect(rows.map((r) => [r.household, r.do, r.due])).toEqual([
      ['A', 'baseline: so', '2026-05-04'],
      ['A', 'change carbon 1', '2026-08-02'],
    ]);
  });
  test('a visit that was planned to read it stands for a trip on which nothing is changed', () => {
    const visit = {
      on: new Date(now + 3 * 86_400_000).toISOString(),
      reason: 'Read it',
      fact: { toChange: [] },
      work: [],
      brings: [],
    };
    const far = { ...visit, on: new Date(now + 90 * 86_400_000).toISOString() };
    const of = (v: unknown) =>
      weeksOf([entry(1, 'A', 'Mell', [], { asks: [ask('drift', 0)], visits: [v] as never })], now, 182)
        .flatMap((w) => w.trips)
        .map((t) => t.planned?.reason);
    expect([of(visit), of(far)]).toEqual([['Read it'], [undefined]]);
  });
  test('a laboratory that has not answered is no trip: it is asked on the telephone, the longest first', () => {
    const entries = [
      entry(1, 'A', 'Mell', [], { asks: [ask('laboratory', 5)] }),
      entry(2, 'B', 'Mell', [], { asks: [ask('laboratory', -3)] }),
    ];
    expect(weeksOf(entries, now, 182)).toEqual([]);
    expect(awaitedOf(entries).map((a) => a.name)).toEqual(['B', 'A']);
  });
  test('instruments that are overdue, never checked or off are told, with where to go', async () => {
    const ago = (days: number): string => new Date(Date.now() - days * 86_400_000).toISOString();
    const tds = { kind: 'concentration', unit: 'mg/L', min: 0, max: 5000, errorFixed: 2, errorShare: 0.02 } as const;
    const pen = (name: string, days: number | null, read = 1005) => ({
      id: id(70), version: 0, name, what: 'pen' as const, reads: [tds], checkEveryDays: 90, address: null,
      checks: days === null ? [] : [{ at: ago(days), by: WHO, kind: 'concentration' as const, reference: 1000, read }],
    }); // oxfmt-ignore
    serve({ 'GET rounds/coming': () => ({ json: { entries: [] } }) });
    renderIn(<ComingPage shelf={{ ...shelf, instruments: [pen('A', 100), pen('B', null), pen('C', 5, 1200)] }} />);
    const told = within(await screen.findByRole('region', { name: 'Instruments to be checked' }));
    expect(told.getByText(/A overdue since .*/).textContent).toMatch(/B never was.*A overdue since/);
    expect(told.getByText(/C is off by more than its error/)).toBeTruthy();
  });
});
