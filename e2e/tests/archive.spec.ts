import { randomUUID } from 'node:crypto';
import { truncateSync } from 'node:fs';
import pg from 'pg';
import { expect, goOn, onOwnDatabase, roundOf, settled, test, workAs } from '../app.ts';

test('the whole firm goes out as one file and into an empty installation, where the work goes on', async ({
  app,
  work: page,
  browser,
}, testInfo) => {
  await page.goto(`${app.url}/people`);
  const coming = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Take the firm out' }).click();
  const came = await coming;
  expect(came.suggestedFilename()).toMatch(/^katharos-firm-\d{4}-\d\d-\d\d\.zip$/);
  const [firm, cut] = [testInfo.outputPath('firm.zip'), testInfo.outputPath('cut.zip')];
  await came.saveAs(firm);
  await came.saveAs(cut);
  truncateSync(cut, 100_000);
  const before = await roundOf(app.url, await app.imra());

  await onOwnDatabase(async (other) => {
    await other.start('none');
    const db = new pg.Client(other.databaseUrl);
    await db.connect();
    // its first owner, as their link would make them
    await db.query('INSERT INTO people (id, name, role) VALUES ($1, $2, $3)', [randomUUID(), 'Imra Tole', 'owner']);
    await db.end();
    const context = await browser.newContext();
    const there = await context.newPage();
    await workAs(other, there);
    await there.goto(`${other.url}/people`);
    const take = async (path: string): Promise<void> => {
      await there.locator('input[type=file]').setInputFiles(path);
      await there.getByRole('button', { name: 'Bring it in' }).click();
    };
    await take(cut);
    await expect(there.getByRole('alert')).toContainText('Nothing was brought in. archive is cut short');
    await take(firm);
    await expect(there.getByRole('status').filter({ hasText: 'Checksum' })).toContainText(/[0-9a-f]{64}/);
    await there.getByRole('button', { name: 'Go on to the rounds' }).click();
    await settled(there);
    await expect(there.getByText('Lantern Steps 14, top floor').first()).toBeVisible();
    const after = await roundOf(other.url, { cookie: (await context.cookies()).map((c) => `${c.name}=${c.value}`).join('; ') }); // oxfmt-ignore
    const ofJob = ({ jobId, household, summary }: (typeof before)[number]) => ({
      jobId,
      name: household.name,
      next: summary.next,
    });
    expect(after.map(ofJob)).toEqual(before.map(ofJob));

    // what is written there is written as the same person
    const weir = after.find((r) => r.household.name.startsWith('Weir'))?.jobId ?? '';
    await goOn(there, `${other.url}/jobs/${weir}/gauge`);
    await there.getByLabel('Feed TDS', { exact: true }).fill('512');
    await there.getByLabel('Feed TDS', { exact: true }).press('Enter');
    await settled(there);
    await there.reload();
    await expect(there.getByLabel('Feed TDS', { exact: true })).toHaveValue('512');
    await context.close();
  });
});
