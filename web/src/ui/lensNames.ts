import type { Lens } from '@katharos/core';

/** The six words of the job. */
export const LENS_NAMES: Readonly<Record<Lens, string>> = {
  gauge: 'Gauge',
  size: 'Size',
  plumb: 'Plumb',
  flush: 'Flush',
  prove: 'Prove',
  keep: 'Keep',
};
