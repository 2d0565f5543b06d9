import { jest } from '@jest/globals';

/** A request the page made. */
export interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
}

/** Stands in for the server: answers by method and path, 'away' for no answer. Gives what was asked. */
export function serve(
  answers: Readonly<
    Record<string, (body: unknown, params: URLSearchParams) => { status?: number; json: unknown } | 'away'>
  >,
): Asked[] {
  const asked: Asked[] = [];
  globalThis.fetch = jest.fn(async (input: unknown, init?: { method?: string; body?: string }) => {
    const request = input instanceof Request ? input : null;
    const method = request?.method ?? init?.method ?? 'GET';
    const url = new URL(request?.url ?? String(input), 'http://localhost');
    const path = url.pathname.replace('/api/', '');
    const text = request ? await request.clone().text() : (init?.body ?? '');
    const body: unknown = text === '' ? undefined : JSON.parse(text);
    asked.push({ method, path, body });
    const answer = answers[`${method} ${path}`]?.(body, url.searchParams) ?? {
      status: 404,
      json: { type: 'urn:x', title: 'There is nothing under that address', status: 404 },
    };
    if (answer === 'away') throw new TypeError('failed to fetch');
    return new Response(JSON.stringify(answer.json), {
      status: answer.status ?? 200,
      headers: { 'content-type': 'application/json' },
    });
  }) as unknown as typeof fetch;
  return asked;
}
