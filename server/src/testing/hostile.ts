import { request as httpRequest, type IncomingMessage } from 'node:http';
import { seeded } from '@katharos/core';

/** What a hostile round is made of: where the server is, and documents of it that are right. */
export interface Target {
  /** http://host:port */
  readonly address: string;
  readonly jobId: string;
  readonly householdId: string;
  readonly personId: string;
  readonly instrumentId: string;
  readonly partId: string;
  /** sent with every request, as whoever is signed in sends it */
  readonly headers?: Readonly<Record<string, string>>;
  /** right bodies by the address they are sent to */
  readonly bodies: readonly { readonly method: string; readonly path: string; readonly body: unknown }[];
}

/** One answer that should not have been: by the server's own fault, or none at all. */
export interface Stumble {
  readonly method: string;
  readonly path: string;
  readonly status: number;
  readonly sent: string;
}

/** Figures and texts that no form types. */
const NASTY: readonly unknown[] = [
  '\u0000', 'a\u0000b', '\ud800', 'x\udfff', '', ' ', '\u202e', 'constructor', '__proto__', 'toString', '=1+1',
  'x'.repeat(100_000), "' OR 1=1 --", '%', '\\', '${x}', '0000-01-01T00:00:00.000Z', '9999-12-31T23:59:59.999Z',
  '0000-00-00', '2026-02-30T25:61:00Z', '5F0C4B1E-1111-4111-A111-00000000000A', -1, 0, 1.5, 2 ** 31, 2 ** 32, 2 ** 53,
  1e308, -1e308, null, true, [], {}, [[]], { constructor: 1 }, ['a', null],
]; // oxfmt-ignore
const NASTY_IDS = [
  'constructor', '__proto__', '%00', '%E0%A4%A', '%ED%A0%80', '..%2f..%2fetc', '%F0%9F%98%80', 'x'.repeat(5000),
  '00000000-0000-0000-0000-000000000000', '-1', '1e9', ' ', '%20', "'", '*', 'null', 'hasOwnProperty',
]; // oxfmt-ignore
const QUERIES = [
  '', '?', '?find=%00', '?find=%ED%A0%80', '?find[]=a&find[]=b', '?find[a]=b', '?find=' + 'x'.repeat(3000), '?after=x',
  '?after=0000-01-01T00:00:00.000Z%2000000000-0000-0000-0000-000000000000', '?after=9999-99-99T99:99:99Z%2000000000-0000-0000-0000-000000000000',
  '?since=9223372036854775807', '?since=99999999999999999999', '?since=18446744073709551615', '?since=-1', '?since=a', '?since=1&since=2',
  '?by=x', '?quantity=%00&sample=1e309', '?quantity=concentration&sample=NaN', '?constructor=1', '?__proto__[a]=1', '?%E0%A4%A=1',
]; // oxfmt-ignore
const HEADERS: readonly Readonly<Record<string, string>>[] = [
  { 'content-type': 'application/json; charset=utf-16' },
  { 'content-type': 'application/json; charset=nonsense' },
  { 'content-type': 'text/plain' },
  { 'content-type': ';;;=' },
  { 'content-type': 'multipart/form-data' },
  { 'content-encoding': 'gzip' },
  { 'content-encoding': 'br' },
  { 'content-encoding': 'nonsense' },
  { 'content-encoding': 'deflate, gzip' },
  { range: 'bytes=999999999-' },
  { range: 'bytes=5-1' },
  { range: 'nonsense' },
  { 'if-modified-since': 'yesterday' },
  { 'if-none-match': '*' },
  { accept: 'nothing/at-all' },
  { 'accept-encoding': 'nonsense;q=x' },
  { cookie: '%00=\u00ff; __proto__=1; katharos=%ZZ' },
  { authorization: 'Basic %%%' },
  { 'x-forwarded-for': '::::' },
  { 'x-forwarded-proto': 'gopher' },
  { expect: 'nonsense' },
  { origin: 'null' },
];
const METHODS = ['GET', 'POST', 'PUT', 'DELETE', 'PATCH', 'HEAD', 'OPTIONS'];

type Pick = <T>(from: readonly T[]) => T;

/** One leaf, or one whole branch, of a right document made wrong. */
function spoiled(value: unknown, random: () => number, pick: Pick): unknown {
  if (typeof value !== 'object' || value === null || random() < 0.1) return pick(NASTY);
  if (Array.isArray(value)) {
    if (value.length === 0) return [pick(NASTY)];
    const at = Math.floor(random() * value.length);
    return value.map((v, i) => (i === at ? spoiled(v, random, pick) : (v as unknown)));
  }
  const entries = Object.entries(value);
  if (entries.length === 0) return { [String(pick(NASTY))]: pick(NASTY) };
  const [key, inner] = pick(entries as [string, unknown][]);
  const how = random();
  if (how < 0.08) return Object.fromEntries(entries.filter(([k]) => k !== key));
  if (how < 0.16) return { ...value, [pick(['constructor', '__proto__', 'zz', '\u0000'])]: pick(NASTY) };
  return { ...value, [key]: spoiled(inner, random, pick) };
}

/** Bytes that are no document. */
function broken(random: () => number, pick: Pick): string | Buffer {
  return pick<() => string | Buffer>([
    () => '',
    () => '{',
    () => '[1,',
    () => '"\\ud800"',
    () => '['.repeat(20_000),
    () => '{"a":'.repeat(3000),
    () => 'NaN',
    () => 'null',
    () => Buffer.from(Array.from({ length: 300 }, () => Math.floor(random() * 256))),
    () => '\u0000'.repeat(100),
  ])();
}

/** Sends one request; resolves with its status, 0 where the connection broke without an answer. */
function ask(
  address: string,
  method: string,
  path: string,
  headers: Readonly<Record<string, string>>,
  body: string | Buffer | null,
): Promise<number> {
  return new Promise((resolve) => {
    const url = new URL(address);
    const done = (status: number): void => {
      clearTimeout(patience);
      resolve(status);
    };
    const patience = setTimeout(() => {
      req.destroy();
    }, 15_000);
    let req: ReturnType<typeof httpRequest>;
    try {
      // a connection of its own: one that the server has just closed would tell of nothing
      req = httpRequest(
        { agent: false, host: url.hostname, port: url.port, method, path, headers },
        (res: IncomingMessage) => {
          const status = res.statusCode ?? 0;
          if (String(res.headers['content-type']).includes('event-stream')) {
            res.destroy();
            done(status);
            return;
          }
          res.resume();
          res.on('end', () => {
            done(status);
          });
          res.on('error', () => {
            done(status);
          });
        },
      );
    } catch {
      // nothing that could be sent at all
      clearTimeout(patience);
      resolve(400);
      return;
    }
    req.on('error', () => {
      done(0);
    });
    req.end(body ?? undefined);
  });
}

/**
 * Sends so many hostile requests over every route, from one seed: wrong ids, documents with one thing spoiled, bytes that
 * are no document, headers that mean nothing.
 * @param routes as they are written, `/api/jobs/:id/facts`
 * @returns how many of each status came, and every answer that should not have been
 */
export async function hostileRound(
  target: Target,
  routes: readonly string[],
  requests: number,
  seed: number,
): Promise<{ readonly statuses: Readonly<Record<string, number>>; readonly stumbles: readonly Stumble[] }> {
  const random = seeded(seed);
  const pick: Pick = (from) => from[Math.floor(random() * from.length)] as never;
  const statuses: Record<string, number> = {};
  const stumbles: Stumble[] = [];
  const ids = [target.jobId, target.jobId.toUpperCase(), target.householdId, target.instrumentId, target.partId];
  const filled = (route: string): string =>
    route.replaceAll(/:\w+/g, () => (random() < 0.5 ? pick(ids) : pick(NASTY_IDS)));
  const one = async (): Promise<void> => {
    const right = random() < 0.65 ? pick(target.bodies) : undefined;
    const method = right && random() < 0.9 ? right.method : pick(METHODS);
    const path = right && random() < 0.9 ? right.path : filled(pick(routes)) + pick(QUERIES);
    const raw = random();
    const body =
      raw < 0.12
        ? broken(random, pick)
        : method === 'GET' || method === 'HEAD'
          ? null
          : JSON.stringify(spoiled(right?.body ?? {}, random, pick));
    const odd = random() < 0.2 ? pick(HEADERS) : {};
    const length = body === null ? {} : { 'content-length': String(Buffer.byteLength(body)) };
    const headers = { 'content-type': 'application/json', ...length, ...target.headers, ...odd };
    const status = await ask(target.address, method, path, headers, body);
    statuses[String(status)] = (statuses[String(status)] ?? 0) + 1;
    if (status >= 500 || status === 0)
      stumbles.push({
        method,
        path: path.slice(0, 200),
        status,
        sent: `${JSON.stringify(odd)} ${typeof body === 'string' ? body.slice(0, 300) : String(body?.length ?? '')}`,
      });
  };
  const AT_ONCE = 8;
  for (let n = 0; n < requests; n += AT_ONCE)
    await Promise.all(Array.from({ length: Math.min(AT_ONCE, requests - n) }, one));
  return { statuses, stumbles };
}
