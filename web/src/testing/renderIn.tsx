import { MantineProvider } from '@mantine/core';
import { render } from '@testing-library/react';
import type { ReactElement } from 'react';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import { makeStore, type AppStore } from '../data/store.ts';
import { signInAs } from './signedIn.ts';

/** Renders an element as the page does: in a store, a theme and a router. @param by who works; nobody if left out */
export function renderIn(element: ReactElement, by?: string): ReturnType<typeof render> & { readonly store: AppStore } {
  const store = makeStore();
  if (by !== undefined) signInAs(store, by);
  const shown = render(
    <Provider store={store}>
      <MantineProvider env="test">
        <MemoryRouter>{element}</MemoryRouter>
      </MantineProvider>
    </Provider>,
  );
  return { ...shown, store };
}
