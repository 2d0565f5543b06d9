import { expect, test } from '@jest/globals';
import { keepMine } from './keepMine.ts';

test('what was changed here stands on top of theirs, what was not is theirs', () => {
  const base = { name: 'Mill 2', contact: 'Odo', notes: '' };
  const theirs = { name: 'Mill 2', contact: 'Odo, evenings', notes: 'Dog.' };
  expect(keepMine(base, { ...base, notes: 'Cat.' }, theirs)).toEqual({ ...theirs, notes: 'Cat.' });
  expect(keepMine(base, base, theirs)).toEqual(theirs);
  // emptied here is changed here
  expect(keepMine(base, { ...base, contact: '' }, theirs).contact).toBe('');
});
