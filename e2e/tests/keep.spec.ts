import { expect, test } from '../app.ts';

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
    if (/^New sediment in/.test(now)) {
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
  await expect(page.locator('.log tbody tr').first()).toContainText(/Change of sediment.*sediment/);
  await expect(page.getByText(/^Sediment.* overdue/)).toHaveCount(0);
  await page.reload();
  await expect(page.locator('.log tbody tr').first()).toContainText('Change of sediment');
});
