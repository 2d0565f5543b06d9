import type { ComponentType } from 'react';

/** A part of the page whose script comes when it is first needed. */
export interface LazyPart<P> {
  /** the part itself, once its script has come */
  readonly come: ComponentType<P> | null;
  /** Fetches the script. @throws what the browser says where it does not come */
  readonly fetch: () => Promise<void>;
}

export function lazyPart<P>(load: () => Promise<{ readonly default: ComponentType<P> }>): LazyPart<P> {
  let come: ComponentType<P> | null = null;
  return {
    get come() {
      return come;
    },
    fetch: async () => {
      come ??= (await load()).default;
    },
  };
}
