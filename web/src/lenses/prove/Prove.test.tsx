import { expectedAt, extraFrom, type Fact } from '@katharos/core';
import { shelf } from '@katharos/core/testing';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { FakeSource, pen } from '../../testing/fakeSource.ts';
import { workInPage } from '../../testing/inPageWorker.ts';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import type { NewFact } from '../../job/useJob.ts';
import { meterErrors, penError } from './meters.ts';
import Prove from './Prove.tsx';

const base = readings();
const FIELDS = [
  'Feed TDS',
  'Product TDS',
  'Feed temperature',
  'Pressure before the membrane',
  'Product flow',
  'Concentrate flow',
];
const fill = async (...texts: string[]): Promise<void> => {
  for (const [i, text] of texts.entries()) await userEvent.type(screen.getByLabelText(FIELDS[i] ?? ''), text);
};

test('a pen that is named brings its own error; else it is the house rule’s', () => {
  expect(penError([pen], 'Pen A, jug', 0.05)).toBeCloseTo(0.04, 9);
  expect(penError([pen], 'another', 0.05)).toBe(0.05);
  const gauge = {
    ...pen,
    id: '5f0c4b1e-7777-4777-a777-000000000002',
    name: 'gauge B',
    what: 'gauge' as const,
    reads: [{ kind: 'pressure' as const, unit: 'bar', min: 0, max: 10, errorFixed: 0.2, errorShare: 0 }],
  };
  const read = { membranePressureBar: 3.8, productTdsMgL: 12 };
  expect(meterErrors([pen, gauge], 'Pen A, gauge b', read, 0.05)).toEqual({
    meterError: 0.04,
    own: { membranePressureBar: 0.2 },
  });
  expect(meterErrors([pen, gauge], 'pen A', read, 0.05).own).toEqual({});
});

beforeEach(() => {
  localStorage.clear();
});
workInPage();
afterEach(cleanup);

describe('proving on the page', () => {
  test('says what to read while anything is missing', async () => {
    show(<Prove />, jobOf(base, true));
    expect(screen.getByText('Read these, and the verdict stands here.')).toBeTruthy();
    await fill('320', '20');
    expect(screen.getByText(/Still to read: feed temperature, pressure before the membrane/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Keep these readings' })).toHaveProperty('disabled', true);
  });
  test('judges while typing, in any unit, and keeps readings with their grade', async () => {
    const job = jobOf(base, true);
    if (!job.view) throw new Error('no system');
    const e = expectedAt(job.view.system, job.view.site, {
      bar: 3.4,
      temperatureC: 12,
      feedTds: 320,
      concentrateLMin: 0.25,
    });
    show(<Prove />, job);
    await fill('320', e.permeateTdsMgL.toFixed(0), '12', '3,4', (e.permeateLDay / 1.44).toFixed(0), '0.25 L/min');
    expect(screen.getByText(/of what a new element would here/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Keep these readings' }));
    expect(job.added).toHaveLength(1);
    expect(job.added[0]).toMatchObject({
      kind: 'proof',
      readings: { membranePressureBar: { value: 3.4, typed: '3,4' }, concentrateFlowLMin: { value: 0.25 } },
    });
    expect(localStorage.length).toBe(0);
  });
  test('Enter goes on to the next reading, and from the last one to the button; it keeps nothing by itself', async () => {
    const job = jobOf(base, true);
    show(<Prove />, job);
    await fill('320', '20', '14', '3.8', '0.2', '0.5');
    screen.getByLabelText('Feed TDS').focus();
    for (const label of FIELDS.slice(1)) {
      await userEvent.keyboard('{Enter}');
      expect(document.activeElement).toBe(screen.getByLabelText(label));
    }
    await userEvent.keyboard('{Enter}');
    expect(document.activeElement).toBe(screen.getByRole('button', { name: 'Keep these readings' }));
    expect(job.added).toEqual([]);
  });
  test('two proofs of one day carry their hour', () => {
    const at = (minutes: number): Fact => happened({ kind: 'proof', readings: {} }, minutes);
    show(<Prove />, jobOf([...base, at(120), at(60)], true));
    expect(screen.getAllByRole('button', { name: /^\d+ \w+ \d{4}, \d\d:\d\d, Imra/ })).toHaveLength(2);
  });
  test('a wrong unit is told at its field and nothing can be kept', async () => {
    show(<Prove />, jobOf(base, true));
    await fill('320 bar', '20', '12', '3.4', '90', '250');
    expect(screen.getByText(/measures a pressure; this field wants a concentration/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Keep these readings' })).toHaveProperty('disabled', true);
  });
  test('half-typed readings are there after a reload', async () => {
    show(<Prove />, jobOf(base, true));
    await fill('320', '20');
    cleanup();
    show(<Prove />, jobOf(base, true));
    expect((screen.getByLabelText('Product TDS') as unknown as HTMLInputElement).value).toBe('20');
  });
  test('the last kept proof is shown until something new is typed', async () => {
    const v = (value: number) => ({ value, typed: String(value) });
    const proof = happened({
      kind: 'proof',
      readings: {
        feedTdsMgL: v(320),
        productTdsMgL: v(300),
        temperatureC: v(12),
        membranePressureBar: v(3.4),
        productFlowLMin: v(0.3),
        concentrateFlowLMin: v(0),
      },
    });
    show(<Prove />, jobOf([...base, proof], true));
    expect(screen.getByText('Act.')).toBeTruthy();
    expect(screen.getByText(/No concentrate flow at all/)).toBeTruthy();
    await userEvent.type(screen.getByLabelText('Feed TDS'), '3');
    expect(screen.queryByText('Act.')).toBeNull();
  });
  test('what explains all readings together is named with its share and its check', async () => {
    const job = jobOf(readings(), true);
    if (!job.view) throw new Error('no design');
    const { middle } = job.view.today;
    const read = (value: number): { value: number; typed: string } => ({ value, typed: String(value) });
    const proof = happened({
      kind: 'proof',
      readings: {
        feedTdsMgL: read(320),
        productTdsMgL: read(8 * middle.out.permeateTdsMgL),
        temperatureC: read(14),
        membranePressureBar: read(middle.inletBar),
        productFlowLMin: read((1.6 * middle.out.permeateLDay) / 1440),
        concentrateFlowLMin: read(middle.out.concentrateLDay / 1440),
      },
    });
    show(<Prove />, jobOf([...readings(), proof], true));
    // worked out beside the page, once the hand rests
    expect(await screen.findByText('What explains all readings together', {}, { timeout: 8000 })).toBeTruthy();
    expect(screen.getAllByText(/O-ring|torn/).length).toBeGreaterThan(0);
  });
  test('a repair stands between the proof that found it and the one after it; what was tried is kept with it', async () => {
    const wet = extraFrom('leak-stop', '', shelf);
    if (!wet) throw new Error('no leak stop on the shelf');
    const design = jobOf(base, true).approved?.id ?? '';
    const with_ = [...base, happened({ kind: 'carries', design, extra: 'leak-stop', part: wet.part })];
    const found = jobOf(with_, true);
    show(<Prove />, found);
    await fill('320', '300', '12', '3.4', '90', '250');
    await userEvent.click(screen.getByRole('radio', { name: 'it does not' }));
    expect(screen.getByText(/The leak stop does not shut/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Keep these readings' }));
    expect(found.added[0]).toMatchObject({ kind: 'proof', checks: { 'leak-stop': 'fails' }, judged: { grade: 'act' } });
    cleanup();
    const keptBy = (job: typeof found): NewFact => {
      const [fact] = job.added;
      if (!fact) throw new Error('nothing was kept');
      return fact;
    };
    const first = happened(keptBy(found), 60);
    const after = jobOf([...with_, first], true);
    show(<Prove />, after);
    await userEvent.type(screen.getByLabelText(/^Done since/), 'brine seal seated');
    await fill('320', '12', '12', '3.4', '90', '250');
    await userEvent.click(screen.getByRole('button', { name: 'Keep these readings' }));
    expect(after.added[0]).toMatchObject({ mended: { proof: first.id, done: 'brine seal seated' } });
    cleanup();
    const second = happened(keptBy(after));
    show(<Prove />, jobOf([...with_, first, second], true));
    const repair = screen.getByRole('region', { name: 'The repair' });
    expect(repair.textContent).toContain('brine seal seated');
    expect(within(repair).getByRole('row', { name: /^Product TDS/ }).textContent).toBe('Product TDS300 mg/L12.0 mg/L');
    expect(within(repair).getByRole('row', { name: /^Leak stop shuts/ }).textContent).toBe('Leak stop shutsno');
  });
  test('a reading is taken from a meter over the wire, its name written with the others', async () => {
    Object.assign(globalThis, { EventSource: FakeSource });
    const job = { ...jobOf(base, true), instruments: [{ ...pen, address: 'stand-in:pen' }] };
    show(<Prove />, job);
    // a pen reads both waters and how warm they are; nothing else is asked of it
    expect(screen.getAllByTitle(/from pen A$/).map((b) => b.getAttribute('title'))).toEqual([
      'Take Feed TDS from pen A',
      'Take Product TDS from pen A',
      'Take Product TDS by a second pen from pen A',
      'Take First glass after it stood from pen A',
    ]);
    await userEvent.click(screen.getByTitle('Take Product TDS from pen A'));
    const say = (seconds: number, value: number): void => {
      act(() =>
        FakeSource.last?.onmessage?.({ data: JSON.stringify({ seconds, value, unit: 'mg/L', settled: seconds > 10 }) }),
      );
    };
    say(1, 40);
    expect(screen.getByText('settling')).toBeTruthy();
    say(12, 14.1);
    say(20, 14);
    expect(screen.getByText('stands still, 8 of 30 s')).toBeTruthy();
    say(43, 14);
    expect(screen.getByText('settled: steady for half a minute')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Take it' }));
    expect(screen.getByLabelText('Product TDS')).toHaveProperty('value', '14 mg/L');
    expect(screen.getByLabelText('Instruments', { selector: 'input' })).toHaveProperty('value', 'pen A');
  });
});
