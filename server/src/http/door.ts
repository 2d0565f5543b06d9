import type { Request, RequestHandler } from 'express';
import { ApiProblem } from './problem.ts';

/** Names this machine always has for itself. */
const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

/** The name in a Host header or an origin, without its port; null where there is none. */
function nameIn(host: string | undefined): string | null {
  if (host === undefined || host === '') return null;
  try {
    return new URL(`http://${host}`).hostname.toLowerCase();
  } catch {
    return null;
  }
}

/** Whether a page of another origin asks: what a browser says of itself in every request it makes. */
function fromElsewhere(req: Request, names: ReadonlySet<string>): boolean {
  if (req.get('sec-fetch-site') === 'cross-site') return true;
  const { origin } = req.headers;
  if (origin === undefined) return false;
  const from = URL.canParse(origin) ? new URL(origin) : null;
  // behind a proxy the port differs, the name is one of ours all the same
  return !from || !names.has(from.hostname.toLowerCase()) || (!isOwnPort(req, from) && isLoopback(from));
}

const isLoopback = ({ hostname }: URL): boolean => LOOPBACK.includes(hostname.toLowerCase());
/** On this machine another port is another application. */
const isOwnPort = (req: Request, from: URL): boolean => from.host.toLowerCase() === req.get('host')?.toLowerCase();

/**
 * Lets in who asks for this application by one of its own names, and no page of another origin: a foreign name that
 * resolves here, and a page elsewhere that sends its reader's browser here, are turned away.
 * @param names own names beside this machine's for itself, without a port
 */
export function door(names: readonly string[]): RequestHandler {
  const own = new Set([...LOOPBACK, ...names.map((n) => n.toLowerCase())]);
  return (req, _res, next) => {
    const asked = nameIn(req.get('host'));
    if (asked === null || !own.has(asked)) throw new ApiProblem('not-here');
    // a link to a page of this application may stand anywhere; what it holds is asked for by itself alone
    const isPage = (req.method === 'GET' || req.method === 'HEAD') && !req.path.startsWith('/api');
    if (!isPage && fromElsewhere(req, own)) throw new ApiProblem('from-elsewhere');
    next();
  };
}
