import type { RoundsEntry } from '@katharos/contract';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { rules, shelf as parts } from '@katharos/core/testing';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { AppStore } from '../../data/store.ts';
import { WHO } from '../../testing/jobContext.tsx';
import { renderIn } from '../../testing/renderIn.tsx';
import { serve } from '../../testing/serve.ts';
import { HouseholdDialog } from './HouseholdDialog.tsx';
import { Rounds } from './Rounds.tsx';

const id = (n: number): string => `5f0c4b1e-6666-4666-a666-${String(n).padStart(12, '0')}`;
const entry = (n: number, name: string, summary: Partial<RoundsEntry['summary']>): RoundsEntry => ({
  jobId: id(n),
  household: { id: id(100 + n), name, place: 'Corvane', contact: '', notes: '', version: 0 },
  summary: {
    lens: 'gauge',
    next: 'First visit: gauge the house.',
    timers: [],
    drinkableAtMs: null,
    lives: [],
    inService: false,
    ...summary,
  },
});
const life = {
  componentId: 'sediment',
  kind: 'sediment',
  label: 'sediment',
  partName: 'Sediment cartridge',
  sinceMs: 0,
  by: 'calendar',
  used: 1.1,
  litresSoFar: 1,
  litresLife: null,
  monthsLife: 6,
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

const page = (element = <Rounds />): AppStore => renderIn(element, WHO).store;

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

describe('a job file', () => {
  // the test's browser cannot read a file's text by itself
  const file = (text: string): File =>
    Object.assign(new File([text], 'job.json', { type: 'application/json' }), { text: () => Promise.resolve(text) });
  const choose = async (text: string): Promise<void> => {
    const input = document.querySelector('input[type=file]');
    if (!(input instanceof HTMLInputElement)) throw new Error('no file field');
    await userEvent.upload(input, file(text));
  };
  test('is brought in under the name of who works here', async () => {
    const asked = serve({
      'GET rounds': () => ({ json: [] }),
      'GET shelf': () => ({ json: shelf }),
      'POST jobs/import': () => ({ status: 201, json: { jobId: id(1), householdId: id(101) } }),
    });
    page();
    await choose(JSON.stringify({ format: 'katharos-job', version: 1 }));
    await waitFor(() => {
      expect(asked.find((a) => a.path === 'jobs/import')?.body).toMatchObject({ by: WHO, file: { version: 1 } });
    });
  });
  test('that is none is told at its place, and nothing is sent', async () => {
    const asked = serve({ 'GET rounds': () => ({ json: [] }), 'GET shelf': () => ({ json: shelf }) });
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
      drinkableAtMs: now + 7.2e6,
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
  test('shows clocks, what is overdue, work in hand and systems in keeping', async () => {
    serve({ 'GET rounds': () => ({ json: rounds }), 'GET shelf': () => ({ json: shelf }) });
    page();
    expect(await screen.findByText(/20 min to go, they may drink about/)).toBeTruthy();
    expect(screen.getByText(/overdue since/)).toBeTruthy();
    const links = screen.getAllByRole('link').map((a) => a.getAttribute('href'));
    expect(links).toEqual(
      expect.arrayContaining([`/jobs/${id(1)}/gauge`, `/jobs/${id(2)}/flush`, `/jobs/${id(3)}/keep`]),
    );
  });
  test('finds a household by part of its name and says when there is none', async () => {
    serve({ 'GET rounds': () => ({ json: rounds }), 'GET shelf': () => ({ json: shelf }) });
    page();
    await screen.findAllByText('Mill Lane 2');
    await userEvent.type(screen.getByLabelText('Find a household'), 'mill');
    expect(screen.queryByText('Rook Yard 1', { selector: '.jobs b' })).toBeNull();
    await userEvent.type(screen.getByLabelText('Find a household'), 'zzz');
    expect(screen.getByText('Nobody by that name, place or contact.')).toBeTruthy();
  });
  test('an empty firm is told what to do first, a server that is away what is wrong', async () => {
    serve({ 'GET rounds': () => ({ json: [] }), 'GET shelf': () => ({ json: shelf }) });
    page();
    expect(await screen.findByText(/No job is open. Add a household to begin/)).toBeTruthy();
    cleanup();
    serve({ 'GET rounds': () => 'away', 'GET shelf': () => 'away' });
    page();
    expect((await screen.findByRole('alert')).textContent).toContain('The server does not answer');
  });
});

describe('a household', () => {
  const household = { id: id(7), name: 'Mill Lane 2', place: 'Town', contact: '', notes: '', version: 3 };
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
      expect(asked.at(-1)?.body).toMatchObject({ version: 3, contact: 'Odo', by: WHO });
    });
    expect(localStorage.getItem(`katharos.draft.household.${id(7)}`)).toBeNull();
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
      expect(asked.at(-1)?.body).toMatchObject({ version: 4, contact: 'Odo', notes: 'Dog in the yard.' });
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
