import { readFile } from 'node:fs/promises';
import { expect, goOn, test } from '../app.ts';

test('a phone that slept through a clock says since when it is due; its calendar may ring instead', async ({
  app,
  fresh: page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.clock.install({ time: new Date() });
  // what is to be seen without signal has been seen before
  await page.goto(await app.lens('Chalkpit', 'plumb'));
  await page.getByRole('link', { name: /^Flush/ }).click();
  await expect(page.getByRole('timer')).toHaveAttribute('aria-label', /^Be back at/);
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'For my calendar' }).click(),
  ]);
  const calendar = await readFile(await file.path(), 'utf8');
  expect(calendar).toMatch(/BEGIN:VALARM[\s\S]*First fill|First fill[\s\S]*BEGIN:VALARM/);
  expect(calendar.match(/BEGIN:VEVENT/g)).toHaveLength(3);
  // locked, without signal: nothing of the page runs meanwhile
  await page.context().setOffline(true);
  await page.clock.fastForward('02:00:00');
  await expect(page.getByText(/^due 1 h \d+ min ago$/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Not full yet' })).toBeVisible();
  // another part of the job says so too
  await page.getByRole('link', { name: /^Plumb/ }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'First fill' })).toContainText(/due 1 h \d+ min ago/);
  await page.context().setOffline(false);
});

test('steps go by the space bar with one hand; one ticked over others names what stays open', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Saltern', 'flush'));
  await page.getByRole('button', { name: /^With one hand/ }).click();
  const alone = page.getByRole('dialog', { name: 'With one hand' });
  await expect(alone.locator('.one-hand-title')).toHaveText('Shut the feed and see the pressure die');
  await page.keyboard.press('PageDown');
  await expect(alone.locator('.one-hand-title')).not.toHaveText('Shut the feed and see the pressure die');
  for (const button of await alone.getByRole('button').all()) {
    const box = await button.boundingBox();
    expect(Math.min(box?.width ?? 0, box?.height ?? 0)).toBeGreaterThanOrEqual(64);
  }
  await page.keyboard.press('Escape');
  await page.getByRole('checkbox', { name: /^Pour the first tank away/ }).click();
  const asked = page.getByRole('dialog', { name: 'Pour the first tank away' });
  await expect(asked.getByRole('list', { name: 'Open before it' })).toContainText('First fill, to be poured away');
  const drink = await page.locator('.drink-clock').textContent();
  await asked.getByLabel('What was seen').fill('it ran out through the open tap');
  await asked.getByRole('button', { name: 'Tick it all the same' }).click();
  await expect(page.getByText(/^passed over; about/).first()).toBeVisible();
  await page.reload();
  await expect(page.getByText(/it ran out through the open tap/)).toBeVisible();
  // to ten minutes: "from 17:4"
  expect(drink).toMatch(/^from \d\d:\d\d$/);
  expect((await page.locator('.drink-clock').textContent())?.slice(0, 9)).toBe(drink?.slice(0, 9));
});

test('a household is left one sheet of paper, and the proof another', async ({ app, work: page }) => {
  await page.setViewportSize({ width: 703, height: 1030 });
  for (const [name, lens, sheets] of [
    ['Chalkpit', 'flush', 1],
    ['Highmoor', 'prove', 2],
  ] as const) {
    await page.goto(await app.lens(name, lens));
    await expect(page.locator('.flush-title, .sheet .headline').first()).toBeVisible();
    const pdf = (await page.pdf({ preferCSSPageSize: true })).toString('latin1');
    expect(pdf.match(/\/Type\s*\/Page[^s]/g)).toHaveLength(sheets);
    await page.emulateMedia({ media: 'print' });
    await page.evaluate(() => window.dispatchEvent(new Event('beforeprint')));
    const [sheet] = await page
      .locator('.paper-sheet')
      .evaluateAll((all) => all.map((e) => ({ words: e.textContent, wide: e.scrollWidth })));
    expect(sheet?.words).toMatch(/If something drips or runs.*What stands under your sink.*Handed over by/s);
    // what is long past is not announced
    expect(sheet?.words.includes('Looked at again')).toBe(lens === 'flush');
    expect(sheet?.wide).toBeLessThanOrEqual(703);
    await expect(page.locator('.household-signed svg').first()).toBeVisible();
    const code = await page.locator('.household-signed').first().screenshot();
    await page.emulateMedia({ media: null });
    // what is on the paper, photographed, opens their job
    const job = page.url().split('/').at(-2) ?? '';
    await goOn(page, app.url);
    const chosen = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Scan a household’s code' }).click();
    await (await chosen).setFiles({ name: 'code.png', mimeType: 'image/png', buffer: code });
    await expect(page).toHaveURL(new RegExp(`/jobs/${job}/keep$`));
  }
});

test('a reading named as worth most splits two causes of a drain that runs on', async ({ app, work: page }) => {
  await page.goto(await app.lens('Highmoor', 'prove'));
  const typed = {
    'Feed TDS': '180',
    'Product TDS': '7',
    'Feed temperature': '13',
    'Pressure before the membrane': '3.7',
    'Product flow': '250 mL in 122 s',
    'Concentrate flow': '0.27 L/min',
  };
  const fillIn = async (): Promise<void> => {
    for (const [label, text] of Object.entries(typed)) await page.getByLabel(label, { exact: true }).fill(text);
  };
  await fillIn();
  await page.getByText('Further readings', { exact: false }).click();
  await page.getByLabel('Drain with the tank full, if read').fill('25');
  await expect(page.getByText('What explains all readings together')).toBeVisible();
  const worth = page.getByRole('list', { name: 'Readings worth taking' });
  await expect(worth).toContainText('Drain with the feed off');
  // what is worth reading is a click away
  await worth.getByRole('button', { name: 'Drain with the feed off' }).click();
  await expect(page.getByLabel('Drain with the feed off, if read')).toBeFocused();
  await page.keyboard.type('24');
  await expect(page.locator('.faults li').first()).toContainText('non-return valve leaks');
  await expect(page.getByText(/the tank empties backwards through the non-return valve/)).toBeVisible();
  await page.getByRole('button', { name: 'Keep these readings' }).click();
  await expect(page.getByText('Readings kept, with their verdict.')).toBeVisible();
  // mended, read again: before and after stand side by side, and on the Line what was read beside what was expected
  await page.getByLabel(/^Done since/).fill('non-return valve changed');
  await fillIn();
  await page.getByText('Further readings', { exact: false }).click();
  await page.getByLabel('Drain with the tank full, if read').fill('0');
  await page.getByLabel('Drain with the feed off, if read').fill('0');
  await page.getByRole('button', { name: 'Keep these readings' }).click();
  const repair = page.getByRole('region', { name: 'The repair' });
  await expect(repair).toContainText('non-return valve changed');
  await expect(repair.getByRole('row', { name: /^Drain with the feed off/ })).toContainText(/24.*mL\/min.*0/);
  await expect(page.getByText(/^7\.0\/\d.* mg\/L$/).first()).toBeVisible();
});

test('a joint that drips holds its round, on a phone, until it was looked at again and is dry', async ({
  app,
  work: page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(await app.lens('Sluice', 'flush'));
  await expect(page.locator('.flush-title')).toHaveText(/^Look at joints/);
  await expect(page.getByText(/drips: A bead at the thread/)).toBeVisible();
  // all the others being dry does not close it
  await page.locator('.thumb-bar').getByRole('button', { name: 'All others are dry' }).click();
  await expect(page.locator('.flush-title')).toHaveText(/^Look at joints/);
  await page.reload();
  await page.getByRole('button', { name: 'Looked at again' }).click();
  await page.getByLabel('What was seen, what was done').fill('taped anew, six turns');
  await page.getByRole('button', { name: 'Dry now' }).click();
  await expect(page.getByText(/drips: A bead/)).toHaveCount(0);
  await page.locator('.thumb-bar').getByRole('button', { name: 'The round is done' }).click();
  await expect(page.locator('.flush-title')).not.toHaveText(/under pressure$/);
  // it is still to be read that it dripped, and what was done
  await goOn(page, await app.lens('Sluice', 'keep'));
  await page.getByText('Everything that happened here', { exact: false }).click();
  await page.getByLabel('Find in the history').fill('taped anew');
  await expect(page.locator('.history-lines li')).toContainText(['taped anew, six turns']);
});

test('a fill that takes twice as long moves the drinking time, and is a finding with its causes', async ({
  app,
  fresh: page,
}) => {
  await page.clock.install({ time: new Date() });
  await page.goto(await app.lens('Chalkpit', 'flush'));
  // late in the day it is tomorrow's, and says so first
  const drinkAt = async (): Promise<string> =>
    /\d\d:\d\d/.exec((await page.locator('.drink-clock').textContent()) ?? '')?.[0] ?? '';
  const planned = await drinkAt();
  expect(planned).not.toBe('');
  // with a server it keeps the server’s time: this is a phone without signal
  await page.context().setOffline(true);
  await page.clock.fastForward('01:30:00');
  await page.getByRole('button', { name: 'Not full yet' }).click();
  await expect(page.getByRole('list', { name: 'Why it may be slow' })).toContainText('stop valve');
  await expect.poll(drinkAt).not.toBe(planned);
  await page.clock.fastForward('01:00:00');
  await page.locator('.thumb-bar').getByRole('button', { name: /^Done/ }).click();
  await expect(page.getByText(/First fill, to be poured away took .* planned/)).toBeVisible();
  await page.context().setOffline(false);
});

test('both waters of a proof may be typed as conductivity', async ({ app, work: page }) => {
  await page.goto(await app.lens('Highmoor', 'prove'));
  await page.getByLabel('Feed TDS', { exact: true }).fill('300 uS/cm');
  await expect(page.getByText(/= 1\d\d mg\/L by the pen’s factor/)).toBeVisible();
  await page.getByLabel('Product TDS', { exact: true }).fill('12 uS/cm');
  await expect(page.getByText(/= \d(\.\d+)? mg\/L by the pen’s factor/)).toBeVisible();
});
