import { expect, type Page } from '@playwright/test';

/** Does what the run sheet has in hand, as somebody does who did not start its clocks: a wait says that it had its time. */
export async function doNext(page: Page): Promise<void> {
  const title = await page.locator('.flush-title').textContent();
  const bar = page.locator('.thumb-bar');
  const look = bar.getByRole('button', { name: /are dry$/ });
  if (await look.isVisible()) await look.click();
  else await bar.getByRole('button', { name: /^Done/ }).click();
  const gone = page.getByText(title ?? '', { exact: true }).and(page.locator('.flush-title'));
  const asked = page.getByRole('button', { name: 'It had its time' });
  await expect(async () => {
    if (await asked.isVisible()) await asked.click({ timeout: 2000 });
    await expect(gone).toHaveCount(0, { timeout: 1000 });
  }).toPass({ timeout: 30_000 });
}
