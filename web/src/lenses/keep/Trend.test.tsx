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
  show(<Trend />, agedJob([[3, 1, 1], [2, 0.95, 1.2], [1, 0.9, 1.45], [0, 0.86, 1.72]])); // prettier-ignore
  expect(
    screen.getByText(/^Flow falls by \d.* % a year: 70 % of new about .*in nine of ten\). Then a new membrane/),
  ).toBeTruthy();
  expect(
    screen.getByText(/^Salt passage grows by (19|20|18).* % a year: 2\.5 times a new element’s about/),
  ).toBeTruthy();
});

test('two proofs are no trend', () => {
  show(<Trend />, agedJob([[1, 1, 1], [0, 0.9, 1.3]])); // prettier-ignore
  expect(screen.queryByText(/a year/)).toBeNull();
});
