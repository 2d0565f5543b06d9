import { expect, test } from '@jest/globals';
import { differences, mergeEdits } from './mergeEdits.ts';

test('what was changed here stands on top of theirs, what was not is theirs', () => {
  const base = { name: 'Mill 2', contact: 'Odo', notes: '' };
  const theirs = { name: 'Mill 2', contact: 'Odo, evenings', notes: 'Dog.' };
  expect(mergeEdits(base, { ...base, notes: 'Cat.' }, theirs)).toEqual({ ...theirs, notes: 'Cat.' });
  expect(mergeEdits(base, base, theirs)).toEqual(theirs);
  // emptied here is changed here
  expect(mergeEdits(base, { ...base, contact: '' }, theirs).contact).toBe('');
});

test('a list nobody touched is theirs, though it is another list of the same', () => {
  const old = { name: 'a', reads: [{ max: 1 }] };
  expect(mergeEdits(old, { name: 'b', reads: [{ max: 1 }] }, { name: 'a', reads: [{ max: 2 }] })).toEqual({
    name: 'b',
    reads: [{ max: 2 }],
  });
});

test('what differs is told in words; what was not touched here is told as such', () => {
  const old = { name: 'a', place: 'x', notes: 'same' };
  expect(
    differences(
      old,
      { ...old, name: 'mine' },
      { ...old, name: 'theirs', place: 'y' },
      (k) => `the ${k}`,
      (k, of) => of[k].toUpperCase(),
    ),
  ).toEqual([
    { field: 'the name', mine: 'MINE', theirs: 'THEIRS' },
    { field: 'the place', mine: null, theirs: 'Y' },
  ]);
});
