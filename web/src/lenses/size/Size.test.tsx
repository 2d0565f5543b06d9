import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { FlipPoint } from '@katharos/core';
import { MantineProvider } from '@mantine/core';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import { makeStore } from '../../app/store.ts';
import { JobContext } from '../../app/useJob.ts';
import { personChosen } from '../../store/session.ts';
import { HOUSE, JOB, jobOf, readings, WHO } from '../../testing/jobContext.tsx';
import { serve } from '../../testing/serve.ts';
import { FlipScale } from './FlipScale.tsx';
import Size from './Size.tsx';

function page(job: JobContext): void {
  const store = makeStore();
  store.dispatch(personChosen(WHO));
  render(
    <Provider store={store}>
      <MantineProvider>
        <MemoryRouter>
          <JobContext value={job}>
            <Size />
          </JobContext>
        </MemoryRouter>
      </MantineProvider>
    </Provider>,
  );
}

beforeEach(() => {
  localStorage.clear();
  serve({});
});
afterEach(cleanup);

describe('sizing on the page', () => {
  test('the decision stands first, with reasons, alternatives and what is not judged', () => {
    const job = jobOf(readings(), false);
    page(job);
    expect(screen.getByText(job.decision.value?.sentence ?? '')).toBeTruthy();
    expect(screen.getByText(/No booster pump: 3.5 bar at the worst hour is enough/)).toBeTruthy();
    expect(screen.getAllByRole('button', { name: 'Take this' }).length).toBeGreaterThanOrEqual(2);
    expect(screen.getByText(/direct systems without a tank; ultraviolet/)).toBeTruthy();
    expect(screen.getByText('Nothing is approved yet: the Line shows the proposal.')).toBeTruthy();
  });
  test('what was assumed is told from what was read', () => {
    const known = { ...HOUSE };
    delete known.hardnessMgL;
    page(jobOf(readings(known), false));
    expect(screen.getByText('assumed: about 50 % of the TDS in mains water')).toBeTruthy();
  });
  test('approving sends the design with its sentence, person and the version it follows', async () => {
    const job = jobOf(readings(), false);
    const asked = serve({
      [`POST jobs/${JOB}/designs`]: (body) => ({ status: 201, json: { ...(body as object), number: 1 } }),
    });
    page(job);
    await userEvent.click(screen.getByRole('button', { name: 'Approve this design' }));
    await waitFor(() => {
      expect(asked.find((a) => a.method === 'POST')?.body).toMatchObject({
        basedOn: 0,
        by: WHO,
        design: job.design,
        sentence: job.decision.value?.sentence,
      });
    });
  });
  test('an approval that came too late says so', async () => {
    const job = jobOf(readings(), false);
    const current = { ...jobOf(readings(), true).approved, number: 4 };
    serve({
      [`POST jobs/${JOB}/designs`]: () => ({
        status: 409,
        json: {
          type: 'urn:katharos:problem:stale',
          title: 'Somebody else changed this meanwhile',
          status: 409,
          current,
        },
      }),
    });
    page(job);
    await userEvent.click(screen.getByRole('button', { name: 'Approve this design' }));
    expect((await screen.findByRole('alert')).textContent).toContain('Version 4 was approved meanwhile');
  });
  test('a server that is away loses nothing', async () => {
    const job = jobOf(readings(), false);
    serve({ [`POST jobs/${JOB}/designs`]: () => 'away' });
    page(job);
    await userEvent.click(screen.getByRole('button', { name: 'Approve this design' }));
    expect((await screen.findByRole('alert')).textContent).toContain('The server does not answer');
  });
  test('a cold line not told from the hot holds the approval back', () => {
    page(jobOf(readings({ ...HOUSE, coldLine: 'no' }), false));
    expect(screen.getByRole('button', { name: 'Approve this design' })).toHaveProperty('disabled', true);
    expect(screen.getByText(/Held back until the caution above is settled/)).toBeTruthy();
  });
  test('another than the recommended wants its reason', async () => {
    page(jobOf(readings(), false));
    await userEvent.click(screen.getAllByRole('button', { name: 'Take this' })[0] ?? document.body);
    const approve = await screen.findByRole('button', { name: 'Approve this one' });
    expect(approve).toHaveProperty('disabled', true);
    await userEvent.type(screen.getByLabelText('Why'), 'More store.');
    expect(approve).toHaveProperty('disabled', false);
  });
  test('missing readings, a referral and a refusal are each told with what to do', () => {
    page(jobOf([], false));
    expect(screen.getByText(/To size this house, read first/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Go on gauging' })).toBeTruthy();
    cleanup();
    page(jobOf(readings({ ...HOUSE, source: 'well', laboratory: 'none' }), false));
    expect(screen.getByText('Not sized: this water is referred first.')).toBeTruthy();
    expect(screen.getByText(/Have raw water sampled by a laboratory/)).toBeTruthy();
    cleanup();
    page(jobOf(readings({ ...HOUSE, cupboardWidthMm: 400, cupboardDepthMm: 500, cupboardHeightMm: 600 }), false));
    expect(screen.getByText(/^Nothing on the shelf does here/)).toBeTruthy();
  });
});

describe('a flip point', () => {
  const flip: FlipPoint = {
    field: 'runningPressureBar',
    label: 'pressure',
    unit: 'bar',
    reading: 3,
    error: 0.1,
    assumed: false,
    min: 0.3,
    max: 8,
    holdsFrom: 2.95,
    holdsTo: null,
    sentence: 'holds from 3.0 bar; read 3 bar ± 0.10',
    near: true,
  };
  test('near the reading is asked to be read again; far from it is not', () => {
    render(<FlipScale flip={flip} />);
    expect(screen.getByText(/Read again: it decides/)).toBeTruthy();
    expect(document.querySelectorAll('.flip-edge')).toHaveLength(1);
    cleanup();
    render(<FlipScale flip={{ ...flip, holdsFrom: 1, holdsTo: 6, near: false }} />);
    expect(screen.queryByText(/Read again/)).toBeNull();
    expect(document.querySelectorAll('.flip-edge')).toHaveLength(2);
  });
});
