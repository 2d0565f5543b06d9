/** A mark on a drawing: what it marks, and where it is drawn. */
export interface Spread {
  readonly at: readonly [number, number];
  readonly drawn: readonly [number, number];
}

/** Ways round a mark that stands in another's place, and how often it goes further out, px. */
const ROUND = 12;
const RINGS = 6;

/**
 * Marks that would cover each other are drawn beside what they mark, the nearest free place in a ring round it, within the
 * drawing. @param px how far two of them are apart at the least @returns in their own order
 */
export function apart(
  points: readonly (readonly [number, number])[],
  px: number,
  width: number,
  height: number,
): Spread[] {
  const taken: (readonly [number, number])[] = [];
  return points.map((at): Spread => {
    const inside = ([x, y]: readonly [number, number]): readonly [number, number] => [
      Math.min(width - px / 2, Math.max(px / 2, x)),
      Math.min(height - px / 2, Math.max(px / 2, y)),
    ];
    const isFree = ([x, y]: readonly [number, number]): boolean =>
      taken.every(([a, b]) => Math.hypot(a - x, b - y) >= px - 1e-9);
    const tried = [
      inside(at),
      ...Array.from({ length: ROUND * RINGS }, (_, i): readonly [number, number] => {
        const far = px * (1 + 0.5 * Math.floor(i / ROUND));
        const turn = (2 * Math.PI * (i % ROUND)) / ROUND;
        return inside([at[0] + far * Math.cos(turn), at[1] + far * Math.sin(turn)]);
      }),
    ];
    const drawn = tried.find(isFree) ?? inside(at);
    taken.push(drawn);
    return { at, drawn };
  });
}
