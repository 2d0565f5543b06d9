import * as z from 'zod';
import { carbonWork, membraneExposure } from '../treatment/carbon.ts';
import { lampConditionWords, metalAfterWords } from '../words/treatment.ts';
import { waterDoubtWords } from '../words/water.ts';
import { lampPreconditions, lampWork, UV_DOSE } from '../treatment/lamp.ts';
import { metalAfter, monthsPerRefill, remineralise as dissolve } from '../treatment/minerals.ts';
import {
  concentrated,
  concentrationFactor,
  safeRecovery,
  SCALING_LIMITS,
  scalingFeed,
  wallPolarisation,
} from '../treatment/scaling.ts';
import { calculator, InputError } from './calculator.ts';
import { alkalinityMgLAsCaCO3, amountsOf, ionsMgL, pH, positive, tdsMgL, temperatureC } from './schemas.ts';

/** Calcite taken up by a soft water. */
export const remineralise = calculator(
  'remineralise',
  'calcite taken up by a soft water: pH, alkalinity, calcium, TDS, whether metal may follow',
  z
    .strictObject({
      temperatureC,
      pH,
      alkalinityMgLAsCaCO3,
      calciumMgL: z.number().min(0).max(2000),
      tdsMgL,
      approach: z.number().min(0).max(1).optional(),
      contact: z
        .strictObject({
          minutes: z.number().min(0).max(10000),
          grainMm: z.number().min(0.1).max(10),
          voidage: z.number().min(0.25).max(0.7),
          /** its length along the flow gives the velocity; 120 mm if left out */
          bedLengthMm: z.number().min(5).max(5000).optional(),
        })
        .optional(),
      bedGrams: positive.max(100000).optional(),
      litresADay: positive.max(10000).optional(),
    })
    .superRefine((i, ctx) => {
      if ((i.approach === undefined) === (i.contact === undefined))
        ctx.addIssue({ code: 'custom', path: ['approach'], message: 'give either approach or contact' });
    }),
  (i) => {
    const r = dissolve(
      {
        temperatureC: i.temperatureC,
        pH: i.pH,
        alkalinityMgL: i.alkalinityMgLAsCaCO3,
        calciumMgL: i.calciumMgL,
        tdsMgL: i.tdsMgL,
      },
      i.contact ? { contact: i.contact } : { approach: i.approach ?? 0 },
    );
    const metal = metalAfter(r);
    const months =
      i.bedGrams !== undefined && i.litresADay !== undefined
        ? monthsPerRefill(i.bedGrams, 0.8, r.dissolvedMgL, i.litresADay)
        : Infinity;
    return {
      pH: r.pH,
      alkalinityMgLAsCaCO3: r.alkalinityMgL,
      calciumMgL: r.calciumMgL,
      tdsMgL: r.tdsMgL,
      dissolvedMgLAsCaCO3: r.dissolvedMgL,
      equilibriumMgLAsCaCO3: r.equilibriumMgL,
      calciteSaturationIndex: r.calciteSaturationIndex,
      gramsPer1000L: r.dissolvedMgL,
      monthsPerRefill: Number.isFinite(months) ? months : null,
      metalAfter: { acceptable: metal.acceptable, why: metalAfterWords(metal) },
    };
  },
);

/** How near the concentrate is to scaling. */
export const scaling = calculator(
  'scaling',
  'saturation of the concentrate for calcite, gypsum and silica, and the recovery that is still safe',
  z.strictObject({
    temperatureC,
    pH,
    alkalinityMgLAsCaCO3,
    ionsMgL,
    tdsMgL: tdsMgL.optional(),
    recovery: z.number().min(0).max(0.9),
    rejection: z.number().min(0.5).max(1).default(0.96),
    polarisation: z.number().min(1).max(4).optional(),
    calciteIndexMax: z.number().min(-1).max(3).default(SCALING_LIMITS.calciteIndexMax),
  }),
  (i) => {
    const feed = scalingFeed({
      temperatureC: i.temperatureC,
      pH: i.pH,
      alkalinityMgL: i.alkalinityMgLAsCaCO3,
      ionsMgL: amountsOf(i.ionsMgL),
      tdsMgL: i.tdsMgL,
    });
    const passage = 1 - i.rejection;
    const polarisation = i.polarisation ?? wallPolarisation(i.recovery);
    const safe = safeRecovery(feed, passage, i.temperatureC, { ...SCALING_LIMITS, calciteIndexMax: i.calciteIndexMax });
    return {
      concentrationFactor: concentrationFactor(i.recovery, passage),
      polarisation,
      feed: concentrated(feed, 0, passage, 1, i.temperatureC),
      concentrate: concentrated(feed, i.recovery, passage, 1, i.temperatureC),
      wall: concentrated(feed, i.recovery, passage, polarisation, i.temperatureC),
      safeRecovery: safe.recovery,
      limitedBy: safe.limitedBy,
      safe: i.recovery <= safe.recovery,
      advice:
        i.recovery <= safe.recovery
          ? 'within what the limits bear'
          : `keep at most ${(100 * safe.recovery).toFixed(0)} % of the feed, or soften it: ${safe.limitedBy ?? 'scale'} drops first`,
      assumed: feed.assumed,
      doubts: feed.doubts.map((d) => ({ code: d.code, text: waterDoubtWords(d) })),
    };
  },
);

/** Contact, life and lateness of a carbon bed. */
export const carbon = calculator(
  'carbon',
  'contact time, life and what the membrane sees when the carbon is late',
  z.strictObject({
    bedVolumeL: positive.max(100),
    kind: z.enum(['block', 'granular', 'catalytic']),
    /** product and concentrate together */
    flowLMin: positive.max(60),
    disinfectant: z.enum(['chlorine', 'chloramine', 'none']),
    disinfectantMgL: z.number().min(0).max(20),
    litresADay: z.number().min(0).max(20000).default(0),
    /** read behind the carbon */
    leakMgL: z.number().min(0).max(20).default(0),
    hoursADay: z.number().min(0).max(24).default(4),
  }),
  (i) => {
    const w = carbonWork(i, i.flowLMin, i.disinfectant, i.disinfectantMgL, i.litresADay);
    const e = membraneExposure(i.leakMgL, i.hoursADay);
    return {
      ...w,
      exposureMgLHoursPerDay: e.perDay,
      daysToDamageLow: e.daysToLow,
      daysToDamageHigh: e.daysToHigh,
    };
  },
);

/** Dose of a lamp. */
export const uv = calculator(
  'uv',
  'dose of an ultraviolet lamp at a flow, the largest flow it may see, and what the water must be first',
  z.strictObject({
    flowLMin: positive.max(200),
    transmittancePercent: positive.max(100),
    hours: z.number().min(0).max(200000).default(0),
    wantedMJcm2: positive.max(400).default(UV_DOSE.classA),
    lamp: z.strictObject({
      ratedDoseMJcm2: positive.max(1000),
      ratedFlowLMin: positive.max(200),
      ratedTransmittancePercent: positive.max(100).default(95),
      gapCm: positive.max(20).default(2),
      lifeHours: positive.max(50000).default(9000),
      endOfLifeShare: z.number().min(0.5).max(1).default(0.8),
    }),
    ironMgL: z.number().min(0).max(50).default(0),
    hardnessMgLAsCaCO3: z.number().min(0).max(5000).default(0),
    turbidityNTU: z.number().min(0).max(1000).default(0),
  }),
  (i) => {
    const w = lampWork(i.lamp, i.flowLMin, i.transmittancePercent, i.hours, i.wantedMJcm2);
    if (w.doseMJcm2 > 1e6) throw new InputError('flowLMin', 'too little flow to speak of a dose');
    const first = lampPreconditions({
      ironMgL: i.ironMgL,
      hardnessMgL: i.hardnessMgLAsCaCO3,
      turbidityNTU: i.turbidityNTU,
      transmittancePercent: i.transmittancePercent,
    });
    return {
      ...w,
      meets: w.meets && first.length === 0,
      wantedMJcm2: i.wantedMJcm2,
      first: first.map(lampConditionWords),
    };
  },
);
