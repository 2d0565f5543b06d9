import type { ComponentType } from 'react';

/** A part of the page whose script comes when it is first needed. */
export interface Late<P> {
  /** the part itself, once its script has come */
  readonly come: ComponentType<P> | null;
  /** Fetches the script. @throws what the browser says where it does not come */
  readonly fetch: () => Promise<void>;
}

export function late<P>(load: () => Promise<{ readonly default: ComponentType<P> }>): Late<P> {
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
