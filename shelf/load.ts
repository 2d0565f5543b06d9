import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { CatalogueSchema, HouseRulesSchema, type Catalogue, type HouseRules } from '@katharos/core';
import type * as z from 'zod';

/** The parts and house rules as the firm's files have them. */
export interface ShelfFiles {
  readonly parts: Catalogue;
  readonly rules: HouseRules;
}

const FILES = ['parts.json', 'house-rules.json'] as const;

function checked<T>(schema: z.ZodType<T>, file: string, text: string): T {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (e) {
    throw new Error(`${file}: ${e instanceof Error ? e.message : 'does not read'}`, { cause: e });
  }
  const result = schema.safeParse(json);
  if (result.success) return result.data;
  const faults = result.error.issues.slice(0, 10).map((i) => `  ${i.path.join('.') || '(whole file)'}: ${i.message}`);
  throw new Error(`${file} has ${String(result.error.issues.length)} fault(s):\n${faults.join('\n')}`);
}

function textOf(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (e) {
    throw new Error(`${file}: ${e instanceof Error ? e.message : 'does not read'}`, { cause: e });
  }
}

/** Reads parts.json and house-rules.json from a folder. @throws Error naming file, path and fault */
export function loadShelf(folder: string): ShelfFiles {
  return checkedShelf(
    folder,
    FILES.map((name) => textOf(join(folder, name))),
  );
}

const checkedShelf = (folder: string, [parts = '', rules = '']: readonly string[]): ShelfFiles => ({
  parts: checked(CatalogueSchema, join(folder, FILES[0]), parts),
  rules: checked(HouseRulesSchema, join(folder, FILES[1]), rules),
});

/** Where a shelf is kept that was found right, and by what: another version of the schemas looks through it anew. */
export interface Found {
  readonly file: string;
  readonly by: string;
}

/**
 * The same for a program that is waited for: files that were found right are not looked through again while they say the same,
 * which takes longer than most answers.
 */
export function loadShelfOnce(folder: string, { file, by }: Found): ShelfFiles {
  const texts = FILES.map((name) => textOf(join(folder, name)));
  const of = JSON.stringify([by, ...texts]);
  try {
    const kept = JSON.parse(readFileSync(file, 'utf8')) as { readonly of: string; readonly shelf: ShelfFiles };
    if (kept.of === of) return kept.shelf;
  } catch {
    // none was kept, or half of one
  }
  const shelf = checkedShelf(folder, texts);
  try {
    mkdirSync(dirname(file), { recursive: true });
    const part = `${file}.${String(process.pid)}`;
    writeFileSync(part, JSON.stringify({ of, shelf }));
    renameSync(part, file);
  } catch {
    // a folder nobody may write to: it is looked through each time
  }
  return shelf;
}
