import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { freePort } from '../app.ts';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));

/** The starter as a person runs it, with its data in a folder of its own. */
class Started {
  readonly child: ChildProcess;
  said = '';
  readonly ended: Promise<number | null>;
  constructor(folder: string, port: number, command: string, args: readonly string[]) {
    const env = { ...process.env, KATHAROS_DATA: folder, PORT: String(port) };
    for (const own of ['DATABASE_URL', 'PGROOT', 'PG_THROWAWAY', 'npm_execpath']) Reflect.deleteProperty(env, own);
    this.child = spawn(command, args, { cwd: ROOT, env, stdio: ['ignore', 'pipe', 'pipe'] });
    for (const from of [this.child.stdout, this.child.stderr])
      from?.on('data', (b: Buffer) => {
        this.said += b.toString();
      });
    this.ended = new Promise((resolve) => {
      this.child.once('exit', resolve);
    });
  }
}

/** The server among what a starter has started. */
function serverOf(starter: number): number {
  const children = readFileSync(`/proc/${String(starter)}/task/${String(starter)}/children`, 'utf8')
    .split(' ')
    .filter(Boolean);
  const server = children.find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('server/start.mjs'));
  if (server === undefined) throw new Error('the starter has no server');
  return Number(server);
}

test('the starter owns its data, brings back what dies, and leaves nothing behind', async () => {
  const folder = mkdtempSync('/var/tmp/katharos-starter.');
  chmodSync(folder, 0o755);
  const port = await freePort();
  const health = async (): Promise<number> => {
    try {
      return (await fetch(`http://127.0.0.1:${String(port)}/api/health`)).status;
    } catch {
      return 0;
    }
  };
  const isUp = () => expect.poll(health, { timeout: 60_000 }).toBe(200);
  const isGone = async (): Promise<void> => {
    await expect.poll(health, { timeout: 15_000 }).toBe(0);
    await expect.poll(() => existsSync(join(folder, 'data/postmaster.pid')), { timeout: 15_000 }).toBe(false);
  };
  const start = (command = 'bash', args = ['scripts/demo.sh']) => new Started(folder, port, command, args);
  // a start that was killed while the cluster was being made
  mkdirSync(join(folder, 'data.new'));
  writeFileSync(join(folder, 'data.new/PG_VERSION'), '15');
  writeFileSync(join(folder, 'pw.left00'), 'a secret');
  try {
    const first = start();
    await expect.poll(() => first.said, { timeout: 60_000 }).toContain('Katharos is at');
    await isUp();
    expect(existsSync(join(folder, 'pw.left00'))).toBe(false);

    const second = start();
    expect(await second.ended).toBe(1);
    expect(second.said).toContain(`runs already with the data in ${folder}: http://127.0.0.1:${String(port)}`);
    expect(await health()).toBe(200);

    const database = (): number => Number(readFileSync(join(folder, 'data/postmaster.pid'), 'utf8').split('\n')[0]);
    process.kill(database(), 'SIGKILL');
    await expect.poll(() => first.said, { timeout: 15_000 }).toContain('The database died; it is started again.');
    await isUp();
    process.kill(serverOf(first.child.pid ?? 0), 'SIGKILL');
    await expect.poll(() => first.said, { timeout: 15_000 }).toContain('The server died; it is started again.');
    await isUp();

    // both at once
    process.kill(database(), 'SIGKILL');
    process.kill(serverOf(first.child.pid ?? 0), 'SIGKILL');
    await expect.poll(() => first.said.split('The server died').length, { timeout: 15_000 }).toBe(3);
    await isUp();

    first.child.kill('SIGKILL');
    await isGone();
    const again = start();
    await isUp();
    again.child.kill('SIGTERM');
    expect(await again.ended).toBe(0);
    await isGone();

    const throughNpm = start('npm', ['run', '--silent', 'demo']);
    await isUp();
    throughNpm.child.kill('SIGTERM');
    await isGone();
  } finally {
    await isGone().catch(() => undefined);
    rmSync(folder, { recursive: true, force: true });
  }
});

test('a port that is taken is refused, with what to do', async () => {
  const folder = mkdtempSync('/var/tmp/katharos-starter.');
  chmodSync(folder, 0o755);
  const port = await freePort();
  const other = createServer().listen(port, '127.0.0.1');
  try {
    const refused = new Started(folder, port, 'bash', ['scripts/demo.sh']);
    expect(await refused.ended).toBe(2);
    expect(refused.said).toContain(`Port ${String(port)} of 127.0.0.1 is taken by another program. PORT=...`);
    expect(existsSync(join(folder, 'data/postmaster.pid'))).toBe(false);
  } finally {
    other.close();
    rmSync(folder, { recursive: true, force: true });
  }
});
