import * as z from 'zod';

/** Problem details (RFC 9457) with a path to the field for each fault. */
export const ProblemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  detail: z.string().optional(),
  errors: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
  /** for a stale write: what the server holds now */
  current: z.unknown().optional(),
});
export type Problem = z.infer<typeof ProblemSchema>;

/** Every problem the API can answer, with its status and title; pinned by a test. */
export const PROBLEMS = {
  'bad-body': { status: 400, title: 'The request does not read' },
  'bad-value': { status: 422, title: 'Some values cannot be taken' },
  'unknown-person': { status: 422, title: 'Nobody here has that name' },
  'sign-in-first': { status: 401, title: 'Sign in first' },
  'device-ended': { status: 401, title: 'This device was ended by the owner' },
  'wrong-password': { status: 401, title: 'That name and password do not belong together' },
  'not-allowed': { status: 403, title: 'That is not yours to do here' },
  'somebody-elses': { status: 403, title: 'That was made by somebody else' },
  'link-spent': { status: 410, title: 'That link was used or is too old' },
  'too-often': { status: 429, title: 'Too many tries' },
  'not-here': { status: 421, title: 'This application is not known by that name' },
  'from-elsewhere': { status: 403, title: 'Pages of other origins may not ask here' },
  'not-found': { status: 404, title: 'There is nothing under that address' },
  stale: { status: 409, title: 'Somebody else changed this meanwhile' },
  'fact-conflict': { status: 409, title: 'That id already stands for something else' },
  'too-large': { status: 413, title: 'That is more than one request may carry' },
  'not-a-picture': { status: 415, title: 'Only pictures are kept here: JPEG, PNG or WebP' },
  unsupported: { status: 415, title: 'That form of a body is not read here' },
  'no-such-range': { status: 416, title: 'There is no such part of it' },
  'no-database': { status: 503, title: 'The database does not answer' },
  stopping: { status: 503, title: 'This server is stopping' },
  busy: { status: 429, title: 'There is too much asked at once' },
  'no-instrument': { status: 502, title: 'The instrument does not answer' },
  internal: { status: 500, title: 'Something went wrong here' },
} as const;
export type ProblemCode = keyof typeof PROBLEMS;
