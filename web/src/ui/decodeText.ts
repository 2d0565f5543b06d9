/**
 * A text file's bytes as text, whatever program wrote it: UTF-8 or UTF-16 by its mark, UTF-16 without one by its zeros, UTF-8
 * where it is sound, else Windows-1252.
 */
export function decodeText(bytes: Uint8Array): string {
  const as = (encoding: string, fatal = false): string => new TextDecoder(encoding, { fatal }).decode(bytes);
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return as('utf-16le');
  if (a === 0xfe && b === 0xff) return as('utf-16be');
  const head = bytes.slice(0, 200);
  const zeros = (parity: 0 | 1): number => head.filter((v, i) => v === 0 && i % 2 === parity).length;
  if (zeros(1) > head.length / 4) return as('utf-16le');
  if (zeros(0) > head.length / 4) return as('utf-16be');
  try {
    return as('utf-8', true);
  } catch {
    return as('windows-1252');
  }
}
