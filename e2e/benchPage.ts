import { spawn, type ChildProcess } from 'node:child_process';
import { chromium, type Browser, type ElementHandle, type Page } from '@playwright/test';
import { AS_SHIPPED, comeIn, roundOf, workAs } from './app.ts';
import { manyJobs } from './benchMany.ts';
import { highest, median, put } from './benchTable.ts';

/** For so long a window that was opened works on parts of its own, as its address bar, with a processor and a half. */
const WINDOW_MS = 3000;
/** So long after what was measured the browser is at rest, and the fixed piece of work has the machine to itself. */
const REST_MS = 2500;
/** How often figures are typed: one long block of one time may be the machine's doing as well as the page's. */
const TYPINGS = 5;
const FIGURES = 16;

/** What is noted in a page while it is measured: its long tasks and its frames, ms. */
interface Noted {
  readonly longTasks: number[];
  frames: number[];
}

interface Running {
  readonly child: ChildProcess;
  readonly address: string;
  readonly seconds: number;
}
/** Starts the server with its demo. @param flags of the process itself */
async function started(url: string, flags: readonly string[] = []): Promise<Running> {
  const began = performance.now();
  const child = spawn(process.execPath, [...AS_SHIPPED, ...flags, 'server/start.mjs'], {
    env: { ...process.env, DATABASE_URL: url, PORT: '0', DEMO: 'reload', CLICK: 'yes' },
    stdio: ['ignore', 'pipe', 'inherit', ...(flags.length > 0 ? (['ipc'] as const) : [])],
  });
  const address = await new Promise<string>((resolve) => {
    child.stdout?.on('data', (b: Buffer) => {
      const m = /http:\S+/.exec(b.toString());
      if (m) resolve(m[0]);
    });
  });
  return { child, address, seconds: (performance.now() - began) / 1000 };
}

/** How long the loop of a server that was started with what tells it was held at most since this was asked last, ms. */
const heldBy = (child: ChildProcess): Promise<number> =>
  new Promise((resolve) => {
    child.once('message', resolve);
    child.send('held?');
  });

async function starts(url: string): Promise<void> {
  const took: number[] = [];
  // the first makes the bundle and the tables, which later ones find
  for (let i = 0; i < 4; i++) {
    const { child, seconds } = await started(url);
    took.push(seconds);
    child.kill();
    await new Promise((resolve) => child.once('exit', resolve));
  }
  put('server start, demo loaded afresh', median(took.slice(1)), 's', { most: 2 });
}

/** A job of the demo in a browser. */
interface Bench {
  readonly browser: Browser;
  readonly address: string;
  readonly job: string;
  readonly headers: { readonly cookie: string };
}

async function open({ browser, address }: Bench): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await workAs({ url: address }, page);
  await page.waitForTimeout(WINDOW_MS);
  await page.addInitScript(() => {
    const noted: Noted = { longTasks: [], frames: [] };
    Object.assign(window, { noted });
    new PerformanceObserver((l) => {
      noted.longTasks.push(...l.getEntries().map((e) => e.duration));
    }).observe({ type: 'longtask', buffered: true });
  });
  return page;
}
const noted = (page: Page): Promise<Noted> => page.evaluate(() => (window as unknown as { noted: Noted }).noted);
const longest = ({ longTasks }: Noted): number => Math.max(0, ...longTasks);
const forgetLongTasks = (page: Page): Promise<void> =>
  page.evaluate(() => {
    (window as unknown as { noted: Noted }).noted.longTasks.length = 0;
  });

async function load(page: Page, { address, job }: Bench): Promise<number> {
  const t = performance.now();
  await page.goto(`${address}/jobs/${job}/gauge`);
  await page.locator('.gauge-sentence').waitFor();
  return performance.now() - t;
}

/** What scripts and styles a page has fetched so far, compressed, and its worker's apart. */
const fetched = (page: Page): Promise<{ page: number; worker: number }> =>
  page.evaluate(() => {
    const sizes = new Map(
      (performance.getEntriesByType('resource') as PerformanceResourceTiming[])
        .filter((r) => /\.(js|css)$/.test(r.name))
        .map((r) => [r.name, r.encodedBodySize]),
    );
    const worker = [...sizes].find(([name]) => name.includes('core.worker'))?.[1] ?? 0;
    return { page: [...sizes.values()].reduce((sum, size) => sum + size, -worker), worker };
  });

async function firstLoads(bench: Bench): Promise<void> {
  const first = { kept: [] as number[], own: [] as number[] };
  let bytes = { page: Infinity, worker: 0 };
  // what the server decides of a job it decides once it has nothing else to do
  const decision = `${bench.address}/api/jobs/${bench.job}/decision`;
  while ((await (await fetch(decision, { headers: bench.headers })).json()) === null)
    await new Promise((resolve) => setTimeout(resolve, 500));
  for (let i = 0; i < 10; i++) {
    const page = await open(bench);
    const own = i % 2 === 1;
    if (own) await page.route(decision, (r) => r.fulfill({ json: null }));
    first[own ? 'own' : 'kept'].push(await load(page, bench));
    // what comes beside it is not always there by then: the least is what it takes
    const now = await fetched(page);
    if (!own && now.page < bytes.page) bytes = now;
    if (i === 9) await page.waitForTimeout(REST_MS);
    await page.context().close();
  }
  put('first load of a job, to its decision', median(first.kept) / 1000, 's', { most: 1.2 });
  put('the same, decided by the page itself', median(first.own) / 1000, 's', { most: 1.2 });
  put('the page’s script and style until then, compressed', bytes.page / 1024, 'kB', { most: 350 });
  put('the worker’s script, compressed', bytes.worker / 1024, 'kB');
}

/** Where the running pressure is typed. Nothing is looked up by its words while blocks are noted: in the page that takes long. */
async function opened(page: Page): Promise<{ field: ElementHandle; block: number }> {
  const title = await page.getByText('Pressure', { exact: true }).elementHandle();
  await page.waitForTimeout(REST_MS);
  await forgetLongTasks(page);
  await title.click();
  await page.waitForTimeout(500);
  const block = longest(await noted(page));
  const field = await page.getByLabel('Running pressure').elementHandle();
  // nothing of the sheet moves while a hand is in a field
  await field.focus();
  await page.waitForTimeout(500);
  await forgetLongTasks(page);
  return { field, block };
}

/** Types the last key of a figure, as a hand does. @returns ms until the sentence follows it, and until all is decided */
const typed = (field: ElementHandle, text: string): Promise<{ sentence: number; decided: number }> =>
  field.evaluate(
    (el, said) =>
      new Promise((resolve) => {
        if (!el.isConnected) throw new Error('the field was moved from under the hand');
        const input = el as HTMLInputElement;
        const shown = (): Element | null => document.querySelector('.gauge-sentence');
        const old = shown()?.textContent;
        const began = performance.now();
        let sentence: number | null = null;
        // told by the page as it changes: looked at frame by frame, it would be the looking that is measured
        const watch = new MutationObserver(() => {
          if (shown()?.textContent !== old) sentence ??= performance.now() - began;
          if (sentence === null || shown()?.getAttribute('aria-busy') !== 'false') return;
          watch.disconnect();
          resolve({ sentence, decided: performance.now() - began });
        });
        watch.observe(document.body, {
          subtree: true,
          childList: true,
          characterData: true,
          attributeFilter: ['aria-busy'],
        });
        Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set?.call(input, said);
        input.dispatchEvent(new Event('input', { bubbles: true }));
      }),
    text,
  );

async function typing(bench: Bench): Promise<void> {
  const [sentences, decided, blocks]: [number[], number[], number[]] = [[], [], []];
  for (let time = 0; time < TYPINGS; time++) {
    // each time as somebody finds it who has just opened it
    const page = await open(bench);
    await load(page, bench);
    const { field, block } = await opened(page);
    for (let i = 0; i < FIGURES; i++) {
      // no figure twice, since an answer already given is remembered; by turns such as have different sentences
      const took = await typed(field, ((i % 2 === 0 ? 3.4 : 1) + (time * FIGURES + i) / 100).toFixed(2));
      sentences.push(took.sentence);
      decided.push(took.decided);
      await page.waitForTimeout(60);
    }
    blocks.push(Math.max(block, longest(await noted(page))));
    if (time === TYPINGS - 1) await page.waitForTimeout(REST_MS);
    await page.context().close();
  }
  put('a keystroke in Gauge to the new sentence, median', median(sentences), 'ms', { most: 100 });
  put('the same, 95th percentile', highest(sentences), 'ms', { most: 250 });
  put('the same to the decision over the whole shelf, median', median(decided), 'ms', { most: 1000 });
  put(`longest block while typing, median of ${String(TYPINGS)} times`, median(blocks), 'ms', { most: 50 });
}

async function scrubbing(page: Page, { address, job }: Bench): Promise<void> {
  await page.goto(`${address}/jobs/${job}/size`);
  await page.locator('.headline').waitFor();
  await page.locator('.charts').waitFor();
  await page.locator('.charts [aria-busy]').first().waitFor({ state: 'detached' });
  await page.waitForTimeout(REST_MS);
  const box = await page.getByRole('slider', { name: 'Running pressure' }).boundingBox();
  if (!box) throw new Error('no figure to scrub');
  await forgetLongTasks(page);
  await page.evaluate(() => {
    const { noted } = window as unknown as { noted: Noted };
    const tick = (t: number): void => {
      noted.frames.push(t);
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
  await page.mouse.move(box.x + 10, box.y + 8);
  await page.mouse.down();
  for (let i = 0; i < 120; i++) {
    await page.mouse.move(box.x + 10 + 60 * Math.sin(i / 12), box.y + 8);
    await page.waitForTimeout(8);
  }
  await page.mouse.up();
  const seen = await noted(page);
  const { frames } = seen;
  await page.waitForTimeout(REST_MS);
  const seconds = ((frames.at(-1) ?? 1) - (frames[0] ?? 0)) / 1000;
  put('frames while a figure is scrubbed', (frames.length - 1) / seconds, 'a second', { least: 50 });
  put('longest block of the page while scrubbing', longest(seen), 'ms', { most: 50 });
}

/** The server's and the page's rows of the bench. @param url of an empty database */
export async function pageRows(url: string): Promise<void> {
  await starts(url);
  const { child, address } = await started(url, ['--require', './e2e/loop.cjs']);
  try {
    const headers = await comeIn(address);
    const rounds = await roundOf(address, headers);
    const job = rounds.find((r) => r.household.name.startsWith('Lantern'))?.jobId ?? '';
    const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium' });
    const bench: Bench = { browser, address, job, headers };
    // the browser itself is running and its window at rest: what is measured is the page, each time with nothing of it in store
    await (await browser.newPage()).goto(`${address}/icon.svg`);
    await firstLoads(bench);
    const page = await open(bench);
    await load(page, bench);
    const again = median([await load(page, bench), await load(page, bench)]) / 1000;
    await page.waitForTimeout(REST_MS);
    put('load of a job again, to its decision', again, 's', { most: 1.2 });
    await typing(bench);
    await scrubbing(page, bench);
    await browser.close();
    await manyJobs(url, address, headers, () => heldBy(child));
  } finally {
    child.kill();
  }
}
