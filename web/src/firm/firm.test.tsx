import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { Shelf } from '@katharos/contract';
import { partsTable, type Instrument, type Part } from '@katharos/core';
import { rules, shelf as parts } from '@katharos/core/testing';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import Papa from 'papaparse';
import type { ReactElement } from 'react';
import InstrumentsPage from './instruments/InstrumentsPage.tsx';
import RulesPage from './rules/RulesPage.tsx';
import ShelfPage from './shelf/ShelfPage.tsx';
import { WHO } from '../testing/jobContext.tsx';
import { renderIn } from '../testing/renderIn.tsx';
import { serve, type Asked } from '../testing/serve.ts';

const pen: Instrument = {
  id: '5f0c4b1e-7777-4777-a777-000000000001', name: 'pen A', what: 'pen', checkEveryDays: 90, address: null, checks: [],
  reads: [{ kind: 'concentration', unit: 'mg/L', min: 0, max: 5000, errorFixed: 2, errorShare: 0.02 }],
}; // oxfmt-ignore
const shelf: Shelf = {
  parts: [...parts],
  unreadableParts: [],
  partVersions: Object.fromEntries(parts.map((p) => [p.id, 3])),
  // as the store hands it out
  rules: Object.freeze({ ...rules }),
  rulesVersion: 5,
  stamp: 'one',
  instruments: [{ ...pen, version: 2 }],
  people: [{ id: WHO, name: 'Imra Tole' }],
};

const page = (element: ReactElement): void => {
  renderIn(element, WHO);
};
const written = (asked: readonly Asked[], method: string): Asked[] => asked.filter((a) => a.method === method);
const stale = (current: unknown) => ({
  status: 409,
  json: { type: 'urn:katharos:problem:stale', title: 'Somebody else changed this meanwhile', status: 409, current },
});

beforeEach(() => {
  localStorage.clear();
  Object.assign(globalThis, { ResizeObserver: globalThis.ResizeObserver });
});
afterEach(cleanup);

describe('the house rules', () => {
  test('say why each default and what others do, and are saved against their version', async () => {
    const asked = serve({
      'PUT shelf/rules': (b) => ({ json: { rules: (b as { rules: object }).rules, version: 6 } }),
    });
    page(<RulesPage shelf={shelf} />);
    expect(screen.getByText(/elements vary by 15 %/)).toBeTruthy();
    const spare = screen.getByLabelText('Output wanted over the need, worst season');
    await userEvent.clear(spare);
    await userEvent.type(spare, '2');
    expect(screen.getByText('1 changed, not saved yet')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Save the rules' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[0]?.body).toMatchObject({ version: 5, rules: { spareCapacity: 2 } });
    });
    expect(await screen.findByText('as saved')).toBeTruthy();
  });
  test('out of range are told at their field and not sent; what was typed survives the page', async () => {
    const asked = serve({});
    page(<RulesPage shelf={shelf} />);
    const spare = screen.getByLabelText('Output wanted over the need, worst season');
    await userEvent.clear(spare);
    await userEvent.type(spare, '9');
    await userEvent.click(screen.getByRole('button', { name: 'Save the rules' }));
    expect(spare.getAttribute('aria-invalid')).toBe('true');
    expect(written(asked, 'PUT')).toEqual([]);
  });
  test('what was changed and not saved comes back over a reload; what others saved meanwhile is not put back', async () => {
    serve({});
    page(<RulesPage shelf={shelf} />);
    await userEvent.click(screen.getByLabelText('Sanitise with bleach'));
    cleanup();
    page(<RulesPage shelf={{ ...shelf, rules: { ...rules, unpumpedMinBar: 1.1 }, rulesVersion: 9 }} />);
    expect(screen.getByLabelText('Sanitise with bleach')).toHaveProperty('checked', !rules.sanitise);
    expect(screen.getByLabelText('No system without a pump below')).toHaveProperty('value', '1.1 bar');
    expect(screen.getByText('1 changed, not saved yet')).toBeTruthy();
  });
  test('changed by somebody else are shown side by side, and mine may be kept', async () => {
    let first = true;
    const asked = serve({
      'PUT shelf/rules': (b) => {
        if (!first) return { json: { rules: (b as { rules: object }).rules, version: 9 } };
        first = false;
        return stale({ rules: { ...rules, discards: 3 }, version: 8 });
      },
    });
    page(<RulesPage shelf={shelf} />);
    await userEvent.click(screen.getByLabelText('Sanitise with bleach'));
    await userEvent.click(screen.getByRole('button', { name: 'Save the rules' }));
    const table = within(await screen.findByRole('table'));
    expect(table.getByRole('row', { name: 'Tanks poured away not changed 3 tanks' })).toBeTruthy();
    expect(table.getByRole('row', { name: /^Sanitise with bleach yes no$/ })).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Keep mine' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[1]?.body).toMatchObject({
        version: 8,
        rules: { sanitise: !rules.sanitise, discards: 3 },
      });
    });
  });
});

describe('the shelf', () => {
  const rowsShown = (): string[] => [...document.querySelectorAll('.shelf-name')].map((e) => e.textContent);
  test('is found by words and kind, and sorted', async () => {
    serve({});
    page(<ShelfPage shelf={shelf} />);
    expect(rowsShown()).toHaveLength(parts.length);
    await userEvent.type(screen.getByLabelText('Find a part'), 'tight');
    expect(rowsShown()).toEqual(['Element 230, tight', 'Element 300, tight']);
    await userEvent.clear(screen.getByLabelText('Find a part'));
    await userEvent.selectOptions(screen.getByLabelText('Kind of part'), 'tank');
    expect(rowsShown().every((n) => n.startsWith('Tank'))).toBe(true);
    await userEvent.type(screen.getByLabelText('Find a part'), 'zzz');
    expect(screen.getByText('No part like that.')).toBeTruthy();
  });
  test('a price is changed in its cell, against the version it was read at', async () => {
    const asked = serve({
      'PUT shelf/parts/tank-8': (b) => ({ json: { part: (b as { part: Part }).part, version: 4 } }),
    });
    page(<ShelfPage shelf={shelf} />);
    const cell = screen.getByLabelText('Price of Tank 8 L');
    await userEvent.clear(cell);
    await userEvent.type(cell, '39,5{Enter}');
    await waitFor(() => {
      expect(written(asked, 'PUT')[0]?.body).toMatchObject({
        version: 3,
        part: { id: 'tank-8', price: 39.5 },
      });
    });
    const other = screen.getByLabelText('Price of Tank 12 L');
    await userEvent.clear(other);
    await userEvent.type(other, 'dear{Enter}');
    expect(other.getAttribute('aria-invalid')).toBe('true');
    expect(written(asked, 'PUT')).toHaveLength(1);
  });
  test('a part is retired, not removed', async () => {
    const asked = serve({
      'PUT shelf/parts/tank-30': (b) => ({ json: { part: (b as { part: Part }).part, version: 4 } }),
    });
    page(<ShelfPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('button', { name: 'Retire Tank 30 L' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[0]?.body).toMatchObject({ part: { id: 'tank-30', retired: true } });
    });
  });
  test('a part is added after the pattern of its kind; a figure that cannot be is told at its field', async () => {
    const asked = serve({
      'PUT shelf/parts/tank-9': (b) => ({ status: 201, json: { part: (b as { part: Part }).part, version: 0 } }),
    });
    page(<ShelfPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('button', { name: 'Add a part' }));
    const dialog = await screen.findByRole('dialog');
    await userEvent.selectOptions(within(dialog).getByLabelText('Kind'), 'tank');
    await userEvent.type(within(dialog).getByLabelText('id'), 'tank-9');
    await userEvent.type(within(dialog).getByLabelText('name'), 'Tank 9 L');
    const volume = within(dialog).getByLabelText(/volume/);
    await userEvent.clear(volume);
    await userEvent.type(volume, '-9');
    expect(volume.getAttribute('aria-invalid')).toBe('true');
    await userEvent.clear(volume);
    await userEvent.type(volume, '9');
    await userEvent.click(within(dialog).getByRole('button', { name: 'Add it to the shelf' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[0]?.body).toMatchObject({
        version: null,
        part: { id: 'tank-9', kind: 'tank', volumeL: 9 },
      });
    });
  });
  test('a part half typed comes back over a reload; changed by somebody else it is put on top of theirs', async () => {
    const tank = parts.find((p) => p.id === 'tank-8');
    let first = true;
    const asked = serve({
      'PUT shelf/parts/tank-8': (b) => {
        if (!first) return { json: { part: (b as { part: Part }).part, version: 9 } };
        first = false;
        return stale({ part: { ...tank, price: 77 }, version: 8 });
      },
    });
    const open = async () => {
      page(<ShelfPage shelf={shelf} />);
      await userEvent.click(screen.getByRole('button', { name: 'Tank 8 L' }));
      return within(await screen.findByRole('dialog'));
    };
    const name = (await open()).getByLabelText('name');
    await userEvent.clear(name);
    await userEvent.type(name, 'Tank 8 L, white');
    cleanup();
    const dialog = await open();
    expect(dialog.getByLabelText('name')).toHaveProperty('value', 'Tank 8 L, white');
    expect(dialog.getByText(/As it was left here/)).toBeTruthy();
    await userEvent.click(dialog.getByRole('button', { name: 'Save the part' }));
    expect(await dialog.findByRole('row', { name: 'price not changed 77' })).toBeTruthy();
    await userEvent.click(dialog.getByRole('button', { name: 'Keep mine' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[1]?.body).toMatchObject({
        version: 8,
        part: { name: 'Tank 8 L, white', price: 77 },
      });
    });
    await waitFor(() => {
      expect(localStorage.getItem('katharos.draft.part.tank-8')).toBeNull();
    });
  });
});

describe('parts brought in as a CSV', () => {
  const csv = (change: (rows: string[][], columns: string[]) => void): File => {
    const { columns, rows } = partsTable(parts);
    const table = rows.map((r) => columns.map((c) => r[c] ?? ''));
    change(table, [...columns]);
    const text = Papa.unparse({ fields: [...columns], data: table });
    return Object.assign(new File([text], 'parts.csv', { type: 'text/csv' }), { text: () => Promise.resolve(text) });
  };
  const choose = async (file: File): Promise<void> => {
    const input = document.querySelector('input[type=file]');
    if (!(input instanceof HTMLInputElement)) throw new Error('no file field');
    await userEvent.upload(input, file);
  };
  const set =
    (id: string, column: string, value: string) =>
    (rows: string[][], columns: string[]): void => {
      const row = rows.find((r) => r[0] === id);
      if (row) row[columns.indexOf(column)] = value;
    };
  test('show what would change before anything does, and are taken over together', async () => {
    const asked = serve({ 'POST shelf/parts/import': () => ({ json: {} }) });
    page(<ShelfPage shelf={shelf} />);
    await choose(csv(set('tank-8', 'price', '39')));
    expect(
      await screen.findByText(new RegExp(`0 new, 1 changed, ${String(parts.length - 1)} as they are`)),
    ).toBeTruthy();
    expect(written(asked, 'POST')).toEqual([]);
    await userEvent.click(screen.getByRole('button', { name: 'Take them over' }));
    await waitFor(() => {
      expect(written(asked, 'POST')[0]?.body).toMatchObject({
        versions: { 'tank-8': 3 },
        parts: [{ id: 'tank-8', price: 39 }],
      });
    });
  });
  test('with anything wrong change nothing, and say what at its row and column', async () => {
    const asked = serve({});
    page(<ShelfPage shelf={shelf} />);
    await choose(csv(set('tank-8', 'volumeL', 'eight')));
    expect(await screen.findByText(/Nothing is taken over: 1 thing is wrong/)).toBeTruthy();
    expect(screen.getByText('volumeL')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Take them over' })).toHaveProperty('disabled', true);
    expect(written(asked, 'POST')).toEqual([]);
  });
  test('that are no parts at all are told so', async () => {
    serve({});
    page(<ShelfPage shelf={shelf} />);
    await choose(Object.assign(new File(['x'], 'x.csv'), { text: () => Promise.resolve('a,b\n1,2') }));
    expect((await screen.findByRole('alert')).textContent).toMatch(/its first line must name the columns/);
  });
});

describe('the instruments', () => {
  test('say what wants checking; a check is written down with what it comes to', async () => {
    const asked = serve({
      [`PUT instruments/${pen.id}`]: (b) => ({ json: { ...(b as { instrument: object }).instrument, version: 3 } }),
    });
    page(<InstrumentsPage shelf={shelf} />);
    expect(screen.getByText('never checked')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Write down a check of pen A' }));
    const dialog = await screen.findByRole('dialog');
    await userEvent.type(within(dialog).getByLabelText(/^Known/), '1000');
    await userEvent.type(within(dialog).getByLabelText(/^Read/), '1023');
    expect(within(dialog).getByRole('status').textContent).toMatch(/does not hold/);
    await userEvent.clear(within(dialog).getByLabelText(/^Read/));
    await userEvent.type(within(dialog).getByLabelText(/^Read/), '1015');
    expect(within(dialog).getByRole('status').textContent).toMatch(/It holds/);
    await userEvent.click(within(dialog).getByRole('button', { name: 'Write it down' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[0]?.body).toMatchObject({
        version: 2,
        instrument: { checks: [{ reference: 1000, read: 1015, by: WHO }] },
      });
    });
  });
  test('a check written down while somebody else saved the instrument stands beside what they saved', async () => {
    const theirs = { at: '2026-01-01T00:00:00.000Z', by: WHO, kind: 'concentration', reference: 500, read: 501 };
    let first = true;
    const asked = serve({
      [`PUT instruments/${pen.id}`]: (b) => {
        if (!first) return { json: { ...(b as { instrument: object }).instrument, version: 5 } };
        first = false;
        return stale({ ...pen, name: 'pen A, new cap', checks: [theirs], version: 4 });
      },
    });
    page(<InstrumentsPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('button', { name: 'Write down a check of pen A' }));
    const dialog = within(await screen.findByRole('dialog'));
    await userEvent.type(dialog.getByLabelText(/^Known/), '1000');
    await userEvent.type(dialog.getByLabelText(/^Read/), '1015');
    await userEvent.click(dialog.getByRole('button', { name: 'Write it down' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[1]?.body).toMatchObject({
        version: 4,
        instrument: { name: 'pen A, new cap', checks: [theirs, { reference: 1000, read: 1015 }] },
      });
    });
  });
  test('a check half typed is there again after a reload; saved, it is gone', async () => {
    serve({
      [`PUT instruments/${pen.id}`]: (b) => ({ json: { ...(b as { instrument: object }).instrument, version: 3 } }),
    });
    const open = async () => {
      page(<InstrumentsPage shelf={shelf} />);
      await userEvent.click(screen.getByRole('button', { name: 'Write down a check of pen A' }));
      return within(await screen.findByRole('dialog'));
    };
    await userEvent.type((await open()).getByLabelText(/^Known/), '1000');
    cleanup();
    const dialog = await open();
    expect(dialog.getByLabelText(/^Known/)).toHaveProperty('value', '1000');
    await userEvent.type(dialog.getByLabelText(/^Read/), '1001');
    await userEvent.click(dialog.getByRole('button', { name: 'Write it down' }));
    await waitFor(() => {
      expect(Object.keys(localStorage).filter((k) => k.includes('check'))).toEqual([]);
    });
  });
  test('what was changed on one is shown beside what somebody else saved', async () => {
    let first = true;
    const asked = serve({
      [`PUT instruments/${pen.id}`]: (b) => {
        if (!first) return { json: { ...(b as { instrument: object }).instrument, version: 5 } };
        first = false;
        return stale({ ...pen, checkEveryDays: 30, version: 4 });
      },
    });
    page(<InstrumentsPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('button', { name: 'pen A' }));
    const dialog = within(await screen.findByRole('dialog'));
    const most = dialog.getByLabelText('To, mg/L');
    await userEvent.clear(most);
    await userEvent.type(most, '3 g/L');
    await userEvent.click(dialog.getByRole('button', { name: 'Save' }));
    expect(await dialog.findByRole('row', { name: 'check again after, days not changed 30' })).toBeTruthy();
    await userEvent.click(dialog.getByRole('button', { name: 'Keep mine' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[1]?.body).toMatchObject({
        version: 4,
        instrument: { checkEveryDays: 30, reads: [{ max: 3000 }] },
      });
    });
  });
  test('are added; a name that is taken is told', async () => {
    const asked = serve({});
    page(<InstrumentsPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('button', { name: 'Add an instrument' }));
    const dialog = await screen.findByRole('dialog');
    await userEvent.type(within(dialog).getByLabelText('Name, as it stands on it'), 'PEN a');
    expect(within(dialog).getByText('another has that name')).toBeTruthy();
    expect(within(dialog).getByRole('button', { name: 'Add it' })).toHaveProperty('disabled', true);
    await userEvent.type(within(dialog).getByLabelText('Name, as it stands on it'), ' 2');
    await userEvent.click(within(dialog).getByRole('button', { name: 'Add it' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[0]?.body).toMatchObject({ version: null, instrument: { name: 'PEN a 2' } });
    });
  });
  test('a pen’s factor from conductivity is kept with it, and one no meter has is told', async () => {
    const asked = serve({});
    page(<InstrumentsPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('button', { name: 'Add an instrument' }));
    const dialog = await screen.findByRole('dialog');
    await userEvent.type(within(dialog).getByLabelText('Name, as it stands on it'), 'pen C');
    const factor = within(dialog).getByLabelText('Factor from µS/cm to mg/L');
    await userEvent.type(factor, '5');
    expect(within(dialog).getByText('0.3 to 1.1')).toBeTruthy();
    expect(within(dialog).getByRole('button', { name: 'Add it' })).toHaveProperty('disabled', true);
    await userEvent.clear(factor);
    await userEvent.type(factor, '0.5');
    await userEvent.click(within(dialog).getByRole('button', { name: 'Add it' }));
    await waitFor(() => {
      expect(written(asked, 'PUT')[0]?.body).toMatchObject({ instrument: { name: 'pen C', tdsFactor: 0.5 } });
    });
  });
  test('an empty list says what to list first', () => {
    serve({});
    page(<InstrumentsPage shelf={{ ...shelf, instruments: [] }} />);
    expect(screen.getByText(/Add the pen, the gauge and the jug first/)).toBeTruthy();
  });
});

describe('the stock', () => {
  const levels = [
    { part: 'carbon-block', van: 4, store: 2, vans: { shared: 4 } },
    { part: 'sediment-5', van: 9, store: 0, vans: { shared: 9 } },
    { part: 'tank-8', van: -1, store: 0, vans: { shared: -1 } },
  ];
  const row = (name: string): HTMLElement => screen.getByRole('row', { name: new RegExp(`^${name} `) });
  test('says what is to be ordered: what jobs still take and the fewest that are wanted, less what lies there', async () => {
    serve({ 'GET stock': () => ({ json: { levels, vansOf: [], reserved: { 'carbon-block': 3, 'leak-valve': 1 } } }) });
    page(<ShelfPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('radio', { name: 'Stock' }));
    // six are wanted, three are reserved, six lie there
    expect((await screen.findByRole('row', { name: /^Carbon block / })).querySelector('td:last-child')?.textContent).toBe('3');
    expect(row('Leak sensor valve').querySelector('td:last-child')?.textContent).toBe('2');
    expect(row('Sediment cartridge, 5 micron').querySelector('td:last-child')?.textContent).toBe('');
    expect(screen.getByText(/Below nothing: more was taken than was counted/)).toBeTruthy();
    await userEvent.click(screen.getByRole('switch', { name: 'only what is to be ordered' }));
    expect(screen.queryByRole('row', { name: /^Sediment cartridge, 5 micron / })).toBeNull();
  });
  test('orders what the visits of the coming fortnight take beyond what lies there', async () => {
    const life = { componentId: 'c', kind: 'carbon', label: 'carbon 1', partName: 'Carbon block', partId: 'carbon-block', sinceMs: 0, dueMs: Date.now() + 86_400_000, earlyMs: 0, lateMs: 0, by: 'calendar', used: 1, litresSoFar: 0, limits: [], state: 'soon', why: '' };
    const entry = { summary: { lives: [life, { ...life, dueMs: Date.now() + 40 * 86_400_000 }], visits: [] } };
    serve({
      'GET stock': () => ({ json: { levels, vansOf: [], reserved: {} } }),
      'GET rounds/coming': () => ({ json: { entries: Array.from({ length: 5 }, () => entry) } }),
    });
    page(<ShelfPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('radio', { name: 'Stock' }));
    // six lie there, the firm wants six at the least, five go out
    await waitFor(() => {
      expect(row('Carbon block').querySelector('td:last-child')?.textContent).toBe('5');
    });
    expect(row('Carbon block').querySelectorAll('td')[3]?.textContent).toBe('5');
  });
  test('is counted in its cells: what was typed is sent as a count of that place', async () => {
    const asked = serve({
      'GET stock': () => ({ json: { levels, vansOf: [], reserved: {} } }),
      'POST stock/moves': () => ({ status: 201, json: { levels, vansOf: [], reserved: {} } }),
    });
    page(<ShelfPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('radio', { name: 'Stock' }));
    const cell = await screen.findByLabelText('Carbon block in the van');
    await userEvent.clear(cell);
    await userEvent.type(cell, '7{Enter}');
    await waitFor(() => {
      expect(written(asked, 'POST')[0]?.body).toMatchObject({ moves: [{ part: 'carbon-block', place: 'van', kind: 'count', count: 7 }] });
    });
  });
  test('of several vans is looked into one by one: a count is of the van that is chosen, and all of them together are only read', async () => {
    const other = { id: '00000000-0000-4000-8000-000000000077', name: 'Bast Ferrin' };
    const vans = { [WHO]: 1, [other.id]: 3 };
    const json = { levels: [{ part: 'carbon-block', van: 4, store: 2, vans }], vansOf: Object.keys(vans), reserved: {} };
    const asked = serve({ 'GET stock': () => ({ json }), 'POST stock/moves': () => ({ status: 201, json }) });
    page(<ShelfPage shelf={{ ...shelf, people: [...shelf.people, other] }} />);
    await userEvent.click(screen.getByRole('radio', { name: 'Stock' }));
    await userEvent.selectOptions(await screen.findByLabelText('Which van'), 'all');
    expect(row('Carbon block').querySelector('td')?.textContent).toBe('4');
    expect(screen.queryByLabelText('Carbon block in the van')).toBeNull();
    await userEvent.selectOptions(screen.getByLabelText('Which van'), other.id);
    const cell = screen.getByLabelText('Carbon block in the van');
    expect(cell).toHaveProperty('value', '3');
    await userEvent.clear(cell);
    await userEvent.type(cell, '5{Enter}');
    await waitFor(() => {
      expect(written(asked, 'POST')[0]?.body).toMatchObject({ moves: [{ place: 'van', vanOf: other.id, count: 5 }] });
    });
  });
  test('that cannot be read is told as such, without a table that would say nothing lies there', async () => {
    serve({});
    page(<ShelfPage shelf={shelf} />);
    await userEvent.click(screen.getByRole('radio', { name: 'Stock' }));
    expect((await screen.findByRole('alert')).textContent).toContain('The stock is not known here now');
    expect(screen.queryByRole('columnheader', { name: 'in the van' })).toBeNull();
  });
}); // oxfmt-ignore
