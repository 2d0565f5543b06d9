import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from '@jest/globals';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const CACHE = join(ROOT, 'node_modules/.cache/katharos');
let folder = '';
let name = '';
beforeAll(() => {
  folder = mkdtempSync(join(ROOT, 'node_modules/bundled-'));
  name = basename(folder);
});
afterAll(() => {
  rmSync(folder, { recursive: true });
  for (const file of written()) rmSync(join(CACHE, file));
});

const written = (): string[] => readdirSync(CACHE).filter((file) => file.startsWith(name));

/** Bundles the folder's program in a process of its own and runs it. @returns what it prints */
function runBundle(): string {
  const from = relative(ROOT, folder);
  const script = `
    const { bundled } = await import('./scripts/bundle.mjs');
    await import(await bundled('${name}', '${from}/first.ts', ['${from}'], []));`;
  return execFileSync(process.execPath, ['--input-type=module', '--eval', script], { cwd: ROOT }).toString();
}
/** Writes a source as if in a second to come: newer than any bundle there is. */
function write(file: string, text: string): void {
  writeFileSync(join(folder, file), text);
  const soon = Date.now() / 1000 + 2;
  utimesSync(join(folder, file), soon, soon);
}

test('a bundle reads what it asks for later from beside it, is made anew with its sources, and leaves nothing of the one before', () => {
  write('first.ts', `const { said } = await import('./later.ts'); console.log(said); export {};`);
  write('later.ts', `export const said: string = 'once';`);
  expect(runBundle()).toBe('once\n');
  const before = written();
  expect(before).toHaveLength(2);
  write('later.ts', `export const said: string = 'twice';`);
  expect(runBundle()).toBe('twice\n');
  expect(written()).toHaveLength(2);
  expect(written()).not.toEqual(before);
});
