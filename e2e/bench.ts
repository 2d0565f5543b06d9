/** npm run bench: each figure beside its goal. Measured on this machine, in one run; compare within one run only. */
import { spawn } from 'node:child_process';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { chromium } from '@playwright/test';
import {
  CatalogueSchema,
  decide,
  fitPermeability,
  HouseRulesSchema,
  osmoticBarPerMgL,
  sodiumChloride,
  solveElement,
  studyDesign,
  viewSystem,
  type Known,
} from '@katharos/core';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const url = process.env.BENCH_DATABASE_URL;
if (!url) throw new Error('run this through `npm run bench`');
const rows: { what: string; figure: string; goal: string; met: boolean | null }[] = [];
const put = (what: string, figure: number, unit: string, goal?: { most?: number; least?: number }): void => {
  const met = goal ? figure <= (goal.most ?? Infinity) && figure >= (goal.least ?? -Infinity) : null;
  const words =
    goal?.most !== undefined
      ? `at most ${String(goal.most)} ${unit}`
      : goal?.least !== undefined
        ? `at least ${String(goal.least)} ${unit}`
        : '';
  rows.push({
    what,
    figure: `${figure < 10 ? figure.toFixed(2) : String(Math.round(figure))} ${unit}`,
    goal: words,
    met,
  });
};
const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? 0;
const time = (n: number, f: (i: number) => unknown): number[] =>
  Array.from({ length: n }, (_, i) => {
    const t = performance.now();
    f(i);
    return performance.now() - t;
  });

const catalogue = CatalogueSchema.parse(JSON.parse(readFileSync(join(ROOT, 'shelf/parts.json'), 'utf8')));
const rules = HouseRulesSchema.parse(JSON.parse(readFileSync(join(ROOT, 'shelf/house-rules.json'), 'utf8')));

function core(): void {
  const p = fitPermeability({
    permeateLDay: 284,
    rejection: 0.96,
    test: { pressureBar: 3.45, temperatureC: 25, tdsMgL: 500, recovery: 0.15 },
  });
  const k = osmoticBarPerMgL(sodiumChloride(500), 10);
  const solve = (i: number): unknown =>
    solveElement(p, {
      feedPressureBar: 3 + (i % 100) / 50,
      permeatePressureBar: (i % 7) / 5,
      temperatureC: 10,
      tdsMgL: 500,
      osmoticBarPerMgL: k,
      concentrateLDay: 450,
    });
  time(5000, solve);
  const t = performance.now();
  for (let i = 0; i < 30000; i++) solve(i);
  put('element solves', 30000 / ((performance.now() - t) / 1000), 'a second');
  const known = (i: number): Known => ({
    source: 'mains',
    feedTdsMgL: 320,
    hardnessMgL: 150,
    temperatureC: 14,
    coldestC: 8,
    staticPressureBar: 3.6,
    runningPressureBar: 2.4 + (i % 10) / 10,
    runningFlowLMin: 8,
    people: 4,
    socket: 'yes',
    metalAfter: 'no',
  });
  const input = (i: number) => ({ known: known(i), catalogue, rules });
  put('one recommendation over the whole shelf, first', median(time(1, (i) => decide(input(i)))), 'ms');
  put('one recommendation over the whole shelf', median(time(20, (i) => decide(input(i)))), 'ms', { most: 300 });
  const d = decide(input(5));
  if (d.kind === 'recommendation') {
    put('flip points and temperature curve', median(time(5, () => studyDesign(input(5), d.chosen.design))), 'ms');
    put('one system worked out, all six parts', median(time(10, () => viewSystem(input(5), d.chosen.design))), 'ms');
  }
}

async function page(): Promise<void> {
  const began = performance.now();
  const child = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
    cwd: ROOT,
    env: { ...process.env, DATABASE_URL: url, PORT: '0', DEMO: 'reload' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((resolve) => {
    child.stdout.on('data', (b: Buffer) => {
      const m = /http:\S+/.exec(b.toString());
      if (m) resolve(m[0]);
    });
  });
  put('server start, demo loaded afresh', (performance.now() - began) / 1000, 's', { most: 3 });
  try {
    const shelf = (await (await fetch(`${address}/api/shelf`)).json()) as { people: { id: string }[] };
    const rounds = (await (await fetch(`${address}/api/rounds`)).json()) as {
      jobId: string;
      household: { name: string };
    }[];
    const job = rounds.find((r) => r.household.name.startsWith('Lantern'))?.jobId ?? '';
    const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium' });
    const tab = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await tab.addInitScript((id) => {
      localStorage.setItem('katharos.person', id);
      const long: number[] = [];
      Object.assign(window, { longTasks: long });
      new PerformanceObserver((l) => {
        long.push(...l.getEntries().map((e) => e.duration));
      }).observe({ type: 'longtask', buffered: true });
    }, shelf.people[0]?.id ?? '');
    const loads: number[] = [];
    for (let i = 0; i < 3; i++) {
      const t = performance.now();
      await tab.goto(`${address}/jobs/${job}/gauge`);
      await tab.locator('.gauge-sentence').waitFor();
      loads.push(performance.now() - t);
    }
    put('first load of a job, to its decision', loads[0] ?? 0, 'ms');
    put('load of a job again, to its decision', median(loads.slice(1)), 'ms');
    await tab.waitForTimeout(1500);
    await tab.evaluate(() => {
      (window as unknown as { longTasks: number[] }).longTasks.length = 0;
    });
    const changes: number[] = [];
    for (let i = 0; i < 9; i++) {
      const before = await tab.locator('.gauge-sentence').textContent();
      const value = i % 2 === 0 ? '3.6 bar' : '1.4 bar';
      await tab.getByLabel('Running pressure').fill(value);
      await tab.getByLabel('Static pressure').fill(i % 2 === 0 ? '4 bar' : '1.93 bar');
      const t = performance.now();
      await tab.getByLabel('Static pressure').press('Enter');
      await tab.waitForFunction((old) => document.querySelector('.gauge-sentence')?.textContent !== old, before, {
        polling: 'raf',
      });
      changes.push(performance.now() - t);
    }
    put('changed pressure to the new recommendation on screen', median(changes), 'ms');
    const long = await tab.evaluate(() => (window as unknown as { longTasks: number[] }).longTasks);
    put('longest block of the page while changing pressure', Math.max(0, ...long), 'ms', { most: 50 });
    await browser.close();
  } finally {
    child.kill();
  }
  const assets = readdirSync(join(ROOT, 'web/dist/assets'));
  const html = readFileSync(join(ROOT, 'web/dist/index.html'), 'utf8');
  const first = assets.filter((a) => html.includes(a) && /\.(js|css)$/.test(a));
  const size = first.reduce((s, a) => s + gzipSync(readFileSync(join(ROOT, 'web/dist/assets', a))).length, 0);
  put('script and style of the first page, compressed', size / 1024, 'kB');
}

core();
await page();
for (const r of rows)
  console.log(
    `${r.what.padEnd(56)} ${r.figure.padStart(16)}   ${r.goal}${r.met === null ? '' : r.met ? ', met' : ', NOT met'}`,
  );
