import { expect, test } from '@jest/globals';
import { dialled, editedTexts, HOUSEHOLD_TEXTS, householdTexts } from '../index.ts';

test('a number is dialled as a device does, and what is none is not', () => {
  expect(dialled('000 301 137')).toBe('000301137');
  expect(dialled('+00 (0)61 / 40-20')).toBe('+00614020');
  for (const none of ['', 'ask next door', '12', '12345678901234567890']) expect(dialled(none)).toBeNull();
  expect(dialled(undefined)).toBeNull();
});
test('an edit that does not know of a text leaves it, one that empties it empties it', () => {
  const stands = householdTexts({ name: 'Mill Lane 2', phone: '000 1' });
  expect(editedTexts(stands, { notes: 'Dog.' })).toMatchObject({ phone: '000 1', notes: 'Dog.' });
  expect(editedTexts(stands, { phone: '' }).phone).toBe('');
});
test('a household of an earlier release has the later texts, empty', () => {
  const texts = householdTexts({ name: 'Mill Lane 2', place: 'Town' });
  expect(Object.keys(texts)).toEqual([...HOUSEHOLD_TEXTS]);
  expect(texts).toMatchObject({ name: 'Mill Lane 2', phone: '', keyHolder: '' });
});
