import { expect, goOn, settled, test, workAs } from '../app.ts';

test('somebody new comes in by a link, may do what their role may, and is out once their device is ended', async ({
  app,
  page,
  browser,
}) => {
  // the owner adds a reader and hands the link over
  await page.goto(app.url);
  await page.getByRole('button', { name: /^Imra Tole/ }).click();
  await page.getByRole('link', { name: 'People' }).click();
  await page.getByLabel('Somebody new').fill('Wen Alder');
  await page.getByLabel('May do', { exact: true }).selectOption('reader');
  await page.getByRole('button', { name: 'Add, and make a link' }).click();
  const link = (await page.locator('.people-link').textContent()) ?? '';
  expect(link).toMatch(/\/join#[\w-]{43}$/);

  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const phone = await context.newPage();
  await phone.goto(link);
  await expect(phone).toHaveURL(/\/join$/);
  await phone.getByLabel('Password', { exact: true }).fill('wenalder12');
  await phone.getByRole('button', { name: 'Come in' }).click();
  await expect(phone.getByRole('alert')).toContainText('guessed at once');
  await phone.getByLabel('Password', { exact: true }).fill('kettle orchard tin');
  await phone.getByRole('button', { name: 'Come in' }).click();
  await expect(phone.getByRole('heading', { name: 'Work in hand' })).toBeVisible();

  // a reader looks, and writes nothing
  await expect(phone.getByRole('button', { name: 'Add a household' })).toBeDisabled();
  await goOn(phone, await app.lens('Weir', 'gauge'));
  await expect(phone.getByText('You look here. Try what you like: nothing is written.')).toBeVisible();
  await phone.getByLabel('Feed TDS', { exact: true }).fill('512');
  await phone.getByLabel('Feed TDS', { exact: true }).press('Enter');
  await expect(phone.getByText('You look here: nothing was written.')).toBeVisible();
  await goOn(phone, `${app.url}/people`);
  await expect(phone.getByText('Only the owner of the firm sees its people and devices.')).toBeVisible();

  // the link is used up
  const other = await (await browser.newContext()).newPage();
  await other.goto(link);
  await expect(other.getByText('This link does not open anything')).toBeVisible();

  // made a fitter, they write from that moment on
  await page.getByLabel('What Wen Alder may do').selectOption('fitter');
  await expect(page.getByLabel('What Wen Alder may do')).toHaveValue('fitter');
  await phone.goto(await app.lens('Weir', 'gauge'));
  await phone.getByLabel('Feed TDS', { exact: true }).fill('512');
  await phone.getByLabel('Feed TDS', { exact: true }).press('Enter');
  await expect(phone.locator('.strip-send')).toContainText('all sent');
  await page.reload();
  await expect(page.getByRole('row', { name: /Wen Alder reading Feed TDS Weir/ })).toBeVisible();

  // the phone is lost: what it could not send stays on it, apart, and nothing of the firm does
  await context.setOffline(true);
  await phone.getByLabel('Feed TDS', { exact: true }).fill('530');
  await phone.getByLabel('Feed TDS', { exact: true }).press('Enter');
  await expect(phone.locator('.strip-send')).toContainText('1 kept here');
  const row = page.getByRole('row', { name: /Wen Alder’s (phone|computer)/ }).first();
  await row.getByRole('button', { name: 'Lost, sold or not ours' }).click();
  await row.getByRole('button', { name: 'End it' }).click();
  await expect(row).toContainText('ended');
  await context.setOffline(false);
  await expect(phone.getByText('This device was ended by the owner of the firm')).toBeVisible({ timeout: 30_000 });
  await expect(phone.getByText('1 not sent')).toBeVisible();
  await expect(phone.getByText('Weir')).toHaveCount(0);
  await phone.reload();
  await expect(phone.getByText('1 not sent')).toBeVisible();

  // found again: whoever made it signs in by the password, and it goes
  const { cookies } = await context.storageState();
  expect(cookies.every((c) => c.httpOnly && c.sameSite === 'Strict')).toBe(true);
  await phone.goto(app.url);
  await phone.getByRole('button', { name: /^Wen Alder/ }).click();
  await expect(phone.locator('.strip-send')).toContainText('all sent');
  await goOn(phone, await app.lens('Weir', 'gauge'));
  await expect(phone.getByLabel('Feed TDS', { exact: true })).toHaveValue(/530/);
  await context.close();
});

test('two people on one device: each writes in their own name, and who signs out leaves nothing behind', async ({
  app,
  page,
}) => {
  await workAs(app, page, 'Bast');
  await page.goto(await app.lens('Weir', 'gauge'));
  await settled(page);
  await page.getByRole('button', { name: /Working as Bast Ferrin/ }).click();
  await page.getByRole('menuitem', { name: 'Somebody else signs in' }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Orla Venn/ })
    .click();
  await expect(page.getByRole('button', { name: /Working as Orla Venn/ })).toBeVisible();
  await page.getByLabel('Water today', { exact: true }).fill('13');
  await page.getByLabel('Water today', { exact: true }).press('Enter');
  await page.getByRole('button', { name: /Working as Orla Venn/ }).click();
  await page.getByRole('menuitem', { name: 'Bast Ferrin' }).click();
  await page.getByLabel('Feed TDS', { exact: true }).fill('455');
  await page.getByLabel('Feed TDS', { exact: true }).press('Enter');
  await expect(page.getByText(/Orla Venn, \d+:\d+/).first()).toBeVisible();
  await expect(page.getByText(/Bast Ferrin, \d+:\d+/).first()).toBeVisible();
  await expect(page.locator('.strip-send')).toContainText('all sent');

  for (const name of ['Bast Ferrin', 'Orla Venn']) {
    await page.getByRole('button', { name: new RegExp(`Working as ${name}`) }).click();
    await page.getByRole('menuitem', { name: 'Sign out, password, code' }).click();
    await page.getByRole('button', { name: 'Sign out here' }).click();
  }
  await expect(page.getByText('This is the demo: choose who you are.')).toBeVisible();
  expect(await page.evaluate(() => Object.keys(localStorage).filter((k) => k.startsWith('katharos.')))).toEqual([]);
  await page.goto(await app.lens('Weir', 'gauge'));
  await expect(page.getByText('This is the demo: choose who you are.')).toBeVisible();
});
