import type { Locator, Page } from '@playwright/test';
import { expect, test, wholeSheet } from '../app.ts';
import { doNext } from '../flushing.ts';

const READINGS: readonly [string, string][] = [
  ['Feed TDS', '430'],
  ['Hardness at this tap', '11 dH'],
  ['Chlorine, total', '0,3'],
  ['Water today', '52 °F'],
  ['Coldest of the year', '6'],
  ['Warmest of the year', '18'],
  ['Static pressure', '45 psi'],
  ['Running pressure', '2.6'],
  ['Flow at that reading', '8'],
  ['Highest, at night', '3.6'],
  ['People', '3'],
  ['Litres a day', '9'],
  ['Largest single draw', '3'],
  ['Cupboard, inside width', '1 m'],
  ['Cupboard, inside depth', '55 cm'],
  ['Cupboard, clear height', '65 cm'],
];
const CHOICES: readonly [string, string][] = [
  ['Source', 'mains'],
  ['Disinfectant', 'free chlorine'],
  ['Cold line told from hot', 'run, felt and labelled'],
  ['Stop valve holds', 'shut and seen to hold'],
  ['Metal pipe after the system', 'none'],
  ['Fridge or ice line', 'no'],
  ['Socket in the cupboard', 'yes, always on'],
  ['Where the tap goes through', 'stone or quartz'],
  ['Waste pipe before the trap', 'vertical run'],
];

const station = (page: Page, name: string): Locator =>
  page
    .getByRole('navigation', { name: 'Parts of the job' })
    .locator('.station')
    .filter({ has: page.getByText(name, { exact: true }) });
const sent = async (page: Page): Promise<void> => {
  await expect(page.locator('.strip-send')).toContainText('all sent');
};

for (const size of [
  { name: 'desk', width: 1280, height: 800 },
  { name: 'phone', width: 390, height: 844 },
]) {
  test(`one household from Gauge to Keep, on a ${size.name}`, async ({ app, browser }) => {
    test.setTimeout(240_000);
    const context = await browser.newContext({
      viewport: { width: size.width, height: size.height },
      hasTouch: size.name === 'phone',
    });
    let page = await context.newPage();
    await wholeSheet(page);
    const errors: string[] = [];
    const watch = (p: Page): void => {
      p.on('pageerror', (e) => errors.push(e.message));
    };
    watch(page);

    // who works, and a new household
    await page.goto(app.url);
    await page.getByRole('button', { name: /^Imra Tole/ }).click();
    await page.getByRole('button', { name: 'Add a household' }).click();
    await page.getByRole('textbox', { name: 'Household', exact: true }).fill(`Tern Court 5, ${size.name}`);
    await page.getByLabel('Place').fill('Corvane');
    await page.getByRole('button', { name: 'Add and gauge' }).click();
    await expect(page).toHaveURL(/\/gauge$/);
    // the round may still stand for a moment, with the same words in its rows
    await expect(page.getByLabel('Feed TDS', { exact: true })).toBeVisible();
    await expect(page.getByText('First visit:', { exact: false })).toBeVisible();

    // Gauge: any unit; a doubt is raised and does not stop anything
    for (const [label, option] of CHOICES)
      await page.getByLabel(label, { exact: true }).selectOption({ label: option });
    for (const [label, text] of READINGS) {
      await page.getByLabel(label, { exact: true }).fill(text);
      await page.getByLabel(label, { exact: true }).press('Enter');
    }
    await page.getByLabel('Coldest of the year').fill('14');
    await page.getByLabel('Coldest of the year').press('Enter');
    await expect(page.getByText('The coldest of the year cannot be above today’s 11.1 °C.').first()).toBeVisible();
    await page.getByLabel('Coldest of the year').fill('6');
    await page.getByLabel('Coldest of the year').press('Enter');
    await expect(page.getByText('= 3.10 bar', { exact: false })).toBeVisible();
    await expect(page.locator('.gauge-sentence')).toContainText('Put in element');
    await sent(page);

    // Size: one recommendation, alternatives, approval
    await station(page, 'Size').click();
    await expect(page.locator('.headline')).toContainText('Put in element');
    await expect(page.getByText('Others that do, side by side')).toBeVisible();
    expect(await page.locator('.alternatives thead th').count()).toBeGreaterThanOrEqual(3);
    await expect(page.getByText('Not judged here')).toBeVisible();
    await page.getByRole('button', { name: 'Approve this design' }).click();
    await expect(page.getByText('Version 1 approved', { exact: false })).toBeVisible();

    // Plumb: pick list, joints, holes
    await station(page, 'Plumb').click();
    await page.locator('.mantine-SegmentedControl-label', { hasText: 'Pick list' }).click();
    const pick = page.getByRole('checkbox', { name: /Feed tee with valve/ });
    await pick.check();
    await expect(page.getByText(/of \d+ still to load/)).toBeVisible();
    await page.getByText('Holes', { exact: true }).click();
    await expect(page.locator('.hole').getByText('wet diamond core bit')).toBeVisible();

    // Flush: step by step to the first fill
    await station(page, 'Flush').click();
    const bar = page.locator('.thumb-bar');
    const titleIs = async (t: RegExp): Promise<void> => {
      await expect(page.locator('.flush-title')).toHaveText(t);
    };
    await titleIs(/Shut the feed/);
    for (let i = 0; i < 40; i++) {
      if ((await page.locator('.flush-title').textContent())?.startsWith('First fill')) break;
      await doNext(page);
    }
    await titleIs(/First fill/);
    await bar.getByRole('button', { name: /Start the clock/ }).click();
    const clock = page.getByRole('timer');
    await expect(clock).toBeVisible();
    const due = await clock.textContent();
    const note = page.getByLabel('Note on this step');
    const tallWith = async (words: string): Promise<number> => {
      await note.fill(words);
      return (await note.boundingBox())?.height ?? 0;
    };
    // it grows with what is written
    expect(await tallWith('cupboard cleared\nhalf way')).toBeGreaterThan(
      15 + (await tallWith('cupboard cleared, half way')),
    );
    await sent(page);

    // the browser is closed and opened again in the middle of the fill
    const address = page.url();
    await page.close();
    page = await context.newPage();
    watch(page);
    await page.goto(address);
    await expect(page.getByRole('timer')).toHaveText(due ?? '');
    await expect(page.getByLabel('Note on this step')).toHaveValue('cupboard cleared, half way');
    await expect(page.getByText('may they drink', { exact: true })).toBeVisible();

    // the server goes away and comes back: the tick is kept and sent by itself
    await app.stop();
    await page.locator('.thumb-bar').getByRole('button', { name: /^Done/ }).click();
    await page.getByLabel('What was seen').fill('full already, the drain stands still');
    await page.getByRole('button', { name: 'Tick it all the same' }).click();
    await expect(page.locator('.strip-send')).toContainText('kept here');
    await titleIs(/see the drain stop/);
    await app.start();
    await sent(page);
    await page.reload();
    await titleIs(/see the drain stop/);

    for (let i = 0; i < 40; i++) {
      if (await page.getByText('Flushed and wet. Prove it next.').isVisible()) break;
      await doNext(page);
    }
    await expect(page.getByText('Flushed and wet. Prove it next.')).toBeVisible();

    // Prove: a bad unit at its place, then a verdict with its names
    await station(page, 'Prove').click();
    await page.getByLabel('Feed TDS').fill('430');
    await page.getByLabel('Product TDS', { exact: true }).fill('18 psi');
    await expect(page.getByText(/measures a pressure; this field wants a concentration/)).toBeVisible();
    await page.getByLabel('Product TDS', { exact: true }).fill('18');
    await page.getByLabel('Feed temperature').fill('11');
    await page.getByLabel('Pressure before the membrane').fill('40 psi');
    await page.getByLabel('Product flow', { exact: true }).fill('90');
    await page.getByLabel('Concentrate flow').fill('260');
    await expect(page.getByText('rejection, product against feed')).toBeVisible();
    await expect(page.locator('.proof-figures')).toContainText('95.8 %');
    await page.getByRole('button', { name: 'Keep these readings' }).click();
    await expect(page.getByText('Earlier proofs')).toBeVisible();

    // Keep: lives run, a visit goes into the log
    await station(page, 'Keep').click();
    await expect(page.getByText('Nothing is due.', { exact: false })).toBeVisible();
    await page.getByLabel('Why').fill('First week');
    await page.getByLabel('What was found and done').fill('Joints dry.');
    await page.getByRole('button', { name: 'Log this visit' }).click();
    await expect(page.getByRole('cell', { name: /First week/ })).toBeVisible();
    await sent(page);
    expect(errors).toEqual([]);
    await context.close();
  });
}
