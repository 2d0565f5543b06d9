import { MAY, PERSON_HEADER, type KnownRoute, type Role } from '@katharos/contract';
import type { CookieOptions, Request, RequestHandler, Response } from 'express';
import type { Sessions, Who } from '../signing/sessions.ts';
import { ApiProblem } from './problem.ts';

/** Who may ask, by the route an address belongs to. */
const ROUTES = Object.entries(MAY).map(([route, who]) => {
  const [method = '', path = ''] = route.split(' ');
  // a word in an address, or whatever stands in the place of one that is named
  const pattern = path.split('/').map((p) => (p.startsWith(':') ? '[^/]+' : p));
  return { route: route as KnownRoute, method, at: new RegExp(`^${pattern.join('/')}/?$`, 'i'), who };
}); // oxfmt-ignore

/** Fixed words before what is named: "/jobs/import" is no job. */
function routeOf(method: string, path: string): (typeof ROUTES)[number] | undefined {
  const asked = method === 'HEAD' ? 'GET' : method;
  const fits = ROUTES.filter((r) => r.method === asked && r.at.test(path));
  return fits.find((r) => !r.route.includes(':')) ?? fits[0];
}

/** Name of the cookie that stands for a device; over a connection that is safe no other name can set it. */
const cookieName = (req: Request): string => (req.secure ? '__Host-katharos' : 'katharos');

/** The token of the device that asks. */
export function tokenOf(req: Request): string | undefined {
  const token: unknown = (req.cookies as Record<string, unknown> | undefined)?.[cookieName(req)];
  return typeof token === 'string' && /^[\w-]{43}$/.test(token) ? token : undefined;
}

const ofCookie = (req: Request): CookieOptions => ({
  httpOnly: true,
  sameSite: 'strict',
  secure: req.secure,
  path: '/',
});

/** Gives the device that asks its token. @param days it is remembered; until the browser is closed if null */
export function giveToken(req: Request, res: Response, token: string, days: number | null): void {
  res.cookie(cookieName(req), token, {
    ...ofCookie(req),
    ...(days === null ? {} : { maxAge: days * 86400000 }),
  });
}

/** Takes its token from the device that asks. */
export const takeToken = (req: Request, res: Response): unknown => res.clearCookie(cookieName(req), ofCookie(req));

const asking = new WeakMap<Request, Who>();

/** Who asks: every route behind the guard has somebody, but those anybody may ask. @throws ApiProblem 'sign-in-first' */
export function whoAsks(req: Request): Who {
  const who = asking.get(req);
  if (!who) throw new ApiProblem('sign-in-first');
  return who;
}

/** Id of who asks, which every write carries. @throws as `whoAsks` */
export const byOf = (req: Request): string => whoAsks(req).person.id;

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

/**
 * Lets through who may ask, by the one table of who may do what; before a body is read. An address that does not stand in
 * the table is none.
 */
export function guard(sessions: Pick<Sessions, 'whoIs'>): RequestHandler {
  return async (req, _res, next) => {
    const route = routeOf(req.method, req.path);
    if (!route) throw new ApiProblem('not-found');
    if (route.who !== 'anybody') {
      const acting = req.get(PERSON_HEADER);
      if (acting !== undefined && !UUID.test(acting)) throw new ApiProblem('sign-in-first');
      const who = await sessions.whoIs(tokenOf(req), acting?.toLowerCase());
      if (who === 'ended') throw new ApiProblem('device-ended');
      if (who === null) throw new ApiProblem('sign-in-first');
      if (!(route.who as readonly Role[]).includes(who.person.role)) throw new ApiProblem('not-allowed');
      asking.set(req, who);
    }
    next();
  };
}
