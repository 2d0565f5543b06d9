/**
 * cli/calc NAME [FILE]: one JSON object in (from FILE, or standard input), one out. Wrong input exits 2
 * with {"error":{"path","message"}} on standard error. Needs no database and no server.
 */
import { readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { CALCULATORS } from '@katharos/core';
import { loadShelf, loadShelfOnce, type Found } from '@katharos/shelf';

function refuse(path: string, message: string): never {
  process.stderr.write(`${JSON.stringify({ error: { path, message } })}\n`);
  process.exit(2);
}

/**
 * Answers one call.
 * @param root the project's folder, where the shelf stands
 * @param found where a shelf that was found right is kept; left out, it is looked through each time
 */
export function main(root: string, args: readonly string[], found?: Found): void {
  const [name = '', file] = args;
  const calculator = Object.hasOwn(CALCULATORS, name) ? CALCULATORS[name] : undefined;
  if (!calculator) {
    const names = Object.keys(CALCULATORS).join(', ');
    refuse('', name === '' ? `name a calculator: ${names}` : `no calculator "${name}"; there are ${names}`);
  }
  try {
    const json = parsed(readInput(file));
    const folder = process.env.KATHAROS_SHELF ?? join(root, 'shelf');
    const shelf = found ? loadShelfOnce(folder, found) : loadShelf(folder);
    const result = calculator.answer(json, { catalogue: shelf.parts, rules: shelf.rules });
    if (!result.ok) refuse(result.error.path, result.error.message);
    process.stdout.write(`${JSON.stringify(result.output)}\n`);
  } catch (e) {
    refuse('', e instanceof Error ? e.message : 'this could not be worked out');
  }
}

/** The text of a file, from where the person stands, or of standard input. */
function readInput(file: string | undefined): string {
  if (file === undefined || file === '-') return readFileSync(0, 'utf8');
  try {
    return readFileSync(resolve(process.env.INIT_CWD ?? process.cwd(), file), 'utf8');
  } catch {
    refuse('', `the file "${file}" does not read`);
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    refuse('', 'the input is not JSON');
  }
}
