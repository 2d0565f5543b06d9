import { mkdtempSync, readFileSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { pino } from 'pino';
import { openLog } from './log.ts';

const DAY_MS = 86400000;

const { error: toConsole } = console;
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'katharos-log-'));
});
afterEach(() => {
  console.error = toConsole;
  rmSync(folder, { recursive: true, force: true });
});

/** Writes lines as the server does, and waits until they stand in the file. */
async function write(file: string, ...lines: string[]): Promise<void> {
  const stream = openLog(file);
  const log = pino({ level: 'info' }, stream);
  for (const line of lines) log.info(line);
  await new Promise<void>((resolve) => stream.end(resolve));
}
const told = (file: string): string[] =>
  readFileSync(file, 'utf8')
    .trim()
    .split('\n')
    .map((line) => (JSON.parse(line) as { msg: string }).msg);

describe('the log', () => {
  test('makes its folder, and goes on where it stood', async () => {
    const file = join(folder, 'logs', 'katharos.log');
    await write(file, 'first', 'second');
    await write(file, 'after a new start');
    expect(told(file)).toEqual(['first', 'second', 'after a new start']);
  });

  test('of another day is put aside by its date', async () => {
    const file = join(folder, 'katharos.log');
    await write(file, 'of yesterday');
    const yesterday = new Date(Date.now() - DAY_MS);
    utimesSync(file, yesterday, yesterday);
    await write(file, 'of today');
    expect(told(file)).toEqual(['of today']);
    const aside = readdirSync(folder).filter((f) => /^\d{8}-.*katharos\.log$/.test(f));
    expect(aside.map((f) => told(join(folder, f)))).toEqual([['of yesterday']]);
  });

  test('that cannot be written is told, and stops nothing', async () => {
    const said: unknown[] = [];
    console.error = (...words) => said.push(...words);
    writeFileSync(join(folder, 'taken'), 'a file where the folder should be');
    const stream = openLog(join(folder, 'taken', 'katharos.log'));
    const log = pino({ level: 'info' }, stream);
    log.info('nowhere');
    await new Promise<void>((resolve) =>
      stream.once('close', () => {
        resolve();
      }),
    );
    log.info('still nowhere');
    // and a server that ends waits for it no longer
    await new Promise<void>((resolve) => stream.end(resolve));
    expect(said.join(' ')).toMatch(/The log cannot be written: .*(ENOTDIR|EEXIST)/);
  });
});
