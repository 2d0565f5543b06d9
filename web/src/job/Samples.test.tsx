import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { happened, jobOf, readings, show } from '../testing/jobContext.tsx';
import { OpenSamples, SampleForm } from './Samples.tsx';

const base = readings();
const DAY_MIN = 1440;

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

describe('samples for a laboratory', () => {
  test('one is written down with its water and what it is for, told how it is taken; none of a day to come', async () => {
    const job = jobOf(base, true);
    show(<SampleForm water="product" />, job);
    await userEvent.click(screen.getByText('A sample goes to a laboratory'));
    expect(screen.getByRole('button', { name: 'Write the sample down' })).toHaveProperty('disabled', true);
    await userEvent.click(screen.getByRole('radio', { name: 'microbes' }));
    expect(screen.getByText(/sterile bottle/)).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Taken on'), { target: { value: '2199-01-05' } });
    expect(screen.getByText('That is to come: written down once it is taken.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Write the sample down' })).toHaveProperty('disabled', true);
    fireEvent.change(screen.getByLabelText('Taken on'), { target: { value: '' } });
    await userEvent.type(screen.getByLabelText(/^Which laboratory/), 'No. 7');
    await userEvent.click(screen.getByRole('button', { name: 'Write the sample down' }));
    expect(job.added).toEqual([{ kind: 'sampled', water: 'product', sought: 'microbes', words: 'No. 7' }]);
  });
  test('its answer is waited for; not clean wants words, and of raw water the house is read anew', async () => {
    const sampled = happened({ kind: 'sampled', water: 'raw', sought: 'microbes', words: 'No. 7' }, 10 * DAY_MIN);
    const job = jobOf([...base, sampled], true);
    show(<OpenSamples />, job);
    const front = within(screen.getByRole('region', { name: 'Awaited: microbes in the raw water' }));
    expect(front.getByText(/ask after it/)).toBeTruthy();
    expect(front.getByRole('button', { name: 'Not clean' })).toHaveProperty('disabled', true);
    await userEvent.type(front.getByLabelText('What it found, with its figures'), 'E. coli 4 in 100 mL');
    await userEvent.click(front.getByRole('button', { name: 'Not clean' }));
    expect(job.added).toEqual([
      { kind: 'answered', sample: sampled.id, finding: 'not-clean', words: 'E. coli 4 in 100 mL' },
      { kind: 'reading', field: 'laboratory', value: 'unsafe', typed: 'unsafe', instrument: 'laboratory' },
    ]);
    cleanup();
    const found = happened({ kind: 'answered', sample: sampled.id, finding: 'not-clean', words: 'E. coli' }, 5);
    show(<OpenSamples />, jobOf([...base, sampled, found], true));
    expect(screen.queryByText(/Waiting for the laboratory/)).toBeNull();
    expect(screen.getByRole('region', { name: 'Not clean: microbes in the raw water' }).textContent).toMatch(
      /They boil what they drink/,
    );
    cleanup();
    // Gauge shows what is of its own water
    const tap = happened({ kind: 'sampled', water: 'product', sought: 'minerals', words: '' }, 5);
    show(<OpenSamples of="raw" />, jobOf([...base, tap], true));
    expect(screen.queryByRole('region')).toBeNull();
  });
  test('minerals of the water at the tap change no reading of the house', async () => {
    const tap = happened({ kind: 'sampled', water: 'product', sought: 'minerals', words: '' }, 5);
    const job = jobOf([...base, tap], true);
    show(<OpenSamples />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Nothing above its limit' }));
    expect(job.added).toEqual([{ kind: 'answered', sample: tap.id, finding: 'clean', words: '' }]);
  });
});
