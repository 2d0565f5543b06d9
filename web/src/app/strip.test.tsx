import { householdTexts } from '@katharos/core';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, renderHook, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Profiler } from 'react';
import type { AppStore } from '../data/store.ts';
import { factEntry, type Entry } from '../data/outbox/entries.ts';
import { outboxActions } from '../data/outbox/state.ts';
import { useDraft } from '../ui/useDraft.ts';
import { happened, JOB, WHO } from '../testing/jobContext.tsx';
import { serve } from '../testing/serve.ts';
import { isTyping } from '../ui/isTyping.ts';
import { renderIn } from '../testing/renderIn.tsx';
import { sessionOf } from '../testing/signedIn.ts';
import { told, tried } from '../data/session.ts';
import { Shell } from './Shell.tsx';
import { SendState } from './SendState.tsx';

const entry = factEntry(happened({ kind: 'note', text: 'seen' }));
const show = (element: React.ReactElement): AppStore => renderIn(element).store;
beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const nothingKept = outboxActions.mirrored({ entries: [], refused: [], unreadable: 0, sent: [] });

test('the strip stands still while a figure is typed', async () => {
  serve({ 'GET changes': () => ({ json: { bound: '1', many: false, jobs: [], shelf: '1' } }) });
  let drawn = 0;
  const { store } = renderIn(
    <Profiler id="strip" onRender={() => drawn++}>
      <Shell />
    </Profiler>,
    WHO,
  );
  act(() => void store.dispatch(nothingKept));
  await screen.findByText('all sent');
  const before = drawn;
  for (const bar of [3, 3.6])
    act(() => void store.dispatch(tried({ jobId: JOB, values: { staticPressureBar: bar }, by: 'typing' })));
  expect(store.getState().session.trial?.values.staticPressureBar).toBe(3.6);
  expect(drawn).toBe(before);
  act(() => void store.dispatch(outboxActions.unreachable()));
  expect(drawn).toBeGreaterThan(before);
});

describe('what waits to be sent', () => {
  test('is told in the strip: sent, waiting, away, refused', () => {
    const store = show(<SendState />);
    act(() => void store.dispatch(nothingKept));
    expect(screen.getByRole('status').textContent).toBe('all sent');
    act(() => void store.dispatch(outboxActions.added([entry])));
    expect(screen.getByRole('status').textContent).toBe('sending 1');
    act(() => void store.dispatch(outboxActions.unreachable()));
    expect(screen.getByRole('status').textContent).toBe('server away, 1 kept here');
    act(() => void store.dispatch(outboxActions.refused([{ entry, reason: 'No.' }])));
    expect(screen.getByRole('status').textContent).toBe('1 refused');
  });
  test('a job the server stumbles on is named with what it said, until it is taken', async () => {
    const store = show(<SendState />);
    act(() => void store.dispatch(nothingKept));
    act(() => void store.dispatch(outboxActions.added([entry])));
    act(() => void store.dispatch(outboxActions.failedOn({ [JOB]: 'Something went wrong here.' })));
    expect(screen.getByRole('status').textContent).toBe('server failed, 1 kept here');
    await userEvent.click(screen.getByRole('button'));
    expect((await screen.findByRole('alert')).textContent).toContain('Something went wrong here.');
    expect(screen.getByRole('link', { name: 'a job' }).getAttribute('href')).toBe(`/jobs/${JOB}`);
    act(() => void store.dispatch(outboxActions.sent({ ids: [entry.id], at: 0 })));
    expect(screen.getByRole('status').textContent).toMatch(/^all sent/);
    expect(screen.queryByRole('alert')).toBeNull();
  });
  test('nothing is said to be sent before what an earlier page left has been read', async () => {
    const store = show(<SendState />);
    await userEvent.click(screen.getByRole('button'));
    expect(screen.getByRole('status').textContent).toBe('reading what waits');
    expect(screen.queryByText(/Everything recorded here is on the server/)).toBeNull();
    act(() => void store.dispatch(outboxActions.mirrored({ entries: [entry], refused: [], unreadable: 0, sent: [] })));
    expect(screen.getByRole('status').textContent).toBe('sending 1');
    act(() => void store.dispatch(outboxActions.sent({ ids: [entry.id], at: 0 })));
    expect(screen.getByRole('status').textContent).toMatch(/^all sent/);
    expect(await screen.findByText(/Everything recorded here is on the server/)).toBeTruthy();
  });
  test('a device that lets nothing be kept or read is said to, until it does', async () => {
    const store = show(<SendState />);
    act(() => void store.dispatch(outboxActions.closed()));
    expect(screen.getByRole('status').textContent).toBe('nothing kept here');
    await userEvent.click(screen.getByRole('button'));
    expect((await screen.findByRole('alert')).textContent).toMatch(/does not let what is typed be kept/);
    expect(screen.queryByText(/on this device for work without signal/)).toBeNull();
    act(() => void store.dispatch(nothingKept));
    expect(screen.getByRole('status').textContent).toBe('all sent');
  });
  test('what the device would not keep is said to be in this page only', async () => {
    const store = show(<SendState />);
    act(() => void store.dispatch(nothingKept));
    act(() => void store.dispatch(outboxActions.added([entry])));
    act(() => void store.dispatch(outboxActions.notKept()));
    expect(screen.getByRole('status').textContent).toBe('1 only in this page');
    await userEvent.click(screen.getByRole('button'));
    expect((await screen.findByRole('alert')).textContent).toMatch(
      /no room.*1 entry is only in this page.*Leave it open/,
    );
    act(() => void store.dispatch(outboxActions.sent({ ids: [entry.id], at: 0 })));
    expect(screen.getByRole('status').textContent).toMatch(/^all sent/);
  });
  test('a browser that may clear what is kept is said to', async () => {
    const store = show(<SendState />);
    act(() => void store.dispatch(outboxActions.added([entry])));
    act(() => void store.dispatch(outboxActions.kept([entry.id])));
    act(() => void store.dispatch(outboxActions.stays(false)));
    await userEvent.click(screen.getByRole('button'));
    expect(await screen.findByText(/does not promise to keep them/)).toBeTruthy();
  });
  test('a fact restored twice stands once', () => {
    const store = show(<SendState />);
    act(() => void store.dispatch(outboxActions.mirrored({ entries: [entry], refused: [], unreadable: 2, sent: [] })));
    act(() => void store.dispatch(outboxActions.mirrored({ entries: [entry], refused: [], unreadable: 2, sent: [] })));
    expect(store.getState().outbox.pending).toEqual([entry]);
  });
});

describe('what was refused', () => {
  test('is told with its reason; an edit somebody else was before may be put over theirs, or dropped', async () => {
    const store = show(<SendState />);
    const house = { ...householdTexts({ name: 'Mill Lane 2', place: 'Town' }) };
    const edit: Entry = {
      write: 'household', id: '5f0c4b1e-7777-4777-a777-000000000001', jobId: JOB, at: '2026-05-01T08:00:00.000Z',
      householdId: '5f0c4b1e-7777-4777-a777-000000000002', base: house, by: WHO, body: { ...house, notes: 'mine', version: 0 },
    }; // oxfmt-ignore
    const current = { ...house, id: '5f0c4b1e-7777-4777-a777-000000000002', notes: 'theirs', version: 1 };
    act(() => void store.dispatch(outboxActions.refused([{ entry: edit, reason: 'Changed meanwhile.', current }])));
    const asked = serve({ [`PUT households/${current.id}`]: (body) => ({ json: body }) });
    await userEvent.click(screen.getByRole('button'));
    expect(await screen.findByText(/edit of the household: Changed meanwhile/)).toBeTruthy();
    // whatever the page holds and the device keeps between the click and the server's answer
    const held = new Set<number>();
    const stop = store.subscribe(() => {
      const { pending, refused } = store.getState().outbox;
      if (asked.length === 0) held.add(pending.length + refused.length);
    });
    await userEvent.click(await screen.findByText('Keep mine over theirs'));
    await waitFor(() => {
      expect(asked.map((a) => a.body)).toMatchObject([{ notes: 'mine', version: 1 }]);
    });
    stop();
    expect(held.size).toBeGreaterThan(0);
    expect(held).not.toContain(0);
    expect(store.getState().outbox).toMatchObject({ pending: [], refused: [] });
  });
  test('and what this page cannot read is told, and left', async () => {
    const store = show(<SendState />);
    act(() => void store.dispatch(outboxActions.mirrored({ entries: [], refused: [], unreadable: 1, sent: [] })));
    await userEvent.click(screen.getByRole('button'));
    expect(await screen.findByText(/1 entry on this device cannot be read by this page/)).toBeTruthy();
  });
});

describe('a draft', () => {
  test('belongs to its key, survives the page, and is forgotten when emptied', () => {
    const { result, rerender } = renderHook(({ k }) => useDraft(k), { initialProps: { k: 'a' } });
    act(() => {
      result.current[1]('half');
    });
    rerender({ k: 'b' });
    expect(result.current[0]).toBe('');
    rerender({ k: 'a' });
    expect(result.current[0]).toBe('half');
    act(() => {
      result.current[1]('');
    });
    expect(localStorage.length).toBe(0);
  });
});

describe('keys', () => {
  test('pressed in a field or with a modifier belong to the field or the browser', () => {
    const input = document.body.appendChild(document.createElement('input'));
    const seen: boolean[] = [];
    const listen = (e: KeyboardEvent): void => {
      seen.push(isTyping(e));
    };
    window.addEventListener('keydown', listen);
    input.dispatchEvent(new KeyboardEvent('keydown', { key: '1', bubbles: true }));
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '1', bubbles: true }));
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '1', ctrlKey: true, bubbles: true }));
    window.removeEventListener('keydown', listen);
    expect(seen).toEqual([true, false, true]);
  });
});

describe('the strip on a phone', () => {
  const wide = window.matchMedia.bind(window);
  afterEach(() => {
    window.matchMedia = wide;
  });
  test('reaches every page of the firm, who works, light and help', async () => {
    window.matchMedia = (query) => Object.assign(wide(query), { matches: query.includes('max-width: 760px') });
    const OTHER = '5f0c4b1e-7777-4777-a777-000000000009';
    serve({});
    const { store } = renderIn(<Shell />, WHO);
    act(
      () =>
        void store.dispatch(
          told({
            session: sessionOf(
              { id: WHO, name: 'Imra Tole', role: 'owner' },
              { id: OTHER, name: 'Odo Finch', role: 'fitter' },
            ),
          }),
        ),
    );
    await userEvent.click(screen.getByRole('button', { name: 'Pages, who works, help' }));
    // without a layout the menu counts as out of sight
    const items = await screen.findAllByRole('menuitem', { hidden: true });
    const item = (name: string): HTMLElement => items.find((i) => i.textContent === name) ?? document.body;
    const names = items.map((i) => i.textContent);
    expect(names).toEqual(
      expect.arrayContaining([
        'Rounds',
        'Shelf',
        'House rules',
        'Instruments',
        'People',
        'Help and keys',
        'Sign out, password, code',
      ]),
    );
    expect(item('House rules').getAttribute('href')).toBe('/rules');
    fireEvent.click(item('Odo Finch'));
    expect(store.getState().session.personId).toBe(OTHER);
  });
});
