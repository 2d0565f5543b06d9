import { expect, test } from '@jest/globals';
import { CORE_VERSION, householdTexts } from '@katharos/core';
import { rules, shelf } from '@katharos/core/testing';
import { decided } from '@katharos/core/testing/decided';
import { act, render, screen } from '@testing-library/react';
import { MantineProvider } from '@mantine/core';
import { Provider } from 'react-redux';
import { MemoryRouter, Route, Routes } from 'react-router';
import { makeStore } from '../data/store.ts';
import { askJob } from '../job/askJob.ts';
import { workInPage } from '../testing/inPageWorker.ts';
import { JOB } from '../testing/jobContext.tsx';
import { serve } from '../testing/serve.ts';
import { JobPage } from './JobPage.tsx';

workInPage();

test('a job that is all there at the first drawing has its household in the strip that is drawn with it', async () => {
  const household = { id: '5f0c4b1e-5555-4555-a555-000000000001', version: 0, ...householdTexts({ name: 'Mill Lane 2', place: 'Town' }) };
  const decision = decided({ known: {}, catalogue: shelf, rules });
  serve({
    [`GET jobs/${JOB}`]: () => ({ json: { id: JOB, household, facts: [], designs: [], unreadable: [] } }),
    'GET shelf': () => ({ json: { parts: shelf, partVersions: {}, rules, rulesVersion: 0, stamp: 'one', people: [], instruments: [] } }),
    [`GET jobs/${JOB}/decision`]: () => ({ json: { known: {}, placed: {}, standing: null, stamp: 'one', coreVersion: CORE_VERSION, decision, beside: null } }),
  });
  const store = makeStore();
  await act(() => store.dispatch(askJob(JOB)));
  render(
    <Provider store={store}>
      <MantineProvider env="test">
        <div id="strip-job" />
        <MemoryRouter initialEntries={[`/jobs/${JOB}/gauge`]}>
          <Routes>
            <Route path="/jobs/:id/:lens" element={<JobPage />} />
          </Routes>
        </MemoryRouter>
      </MantineProvider>
    </Provider>,
  );
  expect(screen.getByRole('button', { name: 'Mill Lane 2, edit the household' })).toBeTruthy();
}); // oxfmt-ignore
