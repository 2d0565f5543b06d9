import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactElement } from 'react';
import { HISTORY_KINDS } from '@katharos/core';
import { happened, jobOf, readings, show } from '../testing/jobContext.tsx';
import { Sheet } from '../ui/Sheet.tsx';
import { usePrinting } from '../ui/usePrinting.ts';
import { History } from '../lenses/keep/History.tsx';
import { usePrintForThem } from './givenSheets.ts';

const FIRM = { firm: 'Tole', firmPhone: '' };

/** A sheet that is drawn only while it is printed, as every sheet of the application is. */
function Page({ says }: { readonly says: string }): ReactElement {
  const print = usePrintForThem();
  const printing = usePrinting();
  return (
    <>
      <button onClick={print}>Print</button>
      {printing && (
        <Sheet of={FIRM} place="Mell" title="Your water, Rook Yard 1">
          <h2>What stands there</h2>
          <table>
            <tbody>
              <tr>
                <td>
                  <p>sediment</p>
                </td>
                <td>6 months</td>
                <td />
              </tr>
            </tbody>
          </table>
          <ul>
            <li>{says}</li>
          </ul>
        </Sheet>
      )}
    </>
  );
}

beforeEach(() => {
  jest.spyOn(window, 'print').mockImplementation(() => {
    window.dispatchEvent(new Event('beforeprint'));
    window.dispatchEvent(new Event('afterprint'));
  });
});
afterEach(() => {
  jest.restoreAllMocks();
  cleanup();
});

describe('what a household was given on paper', () => {
  test('is kept word for word as it is printed, a row a line; the same again is kept once', async () => {
    const job = jobOf(readings(), true);
    show(<Page says="Shut it with a quarter turn." />, job);
    await userEvent.click(screen.getByText('Print'));
    expect(job.added).toHaveLength(1);
    const [given] = job.added;
    expect(given).toMatchObject({ kind: 'handed', title: 'Your water, Rook Yard 1' });
    const lines = given?.kind === 'handed' ? given.lines : [];
    expect(lines.slice(2)).toEqual(['What stands there', 'sediment, 6 months', 'Shut it with a quarter turn.']);
    cleanup();
    const kept = happened({ kind: 'handed', title: 'Your water, Rook Yard 1', lines: [...lines] }, 5);
    for (const [says, news] of [
      ['Shut it with a quarter turn.', 0],
      ['Shut it with two turns.', 1],
    ] as const) {
      const again = jobOf([...readings(), kept], true);
      show(<Page says={says} />, again);
      await userEvent.click(screen.getByText('Print'));
      expect(again.added).toHaveLength(news);
      cleanup();
    }
  });
  test('is read again in the history', async () => {
    const kept = happened({ kind: 'handed', title: 'Your water', lines: ['Shut it with a quarter turn.'] }, 5);
    show(<History />, jobOf([...readings(), kept], true));
    await userEvent.click(screen.getByLabelText(HISTORY_KINDS.said));
    expect(screen.getByText(/^Given to them on paper: Your water/)).toBeTruthy();
    expect(screen.getByText('Shut it with a quarter turn.')).toBeTruthy();
  });
});
