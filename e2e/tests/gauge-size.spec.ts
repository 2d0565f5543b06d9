import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { expect, goOn, settled, test, wholeSheet } from '../app.ts';

const sentence = (page: Page) => page.locator('.gauge-sentence, .headline').first();
const sent = (page: Page): Promise<void> => expect(page.locator('.strip-send')).toContainText('all sent');

/** A paper sheet as somebody wrote it, field by field. */
const PAPER: readonly [string, string][] = [
  ['Feed TDS', '320 ppm'],
  ['Hardness at this tap', '8,5 dH'],
  ['Water today', '55 F'],
  ['Coldest of the year', '7'],
  ['Static pressure', '58 psi'],
  ['Running pressure', '3,4'],
  ['Flow at that reading', '8'],
  ['People', '3'],
  ['Largest single draw', '3'],
];

test('a site is typed from a paper sheet without the mouse, and the sheet says when it is settled', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Weir', 'gauge'));
  await expect(page.locator('.gauge-next')).toContainText('Ask first: Source');
  const choose = async (name: string, first: string): Promise<void> => {
    await page.getByLabel(name, { exact: true }).focus();
    await page.keyboard.type(first);
    await page.keyboard.press('Tab');
  };
  await choose('Source', 'mains');
  for (const [name, text] of PAPER) {
    await page.getByLabel(name, { exact: true }).focus();
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  }
  await expect(sentence(page)).toContainText(/^Put in/);
  // the sheet leads on: each thing it names is taken, until it names none
  const answers: Readonly<Record<string, string>> = {
    'Cold line told from hot': 'run',
    'Stop valve holds': 'shut',
    'Metal pipe after the system': 'none',
    'Socket in the cupboard': 'yes',
    'Cupboard, inside width': '100 cm',
    pH: '7.6',
    Alkalinity: '120',
    Silica: '8',
    'Warmest of the year': '18',
    'Highest, at night': '4.6 bar',
    'Litres a day': '9',
    'Tube to the tap': '1.5 m',
    'Rise to the tap': '0.6 m',
    'Chlorine, total': '0.3',
    'Cupboard, inside depth': '55 cm',
    'Cupboard, clear height': '65 cm',
    'What they want of it': 'less',
    Disinfectant: 'free',
    'Fridge or ice line': 'no',
    'A tank under the sink': 'either',
    'Patience at the tap': 'by the',
    'Minerals for the taste': 'no',
    Nitrate: '10',
  };
  for (let i = 0; i < 24; i++) {
    await settled(page);
    if ((await page.locator('.gauge-next.settled').count()) > 0) break;
    const head = (await page.locator('.gauge-next b').textContent()) ?? '';
    if (head.startsWith('Read again')) break;
    const name = (await page.locator('.gauge-next-field').textContent()) ?? '';
    await page.locator('.gauge-next-field').focus();
    await page.keyboard.press('Enter');
    await expect(page.getByLabel(name, { exact: true })).toBeFocused();
    expect(answers[name], `an answer to ${name}`).toBeDefined();
    await page.keyboard.type(answers[name] ?? '');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Tab');
  }
  expect(await page.locator('.gauge-next').textContent()).toMatch(/settled|Read again/);
  await sent(page);
});

test('where nothing fits for want of an answer, the sheet asks for it, and the answer opens the sizing', async ({
  app,
  work: page,
}) => {
  await page.goto(app.url);
  await page.getByRole('button', { name: 'Add a household' }).click();
  await page.getByLabel('Household', { exact: true }).fill('Tarn Stair 8');
  await page.getByRole('button', { name: 'Add and gauge' }).click();
  await page.getByLabel('Source', { exact: true }).selectOption('mains');
  for (const [name, text] of [
    ['Feed TDS', '900'],
    ['Water today', '12'],
    ['Static pressure', '1.2'],
    ['Running pressure', '0.9'],
    ['People', '3'],
  ] as const) {
    await page.getByLabel(name, { exact: true }).fill(text);
    await page.keyboard.press('Enter');
  }
  await expect(sentence(page)).toContainText('Nothing on the shelf does here');
  await expect(page.locator('.gauge-next')).toContainText('Ask next: What they want of it');
  await page.getByLabel('What they want of it').selectOption('dissolved');
  await expect(page.locator('.gauge-next')).toContainText(
    /Ask next: Socket in the cupboard.*If "yes, always on": Put in/,
  );
  await page.getByRole('link', { name: 'See the sizing' }).click();
  await expect(page.getByText('Worth asking, it decides: socket in the cupboard.')).toBeVisible();
  await page.getByRole('link', { name: 'Gauge', exact: true }).click();
  await page.getByLabel('Socket in the cupboard').selectOption('yes');
  await expect(sentence(page)).toContainText(/^Put in .*booster pump/);
  await sent(page);
});

test('a laboratory’s CSV with values below detection opens a well’s sizing', async ({ app, work: page }) => {
  await page.goto(await app.lens('Fenmill', 'gauge'));
  await expect(sentence(page)).toContainText('referred');
  const sample = await page.request.get(`${app.url}/sample-laboratory.csv`);
  await page.locator('.lab input[type=file]').setInputFiles({
    name: 'report.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(await sample.body()),
  });
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Iron <0,05 mg/L');
  const row = (name: string) => dialog.locator('tr').filter({ has: page.locator('td:first-child', { hasText: name }) });
  await expect(row('Iron').locator('.num')).toHaveText('below 0.05');
  await expect(row('Cadmium').locator('select')).toHaveValue('');
  await dialog.getByRole('button', { name: 'Take them over' }).click();
  await expect(sentence(page)).toContainText(/^Put in/);
  await expect(page.getByLabel('Iron', { exact: true })).toHaveValue('<0,05 mg/L');
  await sent(page);
  await page.reload();
  await expect(sentence(page)).toContainText(/^Put in/);
});

test('what is typed slowly into a folded group stays under the hand, whatever it comes to turn', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Lantern', 'gauge'));
  await expect(sentence(page)).toContainText(/^Put in/);
  await page.getByText('Pressure', { exact: true }).click();
  const field = page.getByLabel('Running pressure');
  await expect(page.locator('details').filter({ has: field })).toHaveCount(1);
  await field.click();
  await page.keyboard.press('ControlOrMeta+a');
  let typed = '';
  for (const key of '3.45') {
    const before = await sentence(page).textContent();
    await page.keyboard.press(key);
    typed += key;
    await expect(field).toHaveValue(typed);
    if (typed === '3') await expect(sentence(page)).not.toHaveText(before ?? '');
    await expect(sentence(page)).toHaveAttribute('aria-busy', 'false');
    await expect(field).toBeFocused();
  }
  // taken in with the key, it is under the hand still
  await page.keyboard.press('Enter');
  await sent(page);
  await expect(field).toHaveValue('3.45');
  await expect(field).toBeFocused();
});

test('a colder winter flips the decision while it is only tried, and one key goes back', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Highmoor', 'size'));
  await expect(sentence(page)).toContainText(/^Put in/);
  const before = await sentence(page).textContent();
  const figure = page.getByRole('slider', { name: 'Running pressure' });
  await figure.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('PageDown');
  await expect(page.locator('.trial')).toContainText('read 4.6 bar');
  await expect(sentence(page)).toContainText('without a pump');
  await expect(page.getByRole('button', { name: /^Approve/ })).toBeDisabled();
  // weaker still nothing does, and what would change it is told
  for (let i = 0; i < 2; i++) await page.keyboard.press('PageDown');
  await expect(sentence(page)).toContainText('Nothing on the shelf does here');
  await expect(page.locator('.remedies')).toContainText('A socket in the cupboard');
  await page.keyboard.press('Escape');
  await expect(page.locator('.trial')).toHaveCount(0);
  await expect(sentence(page)).toHaveText(before ?? '');
  // a hand drags it too
  await figure.scrollIntoViewIfNeeded();
  const box = await figure.boundingBox();
  if (!box) throw new Error('no figure to drag');
  await page.mouse.move(box.x + 5, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x - 120, box.y + box.height / 2, { steps: 8 });
  await page.mouse.up();
  await expect(page.locator('.trial')).toBeVisible();
  await page.getByRole('button', { name: /Back to the readings/ }).click();
  await expect(sentence(page)).toHaveText(before ?? '');
});

test('chloramine decides between a tank and none', async ({ app, work: page }) => {
  await page.goto(await app.lens('Tollgate', 'size'));
  await expect(sentence(page)).toContainText('an 8 L tank');
  const setAside = page.getByText(/^Element .* no tank.* Without a tank: at .* s in the carbon; chloramine wants 60 s/);
  await expect(setAside).toBeVisible();
  await page.getByLabel('Disinfectant, tried').selectOption('chlorine');
  await expect(sentence(page)).toContainText('without a tank');
  await expect(page.locator('.trial')).toContainText('As read: Put in');
  await page.keyboard.press('Escape');
  await page.getByLabel('Disinfectant, tried').blur();
  await page.keyboard.press('Escape');
  await expect(sentence(page)).toContainText('an 8 L tank');
});

test('an approved design says what differs once a reading changes, and is kept', async ({ app, work: page }) => {
  await page.goto(await app.lens('Gable', 'size'));
  await page.getByRole('button', { name: 'Approve this design' }).click();
  await expect(page.getByText('Version 1 approved', { exact: false })).toBeVisible();
  await wholeSheet(page);
  await page.goto(await app.lens('Gable', 'gauge'));
  await page.getByLabel('A tank under the sink').selectOption('tank');
  await expect(sentence(page)).toContainText('tank');
  await sent(page);
  await goOn(page, await app.lens('Gable', 'size'));
  await expect(page.getByText(/tank: none in version 1, Tank/)).toBeVisible();
  await page.getByRole('button', { name: 'Approve as a new version' }).click();
  await expect(page.getByText('Version 2 approved', { exact: false })).toBeVisible();
});

test('a household that wants only the taste gone is told of carbon, and a system is sized once they want more', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Ropewalk', 'size'));
  await expect(sentence(page)).toContainText('carbon alone');
  await expect(page.getByText('What to do instead')).toBeVisible();
  const aim = page.getByLabel('What they want of it, tried');
  await expect(aim.locator('option')).toHaveText([/^less dissolved in it$/, /^only the taste/, /^only rid/]);
  await aim.selectOption('dissolved');
  await expect(sentence(page)).toContainText(/^Put in/);
});

test('a reading is taken from a meter over the wire while it settles', async ({ app, work: page }) => {
  await page.goto(await app.lens('Lantern', 'gauge'));
  const hand = page.getByRole('combobox', { name: 'Instrument for water' });
  await hand.fill('pen A');
  await hand.press('Tab');
  await page.getByTitle('Take Feed TDS from pen A').click();
  const live = page.getByRole('group', { name: 'Receiving from pen A' });
  await expect(live.getByText(/stands still|settled: steady/)).toBeVisible({ timeout: 30_000 });
  await live.getByRole('button', { name: 'Take it' }).click();
  await expect(page.getByLabel('Feed TDS', { exact: true })).toHaveValue(/^4\d\d mg\/L$/);
  await sent(page);
});

test('a broken CSV of parts changes nothing; a good one is taken over and undone', async ({ app, work: page }) => {
  await page.goto(`${app.url}/shelf`);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Take out as CSV' }).click();
  const csv = await readFile(await (await download).path(), 'utf8');
  const priced = (price: string): string => csv.replace(/^(tank-12,tank,Tank 12 L,)(.*)$/m, (line) => line.replace(',52,', `,${price},`)); // oxfmt-ignore
  const bring = (text: string) =>
    page
      .locator('input[type=file]')
      .setInputFiles({ name: 'parts.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await bring(priced('dear'));
  await expect(page.getByText(/Nothing is taken over/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take them over' })).toBeDisabled();
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Price of Tank 12 L')).toHaveValue('52');
  await bring(priced('61'));
  await expect(page.getByText(/0 new, 1 changed/)).toBeVisible();
  await page.getByRole('button', { name: 'Take them over' }).click();
  await expect(page.getByLabel('Price of Tank 12 L')).toHaveValue('61');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Price of Tank 12 L')).toHaveValue('52');
});

test('a house rule changed is used at once by the next sizing, and put back', async ({ app, work: page }) => {
  await page.goto(`${app.url}/rules`);
  const rule = page.getByLabel('No system without a pump below');
  const set = async (text: string): Promise<void> => {
    await rule.press('Control+a');
    await rule.pressSequentially(text);
  };
  await set('4.8');
  await page.getByRole('button', { name: 'Save the rules' }).click();
  await expect(page.getByText('as saved')).toBeVisible();
  await goOn(page, await app.lens('Highmoor', 'size'));
  await expect(page.getByText(/Without a pump the house rule wants 4.8 bar/).first()).toBeVisible();
  await goOn(page, `${app.url}/rules`);
  await set('0');
  await page.getByRole('button', { name: 'Save the rules' }).click();
  await expect(page.getByText('as saved')).toBeVisible();
});
