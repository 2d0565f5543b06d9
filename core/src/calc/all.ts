import type { Calculator } from './calculator.ts';
import { element } from './element.ts';
import { prove, size } from './job.ts';
import { normalise, stand } from './membrane.ts';
import { restrictor } from './restrictor.ts';
import { fill, tank, tube } from './store.ts';
import { carbon, remineralise, scaling, uv } from './treatment.ts';
import { water } from './water.ts';

/** Every calculator by its name: the command line, the API and their documentation are made from this list. */
export const CALCULATORS: Readonly<Record<string, Calculator>> = Object.fromEntries(
  [water, element, stand, normalise, restrictor, tank, fill, tube, remineralise, uv, carbon, scaling, size, prove].map(
    (c) => [c.name, c],
  ),
);
