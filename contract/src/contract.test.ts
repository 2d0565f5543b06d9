import { describe, expect, test } from '@jest/globals';
import { HouseholdEditSchema, NewDesignSchema, PostFactsSchema, PROBLEMS, ProblemSchema } from './index.ts';

const household = { name: ' Mill Lane 2 ', place: 'Town', contact: '', notes: '' };

describe('what crosses the wire', () => {
  test('a household’s text is trimmed and bounded, and needs a name', () => {
    expect(HouseholdEditSchema.parse(household).name).toBe('Mill Lane 2');
    expect(HouseholdEditSchema.safeParse({ ...household, name: '   ' }).error?.issues[0]?.message).toBe(
      'Give the household a name.',
    );
    expect(HouseholdEditSchema.safeParse({ ...household, name: 'x'.repeat(120) }).success).toBe(true);
    expect(HouseholdEditSchema.safeParse({ ...household, name: 'x'.repeat(121) }).success).toBe(false);
    expect(HouseholdEditSchema.safeParse({ ...household, notes: 'a\u0000b' }).success).toBe(false);
    expect(HouseholdEditSchema.safeParse({ name: 'x' }).success).toBe(false);
  });
  test('facts come in batches of one to five hundred', () => {
    const fact = {
      v: 2,
      id: '5f0c4b1e-3333-4333-a333-000000000001',
      jobId: '5f0c4b1e-1111-4111-a111-000000000001',
      by: '5f0c4b1e-2222-4222-a222-000000000002',
      at: '2026-05-01T08:00:00.000Z',
      kind: 'note',
      text: 'seen',
    };
    const size = (n: number): boolean =>
      PostFactsSchema.safeParse({ facts: Array.from({ length: n }, () => fact) }).success;
    expect([0, 1, 500, 501].map(size)).toEqual([false, true, true, false]);
  });
  test('a design is a whole document, each fault told at its place', () => {
    const r = NewDesignSchema.safeParse({
      version: { v: 2, id: 'x', number: 0, system: { components: [] }, at: 'now' },
    });
    const paths = r.error?.issues.map((i) => i.path.join('.')) ?? [];
    expect(paths).toEqual(
      expect.arrayContaining([
        'version.id',
        'version.number',
        'version.system.components',
        'version.system.links',
        'version.judged',
        'version.at',
        'version.by',
      ]),
    );
  });
  test('every problem has its status, pinned', () => {
    expect(Object.fromEntries(Object.entries(PROBLEMS).map(([k, v]) => [k, v.status]))).toEqual({
      'bad-body': 400,
      'bad-value': 422,
      'unknown-person': 422,
      'not-found': 404,
      stale: 409,
      'fact-conflict': 409,
      'too-large': 413,
      'not-a-picture': 415,
      unsupported: 415,
      'no-such-range': 416,
      'sign-in-first': 401,
      'device-ended': 401,
      'wrong-password': 401,
      'not-allowed': 403,
      'somebody-elses': 403,
      'link-spent': 410,
      'too-often': 429,
      stopping: 503,
      'not-here': 421,
      'from-elsewhere': 403,
      busy: 429,
      'no-database': 503,
      'no-instrument': 502,
      internal: 500,
    });
    for (const v of Object.values(PROBLEMS))
      expect(ProblemSchema.safeParse({ type: 'urn:x', ...v }).success).toBe(true);
  });
});
