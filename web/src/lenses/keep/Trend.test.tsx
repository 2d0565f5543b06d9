import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen } from '@testing-library/react';
import { expectedAt } from '@katharos/core';
import { happened, jobOf, readings, show } from '../../testing/jobContext.tsx';
import Trend from './Trend.tsx';

afterEach(cleanup);

const DAY_MIN = 1440;

/** Proofs of an element that ages: so many years ago, flow and salt passage against new. */
function agedJob(aged: readonly (readonly [years: number, flow: number, passage: number])[]) {
  const base = readings();
  const { view } = jobOf(base, true);
  if (!view) throw new Error('no system');
  const at = { bar: 3.6, temperatureC: 12, feedTds: 320, concentrateLMin: 0.25 };
  const e = expectedAt(view.system, view.site, at);
  const v = (value: number): { value: number; typed: string } => ({ value, typed: String(value) });
  const proofs = aged.map(([years, flow, passage]) =>
    happened(
      {
        kind: 'proof',
        readings: {
          feedTdsMgL: v(at.feedTds),
          productTdsMgL: v(e.permeateTdsMgL * passage),
          temperatureC: v(at.temperatureC),
          membranePressureBar: v(at.bar),
          productFlowLMin: v((e.permeateLDay / DAY_MIN) * flow),
          concentrateFlowLMin: v(at.concentrateLMin),
        },
      },
      years * 365 * DAY_MIN,
    ),
  );
  return jobOf([...base, ...proofs], true);
}

test('the trend says how fast it goes, when a limit is met with its band, and what is done then', () => {
  show(<Trend />, agedJob([[3, 1, 1], [2, 0.95, 1.2], [1, 0.9, 1.45], [0, 0.86, 1.72]])); // oxfmt-ignore
  expect(
    screen.getByText(/^Flow falls by \d.* % a year: 70 % of new about .*in nine of ten\). Then a new membrane/),
  ).toBeTruthy();
  expect(
    screen.getByText(/^Salt passage grows by (19|20|18).* % a year: 2\.5 times a new element’s about/),
  ).toBeTruthy();
});

test('a cold week is shown to be none of the element’s: what was read beside what it comes to', () => {
  const job = agedJob([[1, 1, 1], [0, 1, 1]]); // oxfmt-ignore
  const view = job.view;
  if (!view) throw new Error('no system');
  const cold = { bar: 3.6, temperatureC: 4, feedTds: 320, concentrateLMin: 0.25 };
  const e = expectedAt(view.system, view.site, cold);
  const v = (value: number): { value: number; typed: string } => ({ value, typed: String(value) });
  const read = happened({
    kind: 'proof',
    readings: { feedTdsMgL: v(320), productTdsMgL: v(e.permeateTdsMgL), temperatureC: v(4), membranePressureBar: v(3.6), productFlowLMin: v(e.permeateLDay / DAY_MIN), concentrateFlowLMin: v(0.25) },
  }, 180 * DAY_MIN); // oxfmt-ignore
  show(<Trend />, job);
  expect(screen.queryByText(/^Thin: as it was read/)).toBeNull();
  cleanup();
  show(<Trend />, jobOf([...job.facts, read], true));
  const said = screen.getByText(/^Thin: as it was read/).textContent;
  const [slow, fast] = [...said.matchAll(/([\d.]+) L\/min/g)].map((m) => Number(m[1]));
  expect(slow ?? 1).toBeLessThan(0.85 * (fast ?? 0));
  expect(said).toMatch(/ are (99|100|101)(\.\d)? and (99|100|101)(\.\d)? % of a new element/);
});

test('two proofs are no trend', () => {
  show(<Trend />, agedJob([[1, 1, 1], [0, 0.9, 1.3]])); // oxfmt-ignore
  expect(screen.queryByText(/a year/)).toBeNull();
});

test('says how much chlorine the membrane has met, as a band, and marks what was changed', () => {
  const job = agedJob([[3, 1, 1], [1, 0.9, 1.3]]); // oxfmt-ignore
  const sheet = job.view?.sheet ?? [];
  const flushed = sheet.map((s, i) =>
    happened({ kind: 'tick', step: s.key, done: true }, 1100 * DAY_MIN + sheet.length - i),
  );
  const read = (mgL: number, days: number) =>
    happened({ kind: 'proof', readings: { chlorineMgL: { value: mgL, typed: String(mgL) } } }, days * DAY_MIN);
  const changed = happened({ kind: 'visit', reason: 'Half-year change', changed: ['sediment'] }, 700 * DAY_MIN);
  show(<Trend />, jobOf([...job.facts, ...flushed, read(0.02, 900), read(0.05, 200), changed], true));
  expect(
    screen.getByText(
      /^Chlorine the membrane has met: between 0 and \d.* mg\/L-hours, by 2 readings at .* A membrane bears 200 to 1000\.$/,
    ),
  ).toBeTruthy();
  expect(screen.getByText('Dotted upright: something was changed.')).toBeTruthy();
  cleanup();
  show(<Trend />, job);
  expect(screen.queryByText(/has met/)).toBeNull();
});
