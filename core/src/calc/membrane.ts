import * as z from 'zod';
import { solveElement } from '../membrane/element.ts';
import { normalise as normaliseReading, type MembraneReading } from '../membrane/normalise.ts';
import { saltLDayAt } from '../membrane/permeability.ts';
import { firstGlassTds, tdsAfterStand } from '../membrane/stand.ts';
import { GLASS_L } from '../run/openTap.ts';
import { calculator, InputError } from './calculator.ts';
import {
  concentrateOf,
  element as elementInput,
  elementTemperatureC,
  fitted,
  oneConcentrate,
  osmoticOf,
  positive,
  pressureBar,
  siteFields,
} from './schemas.ts';

/** A membrane that stands after it ran. */
export const stand = calculator(
  'stand',
  'salt that creeps through a membrane while it stands: the product side after a time, and the first glass',
  z.strictObject({
    element: elementInput,
    site: z.strictObject({ ...siteFields, permeatePressureBar: pressureBar.default(0) }).superRefine(oneConcentrate),
    holdUp: z.strictObject({ productL: positive.max(50), feedL: positive.max(100) }),
    minutes: z.number().min(0).max(1e6),
  }),
  ({ element, site, holdUp, minutes }) => {
    const p = fitted(element);
    const out = solveElement(p, {
      feedPressureBar: site.feedPressureBar,
      permeatePressureBar: site.permeatePressureBar,
      temperatureC: site.temperatureC,
      tdsMgL: site.tdsMgL,
      osmoticBarPerMgL: osmoticOf(site),
      concentrateLDay: concentrateOf(site),
    });
    const standing = {
      ...holdUp,
      productTdsMgL: out.permeateTdsMgL,
      // between the feed it came in as and the concentrate it left as
      feedTdsMgL: (site.tdsMgL + out.concentrateTdsMgL) / 2,
      saltLDay: saltLDayAt(p, site.temperatureC),
    };
    return {
      productTdsMgL: tdsAfterStand(standing, minutes / 60),
      firstGlassTdsMgL: firstGlassTds(standing, minutes / 60, GLASS_L),
      timeConstantMinutes: 1440 / (standing.saltLDay * (1 / holdUp.productL + 1 / holdUp.feedL)),
    };
  },
);

const reading = z.strictObject({
  permeateFlow: positive.max(1e6).optional(),
  feedPressureBar: pressureBar,
  dropBar: z.number().min(0).max(10),
  permeatePressureBar: pressureBar,
  temperatureC: elementTemperatureC,
  recovery: z.number().min(0).max(0.95),
  feedTdsMgL: positive.max(45000),
  permeateTdsMgL: z.number().min(0).max(45000).optional(),
});

/** A reading brought to reference conditions. */
export const normalise = calculator(
  'normalise',
  'a reading of a membrane brought to reference conditions after ASTM D4516: permeate flow, salt passage, product TDS',
  z.strictObject({ reading, reference: reading }),
  (i) => {
    const n = normalised(i.reading, i.reference);
    return {
      permeateFlow: i.reading.permeateFlow === undefined ? null : i.reading.permeateFlow * n.flowFactor,
      permeateTdsMgL: n.permeateTdsMgL,
      passage: n.passage,
    };
  },
);

function normalised(read: MembraneReading, reference: MembraneReading): ReturnType<typeof normaliseReading> {
  try {
    return normaliseReading(read, reference);
  } catch (e) {
    if (e instanceof RangeError)
      throw new InputError(
        e.message.includes('reference') ? 'reference.feedPressureBar' : 'reading.feedPressureBar',
        e.message,
      );
    throw e;
  }
}
