/** A mark on a drawing: what it marks, and where it is drawn. */
export interface Spread {
  readonly at: readonly [number, number];
  readonly drawn: readonly [number, number];
}

/** Ways round a mark that stands in another's place, and how often it goes further out, px. */
const ROUND = 12;
const RINGS = 6;

/** Places all over a drawing, so far apart and from its edges. */
function gridOf(width: number, height: number, step: number): (readonly [number, number])[] {
  const along = (length: number): number[] =>
    Array.from({ length: Math.max(1, Math.floor(length / step) - 1) }, (_, i) => step * (i + 1));
  return along(width).flatMap((x) => along(height).map((y) => [x, y] as const));
}

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
    // in a heap every ring may be taken: then the nearest free place of the whole drawing
    const elsewhere = ([x, y]: readonly [number, number]): (readonly [number, number])[] =>
      gridOf(width, height, px / 2)
        .map((p) => ({ p, far: Math.hypot(p[0] - x, p[1] - y) }))
        .sort((a, b) => a.far - b.far)
        .map(({ p }) => p);
    const tried = [
      inside(at),
      ...Array.from({ length: ROUND * RINGS }, (_, i): readonly [number, number] => {
        const far = px * (1 + 0.5 * Math.floor(i / ROUND));
        const turn = (2 * Math.PI * (i % ROUND)) / ROUND;
        return inside([at[0] + far * Math.cos(turn), at[1] + far * Math.sin(turn)]);
      }),
    ];
    const drawn = tried.find(isFree) ?? elsewhere(at).find(isFree) ?? inside(at);
    taken.push(drawn);
    return { at, drawn };
  });
}
