import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { house } from '@katharos/core/testing';
import { cleanup, screen, within } from '@testing-library/react';
import { partsNeeded, type Known } from '@katharos/core';
import userEvent from '@testing-library/user-event';
import { workInPage } from '../../testing/inPageWorker.ts';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import { serve } from '../../testing/serve.ts';
import Plumb from './Plumb.tsx';

workInPage();
beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

describe('putting it in, on the page', () => {
  test('every joint stands on the card of its kind, ticked by itself or all of a kind at once', async () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    const joints = job.view?.joints ?? [];
    // all at once: each name by itself would be looked for among all of them
    expect(
      new Set(screen.getAllByRole('button', { name: /^Joint / }).map((b) => b.getAttribute('aria-label'))),
    ).toEqual(new Set(joints.map((j) => `Joint ${String(j.joint.number)}, ${j.where}: not made`)));
    await userEvent.click(screen.getByRole('button', { name: /^Joint 1, feed tee, inlet/ }));
    expect(job.added).toEqual([{ kind: 'tick', step: 'joint:feed.in', done: true }]);
    await userEvent.click(screen.getAllByRole('button', { name: 'All of this kind are made' })[0] ?? document.body);
    const pushed = joints
      .filter((j) => j.joint.kind === 'push-fit' && j.joint.size === '6 mm')
      .map((j) => `joint:${j.joint.id}`);
    expect(job.added.slice(1).flatMap((f) => (f.kind === 'tick' ? [f.step] : []))).toEqual(pushed);
    cleanup();
    show(<Plumb />, jobOf([...readings(), happened({ kind: 'tick', step: 'joint:feed.in', done: true })], true));
    expect(
      screen.getByText(new RegExp(`^1 of ${String(joints.length)} joints made; next push-fit, 6 mm`)),
    ).toBeTruthy();
    expect(screen.getByText(/1 of 1 made, Imra Tole/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Joint 1, feed tee, inlet: made' }));
  });
  test('what is in the van is looked at once more in the house', async () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    await userEvent.click(screen.getByRole('radio', { name: 'In the house' }));
    await userEvent.click(screen.getByRole('checkbox', { name: /Feed tee with valve/ }));
    expect(job.added).toEqual([{ kind: 'tick', step: 'check:feed-tee', done: true }]);
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
  test('a layout is proposed, taken as a whole, moved by its figures, and taken back', async () => {
    const trap = happened({ kind: 'place', thing: 'trap', spot: { xMm: 500, yMm: 275, zMm: 293 } }, 9);
    const job = jobOf([...readings(), trap], true);
    show(<Plumb />, job);
    await userEvent.click(await screen.findByRole('button', { name: 'Take this layout' }));
    const parts = job.added.flatMap((f) => (f.kind === 'stands' ? [f.component] : []));
    expect(parts).toEqual(expect.arrayContaining(['frame', 'tank']));
    cleanup();
    const taken = [...readings(), trap, ...job.added.map((f) => happened(f, 8))];
    const moved = jobOf(taken, true);
    show(<Plumb />, moved);
    expect(screen.getByText(/It stands in this cupboard: .* m of tube, nothing in the way\./)).toBeTruthy();
    // a tube that was cut otherwise is told with its own length there too
    const cut = moved.built?.system.links.find((l) => l.tube && l.to.component === 'tank');
    expect(screen.queryByText(/as it was cut/)).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'tank' }));
    const left = screen.getByLabelText('its middle from the left');
    await userEvent.clear(left);
    await userEvent.type(left, '50 cm{Enter}');
    const back = screen.getByLabelText('its middle from the back');
    await userEvent.clear(back);
    await userEvent.type(back, '27.5 cm{Enter}');
    const floor = screen.getByLabelText('above the floor');
    await userEvent.clear(floor);
    await userEvent.type(floor, '25 cm{Enter}');
    const [before] = job.added.filter((f) => f.kind === 'stands' && f.component === 'tank');
    expect(moved.added).toHaveLength(3);
    expect(moved.added[0]).toMatchObject({ kind: 'stands', component: 'tank', spot: { xMm: 500 } });
    await userEvent.click(screen.getByRole('button', { name: 'Undo' }));
    expect(moved.added[3]).toEqual({
      ...before,
      turn: moved.added[3]?.kind === 'stands' ? moved.added[3].turn : undefined,
    });
    cleanup();
    const under = { ...before, spot: { xMm: 500, yMm: 275, zMm: 250 } } as (typeof job.added)[number];
    const run = {
      kind: 'tube-run' as const,
      design: job.approved?.id ?? '',
      link: cut?.id ?? '',
      lengthM: 7.77,
      riseM: 0,
    };
    show(<Plumb />, jobOf([...taken, happened(under, 3), happened(run, 2)], true));
    expect(screen.getByText('as it was cut')).toBeTruthy();
    expect(screen.getByText('7.77 m')).toBeTruthy();
    expect(screen.getByText('Tank and the trap are in each other’s way.')).toBeTruthy();
    expect(screen.getByText(/in the way in this cupboard\./)).toBeTruthy();
  }, 30_000);
  test('what does not go into the cupboard goes into the second place', async () => {
    const small = { ...house, cupboardWidthMm: 420, cupboardDepthMm: 380, cupboardHeightMm: 620 };
    const trap = happened({ kind: 'place', thing: 'trap', spot: { xMm: 210, yMm: 190, zMm: 280 } }, 9);
    show(<Plumb />, jobOf([...readings({ ...small, standsWhere: 'beside' }), trap], true));
    expect(await screen.findByText(/It stands in the cupboard and in the next cupboard/)).toBeTruthy();
  }, 30_000);
  test('whoever moves one thing of a proposal takes the rest as it stands there', async () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    await screen.findByRole('button', { name: 'Take this layout' });
    await userEvent.click(screen.getByRole('button', { name: 'tank' }));
    const left = screen.getByLabelText('its middle from the left');
    await userEvent.clear(left);
    await userEvent.type(left, '55 cm{Enter}');
    const put = new Map(job.added.flatMap((f) => (f.kind === 'stands' ? [[f.component, f.spot?.xMm]] : [])));
    expect(put.get('tank')).toBe(550);
    expect(put.get('frame')).toBeGreaterThan(0);
    await userEvent.click(screen.getByRole('button', { name: 'Undo' }));
    expect(job.added.slice(put.size).every((f) => f.kind === 'stands' && f.spot === null)).toBe(true);
  });
  test('the worktop is drawn once the hole has its place: its reach, and what is right below', async () => {
    const thing = (name: 'tap' | 'basin', xMm: number, yMm: number, zMm: number) =>
      happened({ kind: 'place', thing: name, spot: { xMm, yMm, zMm } }, 9);
    show(<Plumb />, jobOf(readings(), true));
    expect(screen.getByText(/Place the tap hole, and the basin, in Gauge’s cupboard/)).toBeTruthy();
    cleanup();
    const basin = thing('basin', 400, 275, 490);
    show(<Plumb />, jobOf([...readings(), basin, thing('tap', 620, 200, 590)], true));
    expect(await screen.findByText(/steel sink: hole 12.5 mm, the spout reaches 120 mm into the basin/)).toBeTruthy();
    cleanup();
    show(<Plumb />, jobOf([...readings(), basin, thing('tap', 900, 200, 590)], true));
    expect(await screen.findByText('The spout ends 160 mm short of the basin: move the hole nearer.')).toBeTruthy();
  });
  test('what finds no place is named, and what would go', async () => {
    const body = { widthMm: 900, depthMm: 550, heightMm: 650 };
    const boxing = happened({ kind: 'place', thing: 'post', spot: { xMm: 550, yMm: 275, zMm: 0 }, body }, 9);
    show(<Plumb />, jobOf([...readings(), boxing], true));
    expect(await screen.findByText(/Not everything goes in: no place was found for .*frame/)).toBeTruthy();
    expect(await screen.findByText(/With the next cupboard for part of it everything goes in/)).toBeTruthy();
  }, 30_000);
  test('nothing is laid out in a cupboard nobody has measured; the lists do without', () => {
    const unmeasured = Object.fromEntries(Object.entries(house).filter(([k]) => !k.startsWith('cupboard')));
    show(<Plumb />, jobOf(readings(unmeasured), true));
    expect(screen.getByText(/Once the cupboard’s width, depth and height are measured/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Take this layout' })).toBeNull();
    expect(screen.getByRole('checkbox', { name: /Feed tee with valve/ })).toBeTruthy();
  });
  test('until it is worked out nothing is said to be wrong with it', () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, { ...job, view: null });
    expect(screen.getByText('Working it out.')).toBeTruthy();
    cleanup();
    show(<Plumb />, { ...job, view: null, viewProblem: 'a part is missing' });
    expect(screen.getByText('This system cannot be worked out')).toBeTruthy();
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
  test('something is put in beside the sizing once it was seen what it does, and taken off again', async () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    const beside = screen.getByRole('region', { name: 'Beside the sizing', hidden: true });
    const leak =
      within(beside)
        .getByText(/Shuts the feed when its pad/)
        .closest('li') ?? beside;
    await userEvent.click(within(leak).getByRole('button', { name: 'See what it does', hidden: true }));
    expect(await within(leak).findByText('joints')).toBeTruthy();
    expect(job.added).toEqual([]);
    await userEvent.click(within(leak).getByRole('button', { name: 'Put it in', hidden: true }));
    expect(job.added).toMatchObject([{ kind: 'carries', extra: 'leak-stop', part: { id: 'leak-valve' } }]);
    cleanup();
    const [fact] = job.added;
    if (fact?.kind !== 'carries') throw new Error('nothing was put in');
    const with_ = jobOf([...readings(), happened(fact)], true);
    show(<Plumb />, with_);
    const parts = screen.getByRole('region', { name: 'Parts', hidden: true });
    await userEvent.click(within(parts).getByRole('button', { name: /leak valve/, hidden: true }));
    await userEvent.click(screen.getByRole('button', { name: 'Take the leak valve back', hidden: true }));
    await userEvent.type(await screen.findByLabelText('Why'), 'no room for its pad');
    await userEvent.click(screen.getByRole('button', { name: 'Take it back' }));
    expect(with_.added).toMatchObject([{ kind: 'taken-back', reason: 'no room for its pad' }]);
  });
  test('a part that is missing is replaced from the shelf, with what that does told before it counts', async () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    await userEvent.click(screen.getByRole('button', { name: /^Tank \d.* is missing or damaged$/, hidden: true }));
    expect(screen.getByRole('radio', { name: 'Parts' })).toHaveProperty('checked', true);
    const card = screen.getByRole('region', { name: 'The tank' });
    await userEvent.selectOptions(within(card).getByLabelText('What really went in'), 'tank-15');
    const what = await within(card).findByText('usable of a full tank');
    const [from = Number.NaN, to = Number.NaN] = (what.parentElement?.querySelector('dd')?.textContent ?? '').split('→').map((w) => Number.parseFloat(w));
    expect(to).toBeGreaterThan(from);
    await userEvent.click(within(card).getByRole('button', { name: 'Write it down' }));
    expect(job.added).toMatchObject([{ kind: 'fitted', part: { id: 'tank-15' } }]);
  }); // oxfmt-ignore
  test('what the household agreed to is written down, and told apart once it is otherwise', async () => {
    const agreedWith = (more: Known) => jobOf([...readings({ ...house, ...more })], true);
    const job = agreedWith({ worktop: 'steel' });
    show(<Plumb />, job);
    await userEvent.click(screen.getByRole('button', { name: 'The household agreed', hidden: true }));
    expect(job.added).toMatchObject([{ kind: 'tick', step: 'agreed:holes', done: true, note: expect.stringContaining('in steel sink') as unknown }]);
    cleanup();
    const [fact] = job.added;
    if (!fact) throw new Error('nothing was written');
    show(<Plumb />, jobOf([...readings({ ...house, worktop: 'steel' }), happened(fact)], true));
    expect(screen.getByText(/The household agreed: Imra Tole/)).toBeTruthy();
    cleanup();
    show(<Plumb />, jobOf([...readings({ ...house, worktop: 'stone' }), happened(fact)], true));
    expect(screen.getByText(/Agreed before to another: 12\.5 mm for tap in steel sink/)).toBeTruthy();
  }); // oxfmt-ignore
  test('what is in the way of beginning stands above all parts: copper asks for its earth bond', async () => {
    const job = jobOf(readings({ ...house, pipeMaterial: 'copper', stopValveHolds: 'seized' }), true);
    show(<Plumb />, job);
    expect(screen.getByText(/The stop valve does not turn: do not force it/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Asked and settled' }));
    expect(job.added).toMatchObject([{ kind: 'tick', step: 'agreed:earth-bond', done: true }]);
  });
  test('the pick list says what the van lacks, and what was taken out of it counts once', async () => {
    const all = jobOf(readings(), true);
    const needs = partsNeeded(all.view?.picks ?? []);
    const levels = Object.entries(needs).map(([part, n]) => ({
      part,
      van: 9,
      store: 5,
      vans: { shared: part === 'carbon-block' ? 1 : n },
    }));
    serve({ 'GET stock': () => ({ json: { levels, vansOf: [], reserved: {} } }) });
    show(<Plumb />, all);
    expect(await screen.findByText(/Not in the van, but in the store: 2 × Carbon block/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Take it all out of the van', hidden: true }));
    const [out] = all.added;
    expect(out).toMatchObject({ kind: 'stock-out', from: 'van' });
    cleanup();
    if (out?.kind !== 'stock-out') throw new Error('nothing was taken');
    expect(Object.fromEntries(out.parts.map((p) => [p.part, p.count]))).toEqual(needs);
    show(<Plumb />, jobOf([...readings(), happened(out)], true));
    expect(screen.getByText(/kinds of parts taken out of the van: Imra Tole/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /out of the van$/, hidden: true })).toBeNull();
  });
  test('from the drawing one goes to a part’s joints: those of the frame are all that hang on it', async () => {
    const trap = happened({ kind: 'place', thing: 'trap', spot: { xMm: 500, yMm: 275, zMm: 293 } }, 9);
    show(<Plumb />, jobOf([...readings(), trap], true));
    await userEvent.click(await screen.findByRole('button', { name: 'tank' }));
    await userEvent.click(screen.getByRole('button', { name: 'Its joints' }));
    expect(screen.getByRole('radio', { name: 'Joints' })).toHaveProperty('checked', true);
    const chosen = (): string[] => screen.getAllByRole('button', { name: /^Joint \d/ }).filter((b) => b.dataset.chosen === 'true').map((b) => b.getAttribute('aria-label') ?? '');
    expect(chosen().length).toBeGreaterThan(0);
    expect(chosen().every((c) => /, tank, /.exec(c))).toBe(true);
  }); // oxfmt-ignore
  test('a note on the place or on a part is kept with it; what is typed and not taken survives', async () => {
    const job = jobOf(readings(), true);
    show(<Plumb />, job);
    const field = screen.getByLabelText('Note on the feed tee');
    await userEvent.type(field, 'turns hard');
    cleanup();
    show(<Plumb />, job);
    expect(screen.getByLabelText('Note on the feed tee')).toHaveProperty('value', 'turns hard');
    await userEvent.click(screen.getAllByRole('button', { name: 'Write it down', hidden: true }).find((b) => !(b as HTMLButtonElement).disabled) ?? document.body);
    expect(job.added).toEqual([{ kind: 'note', about: 'feed', text: 'turns hard' }]);
  }); // oxfmt-ignore
});
