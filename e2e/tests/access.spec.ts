import type { Page } from '@playwright/test';
import axe from 'axe-core';
import { expect, goOn, settled, test } from '../app.ts';

const VIEWS: readonly [string, string][] = [
  ['Weir', 'gauge'],
  ['Lantern', 'gauge'],
  ['Lantern', 'size'],
  ['Fenmill', 'size'],
  ['Gable', 'size'],
  ['Ropewalk', 'size'],
  ['Saltern', 'plumb'],
  ['Chalkpit', 'flush'],
  ['Highmoor', 'prove'],
  ['Highmoor', 'keep'],
];

/** The firm's own pages, each with its title. */
const PAGES: readonly [string, string | RegExp][] = [
  ['shelf', 'Shelf'],
  ['rules', 'House rules'],
  ['instruments', 'Instruments'],
  ['people', 'People and devices'],
  ['figures', /^How .* does$/],
];

/** Views that have colours of their own on a phone. */
const PHONE_COLOURS: ReadonlySet<string> = new Set(['Weir gauge', 'Chalkpit flush']);

/** What is looked for: faint words, and everything else. Where the page is another's in other colours, or its colours are another's,
 * half of it is enough. */
const LOOKS = { all: ['structure', 'contrast'], contrast: ['contrast'], structure: ['structure'] } as const;

/** One element of each kind of words, in the page: those in the same colours and size on the same grounds are as faint as each other. */
function oneOfEach(): Element[] {
  const grounds = new Map<Element, string>();
  const groundOf = (e: Element | null): string => {
    const known = e ? grounds.get(e) : '';
    if (!e || known !== undefined) return known ?? '';
    const { backgroundColor, backgroundImage, opacity, position } = getComputedStyle(e);
    const own = [e.tagName, e.getAttribute('class'), backgroundColor, backgroundImage, opacity, position].join(' ');
    const ground = `${groundOf(e.parentElement)} > ${own}`;
    grounds.set(e, ground);
    return ground;
  };
  const kinds = new Map<string, Element>();
  for (const e of document.querySelectorAll('body *')) {
    const worded = [...e.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.nodeValue?.trim());
    if (!(worded || e.matches('input, select, textarea')) || !e.checkVisibility()) continue;
    const { color, fontSize, fontWeight, textShadow } = getComputedStyle(e);
    const off = e.matches(':disabled, [aria-disabled]');
    const kind = [color, fontSize, fontWeight, textShadow, off, groundOf(e)].join(' ');
    if (!kinds.has(kind)) kinds.set(kind, e);
  }
  return [...kinds.values()];
}

async function serious(page: Page, rules: keyof typeof LOOKS): Promise<string[]> {
  // what looks is put into each document once
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source);
  const found: string[] = [];
  for (const look of LOOKS[rules]) {
    const words = look === 'contrast' ? await page.evaluateHandle(oneOfEach) : null;
    const violations = await page.evaluate(async (include) => {
      const { axe: of } = window as unknown as { axe: typeof axe };
      const options = include ? { runOnly: ['color-contrast'] } : { rules: { 'color-contrast': { enabled: false } } };
      const context = include ? { include } : document;
      return (await of.run(context, { resultTypes: ['violations'], preload: false, ...options })).violations;
    }, words);
    for (const { id, impact, nodes } of violations) {
      const where = nodes.map((n) => n.target.join(' ')).slice(0, 4);
      if (impact === 'serious' || impact === 'critical') found.push(`${id}: ${where.join(' | ')}`);
    }
  }
  return found;
}

/** So far the page can be pushed sideways, px. */
const sideways = (page: Page): Promise<number> =>
  page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);

const MODES = [
  { name: 'desk, light', width: 1280, height: 800, scheme: 'light', rules: 'all' },
  { name: 'desk, dark', width: 1280, height: 800, scheme: 'dark', rules: 'contrast' },
  { name: 'phone', width: 390, height: 844, scheme: 'light', rules: 'structure' },
] as const;

/** What is tapped on the pages of a job, and on the firm's own. */
const TAPPED = [
  '.station, .thumb-bar button, .spine button, .reading input, .reading select, .proof-fields input, .joint-ticks button',
  '.layout-acts button, .standing button, .standing input',
  ...['.rounds-actions', '.coming-acts'].flatMap((c) => ['button', 'a', 'input'].map((e) => `${c} ${e}`)),
].join();

/** What of a phone's page a thumb would miss: lower than 44 px. */
const low = (page: Page): Promise<string[]> =>
  page.evaluate(
    (of) =>
      [...document.querySelectorAll<HTMLElement>(of)]
        .filter((e) => e.offsetParent !== null && e.getBoundingClientRect().height < 43.5)
        .map((e) => e.outerHTML.slice(0, 80)),
    TAPPED,
  );

/** What is serious about a view that stands open, on a desk in both colours and on a phone; nothing pushes it sideways, and no thumb misses. */
async function looked(page: Page, view: string): Promise<Record<string, string[]>> {
  const found: Record<string, string[]> = {};
  for (const mode of MODES) {
    await page.setViewportSize({ width: mode.width, height: mode.height });
    await page.emulateMedia({ colorScheme: mode.scheme });
    await settled(page);
    const rules = mode.name === 'phone' && PHONE_COLOURS.has(view) ? 'all' : mode.rules;
    found[`${view}, ${mode.name}`] = await serious(page, rules);
    expect({ view, mode: mode.name, wide: await sideways(page) }).toEqual({ view, mode: mode.name, wide: 0 });
    if (mode.name === 'phone') found[`${view}, lower than a thumb`] = await low(page);
  }
  return found;
}

const nothingIn = (found: Record<string, string[]>): void => {
  expect(found).toEqual(Object.fromEntries(Object.keys(found).map((k) => [k, []])));
};

test('a picture nobody describes and words too faint to read are found', async ({ page }) => {
  const row = (style = '', words = 'plain'): string => `<li style="${style}"><b>${words}</b></li>`;
  const grey = 'background:#555';
  await page.setContent(
    `<main><img src="/x.png"><p style="color:#ccc;background:#fff">faint</p>
    <ul>${row()}${row()}${row(grey, 'on grey')}${row(grey, 'the same')}${row()}</ul></main>`,
  );
  const found = await serious(page, 'all');
  expect(found).toContainEqual(expect.stringContaining('image-alt'));
  // each by its kind: of rows alike only the first
  expect(found.find((v) => v.startsWith('color-contrast'))).toBe('color-contrast: p | li:nth-child(3) > b');
  expect(await serious(page, 'structure')).not.toContainEqual(expect.stringContaining('color-contrast'));
});

test('every page of the firm is free of serious findings', async ({ app, work: page }) => {
  await page.goto(app.url);
  await expect(page.getByText('Work in hand')).toBeVisible();
  let found = await looked(page, 'rounds');
  await expect(page.locator('.rounds-actions').first()).toBeVisible();
  for (const [path, title] of PAGES) {
    await goOn(page, `${app.url}/${path}`);
    await expect(page.locator('.firm-head h1')).toHaveText(title);
    found = { ...found, ...(await looked(page, path)) };
  }
  await goOn(page, `${app.url}/shelf`);
  await page.locator('.mantine-SegmentedControl-label', { hasText: 'Stock' }).click();
  await expect(page.getByLabel('Which van')).toBeVisible();
  found = { ...found, ...(await looked(page, 'stock')) };
  for (const [path, title] of [
    ['day', /day, /],
    ['coming', 'What is coming'],
  ] as const) {
    await goOn(page, `${app.url}/${path}`);
    await expect(page.locator('.day h1')).toHaveText(title);
    // shortly before midnight the made-up firm's visits are another day's
    await expect(page.locator('.day .headline, .day .empty').first()).toBeVisible();
    found = { ...found, ...(await looked(page, path)) };
    await expect(page.locator('.rounds-actions').first()).toBeVisible();
  }
  nothingIn(found);
});

test('every lens of a job is free of serious findings', async ({ app, work: page }) => {
  let found: Record<string, string[]> = {};
  await page.goto(app.url);
  for (const [name, lens] of VIEWS) {
    await goOn(page, await app.lens(name, lens));
    await expect(page.locator(`.sheet[data-lens="${lens}"] h1`)).toContainText(name);
    await expect(page.locator('.sheet h2, .sheet .headline, .flush-title').first()).toBeVisible();
    found = { ...found, ...(await looked(page, `${name} ${lens}`)) };
    // what a thumb is measured by is there by its name
    await expect(page.locator('.station').first()).toBeVisible();
  }
  nothingIn(found);
  // each part of Plumb has its own width; where there is little of it
  await goOn(page, await app.lens('Saltern', 'plumb'));
  for (const part of ['Layout', 'Joints', 'Tubes', 'Holes', 'Pick list']) {
    await page.locator('.mantine-SegmentedControl-label', { hasText: part }).click();
    await settled(page);
    const wide = await sideways(page);
    expect({ part, wide }).toEqual({ part, wide: 0 });
  }
});
