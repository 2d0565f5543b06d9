import { randomUUID } from 'node:crypto';
import type { Catalogue, HouseRules } from '@katharos/core';
import type { Job } from '@katharos/contract';
import type { Locator, Page } from '@playwright/test';
import { type App, expect, goOn, test, wholeSheet, workAs } from '../app.ts';
import { doNext } from '../flushing.ts';

interface ShelfNow {
  readonly parts: Catalogue;
  readonly partVersions: Readonly<Record<string, number>>;
  readonly rules: HouseRules;
  readonly rulesVersion: number;
  readonly people: readonly { readonly id: string; readonly name: string }[];
}
const get = async <T>(app: App, path: string): Promise<T> =>
  (await (await fetch(`${app.url}/api/${path}`, { headers: await app.imra() })).json()) as T;
const put = (app: App, path: string, body: object): Promise<Response> =>
  app.imra().then((h) => fetch(`${app.url}/api/${path}`, { method: 'PUT', headers: { 'content-type': 'application/json', ...h }, body: JSON.stringify(body) })); // oxfmt-ignore
const sentence = (page: Page): Locator => page.locator('.sheet .headline').first();
const sent = async (page: Page): Promise<void> => {
  await expect(page.locator('.strip-send')).toContainText('all sent', { timeout: 20_000 });
};
/** What all of a kind say, once there are any. */
const all = async (page: Page, selector: string): Promise<string[]> => {
  await expect(page.locator(selector).first()).toBeAttached();
  return page.locator(selector).allTextContents();
};
const jobIdOf = (address: string): string => new URL(address).pathname.split('/')[2] ?? '';

test('an approved job stays as it was through edits of shelf, rules and readings, and says what differs', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Saltern', 'size'));
  await expect(page.getByText(/Version 1 approved/)).toBeVisible();
  const said = await sentence(page).textContent();
  const figures = await all(page, '.line-tds');
  await goOn(page, await app.lens('Saltern', 'plumb'));
  const joints = await all(page, '.joint-ticks button');

  const shelf = await get<ShelfNow>(app, 'shelf');
  const by = shelf.people[0]?.id ?? '';
  const job = await get<Job>(app, `jobs/${jobIdOf(page.url())}`);
  const element = shelf.parts.find((p) => p.id === job.designs[0]?.system.components.find((c) => c.kind === 'membrane')?.part?.id);
  if (element?.kind !== 'element') throw new Error('no element');
  const stronger = { ...element, rating: { ...element.rating, permeateLDay: element.rating.permeateLDay * 1.3 } };
  expect((await put(app, `shelf/parts/${element.id}`, { part: stronger, version: shelf.partVersions[element.id] ?? 0, by })).ok).toBe(true);
  expect((await put(app, 'shelf/rules', { rules: { ...shelf.rules, discards: 3 }, version: shelf.rulesVersion, by })).ok).toBe(true);
  await page.goto(await app.lens('Saltern', 'gauge'));
  await page.getByLabel('Feed TDS').fill('1510');
  await page.getByLabel('Feed TDS').press('Enter');
  await sent(page);

  await goOn(page, await app.lens('Saltern', 'size'));
  await expect(page.getByText(new RegExp(`The shelf now says of ${element.name}: rating`))).toBeVisible();
  await expect(page.getByText(/House rule, .*: 3 now, \d when it was approved/)).toBeVisible();
  await expect(page.getByText(/Feed TDS reads 1510 mg\/L now, 1450 mg\/L when it was approved/)).toBeVisible();
  await expect(sentence(page)).toHaveText(said ?? '');
  expect(await all(page, '.line-tds')).toEqual(figures);
  await goOn(page, await app.lens('Saltern', 'plumb'));
  expect(await all(page, '.joint-ticks button')).toEqual(joints);
}); // oxfmt-ignore

test('a job of the first format opens with all it holds, and goes on', async ({ app, work: page }) => {
  const known = { source: 'mains', feedTdsMgL: 300, temperatureC: 12, staticPressureBar: 4, people: 2, socket: 'yes' };
  // as it was written then: parts by their ids, none of what came since
  const design = {
    elementId: 'element-230-tight',
    restrictorId: 'restrictor-430',
    tankId: 'tank-8',
    pumpId: null,
    limiterId: null,
    mineralId: null,
    sedimentId: 'sediment-5',
    carbonIds: ['carbon-block', 'carbon-block'],
    polishId: 'polish-inline',
    shutOffId: 'shut-off-valve',
    nonReturnId: 'non-return-valve',
    feedId: 'feed-tee',
    drainId: 'drain-clamp',
    tapId: 'tap-plain',
    tubeId: 'tube-6',
    fridge: false,
    leakValve: false,
  };
  const [jobId, by] = [randomUUID(), randomUUID()];
  const fact = (f: object): object => ({ id: randomUUID(), jobId, by, at: '2026-05-02T08:00:00.000Z', ...f });
  const file = {
    format: 'katharos-job',
    version: 1,
    household: { id: randomUUID(), name: 'Old Mill Loft', place: 'Corvane', contact: '', notes: '' },
    jobId,
    people: [{ id: by, name: 'Ode Marr' }],
    facts: [
      ...Object.entries(known).map(([field, value]) =>
        fact({ kind: 'reading', field, value, typed: String(value), at: '2026-05-01T08:00:00.000Z' }),
      ),
      fact({ kind: 'visit', reason: 'carbon changed early', changed: ['carbon-2'] }),
    ],
    designs: [{ id: randomUUID(), number: 1, design, sentence: 'As it was said then.', reason: '', coreVersion: '0.2.0', at: '2026-05-01T09:00:00.000Z', by }],
  }; // oxfmt-ignore
  await page.goto(app.url);
  await page
    .locator('input[type="file"]:not([capture])')
    .setInputFiles({ name: 'old.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(file)) });
  await expect(page.getByText('Old Mill Loft').first()).toBeVisible();
  await goOn(page, `${app.url}/jobs/${jobId}/size`);
  await expect(sentence(page)).toHaveText('As it was said then.');
  await goOn(page, `${app.url}/jobs/${jobId}/keep`);
  await expect(page.getByRole('cell', { name: /carbon changed early/ })).toBeVisible();
  await expect(page.locator('.unreadables')).toHaveCount(0);
});

test('what the server refused is found again after a reload, and kept until somebody decides', async ({ app, work: page }) => {
  await wholeSheet(page);
  await page.goto(await app.lens('Tollgate', 'gauge'));
  await page.route('**/facts', (route) =>
    route.fulfill({ status: 422, contentType: 'application/problem+json', body: JSON.stringify({ type: 'urn:x', title: 'Not taken here', status: 422 }) }),
  );
  await page.getByLabel('Chlorine, total').fill('0.45');
  await page.getByLabel('Chlorine, total').press('Enter');
  await expect(page.locator('.strip-send')).toContainText('1 refused');
  await page.unroute('**/facts');
  await page.reload();
  await expect(page.locator('.strip-send')).toContainText('1 refused');
  await page.locator('.strip-send').click();
  await expect(page.getByText(/reading: Not taken here/)).toBeVisible();
  await page.getByRole('button', { name: 'Drop it' }).click();
  await expect(page.locator('.strip-send')).toContainText('all sent');
  await page.reload();
  await expect(page.locator('.strip-send')).toContainText('all sent');
}); // oxfmt-ignore

test('two pages write while the server is killed and started again: nothing is lost, nothing stands twice', async ({
  app,
  work: page,
  browser,
}) => {
  const address = await app.lens('Gable', 'gauge');
  const id = jobIdOf(address);
  const before = (await get<Job>(app, `jobs/${id}`)).facts.length;
  const other = await (await browser.newContext()).newPage();
  await workAs(app, other);
  await Promise.all([wholeSheet(page), wholeSheet(other)]);
  await Promise.all([page.goto(address), other.goto(address)]);
  const type = async (p: Page, label: string, values: readonly string[]): Promise<void> => {
    for (const v of values) {
      await p.getByLabel(label, { exact: true }).fill(v);
      await p.getByLabel(label, { exact: true }).press('Enter');
    }
  };
  // both stand on the sheet before the server goes
  await expect(page.getByLabel('Coldest of the year', { exact: true })).toBeVisible();
  await expect(other.getByLabel('Warmest of the year', { exact: true })).toBeVisible();
  const [mine, theirs] = [['5.1', '5.2', '5.3', '5.4', '5.5', '5.6'], ['21', '22', '23', '24', '25', '26']];
  const bursts = Promise.all([type(page, 'Coldest of the year', mine), type(other, 'Warmest of the year', theirs)]);
  await app.stop('SIGKILL');
  await bursts;
  await app.start();
  await Promise.all([sent(page), sent(other)]);
  const { facts } = await get<Job>(app, `jobs/${id}`);
  const typed = (field: string): string[] => facts.flatMap((f) => (f.kind === 'reading' && f.field === field && f.by !== '' ? [f.typed] : []));
  expect(typed('coldestC').slice(-mine.length)).toEqual(mine);
  expect(typed('warmestC').slice(-theirs.length)).toEqual(theirs);
  expect(facts).toHaveLength(before + mine.length + theirs.length);
  expect(new Set(facts.map((f) => f.id)).size).toBe(facts.length);
  await other.context().close();
}); // oxfmt-ignore

test('a design approved without a signal is all there once the server is back', async ({ app, work: page }) => {
  await page.goto(await app.lens('Lantern', 'size'));
  await expect(page.getByRole('button', { name: 'Approve this design' })).toBeEnabled();
  // the other lenses have come while this one rested
  await page.waitForTimeout(2500);
  await page.waitForLoadState('networkidle');
  await app.stop();
  await page.getByRole('button', { name: 'Approve this design' }).click();
  await expect(page.getByText(/Approved as version 1. It is kept here/)).toBeVisible();
  await expect(page.getByText('Version 1 approved', { exact: false })).toBeVisible();
  await page.getByRole('navigation', { name: 'Parts of the job' }).getByText('Plumb').click();
  await page.locator('.mantine-SegmentedControl-label', { hasText: 'Pick list' }).click();
  await page.getByRole('checkbox', { name: /Feed tee with valve/ }).check();
  await expect(page.locator('.strip-send')).toContainText('kept here');
  await app.start();
  await sent(page);
  const job = await get<Job>(app, `jobs/${jobIdOf(page.url())}`);
  expect(job.designs).toHaveLength(1);
  expect(job.facts.filter((f) => f.kind === 'tick' && f.design === job.designs[0]?.id)).toHaveLength(1);
}); // oxfmt-ignore

test('carbon at its own tap goes from Size to Keep without a membrane', async ({ app, work: page }) => {
  await page.goto(await app.lens('Ropewalk', 'size'));
  await page.getByRole('button', { name: 'Approve these filters' }).click();
  await expect(sentence(page)).toContainText('Carbon at its own tap');
  await expect(page.getByText('Version 1 approved', { exact: false })).toBeVisible();
  await goOn(page, await app.lens('Ropewalk', 'plumb'));
  await expect(page.locator('.joint-ticks button')).toHaveCount(7);
  await goOn(page, await app.lens('Ropewalk', 'flush'));
  for (let i = 0; i < 20 && !(await page.getByText('Flushed and wet. Prove it next.').isVisible()); i++)
    await doNext(page);
  await goOn(page, await app.lens('Ropewalk', 'prove'));
  await page.getByLabel('Tap flow').fill('3.6');
  await page.getByLabel('Temperature').fill('15');
  await page.getByLabel(/^Total chlorine/).fill('0.02');
  await expect(sentence(page)).toContainText('Good.');
  await page.getByRole('button', { name: 'Keep these readings' }).click();
  await goOn(page, await app.lens('Ropewalk', 'keep'));
  await expect(page.locator('.life')).toHaveCount(2);
});

test('a photograph, a serial number and a visit of another day are kept; what was wrong is taken back', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Highmoor', 'keep'));
  await page.getByLabel('Why').fill('Leak pad looked at');
  await page.getByLabel('Day of it').fill('2026-01-15');
  await page.getByRole('button', { name: 'Log this visit' }).click();
  const row = page.getByRole('row').filter({ hasText: 'Leak pad looked at' });
  await expect(row).toContainText('15 Jan 2026');
  // the smallest picture there is, drawn anew by the page before it is sent
  const dot = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64'); // oxfmt-ignore
  const chooser = page.waitForEvent('filechooser');
  await row.getByRole('button', { name: /^Add a photograph/ }).click();
  await (await chooser).setFiles({ name: 'pad.png', mimeType: 'image/png', buffer: dot });
  await expect(row.locator('.photograph img')).toHaveCount(1);
  await sent(page);
  await page.locator('[data-element]', { hasText: 'membrane' }).click();
  await page.getByLabel('Serial or batch').fill('L-4471');
  await page.getByRole('button', { name: 'Write it down' }).click();
  await sent(page);
  await page.reload();
  await expect(row.locator('.photograph img')).toHaveCount(1);
  const address = (await row.locator('.photograph img').getAttribute('src')) ?? '';
  const picture = await fetch(new URL(address, app.url), { headers: await app.imra() });
  expect([picture.status, picture.headers.get('content-type')]).toEqual([200, 'image/jpeg']);
  await page.locator('[data-element]', { hasText: 'membrane' }).click();
  await expect(page.getByLabel('Serial or batch')).toHaveValue('L-4471');
  await row.getByRole('button', { name: /^Take the visit/ }).click();
  await page.getByRole('dialog').getByLabel('Why').fill('was next door');
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(row).toHaveCount(0);
});
