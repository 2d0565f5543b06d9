import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider } from 'react-router';
import { jobAt } from './boot/prefetch.ts';
import { whenHandRests } from './boot/whenHandRests.ts';
import { countKept } from './data/kept/along.ts';
import { onShutOut } from './data/api.ts';
import { keepApplication } from './data/release.ts';
import { askSession, forgetAfterLong, hearSigning } from './data/signing.ts';
import { makeStore } from './data/store.ts';
import { router } from './app/router.tsx';
import { askJob } from './job/askJob.ts';
import { theme } from './app/theme.ts';
import { hearOtherTabs, restoreOutbox, sendOutbox } from './data/outbox/outbox.ts';
import { outboxActions } from './data/outbox/state.ts';
import { restorePictures, sendPictures } from './data/pictures.ts';

/** How long the first drawing waits for what it is about, in milliseconds; after that it says that it is coming. */
const FIRST_MS = 400;
/** The page rests so long before all of the application is put by for when there is no signal, ms. */
const REST_MS = 3000;

forgetAfterLong();
const store = makeStore();
store.dispatch(hearSigning());
onShutOut((dispatch) => dispatch(askSession() as never));
void store.dispatch(askSession());
void store.dispatch(restorePictures()).catch(() => undefined);
void store.dispatch(countKept());
store.dispatch(hearOtherTabs());
void store.dispatch(restoreOutbox()).catch(() => store.dispatch(outboxActions.closed()));
window.addEventListener('online', () => {
  void store.dispatch(askSession());
  void store.dispatch(sendOutbox());
  void store.dispatch(sendPictures());
});

/** What the job's page that was opened is about, asked before it is drawn: it finds it or the question. */
async function askAhead(): Promise<void> {
  const opened = jobAt(location.pathname);
  if (!opened) return;
  const asked = store.dispatch(askJob(opened.id));
  await Promise.race([asked, new Promise((resolve) => setTimeout(resolve, FIRST_MS))]);
}

function draw(): void {
  const root = document.getElementById('root');
  if (!root) return;
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
}
void askAhead().finally(() => {
  draw();
  whenHandRests(REST_MS, () => void store.dispatch(keepApplication()).catch(() => undefined));
});
