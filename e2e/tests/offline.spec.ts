import { cp, mkdtemp, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Job, Rounds } from '@katharos/contract';
import type { Browser, Page } from '@playwright/test';
import { expect, goOn, test, workAs, wholeSheet, type App } from '../app.ts';

const LENSES = ['gauge', 'size', 'plumb', 'flush', 'prove', 'keep'];
const strip = (page: Page) => page.locator('.strip-send', { hasText: /sent|kept|sending|refused|page/ });

/** A device of its own, as a browser that was never here before. */
async function device(app: App, browser: Browser, name: string): Promise<Page> {
  const page = await (await browser.newContext({ serviceWorkers: 'allow' })).newPage();
  await workAs(app, page, name);
  await wholeSheet(page);
  return page;
}

/** Waits until a device has the whole application. */
async function installed(page: Page): Promise<void> {
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null, null, { timeout: 60_000 });
}

const jobAt = async (app: App, address: string): Promise<Job> => {
  const id = /jobs\/([^/]+)/.exec(address)?.[1] ?? '';
  return (await (await fetch(`${app.url}/api/jobs/${id}`, { headers: await app.imra() })).json()) as Job;
};

async function write(page: Page, label: string, value: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(value);
  await page.getByLabel(label, { exact: true }).press('Enter');
}

test('a day without signal on two devices: all of a job opens and is written to, and nothing is lost or overwritten', async ({
  app,
  browser,
}) => {
  const saltern = await app.lens('Saltern', 'gauge');
  const highmoor = await app.lens('Highmoor', 'keep');
  const [imra, bast] = [await device(app, browser, 'Imra'), await device(app, browser, 'Bast')];
  await imra.goto(app.url);
  await imra.getByRole('button', { name: /^Highmoor.*take along/ }).click();
  await expect(imra.getByText('Taken along')).toBeVisible();
  for (const page of [imra, bast]) {
    await page.goto(saltern);
    await expect(page.locator('.sheet')).toBeVisible();
    await installed(page);
  }
  const before = await jobAt(app, saltern);

  await app.stop();
  // both open it anew, from the device alone
  for (const page of [imra, bast]) {
    await page.goto(saltern);
    await expect(page.getByText(/The server is away. This job is as it was at/)).toBeVisible();
  }
  for (const lens of LENSES) {
    await goOn(imra, saltern.replace('gauge', lens));
    // the first with all it works out, cold, while the other device works out the same
    await expect(imra.locator(`.sheet[data-lens="${lens}"]`)).toHaveAttribute('aria-busy', 'false', {
      timeout: 90_000,
    });
    await expect(imra.locator('.sheet')).not.toContainText('Opening the sheet');
  }
  await imra.goto(highmoor);
  await expect(imra.locator('.sheet[data-lens="keep"]')).toBeVisible();
  // a new household, begun where there is no signal
  await imra.goto(app.url);
  await expect(imra.getByText(/The round is as it was at/)).toBeVisible();
  await imra.getByRole('button', { name: 'Add a household' }).click();
  await imra.getByLabel('Household', { exact: true }).fill('Cellar Row 3');
  await imra.getByRole('button', { name: 'Add and gauge' }).click();
  await expect(imra).toHaveURL(/gauge$/);
  const born = imra.url();
  await write(imra, 'Feed TDS', '333');
  // both change the same household and take readings of the same field
  for (const [page, notes, tds] of [
    [imra, 'Key under the blue pot.', '411'],
    [bast, 'Ring twice.', '422'],
  ] as const) {
    await page.goto(saltern);
    await write(page, 'Feed TDS', tds);
    await page.getByRole('button', { name: /edit the household/ }).click();
    await page.getByLabel('Notes').fill(notes);
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByRole('dialog')).toBeHidden();
    // what is written down survives the browser, and is shown as if it were stored
    await page.reload();
    await expect(page.getByLabel('Feed TDS', { exact: true })).toHaveValue(tds);
  }
  await expect(strip(imra)).toContainText('server away, 4 kept here');
  await expect(strip(bast)).toContainText('server away, 2 kept here');

  // Imra comes to where there is signal first
  await bast.context().setOffline(true);
  await app.start();
  await expect(strip(imra)).toContainText('all sent');
  await imra.reload();
  await expect(imra.getByText(/The server is away/)).toBeHidden();
  // Bast is second: theirs is shown, and chosen between
  await bast.context().setOffline(false);
  await bast.reload();
  await expect(strip(bast)).toContainText('1 refused');
  await strip(bast).click();
  await bast.getByRole('button', { name: 'Keep mine over theirs' }).click();
  await expect(strip(bast)).toContainText('all sent');

  const after = await jobAt(app, saltern);
  expect(after.household.notes).toBe('Ring twice.');
  const typed = after.facts.slice(before.facts.length).map((f) => (f.kind === 'reading' ? f.typed : f.kind));
  expect(typed.sort()).toEqual(['411', '422']);
  const cellar = await jobAt(app, born);
  expect([cellar.household.name, cellar.facts.map((f) => (f.kind === 'reading' ? f.typed : f.kind))]).toEqual([
    'Cellar Row 3',
    ['333'],
  ]);
  for (const page of [imra, bast]) await page.context().close();
});

test('a device that was away for a month, a day ahead: it forgot the firm, kept what was not sent, and overwrites nothing', async ({
  app,
  browser,
}) => {
  const lantern = await app.lens('Lantern', 'gauge');
  const page = await device(app, browser, 'Bast');
  await page.clock.install();
  await page.clock.setSystemTime(Date.now() + 86_400_000);
  await page.goto(lantern);
  await expect(strip(page)).toContainText('all sent');
  await installed(page);
  await app.stop();
  await page.reload();
  await write(page, 'Feed TDS', '505');
  await expect(strip(page)).toContainText('1 kept here');
  // the office reads it meanwhile; then a month goes by
  await page.context().setOffline(true);
  await app.start();
  const other = await (await browser.newContext()).newPage();
  await workAs(app, other, 'Orla');
  await wholeSheet(other);
  await other.goto(lantern);
  await write(other, 'Feed TDS', '606');
  await expect(strip(other)).toContainText('all sent');
  await page.evaluate(() => {
    const signed = JSON.parse(localStorage.getItem('katharos.signed') ?? '{}') as { at: number };
    localStorage.setItem('katharos.signed', JSON.stringify({ ...signed, at: signed.at - 60 * 86_400_000 }));
  });
  await page.context().clearCookies();
  await page.reload();
  await expect(page.getByText('1 not sent')).toBeVisible();
  const left = await page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const open = indexedDB.open('katharos-kept');
        open.onsuccess = () => {
          const all = open.result.transaction('answers').objectStore('answers').count();
          all.onsuccess = () => {
            resolve(all.result);
          };
        };
      }),
  );
  expect(left).toBe(0);
  await page.context().setOffline(false);
  await page.reload();
  await page.getByRole('button', { name: /^Bast/ }).click();
  await expect(strip(page)).toContainText('all sent');
  // it was read before the office did, whatever its clock said
  await other.reload();
  await expect(other.getByLabel('Feed TDS', { exact: true })).toHaveValue('606');
  const typed = (await jobAt(app, lantern)).facts.flatMap((f) => (f.kind === 'reading' ? [f.typed] : []));
  expect(typed.filter((t) => t === '505' || t === '606').sort()).toEqual(['505', '606']);
  await page.context().close();
  await other.context().close();
});

/** The application as it would be built next: every script under another name, the old ones gone. */
async function nextRelease(): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), 'katharos-next-'));
  await cp(fileURLToPath(new URL('../../web/dist', import.meta.url)), folder, { recursive: true });
  const assets = join(folder, 'assets');
  const scripts = (await readdir(assets)).filter((f) => f.endsWith('.js'));
  const files = [...scripts.map((f) => join(assets, f)), join(folder, 'index.html'), join(folder, 'serviceWorker.js')];
  for (const f of await readdir(assets)) if (/\.(br|gz)$/.test(f)) await rm(join(assets, f));
  for (const file of files) {
    let text = await readFile(file, 'utf8');
    for (const f of scripts) text = text.replaceAll(f, f.replace(/\.js$/, '-next.js'));
    // what is kept under one address is told apart by what was in it
    if (file.endsWith('serviceWorker.js')) text = text.replace(/("?revision"?:")[0-9a-f]{32}/g, '$1next');
    await writeFile(file, text);
  }
  for (const f of scripts) await rename(join(assets, f), join(assets, f.replace(/\.js$/, '-next.js')));
  return folder;
}

test('an update in the middle of a job: what is open goes on, and the newer one comes when it is asked to', async ({
  app,
  browser,
}) => {
  const saltern = await app.lens('Saltern', 'gauge');
  const page = await device(app, browser, 'Imra');
  const scripts = (of: Page): Promise<string[]> =>
    of.evaluate(() =>
      performance
        .getEntriesByType('resource')
        .map((e) => e.name)
        .filter((n) => n.endsWith('.js')),
    );
  await page.goto(saltern);
  await installed(page);
  await page.getByLabel('Feed TDS', { exact: true }).fill('four hun');
  const folder = await nextRelease();
  await app.stop();
  await app.start('none', { page: folder });
  await page.evaluate(async () => (await navigator.serviceWorker.ready).update());
  const button = page.getByRole('button', { name: 'newer version' });
  await expect(button).toBeVisible({ timeout: 60_000 });
  // what is open goes on, its own scripts and all, though the server has them no more
  for (const lens of LENSES.slice(1)) {
    await page.keyboard.press('Escape');
    await page.locator(`.station[href$="/${lens}"]`).click();
    await expect(page.locator(`.sheet[data-lens="${lens}"]`)).toBeVisible();
    await expect(page.getByLabel('Opening the sheet')).toBeHidden();
  }
  expect((await scripts(page)).some((s) => s.endsWith('-next.js'))).toBe(false);
  // with another tab open it does not come
  const other = await page.context().newPage();
  await other.goto(saltern);
  await expect(other.locator('.sheet')).toBeVisible();
  await button.click();
  await page.getByRole('button', { name: 'Open the newer one' }).click();
  await expect(page.getByText('Katharos is open in 1 more tab')).toBeVisible();
  await other.close();
  await page.getByRole('button', { name: 'try again' }).click();
  await expect(button).toBeHidden({ timeout: 60_000 });
  await page.goto(saltern);
  await expect(page.getByLabel('Feed TDS', { exact: true })).toHaveValue('four hun');
  expect((await scripts(page)).filter((s) => !s.endsWith('-next.js'))).toEqual([]);
  await page.context().close();
  await app.stop();
  await app.start();
  await rm(folder, { recursive: true });
});

test('a code opens the device, wrong too often it no longer does; a page opened without HTTPS says what will not work', async ({
  app,
  work: page,
}) => {
  await page.goto(app.url);
  await page.getByRole('button', { name: /Working as/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out, password, code' }).click();
  await page.getByLabel('Code', { exact: true }).fill('4711');
  await page.getByRole('button', { name: 'Set the code' }).click();
  await expect(page.getByText('From now on it is asked for here.')).toBeVisible();
  const tab = await page.context().newPage();
  await tab.goto(app.url);
  await expect(tab.getByRole('heading', { name: 'Imra Tole' })).toBeVisible();
  await expect(tab.getByText('Work in hand')).toBeHidden();
  const code = tab.getByLabel('Your code for this device');
  await code.fill('1111');
  await code.press('Enter');
  await expect(tab.getByText('That is not the code. 4 tries are left.')).toBeVisible();
  await code.fill('4711');
  await code.press('Enter');
  await expect(tab.getByText('Work in hand')).toBeVisible();
  await tab.addInitScript(() => {
    Object.defineProperty(window, 'isSecureContext', { get: () => false });
  });
  await tab.goto(app.url);
  await expect(tab.getByRole('heading', { name: 'This address is not safe to work at' })).toBeVisible();
  await expect(tab.getByText('nothing can be written down', { exact: false })).toBeVisible();
});

test('visits of today and tomorrow are taken along by themselves', async ({ app, browser }) => {
  const address = await app.lens('Highmoor', 'keep');
  const job = await jobAt(app, address);
  const { by } = job.facts[0] ?? { by: '' };
  const on = new Date(Date.now() + 3_600_000).toISOString();
  const visit = {
    v: 2,
    kind: 'visit',
    id: crypto.randomUUID(),
    jobId: job.id,
    by,
    at: new Date().toISOString(),
    on,
    reason: 'Yearly change',
    changed: [],
    design: job.designs[0]?.id,
  };
  const stored = await fetch(`${app.url}/api/jobs/${job.id}/facts`, {
    method: 'POST',
    headers: { ...(await app.imra()), 'content-type': 'application/json' },
    body: JSON.stringify({ facts: [visit] }),
  });
  expect(await stored.json()).toEqual({ stored: 1 });
  const rounds = (await (await fetch(`${app.url}/api/rounds`, { headers: await app.imra() })).json()) as Rounds;
  const soon = [0, 1].map((days) => new Date(Date.now() + days * 86_400_000).toDateString());
  const along = rounds.visits.filter((e) => e.summary.visits.some((v) => soon.includes(new Date(v.on).toDateString())));
  expect(along.map((e) => e.jobId)).toContain(job.id);
  const page = await device(app, browser, 'Imra');
  await page.goto(app.url);
  await expect(page.getByRole('heading', { name: 'Visits today and tomorrow' })).toBeVisible();
  await installed(page);
  await strip(page).click();
  const all = along.length === 1 ? '1 job opens' : `${String(along.length)} jobs open`;
  await expect(page.getByText(`${all} here without signal`, { exact: false })).toBeVisible({ timeout: 30_000 });
  await app.stop();
  await page.goto(address);
  await expect(page.locator('.sheet[data-lens="keep"]')).toContainText('Yearly change');
  await app.start();
  await page.context().close();
});
