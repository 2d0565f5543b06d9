import { describe, expect, test } from '@jest/globals';
import { decodeText } from './decodeText.ts';

const utf16 = (text: string, big: boolean): number[] =>
  Array.from(text).flatMap((c) => {
    const v = c.charCodeAt(0);
    return big ? [v >> 8, v & 255] : [v & 255, v >> 8];
  });

describe('a file’s text', () => {
  const text = 'Härte;14,2;°dH µg/l';
  const latin = Array.from(text).map((c) => c.charCodeAt(0));
  test.each([
    ['UTF-8', [...new TextEncoder().encode(text)]],
    ['UTF-8 with its mark', [0xef, 0xbb, 0xbf, ...new TextEncoder().encode(text)]],
    ['UTF-16, little end first', [0xff, 0xfe, ...utf16(text, false)]],
    ['UTF-16, big end first', [0xfe, 0xff, ...utf16(text, true)]],
    ['UTF-16 without a mark', utf16(text, false)],
    ['Windows-1252', latin],
  ])('is read from %s', (_, bytes) => {
    expect(decodeText(Uint8Array.from(bytes))).toBe(text);
  });
  test('of an empty file is empty', () => {
    expect(decodeText(new Uint8Array())).toBe('');
  });
});
