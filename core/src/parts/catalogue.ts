import * as z from 'zod';
import { fitPermeability } from '../membrane/element.ts';
import { text } from '../words/stored.ts';
import { capillaryOf, END_LOSS } from '../hydraulics/restrictor.ts';

/**
 * The parts catalogue as people edit it in shelf/parts.json. Names are generic; a part says what later work needs of it:
 * ports, limits, size, room to service it, life. Lengths mm, pressures bar gauge, flows L/min or L/day as named.
 */
export const JointKindSchema = z.enum(['push-fit', 'compression', 'taper-thread', 'gasket-thread', 'clamp', 'spigot']);
export type JointKind = z.infer<typeof JointKindSchema>;

const PortSchema = z.object({
  /** water's way through it; a four-port valve and a permeate pump pass the product or the concentrate too */
  name: z.enum(['in', 'out', 'drain', 'branch', 'product-in', 'product-out', 'drain-in', 'drain-out']),
  joint: JointKindSchema,
  /** as the trade says it: the tube's outside diameter or the thread */
  size: text(24).min(1),
  /** how deep a tube goes into it, turns of tape, turns past hand-tight: the house's rule where the sheet is silent */
  insertionMm: z.number().min(5).max(60).optional(),
  tapeTurns: z.number().int().min(1).max(20).optional(),
  turnsPastHand: z.number().min(0).max(2).optional(),
});
export type Port = z.infer<typeof PortSchema>;

const positive = z.number().positive();
/** Bores are made to a few hundredths, and the length a flow asks for goes with their fourth power and more. */
const LENGTH_TOLERANCE = 0.3;
const common = {
  id: z.string().regex(/^[a-z0-9][a-z0-9-]*$/, 'lower case letters, digits and hyphens'),
  name: text(80).min(1),
  ports: z.array(PortSchema).max(6),
  maxPressureBar: positive.max(25),
  maxTemperatureC: positive.max(95).default(38),
  size: z.object({ widthMm: positive, depthMm: positive, heightMm: positive }).optional(),
  /** room kept free to service it */
  clearance: z.object({ belowMm: z.number().min(0), frontMm: z.number().min(0) }).optional(),
  /** its sheet wants it upright, where others of its kind may lie */
  upright: z.boolean().optional(),
  /** what a new one costs the household, in the firm's money */
  price: z.number().min(0).optional(),
  life: z.object({ months: positive.optional(), litres: positive.optional() }).optional(),
  /** one line for whoever fits it */
  fitting: text(200).optional(),
  /** fewest the firm wants to have, in van and store together; tube in metres */
  least: z.number().int().min(0).max(10000).optional(),
  /** what the firm puts in where nothing speaks for another of its kind */
  ordinary: z.boolean().optional(),
  /** no longer put in, but still in houses: kept for them, never chosen anew */
  retired: z.boolean().optional(),
};

/** filling a tank, or making water at an open tap; either where the sheet says nothing */
const madeFor = z.enum(['tank', 'open-tap']).optional();

/** What a sheet says an element makes, and at what: pressure above what the salt of its own test pushes back. */
const RatingSchema = z
  .object({
    permeateLDay: positive.max(6000),
    rejection: z.number().min(0.5).max(0.999),
    test: z.object({
      pressureBar: positive.max(20),
      temperatureC: z.number().min(1).max(45),
      tdsMgL: positive.max(5000),
      recovery: z.number().min(0.02).max(0.6),
    }),
    saltActivationK: z.number().min(3000).max(6500).optional(),
    massTransfer: z
      .object({ coefficientLDay: positive, atFlowLDay: positive, exponent: z.number().min(0).max(1) })
      .optional(),
    channelDrop: z.object({ bar: z.number().min(0).max(2), atFlowLDay: positive }).optional(),
  })
  .superRefine((rating, ctx) => {
    try {
      fitPermeability(rating);
    } catch (e) {
      if (!(e instanceof RangeError)) throw e;
      ctx.addIssue({ code: 'custom', path: ['test', 'pressureBar'], message: e.message });
    }
  });

export const PartSchema = z.discriminatedUnion('kind', [
  z.object({
    ...common,
    kind: z.literal('element'),
    rating: RatingSchema,
    madeFor,
    maxTdsMgL: positive,
    maxChlorineMgL: z.number().min(0),
    /** most of the feed it may keep at a moment, 0 to 1; a household element's 0.45 where the sheet says nothing */
    maxRecovery: z.number().min(0.1).max(0.8).optional(),
    /** water that stands beside the membrane while nothing runs, L; by its size where the sheet says nothing */
    holdUp: z.object({ productL: positive.max(5), feedL: positive.max(10) }).optional(),
    /** minutes a new one is run at the tap before anyone drinks, in a system without a tank */
    firstRunMinutes: positive.max(600).optional(),
  }),
  z.object({
    ...common,
    kind: z.literal('tank'),
    volumeL: positive.max(400),
    airChargeBar: z.number().min(0.1).max(3),
  }),
  z.object({
    ...common,
    kind: z.literal('vented-tank'),
    /** content at which the float shuts, L */
    volumeL: positive.max(400),
    /** it opens again this much lower, L */
    floatDropL: positive.max(100),
  }),
  z.object({
    ...common,
    kind: z.literal('dispenser'),
    /** least pressure at which it fills, bar */
    minInletBar: z.number().min(0).max(4),
    /** flow at which it fills itself, L/min */
    fillLMin: positive.max(10),
    coldL: z.number().min(0).max(30),
    hotL: z.number().min(0).max(30),
    powerW: positive.max(3000),
  }),
  z.object({
    ...common,
    kind: z.literal('restrictor'),
    flow: z
      .object({
        kind: z.enum(['orifice', 'capillary']),
        flowLDay: positive.max(10000),
        atBar: positive.max(15),
        atC: z.number().min(1).max(45),
        /** a capillary's, where its sheet says them: they then give its stated flow */
        boreMm: z.number().min(0.1).max(5).optional(),
        lengthMm: z.number().min(1).max(5000).optional(),
      })
      .superRefine((f, ctx) => {
        if (f.boreMm === undefined || f.kind === 'orifice') return;
        const { lengthMm, endLoss } = capillaryOf(f);
        if (endLoss < END_LOSS)
          ctx.addIssue({ code: 'custom', path: ['boreMm'], message: 'too narrow for its flow at that pressure' });
        else if (f.lengthMm !== undefined && Math.abs(lengthMm / f.lengthMm - 1) > LENGTH_TOLERANCE)
          ctx.addIssue({
            code: 'custom',
            path: ['lengthMm'],
            message: `with that bore its flow asks for about ${String(Math.round(lengthMm))} mm`,
          });
      }),
  }),
  z.object({
    ...common,
    kind: z.literal('pump'),
    curve: z.object({ maxBoostBar: positive, maxFlowLMin: positive, minInletBar: z.number().min(0) }),
    madeFor,
    closeBar: positive,
    reopenBar: positive,
    powerW: positive,
  }),
  z.object({
    ...common,
    kind: z.literal('permeate-pump'),
    /** least feed pressure and concentrate flow it strokes at; usual ones where its sheet is silent */
    minFeedBar: z.number().min(0).max(8).optional(),
    minConcentrateLMin: z.number().min(0).max(2).optional(),
    /** share of the tank's pressure that still reaches the membrane */
    backShare: z.number().min(0).max(1),
    closeRatio: z.number().min(0.3).max(0.98),
    reopenRatio: z.number().min(0.1).max(0.95),
  }),
  z.object({
    ...common,
    kind: z.literal('mineral'),
    barPerLMin: z.number().min(0),
    contents: text(200),
    /** the grains' bed, for what dissolves while the tap runs */
    bed: z
      .object({ litres: positive.max(50), grainMm: positive.max(10), voidage: z.number().min(0.25).max(0.7) })
      .optional(),
  }),
  z.object({ ...common, kind: z.literal('sediment'), barPerLMin: z.number().min(0), madeFor }),
  z.object({
    ...common,
    kind: z.literal('carbon'),
    barPerLMin: z.number().min(0),
    holds: z.enum(['chlorine', 'chloramine']),
    madeFor,
    /** the carbon's own bed, for contact time and capacity */
    bed: z.object({ litres: positive.max(20), form: z.enum(['block', 'granular', 'catalytic']) }).optional(),
  }),
  z.object({
    ...common,
    kind: z.literal('iron'),
    barPerLMin: z.number().min(0),
    /** iron it still brings below 0.3 mg/L, and what it holds before it lets it by */
    maxIronMgL: positive.max(50),
    holdsIronMg: positive.max(1e6),
  }),
  z.object({
    ...common,
    kind: z.literal('lamp'),
    barPerLMin: z.number().min(0),
    powerW: positive.max(500),
    lamp: z.object({
      ratedDoseMJcm2: positive.max(1000),
      ratedFlowLMin: positive.max(100),
      ratedTransmittancePercent: z.number().min(50).max(100),
      gapCm: positive.max(10),
      lifeHours: positive.max(50000),
      endOfLifeShare: z.number().min(0.3).max(1),
    }),
  }),
  z.object({ ...common, kind: z.literal('delivery-pump'), boostBar: positive.max(6), powerW: positive.max(500) }),
  z.object({ ...common, kind: z.literal('solenoid'), powerW: positive.max(50) }),
  z.object({ ...common, kind: z.literal('polish'), barPerLMin: z.number().min(0) }),
  z.object({
    ...common,
    kind: z.literal('shut-off'),
    closeRatio: z.number().min(0.3).max(0.95),
    reopenRatio: z.number().min(0.1).max(0.9),
    /** closes this much later than its share of the line's pressure, bar */
    closeOffsetBar: z.number().min(-1).max(2).default(0),
  }),
  z.object({ ...common, kind: z.literal('non-return'), barLoss: z.number().min(0).max(0.5) }),
  z.object({ ...common, kind: z.literal('limiter'), setBar: positive }),
  z.object({ ...common, kind: z.literal('feed'), way: z.enum(['tee', 'clamp']) }),
  z.object({
    ...common,
    kind: z.literal('drain'),
    /** how it takes the concentrate; a clamp where nothing is said */
    way: z.enum(['clamp', 'spigot', 'standpipe']).optional(),
  }),
  z.object({
    ...common,
    kind: z.literal('tap'),
    airGap: z.boolean(),
    holeMm: positive,
    resistance: z.number().min(0),
    /** from its stem to where the water falls, mm */
    reachMm: positive.max(400).optional(),
  }),
  z.object({
    ...common,
    kind: z.literal('tube'),
    boreMm: positive,
    outsideMm: positive,
    /** as it is sold, m */
    rollM: positive.max(500).default(10),
  }),
  z.object({
    ...common,
    kind: z.literal('frame'),
    /** housings that hang on it; three where its sheet says nothing */
    holds: z.number().int().min(1).max(6).optional(),
  }),
  z.object({ ...common, kind: z.literal('transformer'), volts: positive.max(48) }),
  z.object({ ...common, kind: z.literal('housing') }),
  z.object({ ...common, kind: z.literal('sample') }),
  z.object({ ...common, kind: z.literal('gauge') }),
  z.object({ ...common, kind: z.literal('tank-tee') }),
  z.object({ ...common, kind: z.literal('branch') }),
  z.object({ ...common, kind: z.literal('leak-valve') }),
  z.object({ ...common, kind: z.literal('backflow'), barLoss: z.number().min(0).max(1) }),
]);
export type Part = z.infer<typeof PartSchema>;
export type PartKind = Part['kind'];
export type PartOf<K extends PartKind> = Extract<Part, { kind: K }>;

export const CatalogueSchema = z.array(PartSchema).superRefine((parts, ctx) => {
  const seen = new Map<string, number>();
  parts.forEach((p, i) => {
    const first = seen.get(p.id);
    if (first !== undefined)
      ctx.addIssue({
        code: 'custom',
        path: [i, 'id'],
        message: `"${p.id}" is already used by part ${String(first + 1)}`,
      });
    seen.set(p.id, i);
  });
});
export type Catalogue = readonly Part[];

/** A catalogue's parts by id and by kind: looked up tens of thousands of times in a search. */
interface Index {
  readonly byId: ReadonlyMap<string, Part>;
  readonly byKind: ReadonlyMap<PartKind, readonly Part[]>;
}
const indexes = new WeakMap<Catalogue, Index>();

/** A catalogue never changes once it is read, so its index is made once: a pure function's memory. */
function indexOf(catalogue: Catalogue): Index {
  const known = indexes.get(catalogue);
  if (known) return known;
  const byKind = new Map<PartKind, Part[]>();
  for (const p of catalogue) if (p.retired !== true) byKind.set(p.kind, [...(byKind.get(p.kind) ?? []), p]);
  const made = { byId: new Map(catalogue.map((p) => [p.id, p])), byKind };
  indexes.set(catalogue, made);
  return made;
}

/** All parts of a kind that are still put in, in the catalogue's order. */
export function partsOf<K extends PartKind>(catalogue: Catalogue, kind: K): readonly PartOf<K>[] {
  return (indexOf(catalogue).byKind.get(kind) ?? []) as readonly PartOf<K>[];
}

/** A part by id, whatever its kind, retired ones too; undefined for none. */
export function findPart(catalogue: Catalogue, id: string | null): Part | undefined {
  return id === null ? undefined : indexOf(catalogue).byId.get(id);
}

/** A part by id and kind. @throws RangeError if the catalogue lacks it: a design must name parts that exist. */
export function partOf<K extends PartKind>(catalogue: Catalogue, kind: K, id: string): PartOf<K> {
  const part = indexOf(catalogue).byId.get(id);
  if (part?.kind !== kind) throw new RangeError(`the catalogue has no ${kind} "${id}"`);
  return part as PartOf<K>;
}
