import { expect, test } from '../app.ts';

test('a job is walked by keys alone: lenses by number, the Line by arrows, help by its sign', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Chalkpit', 'gauge'));
  await expect(page.locator('.line-band')).toHaveAttribute('data-figures', 'true');
  for (const [key, lens] of [
    ['3', 'plumb'],
    ['6', 'keep'],
    ['2', 'size'],
    ['5', 'prove'],
    ['4', 'flush'],
  ] as const) {
    await page.keyboard.press(key);
    await expect(page).toHaveURL(new RegExp(`/${lens}$`));
  }
  await page.getByRole('list', { name: 'The Line, in flow order' }).getByRole('button').first().focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Card of the stop valve' })).toBeVisible();
  for (let i = 0; i < 7; i++) await page.keyboard.press('ArrowRight');
  const card = page.getByRole('region', { name: /Card of the membrane/ });
  await expect(card).toContainText('Element');
  await expect(page.locator('[data-kind="membrane"] [data-element]')).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(card).toBeHidden();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Help' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog', { name: 'Help' })).toBeHidden();
});

test('numbers typed into a field do not change the lens', async ({ app, work: page }) => {
  await page.goto(await app.lens('Weir', 'gauge'));
  const tds = page.getByLabel('Feed TDS', { exact: true });
  await tds.press('Control+a');
  await tds.pressSequentially('345');
  await expect(page).toHaveURL(/\/gauge$/);
  await page.keyboard.press('Enter');
  await expect(tds).toHaveValue('345');
  await tds.fill('');
  await page.getByLabel('Hardness at this tap').focus();
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(tds).toHaveValue('345');
});
