import { householdTexts } from '@katharos/core';
import type { Rounds as RoundsOfDay, RoundsEntry, RoundsPage } from '@katharos/contract';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { rules, shelf as parts } from '@katharos/core/testing';
import { act, cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { outboxActions } from '../../data/outbox/state.ts';
import { hearAgain, takeAlong } from '../../data/kept/along.ts';
import { forgetKept } from '../../data/kept/store.ts';
import type { AppStore } from '../../data/store.ts';
import { WHO } from '../../testing/jobContext.tsx';
import { renderIn } from '../../testing/renderIn.tsx';
import { serve } from '../../testing/serve.ts';
import { dated } from '../../testing/dated.ts';
import HouseholdDialog from './HouseholdDialog.tsx';
import Rounds from './Rounds.tsx';

const id = (n: number): string => `5f0c4b1e-6666-4666-a666-${String(n).padStart(12, '0')}`;
const entry = (n: number, name: string, summary: Partial<RoundsEntry['summary']>): RoundsEntry => ({
  jobId: id(n),
  household: {
    id: id(100 + n),
    ...householdTexts({ name, place: 'Corvane' }),
    version: 0,
  },
  summary: {
    lens: 'gauge',
    next: 'First visit: gauge the house.',
    timers: [],
    drinking: null,
    lives: [],
    visits: [],
    inService: false,
    asks: [],
    ...summary,
  },
});
const life = {
  componentId: 'sediment',
  kind: 'sediment',
  label: 'sediment',
  partName: 'Sediment cartridge',
  partId: '',
  sinceMs: 0,
  by: 'calendar',
  used: 1.1,
  litresSoFar: 1,
  limits: [],
  earlyMs: 0,
  lateMs: 0,
  why: 'it clogs',
} as const;
const shelf = {
  parts,
  partVersions: Object.fromEntries(parts.map((p) => [p.id, 0])),
  rules,
  rulesVersion: 0,
  instruments: [],
  people: [{ id: WHO, name: 'Imra Tole' }],
};

/** The round as the server tells it: those that a search finds, a page of so many at a time. */
const roundOf = (all: readonly RoundsEntry[], params = new URLSearchParams(), size = 50): RoundsOfDay => {
  const find = (params.get('find') ?? '').toLowerCase();
  const found = all.filter((e) => e.household.name.toLowerCase().includes(find));
  const isOpen = (e: RoundsEntry): boolean => !e.summary.inService;
  const paged = (list: readonly RoundsEntry[]): RoundsPage => ({
    entries: list.slice(0, size),
    next: list.length > size ? String(size) : null,
  });
  return {
    clocks: all.filter((e) => e.summary.timers.length > 0),
    due: all.filter((e) => e.summary.lives.length > 0 || e.summary.asks.length > 0),
    visits: all.filter((e) => e.summary.visits.length > 0),
    open: paged(found.filter(isOpen)),
    kept: paged(found.filter((e) => !isOpen(e))),
    behind: 0,
  };
};
const page = (element = <Rounds />): AppStore => renderIn(element, WHO).store;

beforeEach(async () => {
  localStorage.clear();
  await forgetKept();
});
afterEach(cleanup);

describe('a round that cannot be read', () => {
  test('is told, and nothing is said to be empty', async () => {
    serve({ 'GET rounds': () => ({ status: 503, json: { type: 'urn:x', title: 'The database does not answer', status: 503 } }) });
    page();
    expect((await screen.findByRole('alert')).textContent).toMatch(/database/);
    expect(document.querySelectorAll('.empty')).toHaveLength(0);
  });
}); // oxfmt-ignore

test('what is still being looked at follows by itself', async () => {
  let behind = 2;
  const asked = serve({
    'GET rounds': () => ({ json: { ...roundOf([]), behind } }),
    'GET shelf': () => ({ json: shelf }),
  });
  page();
  expect(await screen.findByText(/2 jobs are still being looked at anew/)).toBeTruthy();
  behind = 0;
  await waitFor(() => {
    expect(screen.queryByText(/still being looked at/)).toBeNull();
  });
  expect(asked.filter((a) => a.path === 'rounds')).toHaveLength(2);
});

test('what is looked for is found in what was said of a house, with the way to it', async () => {
  const found = {
    houses: [
      {
        jobId: id(3),
        name: 'Rook Yard 1',
        place: 'Corvane',
        lines: [{ words: 'joint 7, carbon 1 drips nut loose', at: '2026-05-02T08:00:00.000Z', lens: 'flush' }],
      },
    ],
  };
  const asked = serve({
    'GET rounds': () => ({ json: roundOf([]) }),
    'GET shelf': () => ({ json: shelf }),
    'GET find': () => ({ json: found }),
  });
  page();
  await userEvent.type(await screen.findByLabelText('Find a household'), 'nut loose');
  const link = await screen.findByRole('link', { name: 'joint 7, carbon 1 drips nut loose' });
  expect(link.getAttribute('href')).toBe(`/jobs/${id(3)}/flush`);
  expect(asked.some((a) => a.path.startsWith('find'))).toBe(true);
});

describe('a job file', () => {
  // the test's browser cannot read a file's text by itself
  const file = (text: string): File =>
    Object.assign(new File([text], 'job.json', { type: 'application/json' }), { text: () => Promise.resolve(text) });
  const choose = async (text: string): Promise<void> => {
    const input = document.querySelector('input[type=file]:not([capture])');
    if (!(input instanceof HTMLInputElement)) throw new Error('no file field');
    await userEvent.upload(input, file(text));
  };
  test('is brought in under the name of who works here', async () => {
    const asked = serve({
      'GET rounds': () => ({ json: roundOf([]) }),
      'GET shelf': () => ({ json: shelf }),
      'POST jobs/import': () => ({ status: 201, json: { jobId: id(1), householdId: id(101) } }),
    });
    page();
    await choose(JSON.stringify({ format: 'katharos-job', version: 1 }));
    await waitFor(() => {
      expect(asked.find((a) => a.path === 'jobs/import')?.body).toMatchObject({ file: { version: 1 } });
    });
  });
  test('that is none is told at its place, and nothing is sent', async () => {
    const asked = serve({ 'GET rounds': () => ({ json: roundOf([]) }), 'GET shelf': () => ({ json: shelf }) });
    page();
    await choose('{"format":');
    expect(await screen.findByText(/does not read as JSON/)).toBeTruthy();
    await choose(JSON.stringify({ format: 'katharos-job', version: 1, known: { staticPressureBar: 90 } }));
    expect(await screen.findByText(/at known.staticPressureBar/)).toBeTruthy();
    expect(asked.some((a) => a.path === 'jobs/import')).toBe(false);
  });
});

describe('the round', () => {
  const now = Date.now();
  const rounds = [
    entry(1, 'Mill Lane 2', {}),
    entry(2, 'Rook Yard 1', {
      lens: 'flush',
      next: 'First fill',
      drinking: { answer: 'not-yet', atMs: now + 7.2e6, causes: [], meanwhile: 'own', heed: [] },
      timers: [
        {
          step: 'fill-1',
          startedAt: new Date(now - 6e5).toISOString(),
          dueAt: new Date(now + 20 * 60000 + 500).toISOString(),
          by: WHO,
        },
      ],
    }),
    entry(3, 'Tarn View', {
      lens: 'keep',
      next: 'Overdue: sediment.',
      inService: true,
      lives: [{ ...life, dueMs: now - 8.64e7, state: 'overdue' }],
    }),
  ];
  test('what is due is one line a household, by day', async () => {
    const now = Date.now();
    const soon = { ...life, state: 'soon' as const, dueMs: now + 20 * 8.64e7 };
    const lives = [
      { ...soon, componentId: 'c1', label: 'carbon 1' },
      { ...life, state: 'overdue' as const, dueMs: now - 8.64e7 },
      { ...soon, componentId: 'c2', label: 'carbon 2' },
      { ...life, componentId: 'p', label: 'polish', state: 'good' as const, dueMs: now + 2e10 },
    ];
    const e = entry(8, 'Highmoor Lodge', { lens: 'keep', inService: true, lives });
    serve({ 'GET rounds': () => ({ json: roundOf([e]) }), 'GET shelf': () => ({ json: shelf }) });
    page();
    const said = await screen.findByText(/^overdue since \d+ \w+: sediment; by \d+ \w+: carbon 1, carbon 2$/);
    expect(said.closest('ul')?.children).toHaveLength(1);
  });
  test('asks for the baseline of a system whose first days are over', async () => {
    const e = entry(9, 'Heron Yard 8', { lens: 'prove', inService: true, asks: [{ of: 'baseline', from: new Date(Date.now() - 1000).toISOString(), words: 'baseline: its first days are over' }], next: 'Read the baseline.' });
    serve({ 'GET rounds': () => ({ json: roundOf([e]) }), 'GET shelf': () => ({ json: shelf }) });
    page();
    const said = await screen.findByText(/^baseline: its first days are over/);
    const link = said.closest('li')?.querySelector('a');
    expect([link?.textContent, link?.getAttribute('href')]).toEqual(['Heron Yard 8, Corvane', `/jobs/${id(9)}/prove`]);
    expect(screen.queryByText('Nothing is due within a month.')).toBeNull();
  }); // oxfmt-ignore
  test('shows clocks, what is overdue, work in hand and systems in keeping', async () => {
    serve({ 'GET rounds': () => ({ json: roundOf(rounds) }), 'GET shelf': () => ({ json: shelf }) });
    page();
    expect(await screen.findByText(/20 min to go, they may drink from about/)).toBeTruthy();
    expect(screen.getByText(/^overdue since .*: sediment$/)).toBeTruthy();
    const links = screen.getAllByRole('link').map((a) => a.getAttribute('href'));
    expect(links).toEqual(
      expect.arrayContaining([`/jobs/${id(1)}/gauge`, `/jobs/${id(2)}/flush`, `/jobs/${id(3)}/keep`]),
    );
  });
  test('finds a household by part of its name and says when there is none', async () => {
    serve({
      'GET rounds': (_body, params) => ({ json: roundOf(rounds, params) }),
      'GET shelf': () => ({ json: shelf }),
    });
    page();
    await screen.findAllByText('Mill Lane 2');
    await userEvent.type(screen.getByLabelText('Find a household'), 'mill');
    await waitFor(() => {
      expect(screen.queryByText('Rook Yard 1', { selector: '.jobs b' })).toBeNull();
    });
    await userEvent.type(screen.getByLabelText('Find a household'), 'zzz');
    expect(await screen.findByText('Nobody by that name, place or contact.')).toBeTruthy();
  });
  test('shows a page at a time, and more when asked', async () => {
    const many = Array.from({ length: 7 }, (_, i) => entry(10 + i, `House ${String(i)}`, {}));
    serve({
      'GET rounds': (_body, params) => ({ json: roundOf(many, params, 4) }),
      'GET rounds/open': (_body, params) => ({
        json: { entries: many.slice(Number(params.get('after'))), next: null },
      }),
      'GET shelf': () => ({ json: shelf }),
    });
    page();
    await screen.findByText('House 3');
    expect(screen.queryByText('House 4')).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Show more' }));
    expect(await screen.findByText('House 6')).toBeTruthy();
    expect(document.querySelectorAll('.jobs li')).toHaveLength(7);
    expect(screen.queryByRole('button', { name: 'Show more' })).toBeNull();
  });
  test('a household met without a signal stands there at once, kept on this device', async () => {
    serve({ 'GET rounds': () => ({ json: roundOf([]) }), 'GET shelf': () => ({ json: shelf }) });
    const store = page();
    await screen.findByText(/No job is open/);
    const body = {
      id: id(201),
      jobId: id(301),
      ...householdTexts({ name: 'New Yard 1' }),
    };
    const born = {
      write: 'household-new',
      id: body.id,
      jobId: body.jobId,
      at: new Date().toISOString(),
      body,
    } as const;
    act(() => void store.dispatch(outboxActions.added([born])));
    expect(screen.getByText('New Yard 1')).toBeTruthy();
    expect(screen.getByText('Kept on this device until the server answers.')).toBeTruthy();
  });
  test('an empty firm is told what to do first, a server that is away what is wrong', async () => {
    serve({ 'GET rounds': () => ({ json: roundOf([]) }), 'GET shelf': () => ({ json: shelf }) });
    page();
    expect(await screen.findByText(/No job is open. Add a household to begin/)).toBeTruthy();
    cleanup();
    await forgetKept();
    serve({ 'GET rounds': () => 'away', 'GET shelf': () => 'away' });
    page();
    expect((await screen.findByRole('alert')).textContent).toContain('The server does not answer');
  });
  test('a system in service that may not be drunk from is told with its cause; one that may is not', async () => {
    const drinking = (answer: 'yes' | 'no'): RoundsEntry['summary']['drinking'] => ({
      answer,
      atMs: null,
      causes: answer === 'yes' ? [] : [{ code: 'boil-notice', is: 'A boil-water notice holds.', first: [], expectedMs: null }],
      meanwhile: answer === 'yes' ? null : 'boil',
      heed: [],
    });
    const kept = { inService: true, lens: 'keep', next: 'Nothing due.' } as const;
    const entries = [entry(1, 'Well Lane 4', { ...kept, drinking: drinking('no') }), entry(2, 'Alder 2', { ...kept, drinking: drinking('yes') })];
    serve({ 'GET rounds': () => ({ json: roundOf(entries) }), 'GET shelf': () => ({ json: shelf }) });
    page();
    const rows = (await screen.findAllByText('Nothing due.')).map((e) => e.closest('li')?.textContent ?? '');
    expect(rows.filter((r) => r.includes('Not for drinking. A boil-water notice holds'))).toHaveLength(1);
    expect(rows.find((r) => r.includes('Alder 2'))).not.toMatch(/drink/);
  }); // oxfmt-ignore
  test('a household whose name and place are there already is offered to be opened', async () => {
    serve({
      'GET rounds': () => ({ json: roundOf([entry(1, 'Well Lane 4', {})]) }),
      'GET shelf': () => ({ json: shelf }),
    });
    page(<HouseholdDialog onClose={() => undefined} />);
    await userEvent.type(await screen.findByLabelText('Household'), 'well lane 4');
    expect(screen.queryByText('This household is there already')).toBeNull();
    await userEvent.type(screen.getByLabelText('Place'), 'Corvane');
    expect(await screen.findByText('This household is there already')).toBeTruthy();
    expect(screen.getByRole('link', { name: /Open Well Lane 4/ }).getAttribute('href')).toBe(`/jobs/${id(1)}/gauge`);
  });
  test('a visit today or tomorrow is told first, another day is not', async () => {
    const on = (days: number): string => new Date(Date.now() + days * 86400000).toISOString();
    const visits = [dated(on(0), 'Yearly change'), dated(on(9), 'Baseline again')];
    serve({
      'GET rounds': () => ({ json: roundOf([entry(1, 'Well Lane 4', { visits })]) }),
      'GET shelf': () => ({ json: shelf }),
    });
    page();
    expect((await screen.findByText('Today')).closest('li')?.textContent).toBe(
      'Today, Well Lane 4Yearly change. Corvane',
    );
    expect(screen.queryByText(/Baseline again/)).toBeNull();
  });
  test('without signal it is as this device kept it, and says which jobs open here', async () => {
    const both = roundOf([entry(1, 'Well Lane 4', {}), entry(2, 'Mill Lane 2', {})]);
    serve({
      'GET rounds': () => ({ json: both }),
      'GET shelf': () => ({ json: shelf }),
      [`GET jobs/${id(1)}`]: () => ({ json: { id: id(1) } }),
    });
    page();
    await userEvent.click(await screen.findByRole('button', { name: /^Well Lane 4: take along/ }));
    await screen.findByText('Taken along');
    cleanup();
    serve({ 'GET rounds': () => 'away', 'GET shelf': () => 'away' });
    const store = page();
    expect((await screen.findByRole('status')).textContent).toMatch(
      /^The server is away. The round is as it was at \d\d:\d\d. Jobs/,
    );
    await act(() => store.dispatch(takeAlong(id(1), true)));
    expect(screen.getByRole('button', { name: /^Well Lane 4/ }).getAttribute('aria-pressed')).toBe('true');
    expect(screen.getAllByText('not on this device')).toHaveLength(1);
    expect(await act(() => store.dispatch(takeAlong(id(2), true)))).toBe(false);
    // the server is there again
    serve({ 'GET rounds': () => ({ json: both }), 'GET shelf': () => ({ json: shelf }) });
    act(() => {
      store.dispatch(hearAgain());
    });
    await waitFor(() => {
      expect(screen.queryByText(/The server is away/)).toBeNull();
    });
  });
});

describe('a household', () => {
  const household = {
    id: id(7),
    ...householdTexts({ name: 'Mill Lane 2', place: 'Town' }),
    version: 3,
  };
  const stale = {
    type: 'urn:katharos:problem:stale',
    title: 'Somebody else changed this meanwhile',
    status: 409,
    current: { ...household, place: 'Upper town', notes: 'Dog.', version: 4 },
  };
  const dialog = () => <HouseholdDialog onClose={() => undefined} of={{ household, jobId: id(8) }} />;
  test('is saved against the version it was read at', async () => {
    const asked = serve({ [`PUT households/${id(7)}`]: () => ({ json: { ...household, version: 4 } }) });
    page(dialog());
    await userEvent.type(screen.getByLabelText('Contact'), 'Odo');
    await userEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => {
      expect(asked.at(-1)?.body).toMatchObject({ version: 3, contact: 'Odo' });
    });
    // the draft goes once the answer is in
    await waitFor(() => {
      expect(localStorage.getItem(`katharos.draft.household.${id(7)}`)).toBeNull();
    });
  });
  test('changed by somebody else is shown side by side; mine may be kept over it', async () => {
    let first = true;
    const asked = serve({
      [`PUT households/${id(7)}`]: () => {
        const answer = first ? { status: 409, json: stale } : { json: { ...household, version: 5 } };
        first = false;
        return answer;
      },
    });
    page(dialog());
    await userEvent.type(screen.getByLabelText('Notes'), 'Cat.');
    await userEvent.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText('Dog.')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Keep mine' }));
    await waitFor(() => {
      expect(asked.at(-1)?.body).toMatchObject({
        version: 4,
        notes: expect.stringContaining('Cat.'),
        place: 'Upper town',
      });
    });
  });
  test('what was left unsaved comes back on top of what others saved since, and can be let go', async () => {
    const asked = serve({ [`PUT households/${id(7)}`]: () => ({ json: { ...household, version: 5 } }) });
    page(dialog());
    expect(screen.queryByText(/As it was left here/)).toBeNull();
    await userEvent.type(screen.getByLabelText('Contact'), 'Odo');
    expect(screen.queryByText(/As it was left here/)).toBeNull();
    cleanup();
    const since = { ...household, notes: 'Dog in the yard.', version: 4 };
    page(<HouseholdDialog onClose={() => undefined} of={{ household: since, jobId: id(8) }} />);
    expect(screen.getByText(/As it was left here/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => {
      expect(asked.at(-1)?.body).toMatchObject({
        version: 4,
        address: '',
        contact: 'Odo',
        phone: '',
        keyHolder: '',
        notes: 'Dog in the yard.',
      });
    });
    cleanup();
    page(dialog());
    await userEvent.type(screen.getByLabelText('Contact'), 'Ann');
    cleanup();
    page(dialog());
    await userEvent.click(screen.getByRole('button', { name: 'Start over' }));
    expect(screen.getByLabelText('Contact')).toHaveProperty('value', '');
    expect(localStorage.getItem(`katharos.draft.household.${id(7)}`)).toBeNull();
  });
  test('a fault the server finds stands at its field, and what was typed is kept', async () => {
    serve({
      [`PUT households/${id(7)}`]: () => ({
        status: 422,
        json: {
          type: 'urn:x',
          title: 'Some values cannot be taken',
          status: 422,
          errors: [{ path: 'place', message: 'Too far away.' }],
        },
      }),
    });
    page(dialog());
    await userEvent.type(screen.getByLabelText('Place'), '!');
    await userEvent.click(screen.getByRole('button', { name: 'Save' }));
    expect((await screen.findAllByText(/Too far away\./)).length).toBeGreaterThan(0);
    expect(localStorage.getItem(`katharos.draft.household.${id(7)}`)).toContain('Town!');
  });
});
