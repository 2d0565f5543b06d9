import { ProblemSchema, type Problem } from '@katharos/contract';

/** Problem details out of whatever a failed request gave; undefined when the server was not reached. */
export function problemOf(error: unknown): Problem | undefined {
  if (typeof error !== 'object' || error === null) return undefined;
  const data: unknown = Reflect.get(error, 'data');
  const parse = (x: unknown): Problem | undefined => ProblemSchema.safeParse(x).data;
  if (typeof data === 'string') {
    try {
      return parse(JSON.parse(data));
    } catch {
      return undefined;
    }
  }
  return parse(data);
}

/** A failed request in words, with what to do. */
export function errorWords(error: unknown): string {
  const p = problemOf(error);
  if (!p) return 'The server does not answer. What you typed is kept here; try again when it is back.';
  const fields = p.errors?.map((e) => e.message).join(' ') ?? '';
  return [p.title + '.', p.detail ?? '', fields].filter(Boolean).join(' ');
}
