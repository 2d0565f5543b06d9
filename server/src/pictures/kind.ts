/** Kinds of pictures that are kept. */
export type PictureKind = 'image/jpeg' | 'image/png' | 'image/webp';

/** What a picture is by its first bytes; null for anything else, whatever it calls itself. */
export function kindOfPicture(b: Buffer): PictureKind | null {
  if (b.length < 12) return null;
  if (b[0] === 0xff && b[1] === 0xd8 && b[2] === 0xff) return 'image/jpeg';
  if (b.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))) return 'image/png';
  const ascii = (from: number, to: number): string => b.subarray(from, to).toString('latin1');
  return ascii(0, 4) === 'RIFF' && ascii(8, 12) === 'WEBP' ? 'image/webp' : null;
}

/**
 * Whether a picture carries what the camera noted beside it (Exif or XMP), where the place stands too. What was drawn anew
 * on a device does not.
 */
export function tellsWhere(b: Buffer, kind: PictureKind): boolean {
  if (kind === 'image/png') return b.includes('eXIf', 0, 'latin1') || b.includes('XML:com.adobe.xmp', 0, 'latin1');
  if (kind === 'image/webp') return b.includes('EXIF', 12, 'latin1') || b.includes('XMP ', 12, 'latin1');
  // segments of a JPEG up to its image: marker, length, content
  for (let at = 2; at + 4 <= b.length && b[at] === 0xff;) {
    const marker = b[at + 1] ?? 0;
    if (marker === 0xda) return false;
    if (marker === 0xe1) return true;
    at += 2 + b.readUInt16BE(at + 2);
  }
  return false;
}
