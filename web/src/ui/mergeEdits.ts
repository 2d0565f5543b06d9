import equal from 'fast-deep-equal';

/**
 * What is saved when somebody else changed the same record meanwhile and a person keeps their own: theirs, with what was
 * changed here on top of it. A field nobody touched here is theirs.
 * @param base the record as it was read here
 */
export function mergeEdits<T extends object>(base: Readonly<T>, mine: Readonly<T>, theirs: Readonly<T>): T {
  const changed = (Object.keys(mine) as (keyof T)[]).filter((k) => !equal(mine[k], base[k]));
  return { ...theirs, ...Object.fromEntries(changed.map((k) => [k, mine[k]])) };
}

/** A field that stands otherwise with somebody else; `mine` is null where nobody touched it here. */
export interface Difference {
  readonly field: string;
  readonly mine: string | null;
  readonly theirs: string;
}

/**
 * What differs between a record changed here and the same changed by somebody else.
 * @param label name of a field
 * @param words what a field of a record says
 */
export function differences<T extends object>(
  base: Readonly<T>,
  mine: Readonly<T>,
  theirs: Readonly<T>,
  label: (key: keyof T) => string,
  words: (key: keyof T, of: Readonly<T>) => string,
): Difference[] {
  const keys = Object.keys({ ...theirs, ...mine }) as (keyof T)[];
  return keys
    .filter((k) => !equal(mine[k], theirs[k]))
    .map((k) => ({ field: label(k), mine: equal(mine[k], base[k]) ? null : words(k, mine), theirs: words(k, theirs) }));
}
