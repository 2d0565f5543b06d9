import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { CALCULATORS } from '@katharos/core';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { harness, type Harness } from './testing/harness.ts';
import { tokenFor } from './testing/signedIn.ts';

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
  test('works out what the calculators are asked beside everything else, to the same digit, and refuses what is too much', async () => {
    const input = { volumeL: 15.1, airChargeBar: 0.48, pressureBar: 2.76 };
    const cookie = `katharos=${await tokenFor(h.db, h.person)}`;
    const ask = (address: string) =>
      fetch(`${address}/api/calc/tank`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', cookie },
        body: JSON.stringify(input),
      });
    let asked: Promise<Response[]> | undefined;
    await run({ DATABASE_URL: h.url, PORT: '0' }, (out, stop) => {
      const address = /http:\S+/.exec(out)?.[0];
      if (address === undefined || asked) return;
      // the thread is still beginning: they wait for it, up to as many as may
      asked = Promise.all(Array.from({ length: 60 }, () => ask(address)));
      void asked.finally(() => {
        stop('SIGTERM');
      });
    });
    const answers = (await asked) ?? [];
    const here = CALCULATORS.tank?.answer(input, { catalogue: h.shelf.parts, rules: h.shelf.rules });
    const done = answers.filter((r) => r.status === 200);
    expect(done.length).toBeGreaterThanOrEqual(16);
    expect({ ok: true, output: await done[0]?.json() }).toEqual(here);
    const refused = answers.filter((r) => r.status !== 200);
    expect(new Set(refused.map((r) => r.status))).toEqual(new Set([429]));
    expect(((await refused[0]?.json()) as { type: string } | undefined)?.type).toBe('urn:katharos:problem:busy');
  });
  test('a fault in the shelf stops it with the file’s name', async () => {
    const { code, err } = await run({ DATABASE_URL: h.url, SHELF: '/nowhere' });
    expect(code).toBe(2);
    expect(err).toContain('/nowhere/parts.json');
  });
});
