/** A fixed UUID for a name, so that loading the demo twice gives the same ids. FNV-1a in four lanes, version 4 shape. */
export function uuidOf(name: string): string {
  const hex = [0, 1, 2, 3]
    .map((lane) => {
      let h = 0x811c9dc5 ^ Math.imul(lane + 1, 0x9e3779b1);
      for (const ch of name) h = Math.imul(h ^ (ch.codePointAt(0) ?? 0), 0x01000193);
      h ^= h >>> 15;
      return (Math.imul(h, 0x85ebca6b) >>> 0).toString(16).padStart(8, '0');
    })
    .join('');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}
