import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { house } from '@katharos/core/testing';
import { cleanup, fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import Cupboard from './Cupboard.tsx';
import { Doubts } from './Doubts.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

const place = (thing: 'trap' | 'socket', xMm: number, yMm: number, zMm: number) =>
  happened({ kind: 'place', thing, spot: { xMm, yMm, zMm } }, 5);

describe('the cupboard', () => {
  test('says what it wants until it is measured', () => {
    show(<Cupboard />, jobOf(readings({ source: 'mains', cupboardWidthMm: 900 }), false));
    expect(screen.getByText(/With the cupboard’s width, depth and height it is drawn here/)).toBeTruthy();
  });
  test('a thing is placed where it commonly is, then put where the tape says', async () => {
    const job = jobOf(readings(), false);
    show(<Cupboard />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Place the trap' }));
    expect(job.added).toEqual([{ kind: 'place', thing: 'trap', spot: { xMm: 500, yMm: 275, zMm: 293 } }]);
    cleanup();
    const placed = jobOf([...readings(), place('trap', 500, 275, 293)], false);
    show(<Cupboard />, placed);
    const left = screen.getByLabelText('Trap, from the left');
    await userEvent.clear(left);
    await userEvent.type(left, '32 cm{Enter}');
    expect(placed.added).toEqual([{ kind: 'place', thing: 'trap', spot: { xMm: 320, yMm: 275, zMm: 293 } }]);
  });
  test('what is typed beyond the wall stands at the wall', async () => {
    const job = jobOf([...readings(), place('trap', 500, 275, 293)], false);
    show(<Cupboard />, job);
    const left = screen.getByLabelText('Trap, from the left');
    await userEvent.clear(left);
    await userEvent.type(left, '2 m{Enter}');
    expect(job.added).toEqual([{ kind: 'place', thing: 'trap', spot: { xMm: 900, yMm: 275, zMm: 293 } }]);
  });
  test('is taken off the drawing again, and a socket is offered only where there is one', async () => {
    const job = jobOf([...readings({ ...house, socket: 'no' }), place('trap', 500, 275, 293)], false);
    show(<Cupboard />, job);
    expect(screen.queryByRole('button', { name: 'Place the socket' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Take the trap off the drawing' }));
    expect(job.added).toEqual([{ kind: 'place', thing: 'trap', spot: null }]);
  });
  test('a socket low down raises a doubt that may be set aside with its reason', async () => {
    const job = jobOf([...readings(), place('socket', 800, 23, 60)], false);
    show(<Doubts />, job);
    expect(screen.getByText(/stands 60 mm above the floor: a leak reaches it/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'It is so' }));
    await userEvent.type(screen.getByLabelText('Why it is so'), 'sealed socket, rated for it');
    fireEvent.submit(screen.getByLabelText('Why it is so').closest('form') ?? document.body);
    expect(job.added).toEqual([{ kind: 'dismiss', doubt: 'socket-low', reason: 'sealed socket, rated for it' }]);
  });
});
