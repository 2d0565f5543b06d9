import { householdTexts } from '@katharos/core';
import type { Rounds as RoundsOfDay } from '@katharos/contract';
import { afterEach, expect, test } from '@jest/globals';
import { act, cleanup, screen } from '@testing-library/react';
import { api } from '../../data/api.ts';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import { dated } from '../../testing/dated.ts';
import { Meanwhile } from './Meanwhile.tsx';

afterEach(cleanup);

/** The round with one other house that is visited on a day. */
const roundOf = (on: Date): RoundsOfDay => ({
  clocks: [],
  due: [],
  open: { entries: [], next: null },
  kept: { entries: [], next: null },
  behind: 0,
  visits: [
    {
      jobId: 'j2',
      household: {
        id: 'h2',
        ...householdTexts({ name: 'Heron Yard 8', place: 'The quay' }),
        version: 0,
      },
      summary: {
        lens: 'keep',
        next: '',
        timers: [],
        drinking: null,
        lives: [],
        visits: [dated(on.toISOString(), 'Half-year change')],
        inService: true,
        asks: [],
      },
    },
  ],
});

async function waiting(minutes: number, on: Date): Promise<string> {
  const job = jobOf([...readings(), happened({ kind: 'timer', step: 'fill-1', action: 'start', minutes })], true);
  const step = job.view?.sheet.find((s) => s.key === 'fill-1');
  if (!job.view || !step) throw new Error('no first fill');
  const { store } = show(<Meanwhile view={job.view} step={step} />, job);
  await act(async () => {
    await store.dispatch(api.util.upsertQueryData('getRounds', '', roundOf(on)));
  });
  return screen.getByRole('region', { name: 'Meanwhile' }).textContent;
}

test('a visit of today fits into a wait that is long enough, and is told with what is left of it', async () => {
  expect(await waiting(150, new Date())).toContain(
    'Half-year change at Heron Yard 8, The quay: 2 h 30 min are left here',
  );
});
test('none fits into a short wait, nor one of another day', async () => {
  expect(await waiting(40, new Date())).not.toContain('Heron');
  cleanup();
  expect(await waiting(150, new Date(Date.now() + 3 * 86_400_000))).not.toContain('Heron');
});
