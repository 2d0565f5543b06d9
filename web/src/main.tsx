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
import { z } from 'zod';
import { fetchAhead } from './app/lensScripts.ts';
import { makeStore } from './app/store.ts';
import { router } from './app/router.tsx';
import { theme } from './app/theme.ts';
import { outboxActions, restoreOutbox, sendOutbox } from './store/outbox.ts';

// zod would try eval, which the content security policy forbids
z.config({ jitless: true });

const store = makeStore();
fetchAhead(location.pathname, store);
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
