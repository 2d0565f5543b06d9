import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { Draw } from '@katharos/core';
import { MantineProvider } from '@mantine/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState, type ReactElement } from 'react';
import { DayOfDraws } from './DayOfDraws.tsx';

const DAY: readonly [Draw, Draw, Draw] = [
  { minute: 420, litres: 0.25 },
  { minute: 720, litres: 1 },
  { minute: 1080, litres: 3 },
];
const onTry = jest.fn<(d: readonly Draw[] | null) => void>();
const onKeep = jest.fn<(d: readonly Draw[] | null) => void>();

/** Keeps what it is told to keep, as a job would. */
function Household({ first = null }: { first?: readonly Draw[] | null }): ReactElement {
  const [drawn, setDrawn] = useState<readonly Draw[] | null>(first);
  return (
    <MantineProvider env="test">
      <DayOfDraws
        draws={drawn ?? DAY}
        drawn={drawn !== null}
        onTry={onTry}
        onKeep={(d) => {
          onKeep(d);
          setDrawn(d);
        }}
      />
    </MantineProvider>
  );
}
const picked = (): HTMLElement => document.querySelector<HTMLElement>('[data-picked="true"]') ?? document.body;
const words = (): string => document.querySelector('.day-words')?.textContent ?? '';
const button = (name: string): HTMLElement => screen.getByRole('button', { name });

beforeEach(() => {
  onTry.mockClear();
  onKeep.mockClear();
});
afterEach(cleanup);

describe('a day of draws by keys', () => {
  test('an arrow moves the draw in hand, tries it at once and keeps it when the key is let go', async () => {
    render(<Household />);
    expect(words()).toBe('7:00, 0.25 L of 3 draws, 4.25 L in all, a usual day.');
    await userEvent.tab();
    expect(document.activeElement).toBe(picked());
    fireEvent.keyDown(picked(), { key: 'ArrowRight' });
    fireEvent.keyDown(picked(), { key: 'ArrowUp' });
    expect(onTry).toHaveBeenLastCalledWith([{ minute: 425, litres: 0.3 }, DAY[1], DAY[2]]);
    expect(onKeep).not.toHaveBeenCalled();
    fireEvent.keyUp(picked(), { key: 'ArrowUp' });
    expect(onKeep).toHaveBeenCalledWith([{ minute: 425, litres: 0.3 }, DAY[1], DAY[2]]);
    expect(onTry).toHaveBeenLastCalledWith(null);
    expect(picked().getAttribute('aria-valuetext')).toBe('7:05, 0.30 L');
  });
  test('page keys go through the draws; one moved past another stays in hand', () => {
    render(<Household />);
    fireEvent.keyDown(picked(), { key: 'PageDown' });
    expect(words()).toContain('12:00, 1.0 L');
    for (let i = 0; i < 75; i++) fireEvent.keyDown(picked(), { key: 'ArrowRight' });
    fireEvent.keyUp(picked(), { key: 'ArrowRight' });
    expect(words()).toContain('18:15, 1.0 L');
    expect(onKeep).toHaveBeenLastCalledWith([DAY[0], DAY[2], { minute: 1095, litres: 1 }]);
  });
  test('a draw stays within the day and never falls to nothing', () => {
    render(<Household first={[{ minute: 3, litres: 0.1 }]} />);
    for (let i = 0; i < 5; i++) {
      fireEvent.keyDown(picked(), { key: 'ArrowLeft' });
      fireEvent.keyDown(picked(), { key: 'ArrowDown' });
    }
    fireEvent.keyUp(picked(), { key: 'ArrowDown' });
    expect(onKeep).toHaveBeenCalledWith([{ minute: 0, litres: 0.05 }]);
  });
});

describe('draws added and taken out', () => {
  test('one is added at noon, removed again, and what was removed can be undone', async () => {
    render(<Household />);
    await userEvent.click(button('Add a draw'));
    expect(onKeep).toHaveBeenLastCalledWith([DAY[0], DAY[1], { minute: 720, litres: 1 }, DAY[2]]);
    await userEvent.click(button('Remove this one'));
    expect(onKeep).toHaveBeenLastCalledWith([...DAY]);
    await userEvent.click(button('Undo'));
    expect(words()).toContain('of 4 draws');
    await userEvent.click(button('Undo'));
    expect(onKeep).toHaveBeenLastCalledWith(null);
    expect(words()).toContain('a usual day');
    expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
  });
  test('the last draw of a day cannot be taken out; a drawn day goes back to the usual one', async () => {
    render(<Household first={[{ minute: 600, litres: 2 }]} />);
    expect(button('Remove this one').hasAttribute('disabled')).toBe(true);
    fireEvent.keyDown(picked(), { key: 'Delete' });
    expect(onKeep).not.toHaveBeenCalled();
    await userEvent.click(button('Back to a usual day'));
    expect(onKeep).toHaveBeenCalledWith(null);
    await userEvent.click(button('Undo'));
    expect(onKeep).toHaveBeenLastCalledWith([{ minute: 600, litres: 2 }]);
  });
});
