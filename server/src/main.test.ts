import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { harness, type Harness } from './testing/harness.ts';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
let h: Harness;
beforeAll(async () => {
  h = await harness();
});
afterAll(() => h.close());

interface Ended {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}
/** Runs the server's entry; `when` gets what it printed so far and may stop it. */
function run(
  env: Record<string, string>,
  when?: (out: string, stop: (signal: NodeJS.Signals) => void) => void,
): Promise<Ended> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ['server/start.mjs'], {
      cwd: ROOT,
      env: { PATH: process.env.PATH ?? '', ...env },
    });
    let out = '';
    let err = '';
    child.stdout.on('data', (d: Buffer) => {
      out += d.toString();
      when?.(out, (signal) => child.kill(signal));
    });
    child.stderr.on('data', (d: Buffer) => {
      err += d.toString();
    });
    child.once('exit', (code) => {
      resolve({ code, out, err });
    });
  });
}

describe('starting the server', () => {
  test('without a database address it says what is missing and ends', async () => {
    const { code, err } = await run({});
    expect(code).toBe(2);
    expect(err).toMatch(/^DATABASE_URL: /);
  });
  test('with a value that cannot be it names the variable', async () => {
    const { code, err } = await run({ DATABASE_URL: 'mysql://x', PORT: '99999' });
    expect(code).toBe(2);
    expect(err).toMatch(/DATABASE_URL: must look like postgres:/);
    expect(err).toMatch(/PORT: /);
  });
  test('with a database that is away it says so without a stack', async () => {
    const { code, err } = await run({ DATABASE_URL: 'postgres://nobody:x@127.0.0.1:9/none' });
    expect(code).toBe(1);
    expect(err).not.toMatch(/\n\s+at /);
    expect(err.length).toBeGreaterThan(5);
  });
  test('prints its address, answers, and ends in order on a signal', async () => {
    let asked: Promise<number> | undefined;
    const ended = await run({ DATABASE_URL: h.url, PORT: '0' }, (out, stop) => {
      const address = /http:\S+/.exec(out)?.[0];
      if (address && !asked) {
        asked = fetch(`${address}/api/health`).then((r) => r.status);
        void asked.finally(() => {
          stop('SIGTERM');
        });
      }
    });
    expect(await asked).toBe(200);
    expect(ended.code).toBe(0);
    expect(ended.err).toBe('');
  });
  test('a fault in the shelf stops it with the file’s name', async () => {
    const { code, err } = await run({ DATABASE_URL: h.url, SHELF: '/nowhere' });
    expect(code).toBe(1);
    expect(err).toContain('/nowhere/parts.json');
  });
});
