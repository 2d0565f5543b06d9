import { MantineProvider } from '@mantine/core';
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, render, renderHook, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { makeStore } from '../data/store.ts';
import { outboxActions } from '../data/outbox.ts';
import { useDraft } from '../ui/useDraft.ts';
import { happened, WHO } from '../testing/jobContext.tsx';
import { serve } from '../testing/serve.ts';
import { isTyping } from '../ui/isTyping.ts';
import { PersonDialog } from './PersonDialog.tsx';
import { SendState } from './SendState.tsx';

const fact = happened({ kind: 'note', text: 'seen' });
function show(element: React.ReactElement): ReturnType<typeof makeStore> {
  const store = makeStore();
  render(
    <Provider store={store}>
      <MantineProvider>{element}</MantineProvider>
    </Provider>,
  );
  return store;
}
beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

describe('what waits to be sent', () => {
  test('is told in the strip: sent, waiting, away, refused', () => {
    const store = show(<SendState />);
    expect(screen.getByRole('status').textContent).toBe('all sent');
    act(() => void store.dispatch(outboxActions.added([fact])));
    expect(screen.getByRole('status').textContent).toBe('sending 1');
    act(() => void store.dispatch(outboxActions.unreachable()));
    expect(screen.getByRole('status').textContent).toBe('server away, 1 kept here');
    act(() => void store.dispatch(outboxActions.refused({ facts: [fact], reason: 'No.' })));
    expect(screen.getByRole('status').textContent).toBe('1 refused');
  });
  test('a fact restored twice stands once', () => {
    const store = show(<SendState />);
    act(() => void store.dispatch(outboxActions.restored({ facts: [fact], refused: [] })));
    act(() => void store.dispatch(outboxActions.restored({ facts: [fact], refused: [] })));
    expect(store.getState().outbox.pending).toEqual([fact]);
  });
});

describe('who works', () => {
  test('is chosen once and remembered on the device', async () => {
    const onClose = jest.fn();
    const store = show(<PersonDialog people={[{ id: WHO, name: 'Imra Tole' }]} opened mustChoose onClose={onClose} />);
    await userEvent.click(await screen.findByRole('button', { name: 'Imra Tole' }));
    expect(store.getState().session.personId).toBe(WHO);
    expect(makeStore().getState().session.personId).toBe(WHO);
    expect(onClose).toHaveBeenCalled();
  });
  test('somebody new is added, and a name already there is told', async () => {
    serve({
      'POST people': () => ({
        status: 422,
        json: {
          type: 'urn:x',
          title: 'Some values cannot be taken',
          status: 422,
          errors: [{ path: 'name', message: 'Somebody here has that name already.' }],
        },
      }),
    });
    show(<PersonDialog people={[]} opened mustChoose onClose={() => undefined} />);
    await userEvent.type(await screen.findByLabelText('Somebody else'), 'Ada');
    await userEvent.click(screen.getByRole('button', { name: 'Add and go on' }));
    await waitFor(() => {
      expect(screen.getByText(/Somebody here has that name already/)).toBeTruthy();
    });
  });
  test('a device that remembers nonsense asks again', () => {
    localStorage.setItem('katharos.person', 'nobody');
    expect(makeStore().getState().session.personId).toBeNull();
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
