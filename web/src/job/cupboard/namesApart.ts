/** A name on a drawing: the middle of its line, px. */
export interface Name {
  readonly x: number;
  /** of the line it stands on */
  readonly y: number;
  /** half its breadth */
  readonly half: number;
}

/** From one line of names to the next, px. */
const LINE_PX = 13;
/** So many lines up and down a name looks for a free place. */
const LINES = 4;

/**
 * Names that would lie on each other stand a line or more below or above, the nearest that is free, within the drawing; where
 * none is, where they would stand.
 * @param high of the drawing, px @returns the lines they stand on, in their order
 */
export function namesApart(names: readonly Name[], high: number): number[] {
  const taken: Name[] = [];
  const isFree = (n: Name): boolean =>
    taken.every((t) => Math.abs(t.x - n.x) >= t.half + n.half || Math.abs(t.y - n.y) >= LINE_PX);
  return names.map((name) => {
    const lines = Array.from({ length: 2 * LINES + 1 }, (_, i) => (i % 2 === 0 ? -1 : 1) * Math.ceil(i / 2) * LINE_PX);
    const at = lines
      .map((by) => ({ ...name, y: name.y + by }))
      .find((n) => n.y >= LINE_PX - 2 && n.y <= high - 2 && isFree(n));
    taken.push(at ?? name);
    return (at ?? name).y;
  });
}
