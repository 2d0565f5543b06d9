import type { Permeability } from '../membrane/permeability.ts';
import * as z from 'zod';
import { fitPermeability } from '../membrane/element.ts';
import { restrictorFlowLDay } from '../hydraulics/restrictor.ts';
import { fromMgL, osmoticBarPerMgL, sodiumChloride } from '../water/composition.ts';
import { SPECIES_KEYS, type Amounts, type SpeciesKey } from '../water/species.ts';
import { InputError } from './calculator.ts';

/** Fields that several calculators share. Pressures are gauge, bar. */
export const positive = z.number().positive();
export const temperatureC = z.number().min(0).max(60);
export const pressureBar = z.number().min(0).max(25);
export const pH = z.number().min(2).max(12.5);
export const tdsMgL = z.number().min(0).max(45000);
export const alkalinityMgLAsCaCO3 = z.number().min(0).max(5000);
export const altitudeM = z.number().min(-400).max(4000);

const ionAmount = z.number().min(0).max(45000);
export const ionsMgL = z.strictObject(
  Object.fromEntries(SPECIES_KEYS.map((k) => [k, ionAmount.optional()])) as Record<
    SpeciesKey,
    z.ZodOptional<typeof ionAmount>
  >,
);

/** Ions as the core takes them: what is left out is not there. */
export function amountsOf(ions: z.output<typeof ionsMgL> | undefined): Amounts {
  const out: Partial<Record<SpeciesKey, number>> = {};
  for (const k of SPECIES_KEYS) {
    const v = ions?.[k];
    if (v !== undefined) out[k] = v;
  }
  return out;
}

export const elementTemperatureC = z.number().min(0.1).max(45);

export const element = z.strictObject({
  ratedPermeateLDay: positive.max(20000),
  ratedRejection: z.number().min(0.5).max(0.9999),
  test: z.strictObject({
    pressureBar: positive.max(25),
    temperatureC: elementTemperatureC,
    tdsMgL: positive.max(45000),
    recovery: z.number().min(0.01).max(0.8).default(0.15),
  }),
  /** K; water's own factor if left out */
  saltActivationK: z.number().min(0).max(8000).optional(),
  massTransfer: z
    .strictObject({
      coefficientLDay: positive.max(1e6),
      atFlowLDay: positive.max(1e6),
      exponent: z.number().min(0).max(1),
    })
    .optional(),
  channelDrop: z.strictObject({ bar: z.number().min(0).max(2), atFlowLDay: positive.max(1e6) }).optional(),
  inSeries: z.number().int().min(1).max(3).default(1),
  inParallel: z.number().int().min(1).max(3).default(1),
});

/** An element fitted to its rating. @throws InputError where no permeability gives it */
export function fitted(e: z.output<typeof element>): Permeability {
  try {
    const p = fitPermeability({
      permeateLDay: e.ratedPermeateLDay,
      rejection: e.ratedRejection,
      test: e.test,
      saltActivationK: e.saltActivationK,
      massTransfer: e.massTransfer,
      channelDrop: e.channelDrop,
    });
    return { ...p, inSeries: e.inSeries, inParallel: e.inParallel };
  } catch (error) {
    if (error instanceof RangeError) throw new InputError('element', error.message);
    throw error;
  }
}

export const restrictor = z.strictObject({
  kind: z.enum(['orifice', 'capillary']),
  flowLDay: positive.max(20000),
  atBar: positive.max(25),
  atC: elementTemperatureC,
  /** a capillary's; a usual one if left out */
  boreMm: z.number().min(0.1).max(5).optional(),
});

export const siteFields = {
  feedPressureBar: pressureBar,
  temperatureC: elementTemperatureC,
  tdsMgL: positive.max(45000),
  ionsMgL: ionsMgL.optional(),
  concentrateLDay: positive.max(1e6).optional(),
  restrictor: restrictor.optional(),
};

/** The concentrate's flow is given, or follows from a restrictor: exactly one of them. */
export function oneConcentrate(
  s: { concentrateLDay?: number | undefined; restrictor?: unknown },
  ctx: z.RefinementCtx,
): void {
  if ((s.concentrateLDay === undefined) === (s.restrictor === undefined))
    ctx.addIssue({
      code: 'custom',
      path: [s.restrictor === undefined ? 'concentrateLDay' : 'restrictor'],
      message: 'give either concentrateLDay or restrictor',
    });
}

type SiteInput = z.output<z.ZodObject<typeof siteFields>>;

/** Osmotic pressure per mg/L of a site's water: its ions, or NaCl where none are given. */
export function osmoticOf(s: Pick<SiteInput, 'ionsMgL' | 'tdsMgL' | 'temperatureC'>): number {
  const listed = s.ionsMgL ? fromMgL(amountsOf(s.ionsMgL)) : null;
  return osmoticBarPerMgL(listed && listed.tdsMgL > 0 ? listed : sodiumChloride(s.tdsMgL), s.temperatureC);
}

/** L/day to the drain at a site. @throws InputError where the pressure gives no flow */
export function concentrateOf(s: SiteInput): number {
  if (s.concentrateLDay !== undefined) return s.concentrateLDay;
  const flow = s.restrictor ? restrictorFlowLDay(s.restrictor, s.feedPressureBar, s.temperatureC) : 0;
  if (!(flow > 0))
    throw new InputError('site.feedPressureBar', 'without pressure nothing flows through the restrictor');
  return flow;
}
