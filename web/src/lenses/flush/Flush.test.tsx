import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import Flush from './Flush.tsx';

const base = readings();
const sheet = jobOf(base, true).view?.sheet ?? [];
const doneUpTo = (key: string) =>
  sheet
    .slice(
      0,
      sheet.findIndex((s) => s.key === key),
    )
    .map((s, i) => happened({ kind: 'tick', step: s.key, done: true }, 300 - i));

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

test('what was done before the design was changed in the middle is shown beside the new sheet', () => {
  const job = jobOf([...base, ...doneUpTo('fill-1')], true);
  const { approved } = job;
  if (!approved) throw new Error('nothing is approved');
  const [first, ...others] = approved.sheet;
  const gone = { ...approved.sheet[2], key: 'flush-gone', title: 'Flush what stood there' } as typeof first;
  const before = { ...approved, id: '5f0c4b1e-4444-4444-a444-00000000000b', sheet: [first, gone, ...others].flatMap((s) => s ?? []) };
  const now = { ...approved, number: 2, goesOn: [{ design: before.id, steps: others.map((s) => s.key) }] };
  const ticked = ['flush-gone', first?.key ?? ''].map((step) => happened({ kind: 'tick', design: before.id, step, done: true, note: 'ran clear' }, 30));
  show(<Flush />, { ...job, approved: now, designs: [before, now], facts: [...job.facts, ...ticked] });
  const list = within(screen.getByRole('list', { name: 'Done before the design was changed' })).getAllByRole('listitem');
  expect(list.map((l) => l.textContent)).toEqual([
    expect.stringMatching(/^Shut the feed.*ran clear; to be done once more$/),
    expect.stringMatching(/^Flush what stood there.*no longer asked for$/),
  ]);
}); // oxfmt-ignore

describe('the run sheet on the page', () => {
  test('begins once a design is approved', () => {
    show(<Flush />, jobOf(base, false));
    expect(screen.getByText('Flush begins once a design is approved.')).toBeTruthy();
  });
  test('shows the next thing large and ticks it with its note', async () => {
    const job = jobOf(base, true);
    show(<Flush />, job);
    expect(document.querySelector('.flush-title')?.textContent).toBe('Shut the feed and see the pressure die');
    await userEvent.type(screen.getByLabelText('Note on this step'), 'valve stiff');
    await userEvent.click(screen.getByRole('button', { name: 'Done' }));
    expect(job.added).toEqual([{ kind: 'tick', step: 'feed-off', done: true, note: 'valve stiff' }]);
    expect(localStorage.length).toBe(0);
  });
  test('a wait starts a clock of its own length', async () => {
    const job = jobOf([...base, ...doneUpTo('fill-1')], true);
    show(<Flush />, job);
    await userEvent.click(screen.getByRole('button', { name: /Start the clock/ }));
    expect(job.added).toEqual([
      { kind: 'timer', step: 'fill-1', action: 'start', minutes: Math.ceil(job.view?.today.fill.minutes ?? 0) },
    ]);
  });
  test('a running clock says when to be back, and what the tank holds by now', () => {
    const job = jobOf(
      [...base, ...doneUpTo('fill-1'), happened({ kind: 'timer', step: 'fill-1', action: 'start', minutes: 60 }, 20)],
      true,
    );
    show(<Flush />, job);
    expect(screen.getByText('40 min to go')).toBeTruthy();
    expect(screen.getByRole('img', { name: /^About .* litres in the tank$/ })).toBeTruthy();
    expect(screen.queryByRole('button', { name: /Start the clock/ })).toBeNull();
  });
  test('a fill found not full is given longer from where it began, with what may make it slow; later ones follow it', async () => {
    const begun = happened({ kind: 'timer', step: 'fill-1', action: 'start', minutes: 60 }, 80);
    const job = jobOf([...base, ...doneUpTo('fill-1'), begun], true);
    show(<Flush />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Not full yet' }));
    const [longer] = job.added;
    if (longer?.kind !== 'timer') throw new Error('no clock was given longer');
    expect(longer).toMatchObject({ step: 'fill-1', action: 'start', startedAt: begun.at });
    expect(longer.minutes).toBeGreaterThanOrEqual(100);
    cleanup();
    const facts = [...base, ...doneUpTo('fill-1'), begun, happened(longer, 10)];
    show(<Flush />, jobOf(facts, true));
    expect(
      within(screen.getByRole('list', { name: 'Why it may be slow' })).getByText(
        /stop valve or the feed’s own valve is not fully open/,
      ),
    ).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Not full yet' })).toBeNull();
    cleanup();
    const full = [
      ...facts,
      happened({ kind: 'tick', step: 'fill-1', done: true }, 1),
      happened({ kind: 'timer', step: 'fill-1', action: 'stop', minutes: 0 }, 1),
    ];
    show(<Flush />, jobOf(full, true));
    expect(screen.getByText(/First fill, to be poured away took 1 h 19 min, planned /)).toBeTruthy();
  });
  test('a clock nobody started in time is begun afterwards, from when it did', async () => {
    const job = jobOf([...base, ...doneUpTo('fill-1')], true);
    show(<Flush />, job);
    await userEvent.click(screen.getByRole('button', { name: 'It began earlier' }));
    await userEvent.type(screen.getByLabelText('It began so many minutes ago'), '20');
    await userEvent.click(screen.getByRole('button', { name: 'Start it from then' }));
    const [began] = job.added;
    if (began?.kind !== 'timer') throw new Error('no clock was begun');
    expect(Math.abs(Date.parse(began.startedAt ?? '') - (Date.now() - 20 * 60000))).toBeLessThan(5000);
  });
  test('a clock that is over says for how long, and done stops it', async () => {
    const job = jobOf(
      [...base, ...doneUpTo('fill-1'), happened({ kind: 'timer', step: 'fill-1', action: 'start', minutes: 60 }, 75)],
      true,
    );
    show(<Flush />, job);
    expect(screen.getByText('due 15 min ago')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Done' }));
    expect(job.added).toEqual([
      { kind: 'tick', step: 'fill-1', done: true },
      { kind: 'timer', step: 'fill-1', action: 'stop', minutes: 0 },
    ]);
  });
  test('a look writes every joint down as dry', async () => {
    const job = jobOf([...base, ...doneUpTo('look-pressure')], true);
    show(<Flush />, job);
    const count = job.view?.joints.length ?? 0;
    await userEvent.click(screen.getByRole('button', { name: `Joints 1 to ${String(count)} are dry` }));
    expect(job.added.filter((f) => f.kind === 'look' && f.result === 'dry')).toHaveLength(count);
    expect(job.added.at(-1)).toMatchObject({ kind: 'tick', step: 'look-pressure', done: true });
  });
  test('a drip is told at its joint by name, and holds its round until it was looked at again', async () => {
    const job = jobOf([...base, ...doneUpTo('look-pressure')], true);
    show(<Flush />, job);
    await userEvent.click(screen.getByRole('button', { name: /^Joint \d+, sediment, outlet: not looked at$/ }));
    const asked = await screen.findByRole('dialog', { name: /^Joint \d+, sediment, outlet$/ });
    await userEvent.type(within(asked).getByLabelText('What was seen, what was done'), 're-cut');
    await userEvent.click(within(asked).getByRole('button', { name: 'It drips' }));
    expect(job.added).toEqual([
      { kind: 'look', round: 'look-pressure', joint: 'sediment.out', result: 'drip', note: 're-cut' },
    ]);
    cleanup();
    const drip = happened(job.added[0] ?? { kind: 'note', text: 'nothing' }, 1);
    const held = jobOf([...base, ...doneUpTo('look-pressure'), drip], true);
    show(<Flush />, held);
    expect(screen.getByText(/^Joint \d+, sediment, outlet, drips: re-cut/)).toBeTruthy();
    // the others are dry, but the round is not done for that
    await userEvent.click(screen.getByRole('button', { name: 'All others are dry' }));
    expect(held.added.every((f) => f.kind === 'look')).toBe(true);
    expect(held.added).toHaveLength((held.view?.joints.length ?? 0) - 1);
    cleanup();
    const others = held.added.map((f) => happened(f, 1));
    const all = jobOf([...base, ...doneUpTo('look-pressure'), drip, ...others], true);
    show(<Flush />, all);
    expect(screen.getByRole('button', { name: 'The round is done' })).toHaveProperty('disabled', true);
    await userEvent.click(screen.getByRole('button', { name: 'Looked at again' }));
    await userEvent.click(await screen.findByRole('button', { name: 'Dry now' }));
    expect(all.added).toMatchObject([{ joint: 'sediment.out', result: 'dry', note: 're-cut' }]);
  });
  test('a step ticked over others asks what was seen, and names what stays open', async () => {
    const job = jobOf(base, true);
    show(<Flush />, job);
    await userEvent.click(screen.getByRole('checkbox', { name: /^Pour the first tank away/, hidden: true }));
    expect(job.added).toEqual([]);
    const asked = await screen.findByRole('dialog');
    const skips = within(asked).getByRole('list', { name: 'Open before it' });
    expect(within(skips).getByText('Shut the feed and see the pressure die')).toBeTruthy();
    await userEvent.type(within(asked).getByLabelText('What was seen'), 'it ran out by itself');
    await userEvent.click(within(asked).getByRole('button', { name: 'Tick it all the same' }));
    expect(job.added).toEqual([{ kind: 'tick', step: 'drain-1', done: true, note: 'it ran out by itself' }]);
    cleanup();
    show(<Flush />, jobOf([...base, ...job.added.map((f) => happened(f, 1))], true));
    expect(screen.getAllByText(/^passed over; about/).length).toBeGreaterThan(3);
  });
  test('a clock ticked long before its time asks; what is due beside what is in hand is told', async () => {
    const begun = happened({ kind: 'timer', step: 'fill-1', action: 'start', minutes: 60 }, 10);
    const job = jobOf([...base, ...doneUpTo('fill-1'), begun], true);
    show(<Flush />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Done already' }));
    expect(job.added).toEqual([]);
    expect(screen.getByText(/^It has 50 min to go by its clock/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Not yet' }));
    expect(job.added).toEqual([]);
    cleanup();
    const over = happened({ kind: 'timer', step: 'fill-1', action: 'start', minutes: 60 }, 75);
    show(<Flush />, jobOf([...base, ...doneUpTo('fill-1'), over], true));
    await userEvent.click(screen.getByRole('button', { name: 'Take in hand: Hand over' }));
    const others = screen.getByRole('list', { name: 'Other clocks' });
    expect(within(others).getByText('due 15 min ago')).toBeTruthy();
  });
  test('with one hand the next thing stands alone; the space bar does it', async () => {
    const job = jobOf(base, true);
    show(<Flush />, job);
    await userEvent.click(screen.getByRole('button', { name: /^With one hand/ }));
    expect(await screen.findByRole('dialog', { name: 'With one hand' })).toBeTruthy();
    (document.activeElement as HTMLElement | null)?.blur();
    await userEvent.keyboard(' ');
    expect(job.added).toEqual([{ kind: 'tick', step: 'feed-off', done: true }]);
  });
  test('when they may drink is said once with what must be so, and how it is left overnight', () => {
    show(<Flush />, jobOf(base, true));
    const drinking = screen.getByRole('region', { name: 'Drinking' });
    expect(within(drinking).getByText(/tanks are poured away/)).toBeTruthy();
    expect(within(drinking).getByText(/ask the doctor/)).toBeTruthy();
  });
  test('a tick taken back reopens its step', async () => {
    const job = jobOf([...base, ...doneUpTo('flush-sediment')], true);
    show(<Flush />, job);
    await userEvent.click(screen.getByRole('checkbox', { name: /Shut the feed/, hidden: true }));
    expect(job.added).toEqual([{ kind: 'tick', step: 'feed-off', done: false }]);
  });
  test('the end points to Prove', () => {
    const all = sheet.map((s, i) => happened({ kind: 'tick', step: s.key, done: true }, 100 - i));
    show(<Flush />, jobOf([...base, ...all], true));
    expect(screen.getByText('Flushed and wet. Prove it next.')).toBeTruthy();
  });
  test('looks of the next day and the first week are given a day in Rounds, and done like the others', async () => {
    const all = sheet.map((x, i) => happened({ kind: 'tick', step: x.key, done: true }, 100 - i));
    const job = jobOf([...base, ...all], true);
    show(<Flush />, job);
    const looks = screen.getByRole('list', { name: 'Looks still to come' });
    await userEvent.click(within(looks).getAllByRole('button', { name: 'Put it into Rounds' })[0] ?? looks);
    expect(job.added).toMatchObject([
      { kind: 'visit', reason: 'Look at every joint again: the next day', changed: [] },
    ]);
    cleanup();
    const planned = job.added.map((f) => happened(f, 1));
    const later = jobOf([...base, ...all, ...planned], true);
    show(<Flush />, later);
    expect(screen.getByText(/^in Rounds for /)).toBeTruthy();
    await userEvent.click(screen.getAllByRole('button', { name: 'Look now' })[0] ?? document.body);
    await userEvent.click(screen.getByRole('button', { name: /^Joints 1 to \d+ are dry$/ }));
    expect(later.added.at(-1)).toMatchObject({ kind: 'tick', step: 'look-next-day', done: true });
    cleanup();
    show(<Flush />, jobOf([...base, ...all, ...planned, ...later.added.map((f) => happened(f, 0))], true));
    expect(screen.getByText(/^all dry, /)).toBeTruthy();
  });
  test('a strip’s figure is written down with its step; what is no figure, or too high, is told there', async () => {
    const bleached = jobOf(base, true, { sanitise: true });
    const steps = bleached.view?.sheet ?? [];
    const before = steps.slice(
      0,
      steps.findIndex((s) => s.key === 'strip-carbon'),
    );
    const facts = before.map((s, i) =>
      happened({ kind: 'tick', step: s.key, done: true, ...(s.reads ? { read: 0.3 } : {}) }, 300 - i),
    );
    const job = jobOf([...base, ...facts], true, { sanitise: true });
    show(<Flush />, job);
    const field = screen.getByLabelText('Total chlorine after the carbon, mg/L');
    const done = screen.getByRole('button', { name: 'Done' });
    for (const [text, told] of [
      ['0.4', /rinse on/],
      ['-1', /A figure/],
      ['none', /A figure/],
    ] as const) {
      await userEvent.clear(field);
      await userEvent.type(field, text);
      expect(screen.getAllByText(told).length).toBeGreaterThan(0);
      expect(done).toHaveProperty('disabled', true);
    }
    // the membrane waits for it
    await userEvent.click(screen.getByRole('checkbox', { name: /^Membrane in/, hidden: true }));
    await userEvent.click(await screen.findByRole('button', { name: 'Back to the sheet' }));
    expect(job.added).toEqual([]);
    await userEvent.clear(field);
    await userEvent.type(field, '0');
    await userEvent.click(done);
    expect(job.added).toEqual([{ kind: 'tick', step: 'strip-carbon', done: true, read: 0 }]);
  });
});
