/**
 * What is saved when somebody else changed the same record meanwhile and a person keeps their own: theirs, with what was
 * changed here on top of it. A field nobody touched here is theirs.
 * @param base the record as it was read here
 */
export function keepMine<T extends object>(base: Readonly<T>, mine: Readonly<T>, theirs: Readonly<T>): T {
  const changed = (Object.keys(mine) as (keyof T)[]).filter((k) => mine[k] !== base[k]);
  return { ...theirs, ...Object.fromEntries(changed.map((k) => [k, mine[k]])) };
}
