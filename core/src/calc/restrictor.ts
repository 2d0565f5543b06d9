import * as z from 'zod';
import { capillaryOf, END_LOSS, restrictorFlowLDay, restrictorReynolds } from '../hydraulics/restrictor.ts';
import { calculator, InputError } from './calculator.ts';
import { elementTemperatureC, restrictor as restrictorFields } from './schemas.ts';

/** A restrictor at another pressure and temperature than its sheet's. */
export const restrictor = calculator(
  'restrictor',
  'what a restrictor lets to the drain at a pressure and temperature, with the Reynolds number and the length of a capillary',
  restrictorFields.extend({ pressureBar: z.number().min(0).max(25), temperatureC: elementTemperatureC }),
  ({ pressureBar, temperatureC, ...r }) => {
    const capillary = r.kind === 'capillary' ? capillaryOf(r) : null;
    if (capillary && capillary.endLoss < END_LOSS)
      throw new InputError(
        'boreMm',
        'too narrow for its stated flow: its ends alone would take more than the stated pressure',
      );
    return {
      flowLDay: restrictorFlowLDay(r, pressureBar, temperatureC),
      reynolds: pressureBar > 0 ? restrictorReynolds(r, pressureBar, temperatureC) : null,
      boreMm: capillary?.boreMm ?? null,
      lengthMm: capillary?.lengthMm ?? null,
    };
  },
);
