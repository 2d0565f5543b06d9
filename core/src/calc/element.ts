import type { Permeability } from '../membrane/permeability.ts';
import * as z from 'zod';
import type { Slice } from '../membrane/channel.ts';
import { solveElement } from '../membrane/element.ts';
import { speciesPassage } from '../membrane/passage.ts';
import { fromMgL, type Composition } from '../water/composition.ts';
import { toMgL } from '../water/species.ts';
import { calculator } from './calculator.ts';
import {
  amountsOf,
  concentrateOf,
  element as elementInput,
  fitted,
  oneConcentrate,
  osmoticOf,
  pressureBar,
  siteFields,
} from './schemas.ts';

/** An element at a site. */
export const element = calculator(
  'element',
  'what an element makes at a site: flows, recovery, product and concentrate TDS, driving pressure',
  z.strictObject({
    element: elementInput,
    site: z.strictObject({ ...siteFields, permeatePressureBar: pressureBar }).superRefine(oneConcentrate),
  }),
  (i) => {
    const { permeatePressureBar, ...site } = i.site;
    const p = fitted(i.element);
    const slices: Slice[] = [];
    const out = solveElement(
      p,
      {
        feedPressureBar: site.feedPressureBar,
        permeatePressureBar,
        temperatureC: site.temperatureC,
        tdsMgL: site.tdsMgL,
        osmoticBarPerMgL: osmoticOf(site),
        concentrateLDay: concentrateOf(site),
      },
      undefined,
      slices,
    );
    return {
      permeateLDay: out.permeateLDay,
      concentrateLDay: out.concentrateLDay,
      recovery: out.recovery,
      permeateTdsMgL: out.permeateTdsMgL,
      concentrateTdsMgL: out.concentrateTdsMgL,
      rejection: out.rejection,
      netDrivingPressureBar: out.netDrivingPressureBar,
      ...(site.ionsMgL ? bySpecies(fromMgL(amountsOf(site.ionsMgL)), p, site.temperatureC, slices) : {}),
    };
  },
);

/** What passes of each ion that was given; the single figures above stand for all the salt together. */
function bySpecies(
  feed: Composition,
  p: Permeability,
  temperatureC: number,
  slices: readonly Slice[],
): Readonly<Record<string, unknown>> {
  const { passage, product } = speciesPassage(feed, p, temperatureC, slices);
  return { passage, permeateIonsMgL: toMgL(product.molL) };
}
