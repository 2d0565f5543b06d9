import { fitPermeability, type ElementRating } from '../membrane/element.ts';
import type { Permeability } from '../membrane/permeability.ts';

const fitted = new WeakMap<ElementRating, Permeability>();

/**
 * Activation temperature of an element's salt permeability where its sheet is silent, K: the middle of 3600 to 5400 K as
 * published for thin-film polyamide (40 to 45 kJ/mol). Salt slows more than water in the cold, and runs ahead of it in the warm.
 */
export const USUAL_SALT_ACTIVATION_K = 4500;

/** Permeability of a rating, fitted once and kept: a pure function's memory, not state anyone can see. */
export function permeabilityOf(rating: ElementRating): Permeability {
  const p = fitted.get(rating) ?? fitPermeability({ saltActivationK: USUAL_SALT_ACTIVATION_K, ...rating });
  fitted.set(rating, p);
  return p;
}

const twins = new WeakMap<Permeability, Map<number, Permeability>>();

/** The same element several times in a row; kept, so that it is made once. */
export function inSeries(p: Permeability, count: number): Permeability {
  if (count === 1) return p;
  const made = twins.get(p) ?? new Map<number, Permeability>();
  twins.set(p, made);
  const twin = made.get(count) ?? { ...p, inSeries: count };
  made.set(count, twin);
  return twin;
}

/** Water that stands on both sides of a membrane while nothing runs, L. */
export interface HoldUp {
  readonly productL: number;
  readonly feedL: number;
}

/**
 * Hold-up of an element whose sheet says nothing of it: by its size, from the volume of a wound element of about 1 m2 for
 * 250 L/day (core tube and housing ends on the product side, spacer and housing on the feed side). Within a factor of 1.5.
 */
export function usualHoldUp(rating: ElementRating): HoldUp {
  const size = rating.permeateLDay / 250;
  return { productL: 0.05 + 0.02 * size, feedL: 0.2 + 0.06 * size };
}
