/** npm run shots: one picture of each main view at 1280x800 (two at 390x844) from the demo data, into docs/screenshots. */
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from '@playwright/test';
import { comeIn, roundOf, settled, wear } from './app.ts';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const OUT = join(ROOT, 'docs/screenshots');
const desk = { width: 1280, height: 800 };
const phone = { width: 390, height: 844 };
interface View {
  readonly file: string;
  /** beginning of a household's name, or a page */
  readonly name: string;
  readonly lens: string;
  readonly size: typeof desk;
  /** a part of the lens that is chosen first */
  readonly click?: string;
  /** what is brought into sight, and by which end */
  readonly to?: readonly [what: string, end: 'start' | 'end'];
}
const VIEWS: readonly View[] = [
  { file: 'rounds', name: '', lens: '', size: desk },
  { file: 'gauge', name: 'Lantern', lens: 'gauge', size: desk },
  { file: 'gauge-day', name: 'Alder', lens: 'gauge', size: desk, to: ['.cupboard', 'end'] },
  { file: 'size', name: 'Lantern', lens: 'size', size: desk },
  { file: 'size-others', name: 'Alder', lens: 'size', size: desk, to: ['.alternatives-scroll', 'start'] },
  { file: 'size-direct', name: 'Gable', lens: 'size', size: desk },
  { file: 'shelf', name: '/shelf', lens: '', size: desk },
  { file: 'rules', name: '/rules', lens: '', size: desk },
  { file: 'day', name: '/day', lens: '', size: desk },
  { file: 'people', name: '/people', lens: '', size: desk },
  { file: 'plumb', name: 'Chalkpit', lens: 'plumb', size: desk },
  { file: 'plumb-joints', name: 'Saltern', lens: 'plumb', size: desk, click: 'Joints' },
  { file: 'plumb-parts', name: 'Saltern', lens: 'plumb', size: desk, click: 'Parts' },
  { file: 'shelf-stock', name: '/shelf', lens: '', size: desk, click: 'Stock' },
  { file: 'flush', name: 'Chalkpit', lens: 'flush', size: desk },
  { file: 'prove', name: 'Highmoor', lens: 'prove', size: desk },
  { file: 'keep', name: 'Highmoor', lens: 'keep', size: desk },
  { file: 'flush-phone', name: 'Chalkpit', lens: 'flush', size: phone },
  { file: 'gauge-phone', name: 'Weir', lens: 'gauge', size: phone },
];

const child = spawn(process.execPath, ['server/start.mjs'], {
  cwd: ROOT,
  env: { ...process.env, DATABASE_URL: process.env.SHOTS_DATABASE_URL, PORT: '0', DEMO: 'reload', CLICK: 'yes' },
  stdio: ['ignore', 'pipe', 'inherit'],
});
try {
  const address = await new Promise<string>((resolve) => {
    child.stdout.on('data', (b: Buffer) => {
      const m = /http:\S+/.exec(b.toString());
      if (m) resolve(m[0]);
    });
  });
  mkdirSync(OUT, { recursive: true });
  const came = await comeIn(address);
  const rounds = await roundOf(address, came);
  const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium' });
  for (const v of VIEWS) {
    const page = await browser.newPage({ viewport: v.size, colorScheme: 'light' });
    await wear(page, address, came);
    const job = rounds.find((r) => r.household.name.startsWith(v.name))?.jobId ?? '';
    await page.goto(v.lens === '' ? `${address}${v.name}` : `${address}/jobs/${job}/${v.lens}`);
    await settled(page);
    if (v.file === 'gauge-day') await page.getByRole('button', { name: 'Open all' }).click();
    if (v.click !== undefined) await page.locator('.mantine-SegmentedControl-label', { hasText: v.click }).click();
    // what slides has come to rest
    if (v.click !== undefined) await page.waitForTimeout(400);
    if (v.to)
      await page.locator(v.to[0]).evaluate((e, block) => {
        e.scrollIntoView({ block });
      }, v.to[1]);
    await page.screenshot({ path: join(OUT, `${v.file}.png`) });
    await page.close();
    console.log(`docs/screenshots/${v.file}.png`);
  }
  await browser.close();
} finally {
  child.kill();
}
