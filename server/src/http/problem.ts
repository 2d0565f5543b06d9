import { PROBLEMS, type Problem, type ProblemCode } from '@katharos/contract';
import type { ErrorRequestHandler, Request, RequestHandler } from 'express';
import type { Logger } from 'pino';
import {
  ConnectionAcquireTimeoutError,
  ConnectionError,
  DatabaseError,
  ForeignKeyConstraintError,
  TimeoutError,
  UniqueConstraintError,
} from 'sequelize';
import type * as z from 'zod';

/** An expected failure on its way to becoming problem details. */
export class ApiProblem extends Error {
  readonly code: ProblemCode;
  readonly extra: Partial<Pick<Problem, 'detail' | 'errors' | 'current'>>;
  constructor(code: ProblemCode, extra: Partial<Pick<Problem, 'detail' | 'errors' | 'current'>> = {}) {
    super(code);
    this.code = code;
    this.extra = extra;
  }
}

/** Parses a body by its schema. @throws ApiProblem 'bad-value' with a path for each fault */
export function parse<T>(schema: z.ZodType<T>, body: unknown): T {
  const result = schema.safeParse(body);
  if (result.success) return result.data;
  throw new ApiProblem('bad-value', {
    errors: result.error.issues.slice(0, 20).map((i) => ({ path: i.path.join('.'), message: i.message })),
  });
}

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;

/** An id in a path, in small letters as it is stored. @throws ApiProblem 'not-found' where it is no id at all */
export function pathId({ params }: Pick<Request, 'params'>, name = 'id'): string {
  const id = params[name];
  if (typeof id !== 'string' || !UUID.test(id)) throw new ApiProblem('not-found');
  return id.toLowerCase();
}

export const noSuchAddress: RequestHandler = () => {
  throw new ApiProblem('not-found');
};

/** PostgreSQL classes that say the server is away or going: connection faults, shutdown, too many connections. */
function isAway(err: unknown): boolean {
  if (err instanceof ConnectionError || err instanceof ConnectionAcquireTimeoutError || err instanceof TimeoutError)
    return true;
  if (!(err instanceof Error)) return false;
  // the driver's own words, bare where nothing wraps them
  if (CUT.test(err.message)) return true;
  const code: unknown = err instanceof DatabaseError ? Reflect.get(err.original, 'code') : Reflect.get(err, 'code');
  return typeof code === 'string' && /^(08|57P|53300|ECONN|EPIPE)/.test(code);
}
const CUT = /Connection terminated|terminated unexpectedly|not queryable|Client was closed|ECONNREFUSED|ECONNRESET/;

/** What the parsers of a request say of it: too much, a form they do not read, no document at all; null for anything else. */
function faultOfAsker(err: unknown): ApiProblem | null {
  if (!(err instanceof Error)) return null;
  const status: unknown = Reflect.get(err, 'status');
  if (typeof status !== 'number' || status < 400 || status > 499) return null;
  if (status === 404) return new ApiProblem('not-found');
  if (status === 413) return new ApiProblem('too-large');
  if (status === 415) return new ApiProblem('unsupported');
  if (status === 416) return new ApiProblem('no-such-range');
  const parsed = Reflect.get(err, 'type') === 'entity.parse.failed';
  return new ApiProblem('bad-body', parsed ? { detail: 'The body is not JSON.' } : {});
}

function asProblem(err: unknown): ApiProblem {
  if (err instanceof ApiProblem) return err;
  if (err instanceof URIError) return new ApiProblem('not-found');
  const askers = faultOfAsker(err);
  if (askers) return askers;
  if (err instanceof ForeignKeyConstraintError) {
    const about = err.index ?? '';
    return new ApiProblem(/_by|by_fkey/.test(about) ? 'unknown-person' : 'not-found');
  }
  // two who wrote the same thing at the same moment: the second one's stands for something else
  if (err instanceof UniqueConstraintError) return new ApiProblem('fact-conflict');
  if (isAway(err)) return new ApiProblem('no-database', { detail: 'What you sent is not stored. Try again shortly.' });
  return new ApiProblem('internal');
}

/** Answers every failure as problem details; the stack goes to the log, never to a person. */
export function problems(log: Logger): ErrorRequestHandler {
  return (err, req, res, next) => {
    const p = asProblem(err);
    if (p.code === 'internal') log.error({ err: err as unknown, path: req.path }, 'unexpected failure');
    else if (p.code === 'no-database') log.warn({ path: req.path }, 'database does not answer');
    if (res.headersSent) {
      next(err);
      return;
    }
    // what is still coming is read past: a connection that breaks in the middle would tell the sender nothing
    if (!req.complete) req.resume();
    const { status, title } = PROBLEMS[p.code];
    const body: Problem = { type: `urn:katharos:problem:${p.code}`, title, status, ...p.extra };
    res.status(status).type('application/problem+json').send(JSON.stringify(body));
  };
}
