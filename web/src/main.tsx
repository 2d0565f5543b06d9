import '@fontsource-variable/ibm-plex-sans/index.css';
import '@mantine/core/styles.css';
import '@mantine/notifications/styles.css';
import './ui/katharos.css';
import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider } from 'react-router';
import { jobAt } from './app/ahead.ts';
import { api } from './app/api.ts';
import { makeStore } from './app/store.ts';
import { router } from './app/router.tsx';
import { theme } from './app/theme.ts';
import { outboxActions, restoreOutbox, sendOutbox } from './store/outbox.ts';

const store = makeStore();
const opened = jobAt(location.pathname);
if (opened) {
  // the page asks the same when it is drawn, and finds the answer or the question under way
  void store.dispatch(api.endpoints.getJob.initiate(opened.id, { subscribe: false }));
  void store.dispatch(api.endpoints.getShelf.initiate(null, { subscribe: false }));
}
void store.dispatch(restoreOutbox()).catch(() => store.dispatch(outboxActions.unreachable()));
window.addEventListener('online', () => void store.dispatch(sendOutbox()));

const root = document.getElementById('root');
if (root)
  createRoot(root).render(
    <StrictMode>
      <Provider store={store}>
        <MantineProvider theme={theme} defaultColorScheme="auto">
          <Notifications position="bottom-center" />
          <RouterProvider router={router} />
        </MantineProvider>
      </Provider>
    </StrictMode>,
  );
