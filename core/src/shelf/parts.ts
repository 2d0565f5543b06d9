import { z } from 'zod';

/**
 * The parts catalogue as people edit it in shelf/parts.json. Names are generic; a part says what later work needs of it:
 * ports, limits, size, room to service it, life. Lengths mm, pressures bar gauge, flows L/min or L/day as named.
 */
export const JointKindSchema = z.enum(['push-fit', 'compression', 'taper-thread', 'gasket-thread', 'clamp', 'spigot']);
export type JointKind = z.infer<typeof JointKindSchema>;

const PortSchema = z.object({
  name: z.enum(['in', 'out', 'drain', 'branch']),
  joint: JointKindSchema,
  /** as the trade says it: the tube's outside diameter or the thread */
  size: z.string().min(1).max(24),
});
export type Port = z.infer<typeof PortSchema>;

const positive = z.number().positive();
const common = {
  id: z.string().regex(/^[a-z0-9][a-z0-9-]*$/, 'lower case letters, digits and hyphens'),
  name: z.string().min(1).max(80),
  ports: z.array(PortSchema).max(6),
  maxPressureBar: positive.max(25),
  maxTemperatureC: positive.max(95).default(38),
  size: z.object({ widthMm: positive, depthMm: positive, heightMm: positive }).optional(),
  /** room kept free to service it */
  clearance: z.object({ belowMm: z.number().min(0), frontMm: z.number().min(0) }).optional(),
  life: z.object({ months: positive.optional(), litres: positive.optional() }).optional(),
  /** one line for whoever fits it */
  fitting: z.string().max(200).optional(),
};

const PartSchema = z.discriminatedUnion('kind', [
  z.object({
    ...common,
    kind: z.literal('element'),
    rating: z.object({
      permeateLDay: positive.max(4000),
      rejection: z.number().min(0.5).max(0.999),
      test: z.object({
        pressureBar: positive.max(20),
        temperatureC: z.number().min(1).max(45),
        tdsMgL: positive.max(5000),
        recovery: z.number().min(0.02).max(0.6),
      }),
    }),
    maxTdsMgL: positive,
    maxChlorineMgL: z.number().min(0),
  }),
  z.object({
    ...common,
    kind: z.literal('tank'),
    volumeL: positive.max(400),
    airChargeBar: z.number().min(0.1).max(3),
  }),
  z.object({
    ...common,
    kind: z.literal('restrictor'),
    flow: z.object({
      kind: z.enum(['orifice', 'capillary']),
      flowLDay: positive.max(10000),
      atBar: positive.max(15),
      atC: z.number().min(1).max(45),
    }),
  }),
  z.object({
    ...common,
    kind: z.literal('pump'),
    curve: z.object({ maxBoostBar: positive, maxFlowLMin: positive, minInletBar: z.number().min(0) }),
    closeBar: positive,
    reopenBar: positive,
    powerW: positive,
  }),
  z.object({ ...common, kind: z.literal('mineral'), barPerLMin: z.number().min(0), contents: z.string() }),
  z.object({ ...common, kind: z.literal('sediment'), barPerLMin: z.number().min(0) }),
  z.object({
    ...common,
    kind: z.literal('carbon'),
    barPerLMin: z.number().min(0),
    holds: z.enum(['chlorine', 'chloramine']),
  }),
  z.object({ ...common, kind: z.literal('polish'), barPerLMin: z.number().min(0) }),
  z.object({
    ...common,
    kind: z.literal('shut-off'),
    closeRatio: z.number().min(0.3).max(0.95),
    reopenRatio: z.number().min(0.1).max(0.9),
  }),
  z.object({ ...common, kind: z.literal('non-return'), barLoss: z.number().min(0).max(0.5) }),
  z.object({ ...common, kind: z.literal('limiter'), setBar: positive }),
  z.object({ ...common, kind: z.literal('feed'), way: z.enum(['tee', 'clamp']) }),
  z.object({ ...common, kind: z.literal('drain') }),
  z.object({ ...common, kind: z.literal('tap'), airGap: z.boolean(), holeMm: positive, resistance: z.number().min(0) }),
  z.object({ ...common, kind: z.literal('tube'), boreMm: positive, outsideMm: positive }),
  z.object({ ...common, kind: z.literal('frame') }),
  z.object({ ...common, kind: z.literal('housing') }),
  z.object({ ...common, kind: z.literal('sample') }),
  z.object({ ...common, kind: z.literal('gauge') }),
  z.object({ ...common, kind: z.literal('tank-tee') }),
  z.object({ ...common, kind: z.literal('branch') }),
  z.object({ ...common, kind: z.literal('leak-valve') }),
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

/** All parts of a kind, in the catalogue's order. */
export function partsOf<K extends PartKind>(catalogue: Catalogue, kind: K): PartOf<K>[] {
  return catalogue.filter((p): p is PartOf<K> => p.kind === kind);
}

/** A part by id and kind. @throws RangeError if the catalogue lacks it: a design must name parts that exist. */
export function partOf<K extends PartKind>(catalogue: Catalogue, kind: K, id: string): PartOf<K> {
  const part = catalogue.find((p): p is PartOf<K> => p.kind === kind && p.id === id);
  if (!part) throw new RangeError(`the catalogue has no ${kind} "${id}"`);
  return part;
}
