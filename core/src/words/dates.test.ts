import { expect, test } from '@jest/globals';
import { intervalWords } from '../index.ts';

test('an interval is whole weeks, months or years, never longer than it is', () => {
  const of = [5, 7, 45, 60.88, 91.3, 286, 365.28, 730, 731, 1095.8, 1100].map(intervalWords);
  expect(of).toEqual(['every week', 'every week', 'every 6 weeks', 'every 2 months', 'every 3 months', 'every 9 months', 'every 12 months', 'every 24 months', 'every 2 years', 'every 3 years', 'every 3 years']); // oxfmt-ignore
});
