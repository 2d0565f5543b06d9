/** What somebody of the firm may do, from most to least. */
export const ROLES = ['owner', 'office', 'fitter', 'reader'] as const;
export type Role = (typeof ROLES)[number];

export const ROLE_WORDS: Readonly<Record<Role, string>> = {
  owner: 'everything, people and devices too',
  office: 'households, jobs, the shelf and the house rules',
  fitter: 'households, jobs and instruments',
  reader: 'looks, and writes nothing',
};

type Method = 'GET' | 'POST' | 'PUT';
export type Route = `${Method} /${string}`;

const all = ROLES;
const owner: readonly Role[] = ['owner'];
const office: readonly Role[] = ['owner', 'office'];
const field: readonly Role[] = ['owner', 'office', 'fitter'];

/**
 * Who may ask what of the API: each of its routes, as it is written there, under `/api`. What does not stand here nobody may
 * ask. 'anybody' needs no signing in.
 */
export const MAY = {
  'GET /health': 'anybody',
  'GET /ready': 'anybody',
  'GET /session': 'anybody',
  'POST /session': 'anybody',
  'POST /session/click': 'anybody',
  'POST /session/end': 'anybody',
  'POST /session/password': all,
  'PUT /session/waits': all,
  'POST /links/look': 'anybody',
  'POST /links/use': 'anybody',
  'POST /links': owner,
  'GET /people': owner,
  'POST /people': owner,
  'PUT /people/:id': owner,
  'GET /devices': owner,
  'POST /devices/:id/end': owner,
  'GET /audit': owner,
  'GET /archive': owner,
  'POST /archive': owner,
  'GET /shelf': all,
  'PUT /shelf/rules': office,
  'POST /shelf/parts/import': office,
  'PUT /shelf/parts/:id': office,
  'GET /stock': all,
  'POST /stock/moves': field,
  'PUT /instruments/:id': field,
  'GET /instruments/:id/stream': all,
  'POST /households': field,
  'PUT /households/:id': field,
  'POST /jobs/import': office,
  'GET /jobs/:id': all,
  'GET /jobs/:id/file': all,
  'GET /jobs/:id/decision': all,
  'POST /jobs/:id/facts': field,
  'POST /jobs/:id/designs': field,
  'PUT /jobs/:id/pictures/:picture': field,
  'GET /jobs/:id/pictures/:picture': all,
  'GET /rounds': all,
  'GET /rounds/open': all,
  'GET /rounds/kept': all,
  'GET /rounds/list.csv': office,
  'GET /rounds/coming': all,
  'GET /figures': office,
  'GET /feeds': field,
  'POST /feeds': field,
  'POST /feeds/:id/end': field,
  'GET /feed/:token': 'anybody',
  'GET /find': all,
  'GET /day': all,
  'PUT /day/table': office,
  'GET /changes': all,
  'GET /calc': all,
  'POST /calc/:name': all,
} as const satisfies Readonly<Record<Route, 'anybody' | readonly Role[]>>;
export type KnownRoute = keyof typeof MAY;

/** Whether a role may ask something of the API. */
export function may(role: Role, route: KnownRoute): boolean {
  const who: 'anybody' | readonly Role[] = MAY[route];
  return who === 'anybody' || who.includes(role);
}
