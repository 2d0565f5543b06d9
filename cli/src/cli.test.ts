import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, test } from '@jest/globals';
import { CALCULATORS } from '@katharos/core';
import { loadShelf } from '@katharos/shelf';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'katharos-cli-'));
afterAll(() => {
  rmSync(folder, { recursive: true });
});
const calc = (args: string[], input = ''): { code: number | null; out: string; err: string } => {
  const r = spawnSync(process.execPath, [join(ROOT, 'cli/calc.mjs'), ...args], {
    input,
    encoding: 'utf8',
    env: { ...process.env, INIT_CWD: folder },
  });
  return { code: r.status, out: r.stdout, err: r.stderr };
};
const file = JSON.parse(readFileSync(join(ROOT, 'docs/examples/02-ordinary.json'), 'utf8')) as object;
const tank = { volumeL: 15.1, airChargeBar: 0.48, pressureBar: 2.76 };

describe('the calculators on the command line', () => {
  test('read standard input and print one object', () => {
    const r = calc(['tank'], JSON.stringify(tank));
    expect([r.code, r.err]).toEqual([0, '']);
    expect((JSON.parse(r.out) as { waterL: number }).waterL).toBeCloseTo(9.12, 2);
  });
  test('read a file by its name from where the person stands', () => {
    writeFileSync(join(folder, 'tank.json'), JSON.stringify(tank));
    expect(calc(['tank', 'tank.json']).code).toBe(0);
  });
  test.each([
    ['a figure out of range', ['tank'], '{"volumeL":-1,"airChargeBar":0.5,"pressureBar":2}', 'volumeL'],
    ['no JSON', ['tank'], 'litres: 3', ''],
    ['nothing at all', ['tank'], '', ''],
    ['a calculator there is none of', ['toString'], '{}', ''],
    ['no calculator named', [], '', ''],
    ['a file that is not there', ['tank', 'nowhere.json'], '', ''],
  ] as const)('%s is refused with its place, never a stack', (_, args, input, path) => {
    const r = calc([...args], input);
    expect([r.code, r.out]).toEqual([2, '']);
    const { error } = JSON.parse(r.err) as { error: { path: string; message: string } };
    expect(error.path).toBe(path);
    expect(error.message.length).toBeGreaterThan(5);
    expect(r.err.trim().split('\n')).toHaveLength(1);
  });
  test('size answers the same as the calculator does in a program', () => {
    const shelf = loadShelf(join(ROOT, 'shelf'));
    const alone = CALCULATORS.size?.answer(file, { catalogue: shelf.parts, rules: shelf.rules });
    const r = calc(['size'], JSON.stringify(file));
    expect(alone?.ok && JSON.parse(JSON.stringify(alone.output))).toEqual(JSON.parse(r.out));
    expect((JSON.parse(r.out) as { turns: unknown[] }).turns.length).toBeGreaterThan(0);
  });
  test('size tells what is wrong with a file, and what is not sized', () => {
    const r = calc(['size'], JSON.stringify({ ...file, known: { feedTdsMgL: -4 } }));
    expect(r.code).toBe(2);
    expect(r.err.trim().split('\n')).toHaveLength(1);
    expect(JSON.parse(r.err)).toHaveProperty('error.path');
    expect(JSON.parse(calc(['size'], JSON.stringify({ ...file, known: { source: 'mains' } })).out)).toMatchObject({
      kind: 'needs',
    });
  });
});
