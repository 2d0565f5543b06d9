import { expect, goOn, test } from '../app.ts';

test('what is due is changed on a phone: read, shut, the right one in each bowl, a reload in the middle, closed', async ({
  app,
  work: page,
}) => {
  test.setTimeout(120_000);
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(await app.lens('Highmoor', 'keep'));
  await page.getByRole('button', { name: 'Here now: change what is due' }).click();
  const hand = page.getByRole('region', { name: 'The change in hand' });
  const title = hand.locator('.flush-title');
  await expect(title).toHaveText('Read the product before anything is touched');
  await hand.getByLabel('Product TDS, mg/L').fill('9');
  await hand.getByRole('button', { name: 'Done', exact: true }).click();
  await hand.getByLabel('Total chlorine behind the old carbon, mg/L').fill('0.05');
  await hand.getByRole('button', { name: 'Done', exact: true }).click();
  // the step in hand and what was read are there after a reload
  await expect(title).toHaveText(/^Shut the feed/);
  await page.reload();
  await expect(title).toHaveText(/^Shut the feed/);
  let mixed = false;
  for (let i = 0; i < 40 && (await title.isVisible()); i++) {
    const now = (await title.textContent()) ?? '';
    const goes = hand.getByRole('region', { name: 'What goes in' });
    if (now.startsWith('New sediment in')) {
      // the bowls are mixed up, and it is told
      const wrong = await goes
        .locator('option', { hasText: /carbon/i })
        .first()
        .textContent();
      await goes.getByLabel('Which one is in your hand?').selectOption({ label: wrong ?? '' });
      await expect(goes.getByRole('alert')).toContainText(/does not go where sediment stands/);
      const right = await goes
        .locator('option', { hasText: /sediment/i })
        .first()
        .textContent();
      await goes.getByLabel('Which one is in your hand?').selectOption({ label: right ?? '' });
      await goes.getByLabel('Serial or batch').fill('S 2026-11');
      await goes.getByRole('button', { name: 'Write it down' }).click();
      await expect(goes.getByText(/^On record: .*S 2026-11\.$/)).toBeVisible();
      mixed = true;
    }
    const read = hand.getByLabel(/mg\/L$/);
    if (await read.isVisible()) await read.fill('0.05');
    const look = hand.locator('.thumb-bar').getByRole('button', { name: /are dry$|is dry$/ });
    if (await look.isVisible()) await look.click();
    else await hand.locator('.thumb-bar').getByRole('button', { name: /^Done/ }).click();
    const asked = page.getByRole('button', { name: 'It had its time' });
    const gone = title.and(page.getByText(now, { exact: true }));
    await expect(async () => {
      if (await asked.isVisible()) await asked.click({ timeout: 2000 });
      await expect(gone).toHaveCount(0, { timeout: 1000 });
    }).toPass({ timeout: 20_000 });
  }
  expect(mixed).toBe(true);
  await hand.getByRole('button', { name: 'Close this visit' }).click();
  await expect(hand).toHaveCount(0);
  await expect(page.locator('.log tbody tr').first()).toContainText(/Yearly change.*sediment/);
  await expect(page.getByText(/^Sediment.* overdue/)).toHaveCount(0);
  await page.reload();
  await expect(page.locator('.log tbody tr').first()).toContainText('Yearly change');
});

test('a day is planned, upset by hand with what that breaks, planned anew and kept', async ({ app, work: page }) => {
  await page.goto(app.url);
  await page.getByRole('link', { name: 'Plan the day' }).click();
  // the made-up firm's visits are an hour ahead: shortly before midnight that is another day
  const ahead = new Date(Date.now() + 3_600_000);
  const two = (n: number): string => String(n).padStart(2, '0');
  await page
    .getByLabel('Day', { exact: true })
    .fill(`${String(ahead.getFullYear())}-${two(ahead.getMonth() + 1)}-${two(ahead.getDate())}`);
  await expect(page.locator('.headline')).toContainText(/^\d+ houses, \d+ min on the road/);
  const stays = page.getByRole('button', { name: /Arrow keys move it/ });
  const first = stays.filter({ hasText: 'Saltern' }).first();
  // with the hand into the other one’s day
  const from = await first.boundingBox();
  const lanes = page.locator('[data-fitter]');
  const whose = await lanes.evaluateAll((all) => all.findIndex((l) => l.textContent.includes('Saltern')));
  const to = await lanes.nth(whose === 0 ? 1 : 0).boundingBox();
  if (!from || !to) throw new Error('the day is drawn');
  await page.mouse.move(from.x + 12, from.y + 12);
  await page.mouse.down();
  await page.mouse.move(to.x + to.width - 30, to.y + 20, { steps: 8 });
  await page.mouse.up();
  // all of that house goes along; what that breaks hangs on the hour of the day
  await expect(lanes.nth(whose === 0 ? 1 : 0)).toContainText('Saltern');
  await expect(lanes.nth(whose)).not.toContainText('Saltern');
  await page.getByRole('button', { name: 'Plan it anew' }).click();
  await expect(lanes.nth(whose)).toContainText('Saltern');
  await page.getByRole('button', { name: 'Keep this plan' }).click();
  await expect(page.getByRole('button', { name: 'Kept as it is' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Kept as it is' })).toBeVisible();
  // the house says so too
  await page.goto(await app.lens('Highmoor', 'keep'));
  await expect(page.locator('.log tbody tr').first()).toContainText('Yearly change');
});

test('a call is taken down with what it may be, stands in front, and is closed by a proof', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Highmoor', 'keep'));
  await page.getByText('They called: something is wrong').click();
  await page.getByText('it runs to the drain all the time').click();
  await expect(page.getByRole('list', { name: 'What it may be' })).toContainText('shut-off does not close');
  await page.getByLabel('In their own words').fill('gurgles all night');
  await page.getByRole('button', { name: 'Take the call down' }).click();
  const call = page.getByRole('region', { name: /^They called/ });
  await expect(call).toContainText('gurgles all night');
  await goOn(page, app.url);
  await expect(page.getByText('They called: it runs to the drain all the time.')).toBeVisible();
  await goOn(page, await app.lens('Highmoor', 'keep'));
  await call.getByRole('link', { name: 'read it once it is mended' }).click();
  for (const [label, text] of [
    ['Feed TDS', '178'],
    ['Product TDS', '8'],
    ['Feed temperature', '11'],
    ['Pressure before the membrane', '3.8'],
    ['Product flow', '0.13 L/min'],
    ['Concentrate flow', '0.28 L/min'],
  ] as const)
    await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByRole('button', { name: 'Keep these readings' }).click();
  await expect(page.getByText('Readings kept, with their verdict.')).toBeVisible();
  await page.getByRole('link', { name: /^Keep/ }).first().click();
  await expect(page.getByText('They called: something is wrong')).toBeVisible();
  await expect(call).toHaveCount(0);
});

test('a visit’s bill prints on one page, without the page around it', async ({ app, work: page }) => {
  await page.setViewportSize({ width: 703, height: 1030 });
  await page.goto(await app.lens('Highmoor', 'keep'));
  await page.getByRole('button', { name: 'Bill', exact: true }).first().click();
  await expect(page.getByRole('region', { name: /^Bill of the visit/ })).toBeVisible();
  const pdf = (await page.pdf({ preferCSSPageSize: true })).toString('latin1');
  expect(pdf.match(/\/Type\s*\/Page[^s]/g)).toHaveLength(1);
  await page.emulateMedia({ media: 'print' });
  await page.evaluate(() => window.dispatchEvent(new Event('beforeprint')));
  const words = await page.locator('body').innerText();
  expect(words).toMatch(/Bill, Highmoor Lodge[\s\S]*All together/);
  for (const inside of ['Lives, by whatever comes first', 'Photographs of the place', 'What to bring'])
    expect(words).not.toContain(inside);
  await page.evaluate(() => window.dispatchEvent(new Event('afterprint')));
  await page.emulateMedia({ media: null });
});
