import type { Job } from '@katharos/contract';
import type { Locator, Page } from '@playwright/test';
import { type App, expect, goOn, test } from '../app.ts';

const part = (page: Page, name: string): Promise<void> =>
  page.locator('.mantine-SegmentedControl-label', { hasText: name }).click();
const sent = (page: Page): Promise<void> => expect(page.locator('.strip-send')).toContainText('all sent');
/** The drawn part, in the front view. */
const drawn = (page: Page, name: RegExp): Locator => page.getByRole('button', { name }).first();
const total = (page: Page): Promise<string | null> => page.locator('.cuts-sum b').textContent();

async function stands(app: App, page: Page): Promise<Record<string, { xMm: number; zMm: number } | null>> {
  await sent(page);
  const id = new URL(page.url()).pathname.split('/')[2] ?? '';
  const job = (await (await fetch(`${app.url}/api/jobs/${id}`, { headers: await app.imra() })).json()) as Job;
  return Object.fromEntries(job.facts.flatMap((f) => (f.kind === 'stands' ? [[f.component, f.spot]] : [])));
}

async function dragged(page: Page, what: Locator, dx: number, dy: number): Promise<void> {
  await what.scrollIntoViewIfNeeded();
  const box = await what.boundingBox();
  if (!box) throw new Error('it is not drawn');
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + dx / 2, y + dy / 2, { steps: 4 });
  await page.mouse.move(x + dx, y + dy, { steps: 4 });
  await page.mouse.up();
}

test('a layout is proposed into two cupboards, taken, moved by hand and by keys, taken back, and stays', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Saltern', 'plumb'));
  await expect(page.locator('.headline').first()).toContainText(
    /It stands in the cupboard and in the next cupboard: .* m of tube, nothing in the way\./,
  );
  await page.getByRole('button', { name: 'Take this layout' }).click();
  await expect(page.getByRole('button', { name: 'Take this layout' })).toHaveCount(0);
  const taken = await stands(app, page);
  expect(Object.keys(taken).length).toBeGreaterThan(2);

  // the tank, 40 px to the side in the second place: its tube follows
  const tank = drawn(page, /^tank .* mm from the left/);
  const before = await total(page);
  await dragged(page, tank, 40, 0);
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();
  await expect.poll(() => total(page)).not.toBe(before);
  const moved = await stands(app, page);
  const [id] = Object.keys(taken).filter((k) => JSON.stringify(taken[k]) !== JSON.stringify(moved[k]));
  expect(id).toBeDefined();

  // by keys: up by 50, down by 10, written once the hand rests
  await tank.focus();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('ArrowLeft');
  await page.waitForTimeout(900);
  const keyed = await stands(app, page);
  expect((moved[id ?? '']?.xMm ?? 0) - (keyed[id ?? '']?.xMm ?? 0)).toBe(20);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await stands(app, page))[id ?? '']?.xMm).toBe(moved[id ?? '']?.xMm);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect.poll(async () => (await stands(app, page))[id ?? '']?.xMm).toBe(keyed[id ?? '']?.xMm);

  // down on the floor no cartridge drops out of it: it is told, and after a reload it stands there still
  const frame = drawn(page, /^frame, /);
  await dragged(page, frame, 0, 200);
  await expect(page.locator('.clashes li[data-weight="not"]').first()).toBeVisible();
  await page.reload();
  await expect(page.locator('.clashes li[data-weight="not"]').first()).toBeVisible();
});

test('a tube is pinned, led round by its ring, and let go; it is cut as it then runs', async ({ app, work: page }) => {
  await page.goto(await app.lens('Chalkpit', 'plumb'));
  await expect(page.locator('.headline').first()).toContainText('It stands in this cupboard');
  const before = await total(page);
  await page.getByRole('button', { name: 'Pin tube 15' }).click();
  const ring = drawn(page, /^tube 15, /);
  await expect(ring).toBeVisible();
  // where it runs already it costs nothing
  await expect.poll(() => total(page)).toBe(before);
  // seen from above, towards the door
  await dragged(page, page.getByRole('button', { name: /^tube 15, / }).nth(1), 0, 50);
  await expect.poll(async () => Number.parseFloat((await total(page)) ?? '0')).toBeGreaterThan(Number.parseFloat(before ?? '0') + 0.1);
  await sent(page);
  await page.reload();
  await expect(drawn(page, /^tube 15, /)).toBeVisible();
  await drawn(page, /^tube 15, /).focus();
  await page.keyboard.press('Delete');
  await expect.poll(() => total(page)).toBe(before);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: 'Let tube 15 go' })).toBeVisible();
  await page.getByRole('button', { name: 'Let tube 15 go' }).click();
  await expect.poll(() => total(page)).toBe(before);
}); // oxfmt-ignore

test('a second tap is put in beside the sizing, a damaged tank replaced: each with what it does, on the Line and in the lists', async ({
  app,
  work: page,
}) => {
  await page.goto(await app.lens('Saltern', 'plumb'));
  await part(page, 'Parts');
  const beside = page.getByRole('region', { name: 'Beside the sizing' });
  const tap = beside.locator('li', { hasText: /^Second tap/ });
  await tap.getByRole('button', { name: 'See what it does' }).click();
  await expect(tap.locator('dd').first()).toBeVisible();
  await tap.getByRole('button', { name: 'Put it in' }).click();
  await expect(page.getByRole('region', { name: 'Parts' }).getByText('beside the sizing')).toHaveCount(3);
  await part(page, 'Holes');
  await expect(page.getByRole('heading', { name: /second tap/ })).toBeVisible();
  await part(page, 'Pick list');
  await page.getByRole('button', { name: /^Tank \d.* is missing or damaged$/ }).click();
  const card = page.getByRole('region', { name: 'The tank' });
  const select = card.getByLabel('What really went in');
  const other = (await select.locator('option').allTextContents())[1] ?? '';
  await select.selectOption(other);
  await expect(card.locator('.consequences dt').first()).toBeVisible();
  await card.getByRole('button', { name: 'Write it down' }).click();
  await sent(page);
  await page.reload();
  await part(page, 'Pick list');
  await expect(page.locator('.picks').getByText(other)).toBeVisible();
  await goOn(page, await app.lens('Saltern', 'flush'));
  await expect(page.getByText('Open the second tap’s branch, run it until clear')).toBeVisible();
});

test('the layout is moved with a thumb, and joints are ticked with one hand', async ({ app, work: page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(await app.lens('Chalkpit', 'plumb'));
  await expect(page.locator('.headline').first()).toContainText('It stands in this cupboard');
  const before = await stands(app, page);
  await dragged(page, drawn(page, /^minerals, /), 0, 20);
  await expect.poll(async () => JSON.stringify(await stands(app, page))).not.toBe(JSON.stringify(before));
  await part(page, 'Joints');
  const first = page.locator('.joint-ticks button').first();
  await expect(first).toHaveAttribute('aria-pressed', 'true');
  await first.click();
  await expect(first).toHaveAttribute('aria-pressed', 'false');
  await expect(page.locator('.headline:visible')).toContainText(/of \d+ joints made; next/);
  // a joint tapped on the drawing is the one in the list
  await page.getByText('On the drawing', { exact: true }).click();
  const mark = page.getByRole('button', { name: /^Joint 1 on the drawing/ }).first();
  await mark.evaluate((e) => {
    e.scrollIntoView({ block: 'center' });
  });
  await mark.click({ force: true, timeout: 10000 });
  const chosen = page.getByRole('button', { name: /^Joint 1, / });
  await expect(chosen).toHaveAttribute('data-chosen', 'true');
  await expect(chosen).toBeInViewport();
});

test('Plumb prints on four sheets, none cut and none wider than its paper; the template is one to one', async ({
  app,
  work: page,
}) => {
  // as wide as the paper between its margins, at 96 px an inch
  await page.setViewportSize({ width: 703, height: 1030 });
  for (const name of ['Chalkpit', 'Saltern']) {
    await page.goto(await app.lens(name, 'plumb'));
    await expect(page.locator('.headline').first()).toContainText('cupboard');
    const pdf = (await page.pdf({ preferCSSPageSize: true })).toString('latin1');
    expect(pdf.match(/\/Type\s*\/Page[^s]/g)).toHaveLength(4);
    await page.emulateMedia({ media: 'print' });
    await page.evaluate(() => window.dispatchEvent(new Event('beforeprint')));
    const sheets = await page
      .locator('.paper-sheet')
      .evaluateAll((all) => all.map((e) => ({ high: e.getBoundingClientRect().height, wide: e.scrollWidth })));
    expect(sheets).toHaveLength(4);
    for (const s of sheets) {
      expect(s.high).toBeLessThan(1030);
      expect(s.wide).toBeLessThanOrEqual(703);
    }
    const template = await page.locator('.paper-template').boundingBox();
    expect(template?.width).toBeCloseTo((180 / 25.4) * 96, 0);
    await page.evaluate(() => window.dispatchEvent(new Event('afterprint')));
    await page.emulateMedia({ media: null });
  }
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    part(page, 'Holes').then(() => page.getByRole('button', { name: 'Template, one to one' }).click()),
  ]);
  expect(download.suggestedFilename()).toBe('template.svg');
});

test('a cupboard nobody measured has no drawing, and its lists all the same', async ({ app, work: page }) => {
  await page.goto(await app.lens('Ropewalk', 'size'));
  await page.getByRole('button', { name: 'Approve these filters' }).click();
  await expect(page.getByText('Version 1 approved', { exact: false })).toBeVisible();
  await goOn(page, await app.lens('Ropewalk', 'plumb'));
  await expect(page.getByText(/Once the cupboard’s width, depth and height are measured/)).toBeVisible();
  await part(page, 'Pick list');
  await expect(page.getByRole('checkbox', { name: /Tube cutter/ })).toBeVisible();
});
