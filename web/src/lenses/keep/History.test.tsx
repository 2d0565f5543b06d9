import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import { History } from './History.tsx';

afterEach(cleanup);

test('the history is found by kind and by word', async () => {
  const visit = happened({ kind: 'visit', reason: 'Half-year change', changed: [], note: 'joints dry' });
  const note = happened({ kind: 'note', text: 'Key with the neighbour.' });
  show(<History />, jobOf([...readings(), visit, note], true));
  const lines = (): string[] => [...document.querySelectorAll('.history-lines li')].map((l) => l.textContent);
  expect(lines().length).toBeGreaterThan(10);
  await userEvent.click(screen.getByLabelText('visits and changes'));
  expect(lines()).toEqual([expect.stringContaining('Visit: Half-year change: joints dry')]);
  await userEvent.click(screen.getByLabelText('visits and changes'));
  await userEvent.type(screen.getByLabelText('Find in the history'), 'neighbour');
  expect(lines()).toEqual([expect.stringContaining('Key with the neighbour.')]);
  await userEvent.type(screen.getByLabelText('Find in the history'), 'zz');
  expect(screen.getByText('Nothing of that.')).toBeTruthy();
});
