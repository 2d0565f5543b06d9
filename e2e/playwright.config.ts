import { existsSync } from 'node:fs';
import { defineConfig } from '@playwright/test';

/** Debian's Chromium without windows, where it is installed: the same engine, a third less work for the processors. */
const WINDOWLESS = '/usr/bin/chromium-headless-shell';

const OWN_FIRM = /(starter|firm)\.spec/;
/** Files that take longest: begun first, they leave the short ones to fill what time two workers have left. */
const LONG = /(access|as-built|gauge-size|job|offline|plumb|trouble)\.spec/;

export default defineConfig({
  testDir: './tests',
  outputDir: './test-results',
  // each has its own server and database; a file's tests stay in their order
  workers: 2,
  // those that start a firm of their own first: meanwhile the demo is made that all the rest copy
  globalSetup: './demoAhead.ts',
  projects: [
    { name: 'starter', testMatch: OWN_FIRM },
    { name: 'long', testMatch: LONG },
    { name: 'pages', testIgnore: [OWN_FIRM, LONG] },
  ],
  timeout: 300_000,
  // a page works out its answers on two cores shared with another test's: half a minute is no defect
  expect: { timeout: 30_000 },
  forbidOnly: Boolean(process.env.CI),
  // a machine that stood still for a minute is no defect; what passes the second time is listed as flaky
  retries: process.env.CI ? 1 : 0,
  reporter: [['list']],
  use: {
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? (existsSync(WINDOWLESS) ? WINDOWLESS : '/usr/bin/chromium'),
      // two tests keep both processors busy: scripts compiled beside their page rather than in it cost a twentieth more
      args: ['--js-flags=--no-concurrent-recompilation'],
    },
    serviceWorkers: 'block',
    colorScheme: 'light',
    // half of what is drawn is on its way to where it stays: nobody waits for it here
    contextOptions: { reducedMotion: 'reduce' },
    // nor is a minute; what is never there to be pressed or typed into is known by then
    actionTimeout: 60_000,
    screenshot: 'only-on-failure',
  },
});
