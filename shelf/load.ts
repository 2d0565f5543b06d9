import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { CatalogueSchema, HouseRulesSchema, type Catalogue, type HouseRules } from '@katharos/core';
import type * as z from 'zod';

/** The parts and house rules as the firm's files have them. */
export interface ShelfFiles {
  readonly parts: Catalogue;
  readonly rules: HouseRules;
}

function read<T>(schema: z.ZodType<T>, file: string): T {
  let json: unknown;
  try {
    json = JSON.parse(readFileSync(file, 'utf8'));
  } catch (e) {
    throw new Error(`${file}: ${e instanceof Error ? e.message : 'does not read'}`, { cause: e });
  }
  const result = schema.safeParse(json);
  if (result.success) return result.data;
  const faults = result.error.issues.slice(0, 10).map((i) => `  ${i.path.join('.') || '(whole file)'}: ${i.message}`);
  throw new Error(`${file} has ${String(result.error.issues.length)} fault(s):\n${faults.join('\n')}`);
}

/** Reads parts.json and house-rules.json from a folder. @throws Error naming file, path and fault */
export function loadShelf(folder: string): ShelfFiles {
  return {
    parts: read(CatalogueSchema, join(folder, 'parts.json')),
    rules: read(HouseRulesSchema, join(folder, 'house-rules.json')),
  };
}
