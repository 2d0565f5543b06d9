import type { Job } from '@katharos/contract';
import { expect, goOn, test, wholeSheet, workAs } from '../app.ts';
import { doNext } from '../flushing.ts';

test('two people edit one household: the second is shown both and chooses', async ({ app, work: page, browser }) => {
  const address = await app.lens('Saltern', 'gauge');
  await page.goto(address);
  await page.getByRole('button', { name: /edit the household/ }).click();
  await page.getByLabel('Contact').fill('Tove, mornings only');
  const other = await (await browser.newContext()).newPage();
  await workAs(app, other);
  await other.goto(address);
  await other.getByRole('button', { name: /edit the household/ }).click();
  await other.getByLabel('Notes').fill('Key under the blue pot.');
  await other.getByRole('button', { name: 'Save' }).click();
  await expect(other.getByRole('dialog')).toBeHidden();
  await page.getByRole('button', { name: 'Save' }).click();
  const conflict = page.getByRole('alert').filter({ hasText: 'Somebody else changed this household' });
  await expect(conflict).toContainText('Key under the blue pot.');
  await expect(conflict).toContainText('Tove, mornings only');
  await conflict.getByRole('button', { name: 'Take theirs' }).click();
  await expect(page.getByLabel('Notes')).toHaveValue('Key under the blue pot.');
  await page.getByLabel('Contact').fill('Tove, mornings only');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await other.context().close();
});

test('a half-typed household survives a crash of the page and a server that is away', async ({ app, work: page }) => {
  await page.goto(app.url);
  await page.getByRole('button', { name: 'Add a household' }).click();
  await page.getByRole('button', { name: 'Add and gauge' }).click();
  await expect(page.getByText('Give the household a name.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Household', exact: true }).fill('Rook Yard 1');
  await page.reload();
  await page.getByRole('button', { name: 'Add a household' }).click();
  await expect(page.getByRole('textbox', { name: 'Household', exact: true })).toHaveValue('Rook Yard 1');
  // what the next page needs has come while this one rested
  await page.waitForTimeout(2500);
  await page.waitForLoadState('networkidle');
  await app.stop('SIGKILL');
  await page.getByRole('button', { name: 'Add and gauge' }).click();
  await expect(page).toHaveURL(/\/gauge$/);
  await page.getByLabel('Feed TDS').fill('410');
  await page.getByLabel('Feed TDS').press('Enter');
  await expect(page.locator('.strip-send')).toContainText('server away, 2 kept here');
  await app.start();
  await expect(page.locator('.strip-send')).toContainText('all sent');
  await page.reload();
  await expect(page.getByRole('button', { name: /Rook Yard 1, edit the household/ })).toBeVisible();
  await expect(page.getByLabel('Feed TDS')).toHaveValue('410');
});

test('two tabs of one device send from one store: each says what waits, and nothing is lost or doubled', async ({
  app,
  work: page,
}) => {
  const address = await app.lens('Saltern', 'gauge');
  const other = await page.context().newPage();
  for (const tab of [page, other]) {
    await wholeSheet(tab);
    await tab.goto(address);
    await expect(tab.locator('.strip-send')).toContainText('all sent');
  }
  const facts = async (): Promise<{ id: string; typed?: string }[]> =>
    (
      (await (
        await fetch(address.replace('/jobs/', '/api/jobs/').replace('/gauge', ''), { headers: await app.imra() })
      ).json()) as Job
    ).facts;
  const before = (await facts()).length;
  await app.stop('SIGKILL');
  const type = async (tab: typeof page, label: string, value: string): Promise<void> => {
    await tab.getByLabel(label, { exact: true }).fill(value);
    await tab.getByLabel(label, { exact: true }).press('Enter');
  };
  await type(page, 'Feed TDS', '412');
  await expect(page.locator('.strip-send')).toContainText('server away, 1 kept here');
  await expect(other.locator('.strip-send')).toContainText('1 kept here');
  await type(other, 'Feed TDS', '417');
  for (const tab of [page, other]) await expect(tab.locator('.strip-send')).toContainText('2 kept here');
  // the tab that typed the last one is gone; the other sends it
  await other.close();
  await app.start();
  await expect(page.locator('.strip-send')).toContainText('all sent');
  const typed = (await facts()).slice(before).map((f) => f.typed);
  expect(typed).toEqual(['412', '417']);
  await expect(page.getByLabel('Feed TDS', { exact: true })).toHaveValue('417');
});

test('nonsense in a field is told there and stays over a reload; nothing wrong is recorded', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Fenmill', 'gauge'));
  const field = page.getByLabel('Well switch starts at');
  await field.fill('about two');
  await field.press('Tab');
  await expect(page.getByText('"about two" does not read as a number.', { exact: false })).toBeVisible();
  await page.reload();
  await expect(field).toHaveValue('about two');
  await field.fill('400 bar');
  await field.press('Tab');
  await expect(page.getByText('Outside 0 to 15 bar', { exact: false })).toBeVisible();
  await field.fill('1.9 bar');
  await field.press('Enter');
  await expect(page.locator('.strip-send')).toContainText('all sent');
});

test('a well without a laboratory report is referred, and opens once the report is clean', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Fenmill', 'size'));
  await expect(page.locator('.headline')).toHaveText('Not sized: this water is referred first.');
  await page.keyboard.press('1');
  await page.getByLabel('Laboratory microbiology').selectOption({ label: 'report in hand, clean' });
  await page.keyboard.press('Tab');
  await goOn(page, await app.lens('Fenmill', 'size'));
  await expect(page.locator('.headline')).toContainText(/Put in element|Nothing on the shelf/);
});

test('an address nobody has is told plainly', async ({ app, work: page }) => {
  await page.goto(`${app.url}/jobs/5f0c4b1e-0000-4000-a000-000000000000/gauge`);
  await expect(page.getByRole('heading', { name: 'There is no such page' })).toBeVisible();
  await goOn(page, `${app.url}/nowhere`);
  await expect(page.getByRole('heading', { name: 'There is no such page' })).toBeVisible();
});

test('a drip holds its round until it was looked at again', async ({ app, work: page }) => {
  await page.goto(await app.lens('Saltern', 'flush'));
  const bar = page.locator('.thumb-bar');
  const dry = bar.getByRole('button', { name: /are dry$/ });
  for (let i = 0; i < 20 && !(await dry.isVisible()); i++) await doNext(page);
  const round = await page.locator('.flush-title').textContent();
  await page.getByRole('button', { name: /^Joint 7, (?!.*on the drawing).*: not looked at$/ }).click();
  await page.getByLabel('What was seen, what was done').fill('re-cut');
  await page.getByRole('button', { name: 'It drips' }).click();
  await expect(page.getByText(/^Joint 7, .* drips: re-cut\./)).toBeVisible();
  await bar.getByRole('button', { name: 'All others are dry' }).click();
  await expect(bar.getByRole('button', { name: 'The round is done' })).toBeDisabled();
  await page.reload();
  await expect(page.locator('.flush-title')).toHaveText(round ?? '');
  await page.getByRole('button', { name: 'Looked at again' }).click();
  await page.getByRole('button', { name: 'Dry now' }).click();
  await bar.getByRole('button', { name: 'The round is done' }).click();
  await expect(page.locator('.flush-title')).toContainText('Run ten minutes');
});

test('another design may be taken against the advice, with its reason kept', async ({ app, work: page }) => {
  await page.goto(await app.lens('Lantern', 'size'));
  await page
    .getByRole('button', { name: /^Take this/ })
    .first()
    .click();
  const approve = page.getByRole('button', { name: 'Approve this one' });
  await expect(approve).toBeDisabled();
  await page.getByLabel('Why').fill('They want the larger store.');
  await approve.click();
  const stands = page.getByText('Version 1 approved', { exact: false });
  await expect(stands).toContainText(/Taken against the advice, which was: Put in .* Why: They want the larger store/);
  // what stands is the advice from now on: why it was taken is told all the same
  await page.reload();
  await expect(page.locator('.headline')).toHaveAttribute('aria-busy', 'false');
  await expect(stands).toContainText('Why: They want the larger store.');
});

test('a database that stops is told in the strip, and what was recorded is stored once it is back', async ({
  app,
  work: page,
}) => {
  await wholeSheet(page);
  await page.goto(await app.lens('Lantern', 'gauge'));
  await expect(page.locator('.gauge-sentence')).not.toBeEmpty();
  await app.database(false);
  await page.getByLabel('Chlorine, total').fill('0.35');
  await page.getByLabel('Chlorine, total').press('Enter');
  await expect(page.locator('.strip-send')).toContainText('kept here');
  await expect(page.getByLabel('Chlorine, total')).toHaveValue('0.35');
  await app.database(true);
  await expect(page.locator('.strip-send')).toContainText('all sent');
  await page.reload();
  await expect(page.getByLabel('Chlorine, total')).toHaveValue('0.35');
});
