import { afterEach, beforeEach, describe, expect, test, jest } from '@jest/globals';
import { siteFrom } from '@katharos/core';
import { house, rules } from '@katharos/core/testing';
import { act, cleanup, fireEvent, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState, type ReactElement } from 'react';
import { JobProvider } from '../../job/JobProvider.tsx';
import type { JobContext } from '../../job/useJob.ts';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import { renderIn } from '../../testing/renderIn.tsx';
import { Assumptions } from './Assumptions.tsx';
import { FakeSource, pen } from '../../testing/fakeSource.ts';
import Gauge from './Gauge.tsx';
import { assumedWords, fieldVisible, shortDate } from './fieldWords.ts';

beforeEach(() => {
  localStorage.clear();
  // the whole sheet open, but where folding itself is tested
  localStorage.setItem('katharos.sheet', JSON.stringify(['water', 'pressure', 'household', 'place']));
});
afterEach(cleanup);

describe('their day on the sheet', () => {
  const day = happened({ kind: 'habits', draws: [{ minute: 420, litres: 1.5 }, { minute: 1110, litres: 4 }] }, 5); // oxfmt-ignore
  test('a drawn day says litres and largest draw, until they are typed', async () => {
    const job = jobOf([...readings(), day], false);
    show(<Gauge />, job);
    const litres = screen.getByLabelText('Litres a day');
    expect(litres).toHaveProperty('value', '');
    expect(screen.getByText('5.5 L by their day below')).toBeTruthy();
    expect(screen.getByText('4 L by their day below')).toBeTruthy();
    await userEvent.type(litres, '9{Enter}');
    expect(job.added).toEqual([{ kind: 'reading', field: 'litresADay', value: 9, typed: '9' }]);
  });
  test('a draw moved by keys is tried while the key is down and kept once it is up', () => {
    const job = jobOf([...readings(), day], false);
    const { store } = show(<Gauge />, job);
    const bar = screen.getByRole('slider', { name: 'Draw 1 of 2' });
    fireEvent.keyDown(bar, { key: 'ArrowUp' });
    expect(store.getState().session.trial).toMatchObject({
      values: { litresADay: 5.55, largestDrawL: 4 },
      by: 'typing',
    });
    expect(job.added).toEqual([]);
    fireEvent.keyUp(bar, { key: 'ArrowUp' });
    expect(store.getState().session.trial).toBeNull();
    expect(job.added).toEqual([{ kind: 'habits', draws: [{ minute: 420, litres: 1.55 }, { minute: 1110, litres: 4 }] }]); // oxfmt-ignore
  });
  test('back to a usual day takes the drawn one back; without litres there is none to draw', async () => {
    const job = jobOf([...readings(), day], false);
    show(<Gauge />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Back to a usual day' }));
    expect(job.added).toEqual([{ kind: 'habits', draws: [] }]);
    cleanup();
    show(<Gauge />, jobOf([], false));
    expect(screen.queryByRole('group', { name: 'A day of draws' })).toBeNull();
  });
});

describe('the order of the sheet', () => {
  const labels = (of: string): string[] =>
    [...document.querySelectorAll<HTMLElement>(`${of} .mantine-InputWrapper-label`)].map((e) => e.textContent);
  const section = '.gauge-entry > section';
  beforeEach(() => {
    localStorage.removeItem('katharos.sheet');
  });
  test('what nothing is sized without comes first, the rest is folded until it is opened', async () => {
    show(<Gauge />, jobOf([], false));
    expect(labels(`${section}:nth-of-type(1)`)).toEqual(['Source', 'Feed TDS', 'Water today', 'Static pressure', 'People']); // oxfmt-ignore
    expect(labels(`${section}:nth-of-type(2)`)).toContain('Cold line told from hot');
    expect(screen.queryByLabelText('Silica')).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Open all' }));
    expect(screen.getByLabelText('Silica')).toBeTruthy();
    // and it stays so on this device
    cleanup();
    show(<Gauge />, jobOf([], false));
    expect(screen.getByLabelText('Silica')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Fold them' }));
    expect(screen.queryByLabelText('Silica')).toBeNull();
  });
  test('what is folded is told in a line; what is doubted, or typed and not taken in, stands open', () => {
    localStorage.setItem('katharos.draft.job-1.silicaMgL', '12');
    const job = jobOf(readings({ ...house, hardnessMgL: 400 }), false);
    localStorage.setItem(`katharos.draft.${job.id}.silicaMgL`, '12');
    show(<Gauge />, job);
    expect(labels(section)).toEqual(expect.arrayContaining(['Hardness at this tap', 'Silica']));
    expect(document.querySelector('.gauge-rest summary')?.textContent).toMatch(
      /Water, \d+ more.*Coldest of the year 8/,
    );
  });
  test('a field stays where it is while a hand is in it, and comes up once the hand has left', () => {
    const facts = readings({ ...house, hardnessMgL: 120 });
    let goOn: (job: JobContext) => void = () => undefined;
    const Sheet = (): ReactElement => {
      const [job, setJob] = useState<JobContext>(jobOf(facts, false));
      goOn = setJob;
      return (
        <JobProvider job={job} facts={job}>
          <Gauge />
        </JobProvider>
      );
    };
    renderIn(<Sheet />);
    fireEvent.click(screen.getByRole('button', { name: 'Open all' }));
    const hardness = screen.getByLabelText('Hardness at this tap');
    expect(labels(section)).not.toContain('Hardness at this tap');
    hardness.focus();
    const doubted = jobOf([...facts, ...readings({ hardnessMgL: 400 })], false);
    act(() => {
      goOn(doubted);
    });
    expect(document.activeElement).toBe(hardness);
    expect(labels(section)).not.toContain('Hardness at this tap');
    hardness.blur();
    act(() => {
      goOn({ ...doubted });
    });
    expect(labels(section)).toContain('Hardness at this tap');
  });
  test('N goes to the next reading, unfolding it; what is skipped leads to the one after', async () => {
    show(<Gauge />, jobOf(readings({ source: 'mains' }), false));
    await userEvent.keyboard('n');
    expect(document.activeElement).toBe(screen.getByLabelText('Feed TDS'));
    await userEvent.keyboard('n{Alt>}n{/Alt}');
    expect(screen.getByLabelText('Feed TDS')).toHaveProperty('value', 'n');
    // a list takes letters: the hand stays in it, and only Alt leads on
    const list = screen.getByLabelText('Source');
    list.focus();
    await userEvent.keyboard('n');
    expect(document.activeElement).toBe(list);
    await userEvent.keyboard('{Alt>}n{/Alt}');
    expect(document.activeElement).toBe(screen.getByLabelText('Feed TDS'));
    await userEvent.click(screen.getByRole('button', { name: 'Skip it for now' }));
    expect(document.querySelector('.gauge-next')?.textContent).toContain('Water today');
  });
});

describe('on a phone', () => {
  const wide = window.matchMedia.bind(window);
  beforeEach(() => {
    window.matchMedia = (query) =>
      Object.assign(wide(query), { matches: query === '' || query.includes('max-width: 760px') });
  });
  afterEach(() => {
    window.matchMedia = wide;
  });
  test('the sentence and the next reading stand within the thumb’s reach', async () => {
    show(<Gauge />, jobOf(readings({ source: 'mains' }), false));
    const bar = document.querySelector<HTMLElement>('.gauge-thumb') ?? document.body;
    expect(within(bar).getByText(/To size this house, read first: feed TDS/)).toBeTruthy();
    await userEvent.click(within(bar).getByRole('button', { name: 'Read first: Feed TDS' }));
    expect(document.activeElement).toBe(screen.getByLabelText('Feed TDS'));
  });
  test('what needs no further reading leads to the sizing', () => {
    show(<Gauge />, jobOf(readings({ ...house, source: 'well', laboratory: 'none' }), false));
    const bar = document.querySelector<HTMLElement>('.gauge-thumb') ?? document.body;
    expect(within(bar).getByRole('link', { name: 'Settled: see the sizing' }).getAttribute('href')).toMatch(/size$/);
  });
});

describe('gauging on the page', () => {
  test('a first visit says what to do first', () => {
    show(<Gauge />, jobOf([], false));
    expect(screen.getByText(/First visit: run the cold tap/)).toBeTruthy();
    expect(screen.getByText(/To size this house, read first/)).toBeTruthy();
  });
  test('what the meter in hand cannot read, and what is asked, is not written down as read with it', async () => {
    const job = { ...jobOf([], false), instruments: [pen] };
    show(<Gauge />, job);
    await userEvent.type(screen.getByPlaceholderText('for water'), 'pen A');
    await userEvent.type(screen.getByLabelText('Hardness at this tap'), '12 dH{Enter}');
    await userEvent.type(screen.getByLabelText('Feed TDS'), '320{Enter}');
    await userEvent.selectOptions(screen.getByLabelText('Source'), 'mains');
    expect(job.added.map((f) => [f.kind === 'reading' && f.field, 'instrument' in f])).toEqual([
      ['hardnessMgL', false],
      ['feedTdsMgL', true],
      ['source', false],
    ]);
  });
  test('an empty field says what is taken for it as long as nobody has read it', () => {
    show(<Gauge />, jobOf(readings({ source: 'mains', feedTdsMgL: 320, temperatureC: 14, staticPressureBar: 4, people: 3 }), false)); // oxfmt-ignore
    expect(screen.getByLabelText('Coldest of the year').getAttribute('placeholder')).toBe('assumed 7 °C');
    expect(screen.getByLabelText('pH').getAttribute('placeholder')).toMatch(/^assumed 7\.\d+$/);
    expect(within(screen.getByLabelText('Socket in the cupboard')).getByText('assumed none')).toBeTruthy();
    expect(screen.getByLabelText('Feed TDS').getAttribute('placeholder')).toBe('mg/L');
  });
  test('what is assumed stands with what it decides first; the rest is folded away', () => {
    const few = { source: 'mains', feedTdsMgL: 320, temperatureC: 14, staticPressureBar: 4, people: 3 } as const;
    renderIn(
      <Assumptions
        site={siteFrom(few, rules)}
        flips={[]}
        turns={{ looked: ['disinfectant', 'fridge'], turns: [{ field: 'disinfectant', answer: 'chloramine', becomes: 'carbon: another' }] }} // oxfmt-ignore
      />,
    );
    const [open, folded] = screen.getAllByRole('list');
    expect(open?.textContent).toMatch(
      /Disinfectant: free chlorineit decides: ask\. If "chloramine": carbon: another\./,
    );
    expect(folded?.textContent).toMatch(/Fridge or ice line: nowhatever it is, the design stays/);
    expect(screen.getByText(/more assumed, none of which turns the design/)).toBeTruthy();
  });
  test('a reading carries the instrument in hand, and a correction names the reading it corrects', async () => {
    const facts = readings();
    const job = jobOf(facts, false);
    show(<Gauge />, job);
    await userEvent.type(screen.getByPlaceholderText('for water'), 'pen B');
    const tds = screen.getByLabelText('Feed TDS');
    await userEvent.clear(tds);
    await userEvent.type(tds, '335 ppm{Enter}');
    const old = facts.find((f) => f.kind === 'reading' && f.field === 'feedTdsMgL');
    expect(job.added).toEqual([
      { kind: 'reading', field: 'feedTdsMgL', value: 335, typed: '335 ppm', corrects: old?.id, instrument: 'pen B' },
    ]);
  });
  test('a choice is recorded as it is made', async () => {
    const job = jobOf(readings(), false);
    show(<Gauge />, job);
    await userEvent.selectOptions(screen.getByLabelText('Socket in the cupboard'), 'none');
    expect(job.added[0]).toMatchObject({ kind: 'reading', field: 'socket', value: 'no', typed: 'none' });
  });
  test('a doubt stands at its field and in the list, and what is assumed says why', () => {
    const { coldestC: _cold, ...rest } = { ...house, hardnessMgL: 400 };
    expect(_cold).toBe(8);
    show(<Gauge />, jobOf(readings(rest), false));
    const field = screen.getByLabelText('Hardness at this tap').closest('.reading');
    expect(within(field as HTMLElement).getByText(/cannot exceed a TDS of 320/)).toBeTruthy();
    expect(screen.getByText('Coldest of the year:', { exact: false })).toBeTruthy();
    expect(screen.getByText(/nobody knew: a cold mains winter/)).toBeTruthy();
  });
  test('a well asks for its switch and its laboratory, mains do not', () => {
    expect(
      ['laboratory', 'switchLowBar', 'highestPressureBar'].map((k) =>
        fieldVisible(k as 'laboratory', { source: 'well' }),
      ),
    ).toEqual([true, true, false]);
    expect(
      ['laboratory', 'switchLowBar', 'highestPressureBar'].map((k) =>
        fieldVisible(k as 'laboratory', { source: 'mains' }),
      ),
    ).toEqual([false, false, true]);
    expect(fieldVisible('ironMgL', { source: 'mains', ironMgL: 0.1 })).toBe(true);
  });
  test('an assumed value is shown with its unit or its option', () => {
    expect(assumedWords({ field: 'coldestC', value: 7, why: '' })).toBe('7 °C');
    expect(assumedWords({ field: 'socket', value: 'no', why: '' })).toBe('none');
  });
  test('a reading of another year names the year', () => {
    expect(shortDate('2001-05-06T10:00:00.000Z')).toMatch(/2001$/);
    expect(shortDate(new Date().toISOString())).toMatch(/^\d\d:\d\d$/);
  });
});

describe('while a figure is typed', () => {
  test('it is tried, not recorded; taken in, the trial ends', async () => {
    const job = jobOf(readings(), false);
    const { store } = show(<Gauge />, job);
    const cold = screen.getByLabelText('Coldest of the year');
    await userEvent.clear(cold);
    await userEvent.type(cold, '3,5');
    expect(store.getState().session.trial).toMatchObject({ by: 'typing', values: { coldestC: 3.5 } });
    expect(job.added).toEqual([]);
    await userEvent.keyboard('{Enter}');
    expect(store.getState().session.trial).toBeNull();
    expect(job.added).toMatchObject([{ field: 'coldestC', value: 3.5, typed: '3,5' }]);
  });
  test('what does not read is not tried', async () => {
    const { store } = show(<Gauge />, jobOf(readings(), false));
    await userEvent.type(screen.getByLabelText('Coldest of the year'), '{Control>}a{/Control}cold');
    expect(store.getState().session.trial).toBeNull();
  });
});

describe('what to read next', () => {
  test('is named with its reason, and its field is gone to', async () => {
    const { source: _source, ...rest } = house;
    expect(_source).toBe('mains');
    show(<Gauge />, jobOf(readings(rest), false));
    expect(document.querySelector('.gauge-next')?.textContent).toMatch(/^Ask first: Source/);
    await userEvent.click(screen.getByRole('button', { name: 'Source' }));
    expect(document.activeElement).toBe(screen.getByLabelText('Source'));
  });
});

describe('doubts', () => {
  test('are set aside with a reason and may be raised again; those about safety may not', async () => {
    const job = jobOf(readings({ ...house, feedTdsMgL: 12, hardnessMgL: 5, coldLine: 'no' }), false);
    show(<Gauge />, job);
    const low = screen.getAllByText(/Few supplies are this low/).map((e) => e.closest('.note')).find(Boolean) as HTMLElement; // oxfmt-ignore
    await userEvent.click(within(low).getByRole('button', { name: 'It is so' }));
    await userEvent.type(within(low).getByLabelText('Why it is so'), 'rain fed reservoir{Enter}');
    expect(job.added).toEqual([{ kind: 'dismiss', doubt: 'tds-very-low', reason: 'rain fed reservoir' }]);
    const safety = screen.getAllByText(/Run both taps, feel, and label/).map((e) => e.closest('.caution')).find(Boolean); // oxfmt-ignore
    expect(within(safety as HTMLElement).queryByRole('button', { name: 'It is so' })).toBeNull();
  });
});

describe('several readings', () => {
  test('another is added with its place, without correcting the first; one is chosen with its reason', async () => {
    const facts = readings();
    const first = facts.find((f) => f.kind === 'reading' && f.field === 'staticPressureBar');
    const other = happened({ kind: 'reading', field: 'staticPressureBar', value: 4.4, typed: '4.4 bar', place: 'garden' }, 10); // oxfmt-ignore
    const job = jobOf([...facts, other], false);
    show(<Gauge />, job);
    await userEvent.click(screen.getByTitle('Readings of Static pressure'));
    await userEvent.click(await screen.findByRole('radio', { name: /^4$/ }));
    await userEvent.type(screen.getByLabelText('Why this one'), 'garden hose was running');
    await userEvent.click(screen.getByText('Use it'));
    expect(job.added).toEqual([
      { kind: 'use', field: 'staticPressureBar', reading: first?.id, reason: 'garden hose was running' },
    ]);
    await userEvent.click(screen.getByTitle('Readings of Static pressure'));
    await userEvent.type(await screen.findByLabelText('Another reading'), '58 psi');
    await userEvent.type(screen.getByLabelText('Where, when'), 'well tank');
    await userEvent.click(screen.getByText('Add it'));
    expect(job.added[1]).toMatchObject({ kind: 'reading', typed: '58 psi', place: 'well tank' });
    expect(job.added[1]).not.toHaveProperty('corrects');
  });
});

describe('a laboratory’s report', () => {
  const report = 'Stoff;Messwert;Einheit\nEisen;<0,05;mg/l\nGesamthärte;14;°dH\nCadmium;<0,1;µg/l\nNitrat;viel;mg/l';
  test('pasted is shown first, with what does not read, and taken over as readings of the laboratory', async () => {
    const job = jobOf(readings(), false);
    show(<Gauge />, job);
    await userEvent.click(screen.getByRole('button', { name: 'Paste one' }));
    await userEvent.click(screen.getByLabelText('Report, pasted'));
    await userEvent.paste(report);
    await userEvent.click(screen.getByRole('button', { name: 'Look at it' }));
    expect(await screen.findByText(/2 to take over, 1 that do not read are left out/)).toBeTruthy();
    expect(screen.getByText('"viel" does not read as a figure')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Take them over' }));
    expect(job.added).toMatchObject([
      { kind: 'reading', field: 'ironMgL', value: 0.05, typed: '<0,05 mg/l', instrument: 'laboratory' },
      { kind: 'reading', field: 'hardnessMgL', typed: '14 °dH', instrument: 'laboratory' },
    ]);
  });
  test('without rows is told so', async () => {
    show(<Gauge />, jobOf(readings(), false));
    await userEvent.click(screen.getByRole('button', { name: 'Paste one' }));
    await userEvent.click(screen.getByLabelText('Report, pasted'));
    await userEvent.paste('nothing here');
    await userEvent.click(screen.getByRole('button', { name: 'Look at it' }));
    expect((await screen.findByRole('alert')).textContent).toMatch(/has no rows/);
  });
});

describe('a meter that answers over the wire', () => {
  const open = async () => {
    Object.assign(globalThis, { EventSource: FakeSource });
    const job = { ...jobOf(readings(), false), instruments: [{ ...pen, address: 'stand-in:pen' }] };
    show(<Gauge />, job);
    await userEvent.type(screen.getByPlaceholderText('for water'), 'pen A');
    await userEvent.click(screen.getByTitle('Take Feed TDS from pen A'));
    return { job, source: FakeSource.last };
  };
  const say = (source: FakeSource | undefined, value: number, settled: boolean): void => {
    act(() => source?.onmessage?.({ data: JSON.stringify({ seconds: 1, value, unit: 'mg/L', settled }) }));
  };
  test('is shown settling and taken when the hand says so', async () => {
    const { job, source } = await open();
    expect(source?.url).toContain('quantity=concentration');
    say(source, 210, false);
    expect(screen.getByText('settling')).toBeTruthy();
    say(source, 331, true);
    await userEvent.click(screen.getByRole('button', { name: 'Take it' }));
    expect(job.added).toMatchObject([{ field: 'feedTdsMgL', value: 331, typed: '331 mg/L', instrument: 'pen A' }]);
    expect(source?.closed).toBe(true);
  });
  test('that does not answer is told, and what it sends that is no reading is passed over', async () => {
    const { source } = await open();
    act(() => source?.onmessage?.({ data: '{"value":"much"}' }));
    expect(screen.getByText('Asking pen A.')).toBeTruthy();
    act(() => source?.onerror?.());
    expect(screen.getByText(/pen A does not answer/)).toBeTruthy();
  });
});

test('a meter that falls silent in the middle is told; what had not settled is not taken, and it may be asked again', async () => {
  Object.assign(globalThis, { EventSource: FakeSource });
  const job = { ...jobOf(readings(), false), instruments: [{ ...pen, address: 'stand-in:pen' }] };
  show(<Gauge />, job);
  await userEvent.type(screen.getByPlaceholderText('for water'), 'pen A');
  jest.useFakeTimers();
  try {
    act(() => {
      screen.getByTitle('Take Feed TDS from pen A').click();
    });
    const first = FakeSource.last;
    act(() => first?.onmessage?.({ data: JSON.stringify({ seconds: 1, value: 210, unit: 'mg/L', settled: false }) }));
    act(() => {
      jest.advanceTimersByTime(9_000);
    });
    expect(screen.queryByText(/has sent nothing/)).toBeNull();
    act(() => {
      jest.advanceTimersByTime(2_000);
    });
    expect(screen.getByText(/pen A has sent nothing for 10 seconds/)).toBeTruthy();
    expect(first?.closed).toBe(true);
    expect(screen.getByRole('button', { name: 'Take it' }).hasAttribute('disabled')).toBe(true);
    act(() => {
      screen.getByRole('button', { name: 'Ask it again' }).click();
    });
    expect(FakeSource.last).not.toBe(first);
    expect(screen.queryByText(/has sent nothing/)).toBeNull();
    expect(job.added).toEqual([]);
  } finally {
    jest.useRealTimers();
  }
});

describe('several worries', () => {
  const worried = (value: string) => happened({ kind: 'reading', field: 'worry', value, typed: value }, 6);
  const press = async (name: string, facts: Parameters<typeof jobOf>[0]) => {
    const job = jobOf(facts, false);
    show(<Gauge />, job);
    await userEvent.click(within(screen.getByRole('group', { name: 'Worried about' })).getByLabelText(name));
    return job.added;
  };
  test('are named one after the other', async () => {
    expect(await press('nitrate', [...readings(), worried('lead')])).toMatchObject([
      { field: 'worry', value: 'lead,nitrate', typed: 'lead, nitrate' },
    ]);
  });
  test('end with “nothing in particular”, and that ends with a worry', async () => {
    expect(await press('nothing in particular', [...readings(), worried('lead,nitrate')])).toMatchObject([
      { value: 'none' },
    ]);
    cleanup();
    expect(await press('PFAS', [...readings(), worried('none')])).toMatchObject([{ value: 'pfas' }]);
  });
  test('the last one taken back leaves it unasked', async () => {
    expect(await press('lead', [...readings(), worried('lead')])).toMatchObject([{ value: null }]);
  });
});
