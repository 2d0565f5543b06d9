import type * as z from 'zod';
import type { Catalogue } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';

/** What a calculator may draw on beside its input: the firm's parts and rules. */
export interface Shelf {
  readonly catalogue: Catalogue;
  readonly rules: HouseRules;
}

/** Wrong input, at its place. */
export class InputError extends Error {
  readonly path: string;
  constructor(path: string, message: string) {
    super(message);
    this.path = path;
  }
}

/** One question the core answers for the command line and the API alike: an object in, an object out. */
export interface Calculator {
  readonly name: string;
  /** one line of what it answers */
  readonly about: string;
  readonly input: z.ZodType;
  readonly answer: (input: unknown, shelf: Shelf) => CalcResult;
}

export type CalcResult =
  | { readonly ok: true; readonly output: Readonly<Record<string, unknown>> }
  | { readonly ok: false; readonly error: { readonly path: string; readonly message: string } };

/**
 * Makes a calculator of a schema and a function. Input is parsed once; what the function finds impossible is told as an
 * error at its path; an answer that is not a number never leaves.
 */
export function calculator<S extends z.ZodType>(
  name: string,
  about: string,
  input: S,
  run: (input: z.output<S>, shelf: Shelf) => Readonly<Record<string, unknown>>,
): Calculator {
  return {
    name,
    about,
    input,
    answer: (raw, shelf) => {
      const parsed = input.safeParse(raw);
      if (!parsed.success) {
        const issue = parsed.error.issues[0];
        const keys = issue?.code === 'unrecognized_keys' ? issue.keys : [];
        return {
          ok: false,
          error: {
            path: [...(issue?.path ?? []), ...keys.slice(0, 1)].map(String).join('.'),
            message: keys.length > 0 ? 'is not a field here' : (issue?.message ?? 'not understood'),
          },
        };
      }
      try {
        const output = run(parsed.data, shelf);
        const bad = notFinite(output, '');
        return bad === null
          ? { ok: true, output }
          : { ok: false, error: { path: '', message: `outside what the model answers: ${bad} would not be a number` } };
      } catch (e) {
        if (e instanceof InputError) return { ok: false, error: { path: e.path, message: e.message } };
        if (e instanceof RangeError) return { ok: false, error: { path: '', message: e.message } };
        throw e;
      }
    },
  };
}

/** Path of the first figure that is NaN or infinite, null where all are sound. */
function notFinite(value: unknown, path: string): string | null {
  if (typeof value === 'number') return Number.isFinite(value) ? null : path;
  if (typeof value !== 'object' || value === null) return null;
  for (const [k, v] of Object.entries(value)) {
    const bad = notFinite(v, path === '' ? k : `${path}.${k}`);
    if (bad !== null) return bad;
  }
  return null;
}
