import { expect, test } from '@jest/globals';
import { jobInCode } from './scan.ts';

const id = '5f0c4b1e-1111-4111-a111-000000000001';

test('a household’s code opens its job from wherever it was printed', () => {
  for (const text of [
    `https://water.firm.example/jobs/${id}/keep`,
    `http://127.0.0.1:4170/jobs/${id}`,
    `https://x.example/jobs/${id.toUpperCase()}/`,
  ])
    expect(jobInCode(text)).toBe(id);
});

test('any other code opens nothing', () => {
  for (const text of [
    '',
    'hello',
    id,
    `https://x.example/jobs/${id}/keep/more`,
    `https://x.example/jobs/../people`,
    `javascript:/jobs/${id}`,
    'https://x.example/jobs/1',
  ])
    expect(jobInCode(text)).toBeNull();
});
