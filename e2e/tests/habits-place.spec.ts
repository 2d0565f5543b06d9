import { expect, goOn, settled, test, workAs } from '../app.ts';

test('a household’s day is drawn, dragged and decided from; it goes back to the usual one', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Saltern', 'gauge'));
  await page.getByRole('button', { name: 'Open all' }).click();
  await settled(page);
  const sentence = page.locator('.gauge-sentence');
  const before = await sentence.textContent();
  const draw = page.locator('.day-draw').last();
  await draw.scrollIntoViewIfNeeded();
  const box = await draw.boundingBox();
  if (!box) throw new Error('no draw to take');
  await page.mouse.move(box.x + 3, box.y + box.height - 2);
  await page.mouse.down();
  await page.mouse.move(box.x - 40, box.y - 60, { steps: 6 });
  // while the hand holds it nothing is recorded, and the sentence follows already
  await expect(sentence).not.toHaveText(before ?? '');
  await expect(page.locator('.strip-send')).toContainText('all sent');
  await page.mouse.up();
  await expect(page.getByText(/L by their day below/).first()).toBeVisible();
  await page.reload();
  await expect(page.getByText(/L by their day below/).first()).toBeVisible();
  await expect(sentence).not.toHaveText(before ?? '');
  await goOn(page, await app.lens('Saltern', 'size'));
  await expect(page.getByText('their day, as drawn').first()).toBeVisible();
  await page.getByRole('button', { name: 'Back to a usual day' }).click();
  await expect(page.getByText('their day, as drawn')).toHaveCount(0);
  await goOn(page, await app.lens('Saltern', 'gauge'));
  await expect(sentence).toHaveText(before ?? '');
});

test('what stands in the cupboard is placed by hand and by tape; a socket under the valve is doubted', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Lantern', 'gauge'));
  await page.getByText('The place', { exact: true }).click();
  for (const thing of ['trap', 'stop valve', 'socket'])
    await page.getByRole('button', { name: `Place the ${thing}` }).click();
  const left = page.getByLabel('Socket, from the left');
  await left.fill('32 cm');
  await left.press('Enter');
  const up = page.getByLabel('Socket, above the floor');
  await up.fill('200');
  await up.press('Enter');
  await expect(page.getByText(/The socket stands under the stop valve/).first()).toBeVisible();
  const drawn = page.locator('.cupboard-thing[data-thing="socket"]').first();
  await drawn.scrollIntoViewIfNeeded();
  const box = await drawn.boundingBox();
  if (!box) throw new Error('no socket drawn');
  await page.mouse.move(box.x + 5, box.y + 5);
  await page.mouse.down();
  await page.mouse.move(box.x + 155, box.y - 25, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByText(/The socket stands under the stop valve/)).toHaveCount(0);
  const at = await left.inputValue();
  expect(Number(at)).toBeGreaterThan(450);
  await expect(page.locator('.strip-send')).toContainText('all sent');
  await page.reload();
  await expect(left).toHaveValue(at);
});

test('a conductivity is typed with the meter in hand, and keeps the factor it was turned by', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Ropewalk', 'gauge'));
  await page.getByRole('combobox', { name: 'Instrument for water' }).fill('pen B');
  const tds = page.getByLabel('Feed TDS');
  await tds.fill('640 uS/cm');
  await expect(page.getByText('= 320 mg/L at 0.50 mg/L for each µS/cm', { exact: false })).toBeVisible();
  await tds.press('Enter');
  await expect(tds).toHaveValue('640 µS/cm at 0.5');
  await tds.fill('640 µS/cm at 0.7');
  await expect(page.getByText('= 448 mg/L at 0.70', { exact: false })).toBeVisible();
});

test('on a phone the next reading is within the thumb’s reach and goes to its field', async ({ app, work: page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(await app.lens('Weir', 'gauge'));
  const bar = page.locator('.gauge-thumb');
  // the sheet's styles stand after the page's own, whichever came first
  expect((await bar.getByRole('button').first().boundingBox())?.width).toBeGreaterThan(250);
  await bar.getByRole('button', { name: /^Ask first: / }).click();
  const focused = page.locator(':focus');
  await expect(focused).toHaveAttribute('id', 'gauge-source');
  await settled(page);
  const [field, thumb] = [await focused.boundingBox(), await bar.boundingBox()];
  expect((field?.y ?? 0) + (field?.height ?? 0)).toBeLessThanOrEqual(thumb?.y ?? 0);
  await focused.selectOption('mains');
  await expect(bar.getByRole('button', { name: 'Read first: Feed TDS' })).toBeVisible();
});

test('what the household cares for most is chosen on the comparison, and the order changes', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Lantern', 'size'));
  const table = page.getByRole('table', { name: 'Others that do, side by side' });
  const parts = table.locator('tbody tr').last().locator('td').first();
  await settled(page);
  const before = await parts.textContent();
  await table.getByRole('button', { name: 'To the drain', exact: true }).click();
  await expect(parts).not.toHaveText(before ?? '');
  await page.getByRole('button', { name: 'a bit of everything again.' }).click();
  await expect(parts).toHaveText(before ?? '');
});

test('two people change the house rules: each keeps what they changed', async ({ app, work: page, browser }) => {
  await page.goto(`${app.url}/rules`);
  const other = await (await browser.newContext()).newPage();
  await workAs(app, other);
  await other.goto(`${app.url}/rules`);
  const set = async (p: typeof page, label: string, text: string): Promise<void> => {
    await p.getByLabel(label).press('Control+a');
    await p.getByLabel(label).pressSequentially(text);
  };
  const spare = 'Output wanted over the need, worst season';
  await set(page, spare, '1.6');
  await set(other, 'No system without a pump below', '1.1');
  await other.getByRole('button', { name: 'Save the rules' }).click();
  await expect(other.getByText('as saved')).toBeVisible();
  await page.getByRole('button', { name: 'Save the rules' }).click();
  const conflict = page.getByRole('alert').filter({ hasText: 'Somebody else changed the rules meanwhile' });
  await expect(conflict).toContainText('1.1');
  await conflict.getByRole('button', { name: 'Keep mine' }).click();
  await expect(page.getByText('as saved')).toBeVisible();
  await other.reload();
  await expect(other.getByLabel(spare)).toHaveValue(/^1\.6/);
  await expect(other.getByLabel('No system without a pump below')).toHaveValue(/^1\.1/);
  await other.context().close();
});
