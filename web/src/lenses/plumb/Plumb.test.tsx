import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { house } from '@katharos/core/testing';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import Plumb from './Plumb.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

describe('putting it in, on the page', () => {
  test('every joint of the Line has its row, in order', () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    const rows = within(screen.getByRole('table', { name: 'Every joint, numbered along the water' }))
      .getAllByRole('row')
      .slice(1);
    expect(rows.map((r) => Number(within(r).getAllByRole('cell')[0]?.textContent))).toEqual(
      job.view?.joints.map((j) => j.joint.number),
    );
  });
  test('a thing loaded into the van is ticked, and unticked again', async () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    await userEvent.click(screen.getByRole('checkbox', { name: /Feed tee with valve/ }));
    expect(job.added).toEqual([{ kind: 'tick', step: 'pick:feed-tee', done: true }]);
    cleanup();
    const loaded = jobOf([...readings(), happened({ kind: 'tick', step: 'pick:feed-tee', done: true })], true);
    show(<Plumb />, loaded);
    const all = loaded.view?.picks.length ?? 0;
    expect(screen.getByText(`Pick list, ${String(all - 1)} of ${String(all)} still to load`)).toBeTruthy();
    await userEvent.click(screen.getByRole('checkbox', { name: /Feed tee with valve/ }));
    expect(loaded.added).toEqual([{ kind: 'tick', step: 'pick:feed-tee', done: false }]);
  });
  test('a tube cut otherwise is written down at its place, and what it does to the advice is told', async () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    const field = screen.getByLabelText('Tube 2 as cut, metres');
    await userEvent.clear(field);
    await userEvent.type(field, '60 cm');
    await userEvent.tab();
    expect(job.added).toMatchObject([{ kind: 'tube-run', lengthM: 0.6 }]);
    cleanup();
    const run = job.added[0];
    if (run?.kind !== 'tube-run') throw new Error('nothing was written down');
    show(<Plumb />, jobOf([...readings(), happened({ ...run, lengthM: 12 })], true));
    expect(screen.getByText(/One tube runs otherwise than planned/).textContent).toContain('approved');
  });
  test('a part is placed where it is free, moved by its figures, and what is in its way is named', async () => {
    const trap = happened({ kind: 'place', thing: 'trap', spot: { xMm: 500, yMm: 275, zMm: 293 } }, 5);
    const job = jobOf([...readings(), trap], true);
    show(<Plumb />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Place the frame' }));
    const [first] = job.added;
    if (first?.kind !== 'stands') throw new Error('nothing was placed');
    expect(first).toMatchObject({ component: 'frame', design: job.approved?.id });
    cleanup();
    const moved = jobOf([...readings(), trap, happened(first, 4)], true);
    show(<Plumb />, moved);
    expect(screen.queryByText(/in each other’s way/)).toBeNull();
    const back = screen.getByLabelText('Frame, from the back');
    await userEvent.clear(back);
    await userEvent.type(back, '27 cm{Enter}');
    const left = { ...first, spot: first.spot && { ...first.spot, xMm: 500, yMm: 270 } };
    expect(moved.added).toEqual([{ ...first, spot: first.spot && { ...first.spot, yMm: 270 } }]);
    cleanup();
    show(<Plumb />, jobOf([...readings(), trap, happened(left, 3)], true));
    expect(screen.getByText('Trap and frame are in each other’s way: move one of them.')).toBeTruthy();
    // the drain's tube ends above the trap now: it is as long as the way there
    expect(screen.getByText(/runs? otherwise than planned/)).toBeTruthy();
  });
  test('nothing is placed in a cupboard nobody has measured', () => {
    const unmeasured = Object.fromEntries(Object.entries(house).filter(([k]) => !k.startsWith('cupboard')));
    show(<Plumb />, jobOf(readings(unmeasured), true));
    expect(screen.getByText(/Once the cupboard’s width, depth and height are measured/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Place the frame' })).toBeNull();
  });
  test('the colour a kit used for a role is written down once', async () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    await userEvent.type(screen.getByLabelText('to the drain'), 'black');
    await userEvent.tab();
    expect(job.added).toEqual([{ kind: 'tube-colour', branch: 'concentrate', colour: 'black' }]);
  });
  test('metal after the membrane and no room before the trap are warned of where they arise', () => {
    show(<Plumb />, jobOf(readings({ ...house, metalAfter: 'copper', drainRun: 'none' }), true));
    expect(screen.getByText(/Nothing of lead, brass or copper stands between/)).toBeTruthy();
    expect(screen.getByText(/There is no room between basin and trap/)).toBeTruthy();
    cleanup();
    show(<Plumb />, jobOf(readings(), true));
    expect(screen.queryByText(/Nothing of lead, brass or copper/)).toBeNull();
  });
});
