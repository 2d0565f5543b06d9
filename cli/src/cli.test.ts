import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, test } from '@jest/globals';
import { CALCULATORS } from '@katharos/core';
import { loadShelf, loadShelfOnce } from '@katharos/shelf';

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
  test('are called from any folder, and run by the Node that comes with the packages', () => {
    const r = spawnSync(join(ROOT, 'cli/calc'), ['tank'], {
      cwd: folder,
      input: JSON.stringify(tank),
      encoding: 'utf8',
    });
    expect([r.status, r.stderr, r.stdout]).toEqual([0, '', calc(['tank'], JSON.stringify(tank)).out]);
    const PATH = process.env.PATH?.replaceAll(join(ROOT, 'node_modules/.bin'), '');
    const by = spawnSync('bash', ['-c', 'source scripts/ensure.sh; command -v node'], {
      cwd: ROOT,
      env: { ...process.env, PATH },
      encoding: 'utf8',
    });
    expect([by.stdout.trim(), by.stderr]).toEqual([join(ROOT, 'node_modules/.bin/node'), '']);
  });
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

describe('a shelf that was found right', () => {
  const own = join(folder, 'shelf');
  const found = { file: join(folder, 'kept/shelf.json'), by: '1' };
  const partsFile = join(own, 'parts.json');
  test('is taken as it was while its files and what looks through them stay the same, and is the same to the last digit', () => {
    cpSync(join(ROOT, 'shelf'), own, { recursive: true });
    expect(loadShelfOnce(own, found)).toEqual(loadShelf(own));
    const kept = JSON.parse(readFileSync(found.file, 'utf8')) as { of: string; shelf: { rules: object } };
    expect(loadShelfOnce(own, found)).toEqual(loadShelf(own));
    // that it is taken is seen by what only the kept one says
    writeFileSync(found.file, JSON.stringify({ ...kept, shelf: { ...kept.shelf, rules: { kept: true } } }));
    expect(loadShelfOnce(own, found).rules).toEqual({ kept: true });
    expect(loadShelfOnce(own, { ...found, by: '2' })).toEqual(loadShelf(own));
  });
  test('is looked through anew once a file says something else, or what was kept is cut short', () => {
    loadShelfOnce(own, found);
    const parts = readFileSync(partsFile, 'utf8');
    const more = JSON.parse(parts) as { name: string }[];
    writeFileSync(partsFile, JSON.stringify(more.map((p, i) => (i === 0 ? { ...p, name: 'Another name' } : p))));
    expect(loadShelfOnce(own, found).parts[0]?.name).toBe('Another name');
    writeFileSync(partsFile, JSON.stringify([{ ...more[0], maxPressureBar: -1 }]));
    expect(() => loadShelfOnce(own, found)).toThrow(/parts\.json has 1 fault/);
    writeFileSync(partsFile, parts);
    writeFileSync(found.file, '{"of":"');
    expect(loadShelfOnce(own, found)).toEqual(loadShelf(own));
  });
  test('is read all the same where nothing may be kept', () => {
    expect(loadShelfOnce(own, { file: join(partsFile, 'nowhere.json'), by: '1' })).toEqual(loadShelf(own));
  });
});
