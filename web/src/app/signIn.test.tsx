import type { Session } from '@katharos/contract';
import { notificationsStore } from '@mantine/notifications';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { api } from '../data/api.ts';
import { askSession, forgetFirm, hearSigning } from '../data/signing.ts';
import { forgetEntries, readKept } from '../data/outbox/entries.ts';
import { recordFacts, sendOutbox } from '../data/outbox/outbox.ts';
import { selectApart, selectOwnPending } from '../data/outbox/state.ts';
import { hasCode, setCode, shut } from '../data/lock.ts';
import { keepAnswer, keptAnswer } from '../data/kept/store.ts';
import { personChosen, selectActing, selectMay, tellsOfOthers, told } from '../data/session.ts';
import { makeStore, type AppStore } from '../data/store.ts';
import { happened, JOB, WHO } from '../testing/jobContext.tsx';
import { renderIn } from '../testing/renderIn.tsx';
import { serve } from '../testing/serve.ts';
import { sessionOf, signInAs } from '../testing/signedIn.ts';
import { Shell } from './Shell.tsx';

const OTHER = '5f0c4b1e-7777-4777-a777-000000000009';
const imra = { id: WHO, name: 'Imra Tole', role: 'owner' } as const;
const odo = { id: OTHER, name: 'Odo Finch', role: 'reader' } as const;
const nobody: Session = { ...sessionOf(), begun: true };
const problem = (code: string, status: number, title: string) => ({
  status,
  json: { type: `urn:katharos:problem:${code}`, title, status },
});

beforeEach(async () => {
  localStorage.clear();
  sessionStorage.clear();
  // what the tests before left
  await forgetEntries((await readKept()).entries.map((e) => e.id));
  await forgetEntries((await readKept()).refused.map((r) => r.entry.id));
});
afterEach(cleanup);
const opened = (store: AppStore, session: Session): void => {
  act(() => void store.dispatch(told({ session })));
};

describe('a device on which nobody is signed in', () => {
  test('shows nothing of the firm, asks for a name and its password, and lets in', async () => {
    const asked = serve({
      'POST session': (body) =>
        (body as { password: string }).password === 'kettle orchard tin'
          ? { status: 201, json: sessionOf(imra) }
          : problem('wrong-password', 401, 'That name and password do not belong together'),
    });
    const { store } = renderIn(<Shell />);
    opened(store, nobody);
    expect(screen.queryByRole('navigation')).toBeNull();
    await userEvent.type(screen.getByLabelText('Name'), 'imra tole');
    await userEvent.type(screen.getByLabelText('Password'), 'wrong');
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }));
    expect((await screen.findByRole('alert')).textContent).toContain('do not belong together');
    await userEvent.clear(screen.getByLabelText('Password'));
    await userEvent.type(screen.getByLabelText('Password'), 'kettle orchard tin');
    await userEvent.click(screen.getByRole('checkbox'));
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }));
    expect(await screen.findByRole('navigation')).toBeTruthy();
    expect(asked.filter((a) => a.path === 'session').at(-1)?.body).toMatchObject({ name: 'imra tole', remember: true });
  });
  test('of the demo lets in by a click on a name, with what each may do beside it', async () => {
    serve({ 'POST session/click': () => ({ status: 201, json: sessionOf(odo) }) });
    const { store } = renderIn(<Shell />);
    opened(store, { ...nobody, click: [imra, odo] });
    await userEvent.click(screen.getByRole('button', { name: /Odo Finch.*reader: looks/ }));
    await waitFor(() => {
      expect(selectActing(store.getState())).toEqual(odo);
    });
    expect(screen.queryByText('People')).toBeNull();
  });
  test('of a firm that nobody owns says how it begins; without a server it says that', async () => {
    serve({ 'GET session': () => 'away' });
    const { store } = renderIn(<Shell />);
    await act(() => store.dispatch(askSession()));
    expect(screen.getByText('The server does not answer')).toBeTruthy();
    opened(store, { ...nobody, begun: false });
    expect(screen.getByText('Nobody owns this firm yet')).toBeTruthy();
    expect(screen.queryByLabelText('Password')).toBeNull();
  });
});

describe('who is signed in', () => {
  test('is remembered for when the server is away, for the days of the house rules', () => {
    signInAs(makeStore(), WHO);
    expect(makeStore().getState().session).toMatchObject({ personId: WHO, door: 'in' });
    const kept = JSON.parse(localStorage.getItem('katharos.signed') ?? '{}') as { at: number };
    localStorage.setItem('katharos.signed', JSON.stringify({ ...kept, at: kept.at - 31 * 86400000 }));
    expect(makeStore().getState().session).toMatchObject({ personId: null, door: 'asking' });
    localStorage.setItem('katharos.signed', '{"personId":"nobody"}');
    expect(makeStore().getState().session.door).toBe('asking');
  });
  test('on a device that is not to be remembered, is known as long as the tab is open', () => {
    makeStore().dispatch(told({ session: { ...sessionOf(imra), remembered: false } }));
    expect(localStorage.getItem('katharos.signed')).toBeNull();
    expect(makeStore().getState().session).toMatchObject({ personId: WHO, door: 'in' });
    sessionStorage.clear();
    expect(makeStore().getState().session.door).toBe('asking');
  });
  test('is asked for when another tab tells of somebody else, and not when it only heard the server again', () => {
    const now = { personId: WHO, here: [imra], days: 30, at: 1 };
    const text = JSON.stringify(now);
    expect(tellsOfOthers(text, JSON.stringify({ ...now, at: 2 }))).toBe(false);
    expect(tellsOfOthers(text, JSON.stringify({ ...now, here: [imra, odo] }))).toBe(true);
    expect([tellsOfOthers(text, null), tellsOfOthers(null, text), tellsOfOthers(null, null)]).toEqual([
      true,
      true,
      false,
    ]);
  });
  test('if nobody is when the page opens, what was kept for work without signal goes; what is typed stays', async () => {
    await keepAnswer('rounds', { some: 'thing' });
    localStorage.setItem('katharos.draft', 'half typed');
    serve({ 'GET session': () => ({ json: { ...sessionOf(), person: null, here: [] } }) });
    const store = makeStore();
    await store.dispatch(askSession());
    expect(store.getState().session.door).toBe('out');
    await waitFor(async () => {
      expect(await keptAnswer('rounds')).toBeNull();
    });
    expect(localStorage.getItem('katharos.draft')).toBe('half typed');
  });
  test('once told, has asked for anew what was refused before, and nothing else', async () => {
    let refused = false;
    const asked = serve({
      'GET session': () => ({ json: sessionOf(imra) }),
      'GET rounds/coming': () => (refused ? { status: 401, json: {} } : { json: { visits: [] } }),
    });
    const coming = async (): Promise<number> => {
      const store = makeStore();
      asked.length = 0;
      const looking = store.dispatch(api.endpoints.getComing.initiate(null));
      await Promise.all(store.dispatch(api.util.getRunningQueriesThunk()));
      refused = false;
      await store.dispatch(askSession());
      await Promise.all(store.dispatch(api.util.getRunningQueriesThunk()));
      looking.unsubscribe();
      localStorage.clear();
      return asked.filter((a) => a.path === 'rounds/coming').length;
    };
    expect(await coming()).toBe(1);
    refused = true;
    expect(await coming()).toBe(2);
  });
  test('may be another of those who are, and nobody else', () => {
    const store = makeStore();
    store.dispatch(told({ session: sessionOf(imra, odo) }));
    store.dispatch(personChosen(OTHER));
    expect([selectMay(store.getState(), 'GET /rounds'), selectMay(store.getState(), 'POST /households')]).toEqual([
      true,
      false,
    ]);
    // the server asked again knows them both: who acts stays
    store.dispatch(told({ session: sessionOf(imra, odo) }));
    expect(store.getState().session.personId).toBe(OTHER);
    store.dispatch(personChosen('5f0c4b1e-7777-4777-a777-00000000000a'));
    expect(store.getState().session.personId).toBe(OTHER);
  });
  test('who is let in no more while the page is open is asked again on top of it', async () => {
    serve({ 'GET session': () => ({ json: nobody }) });
    const { store } = renderIn(<Shell />, WHO);
    expect(screen.getByRole('navigation')).toBeTruthy();
    await act(() => store.dispatch(askSession()));
    expect(await screen.findByText('Sign in again')).toBeTruthy();
    expect(screen.getByRole('navigation', { hidden: true })).toBeTruthy();
  });
  test('who acts from now on is told when it is not who did', async () => {
    serve({ 'GET session': () => ({ json: sessionOf(odo) }) });
    const { store } = renderIn(<Shell />);
    opened(store, sessionOf(imra, odo));
    // she is let in no more; he still is
    await act(() => store.dispatch(askSession()));
    const { notifications, queue } = notificationsStore.getState();
    const said = [...notifications, ...queue].map((n) => n.message);
    expect(said).toContain('From now on this is written as Odo Finch.');
  });
  test('a device the owner ended shows and keeps nothing of the firm; what was not sent waits apart', async () => {
    serve({ 'GET session': () => ({ json: { ...nobody, ended: true } }), [`POST jobs/${JOB}/facts`]: () => 'away' });
    const { store } = renderIn(<Shell />, WHO);
    await act(() => store.dispatch(recordFacts([happened({ kind: 'note', text: 'seen' })])));
    localStorage.setItem('katharos.draft.x', 'half typed');
    await act(() => store.dispatch(askSession()));
    expect(screen.getByText('This device was ended by the owner of the firm')).toBeTruthy();
    expect(screen.queryByRole('navigation')).toBeNull();
    expect(Object.keys(localStorage).filter((k) => k.startsWith('katharos.'))).toEqual([]);
    expect(store.getState().outbox.pending).toHaveLength(1);
    expect(screen.getByText('1 not sent')).toBeTruthy();
    // for the tests after this one
    serve({ [`POST jobs/${JOB}/facts`]: () => ({ status: 201, json: { stored: 1 } }) });
    await act(() => store.dispatch(sendOutbox()));
  });
  test('who signs out in one tab is out in the others of the device, which show nothing of the firm any more', () => {
    serve({});
    const { store } = renderIn(<Shell />, WHO);
    store.dispatch(hearSigning());
    act(() => {
      window.dispatchEvent(new StorageEvent('storage', { key: 'katharos.left', newValue: '1' }));
    });
    expect(store.getState().session).toMatchObject({ door: 'out', personId: null });
    expect(screen.queryByRole('navigation')).toBeNull();
  });
  test('signing out names what is not sent first', async () => {
    serve({ 'POST session/end': () => ({ json: nobody }), 'POST jobs': () => 'away' });
    const { store } = renderIn(<Shell />, WHO);
    await userEvent.click(screen.getByRole('button', { name: /Working as Imra Tole/ }));
    await userEvent.click(
      (await screen.findAllByRole('menuitem', { hidden: true })).find(
        (i) => i.textContent === 'Sign out, password, code',
      ) ?? document.body,
    );
    expect(await screen.findByText(/forgets what it knows/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Sign out here' }));
    await waitFor(() => {
      expect(store.getState().session.door).toBe('out');
    });
    expect(localStorage.getItem('katharos.signed')).toBeNull();
  });
});

describe('what waits on a device', () => {
  test('goes in the name of who made it, and waits for who is not signed in', async () => {
    const sent: { by: string; header: string | null }[] = [];
    globalThis.fetch = ((url: string, init?: { body?: string; headers?: Record<string, string> }) => {
      if (!url.includes('/facts')) return Promise.resolve(new Response(JSON.stringify(sessionOf(odo))));
      for (const f of (JSON.parse(init?.body ?? '{}') as { facts: { by: string }[] }).facts)
        sent.push({ by: f.by, header: init?.headers?.['katharos-person'] ?? null });
      return Promise.resolve(new Response('{"stored":1}', { status: 201 }));
    }) as unknown as typeof fetch;
    const store = makeStore();
    store.dispatch(told({ session: sessionOf(odo) }));
    const mine = happened({ kind: 'note', text: 'Imra’s' });
    const his = { ...happened({ kind: 'note', text: 'Odo’s' }), by: OTHER };
    await store.dispatch(recordFacts([mine, his]));
    expect(sent).toEqual([{ by: OTHER, header: OTHER }]);
    expect([selectApart(store.getState()).length, selectOwnPending(store.getState()).length]).toEqual([1, 0]);
    store.dispatch(told({ session: sessionOf(odo, imra) }));
    await store.dispatch(recordFacts([{ ...happened({ kind: 'note', text: 'again' }), by: OTHER }]));
    expect(sent.map((s) => [s.by, s.header])).toEqual([
      [OTHER, OTHER],
      [WHO, WHO],
      [OTHER, OTHER],
    ]);
    expect(store.getState().outbox.pending).toEqual([]);
  });
  test('of somebody the server lets in no more waits, and nobody’s waits behind it', async () => {
    globalThis.fetch = ((url: string, init?: { headers?: Record<string, string> }) => {
      if (!url.includes('/facts')) return Promise.resolve(new Response(JSON.stringify(sessionOf(odo))));
      const who = init?.headers?.['katharos-person'];
      return Promise.resolve(new Response('{}', { status: who === WHO ? 401 : 201 }));
    }) as unknown as typeof fetch;
    const store = makeStore();
    store.dispatch(told({ session: sessionOf(imra, odo) }));
    await store.dispatch(
      recordFacts([happened({ kind: 'note', text: 'one' }), { ...happened({ kind: 'note', text: 'two' }), by: OTHER }]),
    );
    expect(store.getState().outbox.pending).toHaveLength(1);
    await waitFor(() => {
      expect(selectApart(store.getState())).toHaveLength(1);
    });
  });
  test('that is not somebody’s to do is put aside with the reason, to be sent again or dropped', async () => {
    let allowed = false;
    serve({});
    globalThis.fetch = () =>
      Promise.resolve(
        allowed
          ? new Response('{"stored":1}', { status: 201 })
          : new Response(JSON.stringify(problem('not-allowed', 403, 'That is not yours to do here').json), {
              status: 403,
            }),
      );
    const { store } = renderIn(<Shell />, WHO);
    await act(() => store.dispatch(recordFacts([happened({ kind: 'note', text: 'seen' })])));
    await userEvent.click(screen.getByText('1 refused'));
    expect(await screen.findByText(/note: That is not yours to do here/)).toBeTruthy();
    allowed = true;
    await userEvent.click(screen.getByRole('button', { name: 'Send it again', hidden: true }));
    await waitFor(() => {
      expect(store.getState().outbox).toMatchObject({ pending: [], refused: [] });
    });
  });
  test('is behind the code of who made it: somebody else who signs in there opens the device for themselves alone', async () => {
    await setCode(WHO, '4711');
    shut();
    serve({ 'POST session': () => ({ status: 201, json: { ...sessionOf(odo, imra), person: odo } }) });
    const { store } = renderIn(<Shell />, WHO);
    expect(screen.queryByRole('navigation')).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Forgotten' }));
    await userEvent.type(screen.getByLabelText('Name'), 'Odo Finch');
    await userEvent.type(screen.getByLabelText('Password'), 'kettle orchard tin');
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }));
    expect(await screen.findByRole('navigation')).toBeTruthy();
    expect([store.getState().session.personId, hasCode(WHO)]).toEqual([OTHER, true]);
    act(() => {
      store.dispatch(personChosen(WHO));
    });
    expect(screen.queryByRole('navigation')).toBeNull();
  });
  test('stays when the device forgets the firm', () => {
    localStorage.setItem('katharos.signed', '{}');
    localStorage.setItem('mantine-color-scheme-value', 'dark');
    forgetFirm();
    expect(Object.keys(localStorage)).toEqual(['mantine-color-scheme-value']);
  });
});
