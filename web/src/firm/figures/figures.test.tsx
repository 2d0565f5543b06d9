import type { FirmFigures } from '@katharos/core';
import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Shelf } from '@katharos/contract';
import { rules } from '@katharos/core/testing';
import { WHO } from '../../testing/jobContext.tsx';
import { renderIn } from '../../testing/renderIn.tsx';
import { serve } from '../../testing/serve.ts';
import FiguresPage from './FiguresPage.tsx';

afterEach(cleanup);
const shelf: Shelf = {
  parts: [],
  unreadableParts: [],
  partVersions: {},
  rules,
  rulesVersion: 0,
  stamp: 'one',
  instruments: [],
  people: [],
};
const batch = {
  part: 'Element 190',
  batch: 'E-1',
  houses: 4,
  changed: 0,
  stoodDays: null,
  saltAYear: 0.13,
  fast: false,
  standsIn: [],
};
const figures: FirmFigures = {
  inCare: 47, takenOut: 1, overdue: 2, visitsByWeek: [1, 0, 3], visitsYear: 40, callsYear: 6, callBacksYear: 2, provedYear: 8, rightYear: 7,
  batches: [{ ...batch, batch: 'E-2', houses: 3, changed: 2, saltAYear: 1.1, fast: true, standsIn: [{ jobId: 'a', name: 'Tern Court 5' }] }, batch, { ...batch, batch: 'E-3', houses: 1 }],
  says: ['Element 190, delivery E-2: read it next.', '2 houses are overdue: plan them from what is coming.'],
}; // oxfmt-ignore

test('says what to do first, names where a bad delivery stands, and leaves single ones out until asked', async () => {
  serve({ 'GET figures': () => ({ json: figures }) });
  renderIn(<FiguresPage shelf={shelf} />, WHO);
  expect((await screen.findAllByRole('listitem')).map((l) => l.textContent)).toEqual(figures.says);
  expect(screen.getByRole('row', { name: /Called again .* 2 of 40, 5(\.0)? %/ })).toBeTruthy();
  expect(screen.getByRole('link', { name: 'Tern Court 5' }).getAttribute('href')).toBe('/jobs/a/prove');
  expect(screen.queryByText('E-3')).toBeNull();
  await userEvent.click(screen.getByRole('switch', { name: 'single ones too' }));
  expect(screen.getByText('E-3')).toBeTruthy();
});
test('an answer that does not come is told', async () => {
  serve({});
  renderIn(<FiguresPage shelf={shelf} />, WHO);
  expect((await screen.findByRole('alert')).textContent).toContain('There is nothing under that address');
});
