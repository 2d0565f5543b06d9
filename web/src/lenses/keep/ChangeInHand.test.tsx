import { CHANGE_STEP, changeSheet, type Fact } from '@katharos/core';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import { serve } from '../../testing/serve.ts';
import Keep from './Keep.tsx';
import { dayOf, dayProblem } from '../../job/visitDay.ts';

const base = readings();
const sheet = jobOf(base, true).view?.sheet ?? [];
const old = [
  ...base,
  ...sheet.map((s, i) => happened({ kind: 'tick', step: s.key, done: true }, 400 * 1440 + sheet.length - i)),
];
const kept = jobOf(old, true);
const { view, approved } = kept;
if (!view || !approved) throw new Error('it is approved');
const ofChange = changeSheet(
  'z',
  { components: ['sediment', 'carbon'], sanitise: false },
  view.system,
  approved.judged.rules,
  view.today,
);
const begun = happened({ kind: 'change', design: approved.id, reason: 'Half-year change', components: ['sediment', 'carbon'], sheet: ofChange }, 30); // oxfmt-ignore
const upTo = (key: string): Fact[] =>
  ofChange
    .slice(
      0,
      ofChange.findIndex((s) => s.key === `${CHANGE_STEP}z:${key}`),
    )
    .map((s, i) =>
      happened({ kind: 'tick', step: s.key, done: true, ...(s.reads ? { read: 0.02 } : {}) }, 29 - i * 0.1),
    );

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

describe('a change on the page', () => {
  test('begins with what is chosen, its sheet kept with it', async () => {
    const job = jobOf(old, true);
    show(<Keep />, job);
    await userEvent.click(screen.getByRole('checkbox', { name: 'carbon 1' }));
    expect(screen.getByText(/steps with their clocks, about/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Begin it now' }));
    expect(job.added).toMatchObject([
      { kind: 'change', design: approved.id, reason: 'Change of carbon 1', components: ['carbon'] },
    ]);
    const [made] = job.added;
    expect(made?.kind === 'change' && made.sheet.some((s) => s.title.startsWith('New carbon 1 in'))).toBe(true);
  });
  test('begins in one touch with what is due', async () => {
    const job = jobOf(old, true);
    show(<Keep />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Here now: change what is due' }));
    expect(job.added).toMatchObject([{ kind: 'change', components: ['sediment', 'carbon', 'carbon-2', 'polish'] }]);
  });
  test('is worked through step by step, a reading written down with its tick', async () => {
    const job = jobOf([...old, begun], true);
    show(<Keep />, job);
    const hand = within(screen.getByRole('region', { name: 'The change in hand' }));
    expect(document.querySelector('.flush-title')?.textContent).toBe('Read the product before anything is touched');
    await userEvent.type(hand.getByLabelText('Product TDS, mg/L'), '14');
    await userEvent.click(hand.getByRole('button', { name: 'Done' }));
    expect(job.added).toEqual([{ kind: 'tick', step: ofChange[0]?.key, done: true, read: 14 }]);
  });
  test('a stage mixed up is told and not written down; the right one is, with its batch', async () => {
    const job = jobOf([...old, begun, ...upTo('in-carbon')], true);
    show(<Keep />, job);
    const goes = within(screen.getByRole('region', { name: 'What goes in' }));
    await userEvent.selectOptions(goes.getByLabelText('Which one is in your hand?'), 'Sediment cartridge, 5 micron');
    expect(goes.getByRole('alert').textContent).toMatch(/does not go where carbon 1 stands: its place is sediment/);
    expect(goes.queryByRole('button', { name: 'Write it down' })).toBeNull();
    const done = screen.getByRole('button', { name: 'Done' });
    // how the old one looked decides when the next is due
    await userEvent.click(goes.getByRole('radio', { name: 'spent before its time' }));
    expect(job.added).toMatchObject([{ kind: 'came-out', component: 'carbon', state: 'spent' }]);
    expect(done).toHaveProperty('disabled', true);
    expect(screen.getByText(/does not go in as carbon 1: take the right one in your hand/)).toBeTruthy();
    const right = view.system.components.find((c) => c.id === 'carbon')?.part;
    await userEvent.selectOptions(goes.getByLabelText('Which one is in your hand?'), right?.name ?? '');
    await userEvent.type(goes.getByLabelText('Serial or batch'), 'B 41');
    expect(done).toHaveProperty('disabled', true);
    await userEvent.click(goes.getByRole('button', { name: 'Write it down' }));
    expect(done).toHaveProperty('disabled', false);
    expect(job.added.slice(1)).toEqual([
      { kind: 'fitted', design: approved.id, component: 'carbon', part: right, serial: 'B 41' },
    ]);
  });
  test('is closed with what is in: what is not stays due', async () => {
    // the sediment is in, the carbon not yet
    const job = jobOf([...old, begun, ...upTo('in-carbon')], true);
    show(<Keep />, job);
    expect(screen.getByText(/In so far: sediment\. What is not in stays due\./)).toBeTruthy();
    // nobody told how the old one looked: it is asked of what is in, and of nothing else
    const asked = within(screen.getByRole('region', { name: 'How what came out looked' }));
    expect(asked.getAllByRole('combobox')).toEqual([asked.getByLabelText('Sediment')]);
    await userEvent.selectOptions(asked.getByLabelText('Sediment'), 'spent before its time');
    expect(job.added.splice(0)).toEqual([
      { kind: 'came-out', design: approved.id, component: 'sediment', state: 'spent' },
    ]);
    const told = happened({ kind: 'came-out', design: approved.id, component: 'sediment', state: 'as-due' }, 0);
    cleanup();
    show(<Keep />, jobOf([...old, begun, ...upTo('in-carbon'), told], true));
    expect(screen.queryByRole('region', { name: 'How what came out looked' })).toBeNull();
    cleanup();
    show(<Keep />, job);
    await userEvent.click(screen.getByRole('button', { name: /^Close it with \d+ steps open$/ }));
    expect(job.added).toMatchObject([
      { kind: 'visit', reason: 'Half-year change', changed: ['sediment'], change: begun.id },
    ]);
  });
  test('what is counted in the van goes out of it, with the change it was for', async () => {
    const part = view.system.components.find((c) => c.id === 'sediment')?.part?.id ?? '';
    serve({
      'GET stock': () => ({
        json: { levels: [{ part, van: 3, store: 0, vans: { shared: 3 } }], vansOf: [], reserved: {} },
      }),
    });
    const job = jobOf([...old, begun, ...upTo('in-carbon')], true);
    show(<Keep />, job);
    await waitFor(async () => {
      await userEvent.click(screen.getByRole('button', { name: /^Close it with \d+ steps open$/ }));
      expect(job.added.at(-1)).toMatchObject({
        kind: 'stock-out',
        from: 'van',
        change: begun.id,
        parts: [{ part, count: 1 }],
      });
    });
  });
  test('all done it closes the visit that was planned for it', async () => {
    const planned = happened(
      {
        kind: 'visit',
        reason: 'Half-year change',
        changed: [],
        toChange: ['sediment', 'carbon'],
        on: '2030-05-01T12:00:00.000Z',
      },
      90,
    );
    const from = { ...begun, planned: planned.id } as Fact;
    const all = [...upTo('leave'), happened({ kind: 'tick', step: ofChange.at(-1)?.key ?? '', done: true }, 1)];
    const job = jobOf([...old, planned, from, ...all], true);
    show(<Keep />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Close this visit' }));
    expect(job.added[0]).toMatchObject({
      kind: 'visit',
      changed: ['sediment', 'carbon'],
      change: begun.id,
      corrects: planned.id,
    });
    // and then no change is in hand, and the lives begin anew
    cleanup();
    const [closed] = job.added;
    if (closed?.kind !== 'visit') throw new Error('a visit closes it');
    show(<Keep />, jobOf([...old, planned, from, ...all, happened(closed)], true));
    expect(screen.queryByRole('region', { name: 'The change in hand' })).toBeNull();
    expect(screen.getByText(/^Carbon 2 and polish are overdue/)).toBeTruthy();
  });
});

describe('a visit planned', () => {
  const planned = happened({ kind: 'visit', reason: 'Half-year change', changed: [], toChange: ['carbon'], on: '2030-05-01T12:00:00.000Z' }, 90);
  test('for a day to come changes nothing by itself, however late it gets', async () => {
    const job = jobOf(old, true);
    show(<Keep />, job);
    await userEvent.click(screen.getByRole('checkbox', { name: 'carbon 1' }));
    fireEvent.change(screen.getByLabelText('Day of it'), { target: { value: '2030-05-01' } });
    expect(screen.queryByRole('button', { name: 'Begin it now' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Plan this visit' }));
    expect(job.added).toMatchObject([{ kind: 'visit', reason: 'Change of carbon 1', changed: [], toChange: ['carbon'] }]);
    cleanup();
    const past = happened({ kind: 'visit', reason: 'Half-year change', changed: [], toChange: ['carbon'], on: new Date(Date.now() - 3 * 86400000).toISOString() }, 9000);
    show(<Keep />, jobOf([...old, past], true));
    expect(screen.getByText('was planned')).toBeTruthy();
    expect(screen.getByText(/carbon 1, carbon 2 and polish are overdue/)).toBeTruthy();
  });
  test('may be moved to another day, and begun', async () => {
    const job = jobOf([...old, planned], true);
    show(<Keep />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Another day, or their answer, for: Half-year change' }));
    fireEvent.change(screen.getByLabelText('Another day for: Half-year change'), { target: { value: '2030-06-03' } });
    await userEvent.click(screen.getByRole('button', { name: 'Write it down' }));
    expect(job.added).toMatchObject([{ kind: 'visit', on: dayOf('2030-06-03'), corrects: planned.id, toChange: ['carbon'] }]);
    await userEvent.click(screen.getByRole('button', { name: 'Begin it now' }));
    expect(job.added.at(-1)).toMatchObject({ kind: 'change', components: ['carbon'], planned: planned.id });
  });
  test('is agreed for an hour when somebody is at home, and not for another', async () => {
    const job = jobOf([...old, planned], true);
    show(<Keep />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Another day, or their answer, for: Half-year change' }));
    const set = (label: string, value: string) => { fireEvent.change(screen.getByLabelText(label), { target: { value } }); };
    set('At home from', '09:00');
    const save = () => screen.getByRole('button', { name: 'Write it down' });
    expect(screen.getByText('From when until when.')).toBeTruthy();
    set('At home until', '12:30');
    set('Agreed for', '13:00');
    expect(screen.getByText('Nobody is at home then.')).toBeTruthy();
    expect(save()).toHaveProperty('disabled', true);
    set('Agreed for', '10:15');
    await userEvent.click(save());
    const [made] = job.added;
    if (made?.kind !== 'visit') throw new Error('a visit');
    expect(made).toMatchObject({ agreed: true, between: { fromMin: 540, untilMin: 750 }, corrects: planned.id, toChange: ['carbon'] });
    expect(new Date(made.on ?? '').getHours() * 60 + new Date(made.on ?? '').getMinutes()).toBe(615);
    cleanup();
    show(<Keep />, jobOf([...old, happened(made, 5)], true));
    expect(screen.getByText('agreed for 10:15, at home 09:00 to 12:30')).toBeTruthy();
  });
  test('is of a day that can be', () => {
    const began = Date.parse('2025-03-02T08:00:00.000Z');
    expect(dayProblem('2026-11-27', '2026-11-27', began)).toBeNull();
    expect(dayProblem('2025-03-01', '2026-11-27', began)).toMatch(/^Before the system was put in, 2 March 2025/);
    expect(dayProblem('2045-03-01', '2026-11-27', began)).toMatch(/years ahead/);
    expect(dayProblem('', '2026-11-27', began)).toBe('No day.');
    // noon stays on its day through a change of clocks
    for (const day of ['2026-03-29', '2026-10-25']) expect(new Date(dayOf(day)).getDate()).toBe(Number(day.slice(-2)));
  });
}); // oxfmt-ignore
