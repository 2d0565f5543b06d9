import { describe, expect, test } from '@jest/globals';
import { errorWords } from './errors.ts';

describe('errors in words', () => {
  test('problem details say what is wrong and where', () => {
    const data = {
      type: 'urn:x',
      title: 'Some values cannot be taken',
      status: 422,
      errors: [{ path: 'name', message: 'Give the household a name.' }],
    };
    expect(errorWords({ status: 422, data })).toBe('Some values cannot be taken. Give the household a name.');
    expect(errorWords({ data: JSON.stringify(data) })).toContain('Give the household a name.');
  });
  test('no answer is told as a server away, with nothing lost', () => {
    expect(errorWords({ status: 'FETCH_ERROR', error: 'TypeError' })).toMatch(/does not answer.*kept here/);
    expect(errorWords({ data: '<html>' })).toMatch(/does not answer/);
  });
});
