import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { house } from '@katharos/core/testing';
import { decide, DesignVersionSchema, proposalOf, type DesignVersion, type FlipPoint } from '@katharos/core';
import { cleanup, within, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { AppStore } from '../../data/store.ts';
import { JobProvider } from '../../job/JobProvider.tsx';
import type { JobContext } from '../../job/useJob.ts';
import { happened, JOB, jobOf, readings, show, WHO } from '../../testing/jobContext.tsx';
import { workInPage } from '../../testing/inPageWorker.ts';
import { renderIn } from '../../testing/renderIn.tsx';
import { serve } from '../../testing/serve.ts';
import { stepOf } from '../../ui/Scrub.tsx';
import { FlipScale } from './FlipScale.tsx';
import { OpenQuestions } from './OpenQuestions.tsx';
import Size from './Size.tsx';
import { decided } from '@katharos/core/testing/decided';

const page = (job: JobContext): AppStore =>
  renderIn(
    <JobProvider job={job} facts={job}>
      <Size />
    </JobProvider>,
    WHO,
  ).store;

workInPage();
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
    expect(screen.getByText(/A permeate pump, driven by the drain’s own water/)).toBeTruthy();
    expect(screen.getAllByRole('button', { name: /^Take this/ }).length).toBeGreaterThanOrEqual(2);
    expect(screen.getByText(/softening for the whole house/)).toBeTruthy();
    expect(screen.getByText('Nothing is approved yet: the Line shows the proposal.')).toBeTruthy();
  });
  test('the others stand side by side; caring for one thing most tries another order', async () => {
    const store = page(jobOf(readings(), false));
    const table = screen.getByRole('table', { name: 'Others that do, side by side' });
    for (const row of ['Room', 'Electricity', 'Wait', 'To the drain', 'Cost', 'Taste', 'Upkeep'])
      expect(within(table).getByRole('rowheader', { name: row })).toBeTruthy();
    expect(within(table).getAllByRole('columnheader').length).toBeGreaterThanOrEqual(3);
    const best = table.querySelectorAll('[data-best="true"]');
    expect(best.length).toBeGreaterThanOrEqual(3);
    await userEvent.click(within(table).getByRole('button', { name: 'To the drain' }));
    expect(store.getState().session.trial).toMatchObject({ values: { caresMost: 'waste' }, by: 'scrubbing' });
  });
  test('a question that is open is asked of what is approved: it stays, where an answer lets in what is no better', async () => {
    const job = jobOf(readings(), false);
    const advised = job.decision.value;
    const other = advised?.kind === 'recommendation' && advised.alternatives.find((a) => a.title === 'Quickest refill');
    if (!other) throw new Error('nothing fills quicker');
    const standing = other.evaluation.design;
    const decision = decide({ known: job.known, catalogue: job.parts, rules: job.rules, standing });
    show(<OpenQuestions decision={decision} />, { ...job, standing });
    const minerals = await screen.findByText(/, if “yes”: .*Mineral cartridge/);
    // without what is approved another element and restrictor would come with it
    expect(minerals.textContent).toMatch(/if “yes”: minerals: Mineral cartridge, small$/);
  });
  test('what is cared for most is marked, and let go again', async () => {
    const store = page(jobOf(readings({ ...house, caresMost: 'waste' }), false));
    const table = screen.getByRole('table', { name: 'Others that do, side by side' });
    const row = within(table).getByRole('rowheader', { name: 'To the drain' });
    expect(within(row).getByRole('button').getAttribute('aria-pressed')).toBe('true');
    await userEvent.click(screen.getByRole('button', { name: 'a bit of everything again.' }));
    expect(store.getState().session.trial?.values).toEqual({ caresMost: 'balanced' });
  });
  test('figures that a drawn day gives say so', () => {
    const day = happened({ kind: 'habits', draws: [{ minute: 420, litres: 8 }] }, 5);
    page(jobOf([...readings(), day], false));
    expect(screen.getAllByText('their day, as drawn')).toHaveLength(2);
    expect(screen.getByRole('slider', { name: 'Litres a day' }).textContent).toBe('8 L/day');
  });
  test('what was assumed is told from what was read', () => {
    const known = { ...house };
    delete known.hardnessMgL;
    page(jobOf(readings(known), false));
    expect(screen.getByText('assumed: about 50 % of the TDS in mains water')).toBeTruthy();
  });
  test('approving sends the design with its sentence, person and the version it follows', async () => {
    const job = jobOf(readings(), false);
    const asked = serve({
      [`POST jobs/${JOB}/designs`]: (body) => ({ status: 201, json: (body as { version: object }).version }),
    });
    page(job);
    await userEvent.click(screen.getByRole('button', { name: 'Approve this design' }));
    await waitFor(() => {
      expect(asked.find((a) => a.method === 'POST')?.body).toMatchObject({
        version: {
          number: 1,
          by: WHO,
          judged: { sentence: job.decision.value?.sentence },
        },
      });
    });
  });
  test('an approved design stands as it was; what is otherwise since is told with what it would change', () => {
    const job = jobOf(readings(), true);
    const sentence = job.approved?.judged.sentence ?? '';
    page({ ...job, rules: { ...job.rules, spareCapacity: 2 } });
    expect(screen.getByText(sentence)).toBeTruthy();
    expect(screen.getByText(/Version 1 is kept as approved. Sized anew it would be the same parts/)).toBeTruthy();
    expect(screen.getByText(/^House rule, .*: 2 now, 1.5 when it was approved/)).toBeTruthy();
    cleanup();
    const parts = job.parts.map((p) => (p.kind === 'tank' ? { ...p, price: 1 } : p));
    const known = { ...job.known, runningPressureBar: 1.6, staticPressureBar: 2 };
    const wider = decided({ known, catalogue: parts, rules: job.rules });
    if (wider.kind !== 'recommendation') throw new Error(wider.sentence);
    const moved = { ...job, parts, known, record: { ...job.record, known }, design: wider.chosen.design };
    page({
      ...moved,
      decision: { value: wider, fresh: true, error: null },
      asRead: wider,
      proposal: proposalOf(wider),
    });
    expect(screen.getByText(sentence)).toBeTruthy();
    expect(screen.getByText(/The readings now lead to another: /).textContent).toContain(wider.sentence);
    expect(screen.getByText(/^The shelf now says of Tank .*: price 1, was/)).toBeTruthy();
    expect(screen.getByText(/ reads 1.6 bar now, .* bar when it was approved/)).toBeTruthy();
  });
  test('why a design was taken against the advice is told also once nothing differs', () => {
    const job = jobOf(readings(), true);
    if (!job.approved) throw new Error('not approved');
    page(job);
    expect(screen.queryByText(/Taken against the advice/)).toBeNull();
    cleanup();
    const judged = { ...job.approved.judged, against: 'Put in a smaller one.' };
    page({ ...job, approved: { ...job.approved, judged, reason: 'They want more in store.' } });
    expect(screen.getByText(/^Version 1 approved/).textContent).toContain(
      'Taken against the advice, which was: Put in a smaller one. Why: They want more in store.',
    );
    expect(screen.queryByText(/is kept as approved/)).toBeNull();
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
    const store = page(job);
    await userEvent.click(screen.getByRole('button', { name: 'Approve this design' }));
    await waitFor(() => {
      expect(store.getState().outbox).toMatchObject({
        link: 'away',
        pending: [{ write: 'design', jobId: JOB, body: { number: 1 } }],
      });
    });
    expect(screen.queryByRole('alert')).toBeNull();
  });
  test('a cold line not told from the hot holds the approval back', () => {
    page(jobOf(readings({ ...house, coldLine: 'no' }), false));
    expect(screen.getByRole('button', { name: 'Approve this design' })).toHaveProperty('disabled', true);
    expect(screen.getByText(/Held back until the caution above is settled/)).toBeTruthy();
  });
  test('another than the recommended wants its reason', async () => {
    page(jobOf(readings(), false));
    await userEvent.click(screen.getAllByRole('button', { name: /^Take this/ })[0] ?? document.body);
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
    page(jobOf(readings({ ...house, source: 'well', laboratory: 'none' }), false));
    expect(screen.getByText('Not sized: this water is referred first.')).toBeTruthy();
    expect(screen.getByText(/Have raw water sampled by a laboratory/)).toBeTruthy();
    cleanup();
    page(jobOf(readings({ ...house, cupboardHeightMm: 400 }), false));
    expect(screen.getByText(/^Nothing on the shelf does here/)).toBeTruthy();
  });
  test('a referral lists what the laboratory is asked for and what would do, to speak of only', async () => {
    page(jobOf(readings({ ...house, source: 'well', laboratory: 'none' }), false));
    expect(screen.getByText(/E\. coli, enterococci/)).toBeTruthy();
    expect(await screen.findByText(/^Provisional: Put in/, {}, { timeout: 15000 })).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Approve/ })).toBeNull();
  });
  test('a refusal says what would change it, and the nearest is taken against the advice', async () => {
    page(jobOf(readings({ ...house, largestDrawL: 60, storeWish: 'tank' }), false));
    expect(await screen.findByText(/^The largest draw in parts of/, {}, { timeout: 20000 })).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Take it against the advice' }));
    const dialog = await screen.findByRole('dialog');
    expect(within(dialog).getByRole('button', { name: 'Approve this one' })).toHaveProperty('disabled', true);
    await userEvent.type(within(dialog).getByLabelText('Why'), 'They move the shelf.');
    expect(within(dialog).getByRole('button', { name: 'Approve this one' })).toHaveProperty('disabled', false);
  });
  test('where each design’s worth comes from adds up, in the firm’s money', () => {
    page(jobOf(readings(), false));
    const table = screen.getByRole('table', { name: 'Where their worth comes from', hidden: true });
    const column = [...table.querySelectorAll('tbody tr')].map((r) => Number(r.querySelector('td')?.textContent));
    const total = column.at(-1) ?? Number.NaN;
    const sum = column.slice(0, -1).reduce((x, y) => x + y, 0);
    // each is rounded to two digits
    expect(Math.abs(sum - total)).toBeLessThan(0.06 * Math.abs(total) + 10);
    expect(screen.getByText(/a booster pump counts 250 crowns/)).toBeTruthy();
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
    below: 'It fills too little.',
    above: null,
    sentence: 'holds from 3.0 bar; read 3 bar ± 0.10',
    near: true,
  };
  test('near the reading is marked and says what lies beyond; far from it does not', () => {
    render(<FlipScale flip={flip} beyond={flip.below} />);
    expect(document.querySelector('.flip')?.getAttribute('data-near')).toBe('true');
    expect(screen.getByText('Beyond: it fills too little.')).toBeTruthy();
    expect(document.querySelectorAll('.flip-edge')).toHaveLength(1);
    cleanup();
    render(<FlipScale flip={{ ...flip, holdsFrom: 1, holdsTo: 6, near: false }} beyond={null} />);
    expect(document.querySelector('.flip')?.getAttribute('data-near')).toBe('false');
    expect(document.querySelectorAll('.flip-edge')).toHaveLength(2);
  });
});

describe('another figure tried', () => {
  test('is set by the arrow keys on it, never recorded, and ended by Home', async () => {
    const job = jobOf(readings(), false);
    const store = page(job);
    const figure = screen.getByRole('slider', { name: 'Coldest of the year' });
    expect(figure.getAttribute('aria-valuenow')).toBe('8');
    figure.focus();
    await userEvent.keyboard('{ArrowLeft}');
    expect(store.getState().session.trial).toMatchObject({ jobId: JOB, by: 'scrubbing', values: { coldestC: 7.9 } });
    expect(job.added).toEqual([]);
    await userEvent.keyboard('{Home}');
    expect(store.getState().session.trial).toBeNull();
  });
  test('takes along what cannot stay: a running pressure above the static one', async () => {
    const store = page(jobOf(readings(), false));
    screen.getByRole('slider', { name: 'Running pressure' }).focus();
    for (let i = 0; i < 3; i++) await userEvent.keyboard('{PageUp}');
    const values = store.getState().session.trial?.values ?? {};
    expect(values.runningPressureBar).toBeGreaterThan(3.5);
    expect(values.staticPressureBar ?? 4).toBeGreaterThanOrEqual(Number(values.runningPressureBar));
  });
  test('shows what it changes beside the readings, cannot be approved, and goes back by its button', async () => {
    const read = jobOf(readings(), false);
    const colder = jobOf(readings({ ...house, coldestC: 3, temperatureC: 3 }), false);
    const store = page({
      ...colder,
      record: read.record,
      trial: { jobId: JOB, values: { coldestC: 3 }, by: 'scrubbing' },
      asRead: read.decision.value,
    });
    expect(screen.getByText(/coldest of the year 3 °C \(read 8 °C\)/)).toBeTruthy();
    expect(screen.getByText(`As read: ${read.decision.value?.sentence ?? ''}`)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Approve this design' })).toHaveProperty('disabled', true);
    await userEvent.click(screen.getByRole('button', { name: /Back to the readings/ }));
    expect(store.getState().session.trial).toBeNull();
  });
  test('steps are round: a two-hundredth of the range as 1, 2 or 5 times a power of ten', () => {
    expect([stepOf(0, 200), stepOf(1, 25), stepOf(0.3, 8), stepOf(20, 4000)]).toEqual([1, 0.1, 0.05, 20]);
  });
});

describe('cautions before approval', () => {
  test('hold the button back until each is read and told, and are recorded with the approval', async () => {
    const known = { ...house, stopValveHolds: 'no' };
    const job = jobOf(readings(known), false);
    serve({ [`POST jobs/${JOB}/designs`]: (body) => ({ status: 201, json: (body as { version: object }).version }) });
    page(job);
    const button = screen.getByRole('button', { name: 'Approve this design' });
    expect(button).toHaveProperty('disabled', true);
    await userEvent.click(screen.getByRole('checkbox', { name: 'Read and told to the household' }));
    await userEvent.click(button);
    await waitFor(() => {
      expect(job.added).toMatchObject([
        { kind: 'note', about: 'approval 1', text: expect.stringContaining('main valve') },
      ]);
    });
  });
});

describe('something else than a membrane', () => {
  test('is as well told as a recommendation: why, and what instead', () => {
    page(jobOf(readings({ ...house, aim: 'taste' }), false));
    expect(screen.getByText(/carbon alone answers/)).toBeTruthy();
    expect(screen.getByText('What to do instead')).toBeTruthy();
    expect(screen.getByText(/It does not take out salt/)).toBeTruthy();
  });
  test('is approved like any other where filters do: its version has no membrane, and its own sentence', async () => {
    const job = jobOf(readings({ ...house, aim: 'taste' }), false);
    let sent: DesignVersion | undefined;
    serve({
      [`POST jobs/${JOB}/designs`]: (body) => {
        sent = (body as { version: DesignVersion }).version;
        return { status: 201, json: sent };
      },
    });
    page(job);
    await userEvent.click(screen.getByRole('button', { name: 'Approve these filters' }));
    await waitFor(() => {
      expect(sent?.judged.sentence).toMatch(/^Carbon at its own tap, without a membrane/);
    });
    expect(DesignVersionSchema.safeParse(sent).error).toBeUndefined();
    expect(sent?.system.components.map((c) => c.kind)).not.toContain('membrane');
    expect(sent?.judged.against).toBe('');
  });
  test('does not hide what was approved before: it stands, and says that the readings lead elsewhere', () => {
    const standing = jobOf(readings(), true);
    const now = jobOf(
      [...readings(), happened({ kind: 'reading', field: 'aim', value: 'taste', typed: 'taste' })],
      false,
    );
    page({
      ...standing,
      record: now.record,
      known: now.known,
      decision: now.decision,
      proposal: now.proposal,
      design: null,
    });
    expect(screen.getByText(standing.approved?.judged.sentence ?? '?')).toBeTruthy();
    expect(screen.getByText(/The readings now lead to another: No reverse osmosis needed/)).toBeTruthy();
    expect(screen.getByText(/^element: .* in version 1, none now$/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Approve as a new version' })).toHaveProperty('disabled', false);
  });
});
